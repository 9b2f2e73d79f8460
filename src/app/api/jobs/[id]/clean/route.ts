import { cleanRequestSchema } from '@/protocol/jobs';
import { sharedConnection } from '@/server/db/database';
import { answer, badRequest, readId, readJson } from '@/server/http/respond';
import { readVersion } from '@/server/jobs/jobStore';
import { enqueue } from '@/server/tasks/queue';
import { createTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

/** Has a job's artwork cleaned into smooth areas and compared with what it is; the job stays as it is. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/clean'>): Promise<Response> {
  return answer(request, async () => {
    const jobId = readId((await context.params).id);
    const wanted = cleanRequestSchema.safeParse(await readJson(request));
    if (!wanted.success) throw badRequest('The request does not say how the artwork is to be cleaned.');
    const { database } = sharedConnection();
    const { version, clean } = wanted.data;
    await readVersion(database, jobId, version);
    const from = { kind: 'cleaning' as const, wish: clean };
    const payload = { kind: 'revise' as const, jobId, version, from };
    const taskId = await createTask(database, payload, jobId);
    await enqueue(payload, taskId);
    return Response.json({ taskId }, { status: 202 });
  });
}
