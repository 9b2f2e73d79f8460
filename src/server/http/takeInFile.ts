import { KerameusError } from '@/core/units';
import type { TaskPayload } from '@/protocol/tasks';
import { type Database, sharedConnection } from '../db/database';
import { storeFile } from '../files/fileStore';
import { enqueue } from '../tasks/queue';
import { createTask } from '../tasks/taskStore';
import { receiveUpload } from './receiveUpload';
import { badRequest, decodeText } from './respond';

/** A file as it came in and was stored. */
export interface TakenFile {
  readonly fileId: string;
  readonly fileName: string;
  readonly bytes: number;
}

interface Wish {
  /** What is to be done with the file. */
  readonly taskOf: (file: TakenFile) => TaskPayload;
  readonly jobId?: string;
  /** Throws where nothing is to be done with it, after it came in. */
  readonly check?: (database: Database) => Promise<unknown>;
}

/** The name of a file that a request brings, without folders. Throws where it has none. */
export function fileNameOf(request: Request): string {
  const fileName = decodeText(request.headers.get('x-file-name') ?? '').replace(/^.*[/\\]/, '');
  if (!fileName) throw badRequest('The upload has no file name.');
  return fileName.slice(-200);
}

/** Stores the body of a request and leaves a task for the background worker with it; answers with the task's id. Throws what `receiveUpload` throws. */
export function takeInFile(request: Request, { taskOf, jobId, check }: Wish): Promise<Response> {
  const fileName = fileNameOf(request);
  // The database is not asked before all bytes are there: slow senders hold none of its connections.
  return receiveUpload(request, async (file, bytes) => {
    const { database } = sharedConnection();
    await check?.(database);
    const { taskId, payload } = await database.transaction(async (transaction) => {
      const stored = await storeFile(transaction, file, { name: fileName, type: 'application/octet-stream' });
      if (stored.size !== bytes) throw new KerameusError(CHANGED);
      const task = taskOf({ fileId: stored.id, fileName, bytes });
      return { taskId: await createTask(transaction, task, jobId), payload: task };
    });
    await enqueue(payload, taskId);
    return Response.json({ taskId }, { status: 202 });
  });
}

const CHANGED = {
  code: 'upload-cut-off',
  parameter: 'artwork',
  message: 'The file changed while it was stored.',
  remedy: 'Drop the file again.',
};
