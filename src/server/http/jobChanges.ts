import type { JobView } from '@/protocol/jobs';
import type { Database } from '../db/database';
import { log } from '../log';
import { StaleVersionError, readJob } from '../jobs/jobStore';
import { enqueue } from '../tasks/queue';
import { createTask, isWaiting } from '../tasks/taskStore';

/** Answers a change of a job; when it was made from an older version, with 409 and the newer state. */
export async function answerStale(
  database: Database,
  id: string,
  work: () => Promise<JobView>,
): Promise<Response> {
  try {
    return Response.json(await work());
  } catch (thrown) {
    if (!(thrown instanceof StaleVersionError)) throw thrown;
    return Response.json(await readJob(database, id), { status: 409 });
  }
}

/** A picture is drawn this long after a change, so that a series of changes costs one. */
const PICTURE_PAUSE_SECONDS = 15;

/** Has the job's picture drawn anew. The change itself stands, whether this works or not. */
export async function ringForPicture(database: Database, id: string): Promise<void> {
  try {
    if (await isWaiting(database, 'picture', id)) return;
    const payload = { kind: 'picture' as const, jobId: id };
    const taskId = await createTask(database, payload, id);
    await enqueue(payload, taskId, { afterSeconds: PICTURE_PAUSE_SECONDS });
  } catch (thrown) {
    log.warn({ err: thrown, job: id }, 'a picture was not asked for');
  }
}
