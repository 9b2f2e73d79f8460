import { Readable } from 'node:stream';
import { eq } from 'drizzle-orm';
import { KerameusError } from '@/core/units';
import { sharedConnection } from '@/server/db/database';
import { jobs } from '@/server/db/schema';
import { readStored } from '@/server/files/fileStore';
import { answer, readId } from '@/server/http/respond';

export const dynamic = 'force-dynamic';

/** The print on its garment. */
export function GET(request: Request, context: RouteContext<'/api/jobs/[id]/picture'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const { database } = sharedConnection();
    const [job] = await database.select({ pictureId: jobs.pictureId }).from(jobs).where(eq(jobs.id, id));
    if (!job?.pictureId) {
      throw new KerameusError({
        code: 'file-not-found',
        message: 'There is no picture yet.',
        remedy: 'Wait a moment.',
      });
    }
    const stream = Readable.toWeb(Readable.from(readStored(database, job.pictureId)));
    return new Response(stream as ReadableStream, {
      headers: { 'content-type': 'image/png', 'cache-control': 'no-cache' },
    });
  });
}
