import { sharedConnection } from '@/server/db/database';
import { answer, readId } from '@/server/http/respond';
import { listVersions } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** The job's history, newest first, a page at a time. */
export function GET(request: Request, context: RouteContext<'/api/jobs/[id]/versions'>): Promise<Response> {
  return answer(async () => {
    const id = readId((await context.params).id);
    const before = Number(new URL(request.url).searchParams.get('before'));
    const { database } = sharedConnection();
    return Response.json(await listVersions(database, id, before > 0 ? before : undefined));
  });
}
