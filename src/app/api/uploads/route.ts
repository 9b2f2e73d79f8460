import { KerameusError } from '@/core/units';
import { sharedConnection } from '@/server/db/database';
import { storeStream } from '@/server/files/fileStore';
import { answer, assertSameOrigin, badRequest } from '@/server/http/respond';
import { enqueue } from '@/server/tasks/queue';
import { createTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

const LIMIT = 500e6;

/** Takes an artwork file as the body of the request and has it read by the background worker. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    assertSameOrigin(request);
    const fileName = decodeURIComponent(request.headers.get('x-file-name') ?? '').replace(/^.*[/\\]/, '');
    if (!fileName) throw badRequest('The upload has no file name.');
    const declared = Number(request.headers.get('x-file-size') ?? NaN);
    if (!request.body || declared === 0) throw empty();
    const { database } = sharedConnection();
    const body = request.body as unknown as AsyncIterable<Uint8Array>;
    const taskId = await database.transaction(async (transaction) => {
      const about = { name: fileName, type: 'application/octet-stream', limit: LIMIT };
      const stored = await storeStream(transaction, body, about);
      if (stored.size === 0) throw empty();
      if (Number.isFinite(declared) && stored.size !== declared) throw cutOff(stored.size, declared);
      return createTask(transaction, { kind: 'import', fileId: stored.id, fileName });
    });
    await enqueue('import', taskId);
    return Response.json({ taskId }, { status: 202 });
  });
}

function empty(): KerameusError {
  return new KerameusError({
    code: 'artwork-empty',
    parameter: 'artwork',
    message: 'The artwork file is empty.',
    remedy: 'Export or copy it again.',
  });
}

function cutOff(got: number, declared: number): KerameusError {
  return new KerameusError({
    code: 'upload-cut-off',
    parameter: 'artwork',
    message: `Only ${got} of ${declared} bytes arrived.`,
    remedy: 'Drop the file again.',
  });
}
