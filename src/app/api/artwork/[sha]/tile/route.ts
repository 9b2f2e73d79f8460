import { KerameusError } from '@/core/units';
import { PACKED_TYPE } from '@/protocol/tiles';
import { readTile } from '@/server/artworks/artworkStore';
import { sharedConnection } from '@/server/db/database';
import { answer, badRequest, readHash } from '@/server/http/respond';

export const dynamic = 'force-dynamic';

function whole(value: string | null, most: number): number {
  const number = Number(value);
  if (value === null || value.trim() === '' || !Number.isInteger(number) || number < 0 || number > most) {
    throw badRequest('The tile is not named properly.');
  }
  return number;
}

/** One tile of raster artwork by level, row and column: sRGB with straight alpha. */
export function GET(request: Request, context: RouteContext<'/api/artwork/[sha]/tile'>): Promise<Response> {
  return answer(request, async () => {
    const sha = readHash((await context.params).sha);
    const query = new URL(request.url).searchParams;
    const row = whole(query.get('row'), 1e5);
    const column = whole(query.get('column'), 1e5);
    const packed = await readTile(
      sharedConnection().database,
      sha,
      whole(query.get('level'), 20),
      row,
      column,
    );
    if (!packed) {
      throw new KerameusError({
        code: 'artwork-missing',
        message: 'There is no such tile.',
        remedy: 'Reload the page.',
      });
    }
    return new Response(new Uint8Array(packed), {
      headers: { 'content-type': PACKED_TYPE, 'cache-control': 'private, max-age=31536000, immutable' },
    });
  });
}
