import { Readable } from 'node:stream';
import { setTimeout as wait } from 'node:timers/promises';
import { eq } from 'drizzle-orm';
import { KerameusError } from '@/core/units';
import { sharedConnection } from '@/server/db/database';
import { jobs } from '@/server/db/schema';
import { readStored } from '@/server/files/fileStore';
import { answer, readId } from '@/server/http/respond';

export const dynamic = 'force-dynamic';

/** A new job's picture is drawn a few seconds after it: whoever asks meanwhile gets it then. */
const WAIT_MS = 20_000;
const LOOK_EVERY_MS = 400;

/** The print on its garment. */
export function GET(request: Request, context: RouteContext<'/api/jobs/[id]/picture'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const { database } = sharedConnection();
    const find = async () =>
      (await database.select({ pictureId: jobs.pictureId }).from(jobs).where(eq(jobs.id, id)))[0];
    let job = await find();
    const until = Date.now() + WAIT_MS;
    while (job && !job.pictureId && Date.now() < until && !request.signal.aborted) {
      await wait(LOOK_EVERY_MS);
      job = await find();
    }
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
