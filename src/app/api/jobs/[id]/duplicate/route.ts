import { sharedConnection } from '@/server/db/database';
import { ringForPicture } from '@/server/http/jobChanges';
import { answer, readId } from '@/server/http/respond';
import { duplicateJob } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** A new job with the state of this one. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/duplicate'>): Promise<Response> {
  return answer(request, async () => {
    const { database } = sharedConnection();
    const { id, hasPicture } = await duplicateJob(database, readId((await context.params).id));
    if (!hasPicture) await ringForPicture(database, id);
    return Response.json({ id }, { status: 201 });
  });
}
