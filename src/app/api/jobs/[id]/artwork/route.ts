import { versionNumber } from '@/protocol/jobs';
import { storeFile } from '@/server/files/fileStore';
import { answer, badRequest, decodeText, readId } from '@/server/http/respond';
import { receiveUpload } from '@/server/http/receiveUpload';
import { sharedConnection } from '@/server/db/database';
import { readVersion } from '@/server/jobs/jobStore';
import { enqueue } from '@/server/tasks/queue';
import { createTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

/** Takes a revised artwork as the body of the request and has it compared with the job's; the job stays as it is. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/artwork'>): Promise<Response> {
  return answer(request, async () => {
    const jobId = readId((await context.params).id);
    const fileName = decodeText(request.headers.get('x-file-name') ?? '').replace(/^.*[/\\]/, '');
    const { data: version } = versionNumber.safeParse(Number(request.headers.get('x-job-version') ?? NaN));
    if (!fileName || version === undefined) throw badRequest('The upload names no file or no version.');
    return receiveUpload(request, async (file, bytes) => {
      const { database } = sharedConnection();
      await readVersion(database, jobId, version);
      const { taskId, payload } = await database.transaction(async (transaction) => {
        const about = { name: fileName.slice(-200), type: 'application/octet-stream' };
        const stored = await storeFile(transaction, file, about);
        const task = {
          kind: 'revise' as const,
          jobId,
          version,
          from: { kind: 'file' as const, fileId: stored.id, fileName: about.name },
          bytes,
        };
        return { taskId: await createTask(transaction, task, jobId), payload: task };
      });
      await enqueue(payload, taskId);
      return Response.json({ taskId }, { status: 202 });
    });
  });
}
