import type { TexturePayload } from '@/protocol/tasks';
import { sharedConnection } from '@/server/db/database';
import { storeFile } from '@/server/files/fileStore';
import { answer, badRequest, decodeText } from '@/server/http/respond';
import { receiveUpload } from '@/server/http/receiveUpload';
import { enqueue } from '@/server/tasks/queue';
import { createTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

/** Takes a picture or a drawing as the body of the request and has it read as a texture. */
export function POST(request: Request): Promise<Response> {
  return answer(request, async () => {
    const fileName = decodeText(request.headers.get('x-file-name') ?? '').replace(/^.*[/\\]/, '');
    if (!fileName) throw badRequest('The upload has no file name.');
    return receiveUpload(request, async (file, bytes) => {
      const { database } = sharedConnection();
      const { taskId, payload } = await database.transaction(async (transaction) => {
        const about = { name: fileName.slice(-200), type: 'application/octet-stream' };
        const stored = await storeFile(transaction, file, about);
        const task: TexturePayload = { kind: 'texture', fileId: stored.id, fileName: about.name, bytes };
        return { taskId: await createTask(transaction, task), payload: task };
      });
      await enqueue(payload, taskId);
      return Response.json({ taskId }, { status: 202 });
    });
  });
}
