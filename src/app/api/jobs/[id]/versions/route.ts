import { sharedConnection } from '@/server/db/database';
import { answer, badRequest, readId } from '@/server/http/respond';
import { listVersions } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** The job's history, newest first, a page at a time. */
export function GET(request: Request, context: RouteContext<'/api/jobs/[id]/versions'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const asked = new URL(request.url).searchParams.get('before');
    const before = Number(asked ?? NaN);
    if (asked !== null && !(Number.isInteger(before) && before >= 1))
      throw badRequest('There is no such version.');
    const { database } = sharedConnection();
    return Response.json(await listVersions(database, id, asked === null ? undefined : before));
  });
}
