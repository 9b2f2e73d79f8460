import { KerameusError } from '@/core/units';
import { PACKED_TYPE } from '@/protocol/tiles';
import { readTile } from '@/server/artworks/artworkStore';
import { renderVectorTile } from '@/server/artworks/vectorTiles';
import { sharedConnection } from '@/server/db/database';
import { answer, badRequest } from '@/server/http/respond';

export const dynamic = 'force-dynamic';

function whole(value: string | null, most: number): number {
  const number = Number(value);
  if (value === null || !Number.isInteger(number) || number < 0 || number > most) {
    throw badRequest('The tile is not named properly.');
  }
  return number;
}

/**
 * One tile of artwork, sRGB with straight alpha. Raster artwork by level, row and column; vector artwork by the size of the
 * whole in pixels, row and column, as runs where it has them.
 */
export function GET(request: Request, context: RouteContext<'/api/artwork/[sha]/tile'>): Promise<Response> {
  return answer(async () => {
    const { sha } = await context.params;
    const query = new URL(request.url).searchParams;
    const row = whole(query.get('row'), 1e5);
    const column = whole(query.get('column'), 1e5);
    const { database } = sharedConnection();
    if (query.has('width')) {
      const tile = await renderVectorTile(database, sha, {
        wholeWidth: whole(query.get('width'), 200_000),
        wholeHeight: whole(query.get('height'), 200_000),
        column,
        row,
      });
      if (!tile) throw noSuchTile();
      return tileResponse(tile.bytes, tile.type);
    }
    const packed = await readTile(database, sha, whole(query.get('level'), 20), row, column);
    if (!packed) throw noSuchTile();
    return tileResponse(packed, PACKED_TYPE);
  });
}

function noSuchTile(): KerameusError {
  return new KerameusError({
    code: 'artwork-missing',
    message: 'There is no such tile.',
    remedy: 'Reload the page.',
  });
}

function tileResponse(bytes: Uint8Array, type: string): Response {
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': type, 'cache-control': 'private, max-age=31536000, immutable' },
  });
}
