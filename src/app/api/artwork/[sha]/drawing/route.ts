import { Readable } from 'node:stream';
import { KerameusError } from '@/core/units';
import { PACKED_TYPE } from '@/protocol/tiles';
import { findArtwork } from '@/server/artworks/artworkStore';
import { sharedConnection } from '@/server/db/database';
import { readStored } from '@/server/files/fileStore';
import { answer, readHash } from '@/server/http/respond';

export const dynamic = 'force-dynamic';

/** The stored form of a drawing, gzipped: pages draw it themselves. */
export function GET(
  request: Request,
  context: RouteContext<'/api/artwork/[sha]/drawing'>,
): Promise<Response> {
  return answer(request, async () => {
    const { database } = sharedConnection();
    const row = await findArtwork(database, readHash((await context.params).sha));
    if (!row || row.facts.kind !== 'vector') {
      throw new KerameusError({
        code: 'artwork-missing',
        message: 'There is no such drawing.',
        remedy: 'Go back to the jobs.',
      });
    }
    if (row.drawingFileId === null) {
      throw new KerameusError({
        code: 'drawing-not-ready',
        message: 'This drawing is of an older installation and is being made ready.',
        remedy: 'Reload the page in a minute.',
      });
    }
    const content = Readable.from(readStored(database, row.drawingFileId));
    return new Response(Readable.toWeb(content) as ReadableStream, {
      headers: { 'content-type': PACKED_TYPE, 'cache-control': 'private, max-age=31536000, immutable' },
    });
  });
}
