import { sharedConnection } from '@/server/db/database';
import { answer, readId } from '@/server/http/respond';
import { readJob } from '@/server/jobs/jobStore';
import { enqueue } from '@/server/tasks/queue';
import { createTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

/** Has the approval picture of the job drawn. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/approval'>): Promise<Response> {
  return answer(request, async () => {
    const { database } = sharedConnection();
    const job = await readJob(database, readId((await context.params).id));
    const payload = { kind: 'approval' as const, jobId: job.id, version: job.version };
    const taskId = await createTask(database, payload, job.id);
    await enqueue(payload, taskId);
    return Response.json({ taskId }, { status: 202 });
  });
}
