import { KerameusError } from '@/core/units';
import { findArtwork } from '@/server/artworks/artworkStore';
import { sharedConnection } from '@/server/db/database';
import { answer, readHash } from '@/server/http/respond';

export const dynamic = 'force-dynamic';

/** The map of what lies outside the drawing: a byte for each cell, with its size in headers. */
export function GET(request: Request, context: RouteContext<'/api/artwork/[sha]/outer'>): Promise<Response> {
  return answer(request, async () => {
    const row = await findArtwork(sharedConnection().database, readHash((await context.params).sha));
    if (!row?.outerMap) {
      throw new KerameusError({
        code: 'artwork-missing',
        message: 'This artwork has no background of one colour.',
        remedy: 'Reload the page.',
      });
    }
    return new Response(new Uint8Array(row.outerMap), {
      headers: {
        // Not a content encoding: the framework keeps that for itself.
        'content-type': 'application/gzip',
        'x-width': String(row.outerWidth),
        'x-height': String(row.outerHeight),
        'cache-control': 'private, max-age=31536000, immutable',
      },
    });
  });
}
