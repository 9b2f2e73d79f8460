import { Readable } from 'node:stream';
import { FILM_ARCHIVE } from '@/protocol/tasks';
import { KerameusError } from '@/core/units';
import { type Database, sharedConnection } from '@/server/db/database';
import { archiveOf, archiveSize } from '@/server/files/archive';
import { readStored } from '@/server/files/fileStore';
import { answer, decodeText, readId } from '@/server/http/respond';
import { archivedFiles, findTaskFile } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

/** A finished file, for download. */
export function GET(
  request: Request,
  context: RouteContext<'/api/tasks/[id]/files/[name]'>,
): Promise<Response> {
  return answer(request, async () => {
    const { id, name: asked } = await context.params;
    const name = decodeText(asked);
    const file = await openFile(sharedConnection().database, readId(id, 'task-not-found'), name);
    if (!file) {
      throw new KerameusError({
        code: 'file-not-found',
        message: 'There is no such film.',
        remedy: 'Make the films again.',
      });
    }
    return new Response(Readable.toWeb(file.content) as ReadableStream, {
      headers: {
        'content-type': file.type,
        'content-length': String(file.size),
        'content-disposition': `attachment; filename="${name.replace(/[^\w.-]/g, '_')}"`,
      },
    });
  });
}

interface OpenFile {
  readonly type: string;
  readonly size: number;
  readonly content: Readable;
}

async function openFile(database: Database, id: string, name: string): Promise<OpenFile | null> {
  const file = await findTaskFile(database, id, name);
  if (file) return { ...file, content: Readable.from(readStored(database, file.fileId)) };
  const entries = name === FILM_ARCHIVE ? await archivedFiles(database, id) : [];
  if (entries.length === 0) return null;
  return {
    type: 'application/zip',
    size: archiveSize(entries),
    content: archiveOf(entries, ({ fileId }) => readStored(database, fileId)),
  };
}
