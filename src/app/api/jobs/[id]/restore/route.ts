import { sharedConnection } from '@/server/db/database';
import { answer, readId } from '@/server/http/respond';
import { restoreJob } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** Brings a deleted job back. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/restore'>): Promise<Response> {
  return answer(request, async () => {
    await restoreJob(sharedConnection().database, readId((await context.params).id));
    return new Response(null, { status: 204 });
  });
}
