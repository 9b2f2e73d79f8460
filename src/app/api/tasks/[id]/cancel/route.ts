import { sharedConnection } from '@/server/db/database';
import { answer, readId } from '@/server/http/respond';
import { requestCancel } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

export function POST(request: Request, context: RouteContext<'/api/tasks/[id]/cancel'>): Promise<Response> {
  return answer(request, async () => {
    await requestCancel(sharedConnection().database, readId((await context.params).id, 'task-not-found'));
    return new Response(null, { status: 204 });
  });
}
