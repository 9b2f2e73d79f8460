import { KerameusError } from '@/core/units';
import { sharedConnection } from '@/server/db/database';
import { answer, readId } from '@/server/http/respond';
import { viewTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

export function GET(request: Request, context: RouteContext<'/api/tasks/[id]'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id, 'task-not-found');
    const task = await viewTask(sharedConnection().database, id);
    if (!task) {
      throw new KerameusError({
        code: 'task-not-found',
        message: 'There is no such task.',
        remedy: 'Reload the page.',
      });
    }
    return Response.json(task);
  });
}
