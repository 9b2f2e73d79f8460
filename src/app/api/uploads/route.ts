import { KerameusError } from '@/core/units';
import type { ImportPayload } from '@/protocol/tasks';
import { sharedConnection } from '@/server/db/database';
import { storeFile } from '@/server/files/fileStore';
import { answer, badRequest, decodeText } from '@/server/http/respond';
import { receiveUpload } from '@/server/http/receiveUpload';
import { enqueue } from '@/server/tasks/queue';
import { createTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

/** Takes an artwork file as the body of the request and has it read by the background worker. */
export function POST(request: Request): Promise<Response> {
  return answer(request, async () => {
    const fileName = decodeText(request.headers.get('x-file-name') ?? '').replace(/^.*[/\\]/, '');
    if (!fileName) throw badRequest('The upload has no file name.');
    // The database is not asked before all bytes are there: slow senders hold none of its connections.
    return receiveUpload(request, async (file, size) => {
      const { database } = sharedConnection();
      const { taskId, payload } = await database.transaction(async (transaction) => {
        const about = { name: fileName.slice(-200), type: 'application/octet-stream' };
        const stored = await storeFile(transaction, file, about);
        if (stored.size !== size) throw new KerameusError(CHANGED);
        const task: ImportPayload = { kind: 'import', fileId: stored.id, fileName: about.name, bytes: size };
        return { taskId: await createTask(transaction, task), payload: task };
      });
      await enqueue(payload, taskId);
      return Response.json({ taskId }, { status: 202 });
    });
  });
}

const CHANGED = {
  code: 'upload-cut-off',
  parameter: 'artwork',
  message: 'The file changed while it was stored.',
  remedy: 'Drop the file again.',
};
