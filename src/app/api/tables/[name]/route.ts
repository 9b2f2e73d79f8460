import { sharedConnection } from '@/server/db/database';
import { answer, readHash } from '@/server/http/respond';
import { findTable } from '@/server/tables';

export const dynamic = 'force-dynamic';

/** A table of tones that a worker has solved for a new job, or is at; 204 where there is none. */
export function GET(request: Request, context: RouteContext<'/api/tables/[name]'>): Promise<Response> {
  return answer(request, async () => {
    const name = readHash((await context.params).name, 'table');
    const entries = await findTable(sharedConnection().database, name, request.signal);
    const headers = { 'cache-control': 'no-store' };
    if (!entries) return new Response(null, { status: 204, headers });
    return new Response(new Uint8Array(entries), {
      headers: { ...headers, 'content-type': 'application/octet-stream' },
    });
  });
}
