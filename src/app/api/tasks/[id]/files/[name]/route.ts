import { Readable } from 'node:stream';
import { KerameusError } from '@/core/units';
import { sharedConnection } from '@/server/db/database';
import { readStored } from '@/server/files/fileStore';
import { answer, readId } from '@/server/http/respond';
import { findTaskFile } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

/** A finished file, for download. */
export function GET(
  _request: Request,
  context: RouteContext<'/api/tasks/[id]/files/[name]'>,
): Promise<Response> {
  return answer(async () => {
    const { id, name } = await context.params;
    const { database } = sharedConnection();
    const file = await findTaskFile(database, readId(id, 'task-not-found'), decodeURIComponent(name));
    if (!file) {
      throw new KerameusError({
        code: 'file-not-found',
        message: 'There is no such film.',
        remedy: 'Make the films again.',
      });
    }
    const stream = Readable.toWeb(Readable.from(readStored(database, file.fileId)));
    return new Response(stream as ReadableStream, {
      headers: {
        'content-type': file.type,
        'content-length': String(file.size),
        'content-disposition': `attachment; filename="${decodeURIComponent(name).replace(/[^\w.-]/g, '_')}"`,
      },
    });
  });
}
