import { sharedConnection } from '@/server/db/database';
import { answer, readHash } from '@/server/http/respond';
import { readTexture } from '@/server/textures';

export const dynamic = 'force-dynamic';

/** The samples of a texture's picture in grey, gzipped. */
export function GET(request: Request, context: RouteContext<'/api/textures/[sha]'>): Promise<Response> {
  return answer(request, async () => {
    const bytes = await readTexture(
      sharedConnection().database,
      readHash((await context.params).sha, 'texture'),
    );
    return new Response(new Uint8Array(bytes), {
      headers: {
        // Not a content encoding: the framework keeps that for itself.
        'content-type': 'application/gzip',
        'cache-control': 'private, max-age=31536000, immutable',
      },
    });
  });
}
