import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { fileURLToPath } from 'node:url';
import { completeDrawing, incompleteDrawings } from '@/server/artworks/artworkStore';
import { connect } from '@/server/db/database';
import { scratchFolder, sweepScratch } from '@/server/files/scratch';
import { keepHouse } from '@/server/housekeeping';
import { log } from '@/server/log';
import { QUEUES, type QueuedTask, enqueue, queueOf, startQueue } from '@/server/tasks/queue';
import { forgottenTasks, createTask } from '@/server/tasks/taskStore';
import { type TaskHost, runTask } from './runTask';

const SWEEP_EVERY_MS = 5000;
/** A task that waits is rung for again after so many seconds at the earliest. */
const RING_AGAIN_SECONDS = 20;
const DAY_MS = 24 * 3600 * 1000;
/** The option of a process that runs one task and ends. */
const ONLY = '--only';

/** Runs one task in a process of its own: what ends that process ends nobody else's work. */
function runApart(id: string, stop: AbortSignal): Promise<void> {
  const [program, ...rest] = [
    process.execPath,
    ...process.execArgv,
    fileURLToPath(import.meta.url),
    ONLY,
    id,
  ];
  const child = spawn(program, rest, { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
  const end = (): void => void child.kill('SIGTERM');
  stop.addEventListener('abort', end, { once: true });
  return new Promise((resolve) => {
    child.once('error', () => resolve());
    child.once('exit', () => {
      stop.removeEventListener('abort', end);
      resolve();
    });
  });
}

/** The background worker: takes tasks from the queue until it is told to stop. Any number may run on one database. */
async function main(): Promise<void> {
  const only = process.argv.includes(ONLY) ? process.argv[process.argv.indexOf(ONLY) + 1]! : null;
  const { database, pool } = connect();
  const boss = await startQueue(only ? 'sender' : 'worker');
  const stopping = new AbortController();
  const host: TaskHost = {
    database,
    owner: `${hostname()}-${process.pid}-${randomUUID().slice(0, 8)}`,
    stop: stopping.signal,
    enqueue: async (payload, jobId, afterSeconds = 0) => {
      const id = await createTask(database, payload, jobId);
      await enqueue(payload, id, { boss, afterSeconds });
    },
    ...(only ? {} : { runApart: (id: string) => runApart(id, stopping.signal) }),
  };
  const timers: ReturnType<typeof setInterval>[] = [];
  let running: Promise<unknown> = Promise.resolve();
  const stop = async (code = 0): Promise<void> => {
    timers.forEach((timer) => clearInterval(timer));
    stopping.abort();
    await boss.stop({ graceful: false, timeout: 3000 }).catch(() => undefined);
    // Tasks are given back, so that another worker need not wait for their leases to run out.
    await Promise.race([running, new Promise((resolve) => setTimeout(resolve, 4000))]);
    await pool.end().catch(() => undefined);
    process.exit(code);
  };
  process.once('SIGINT', () => void stop());
  process.once('SIGTERM', () => void stop());
  if (only) {
    // The worker that started this one is gone: its other tasks wait for theirs, too.
    process.once('disconnect', () => void stop());
    running = runTask(host, only);
    await running;
    return stop();
  }
  const all = new Set<Promise<unknown>>();
  const track = async (work: Promise<void>): Promise<void> => {
    all.add(work);
    running = Promise.allSettled(all);
    await work.finally(() => all.delete(work));
  };
  for (const [queue, count] of Object.entries(QUEUES)) {
    for (let k = 0; k < count; k++) {
      await boss.work<QueuedTask>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async (jobs) => {
        for (const job of jobs) await track(runTask(host, job.data.taskId));
      });
    }
  }
  // Work of a worker that was killed or gave it back: ring the bell again, once a minute at most.
  const sweep = () =>
    forgottenTasks(database)
      .then((found) =>
        Promise.all(
          found.map(({ id, payload, silent }) =>
            boss.send(
              queueOf(payload),
              { taskId: id },
              {
                retryLimit: 0,
                singletonKey: id,
                singletonSeconds: RING_AGAIN_SECONDS,
                // What was begun goes before what waits.
                priority: silent ? 1 : 0,
              },
            ),
          ),
        ),
      )
      .catch(() => undefined);
  const tidy = () =>
    Promise.all([sweepScratch(), keepHouse(database)])
      .then(([folders, removed]) => log.info({ folders: folders.length, ...removed }, 'tidied up'))
      .catch((thrown: unknown) => log.warn({ err: thrown }, 'could not tidy up'));
  timers.push(
    setInterval(() => void sweep(), SWEEP_EVERY_MS),
    setInterval(() => void tidy(), DAY_MS),
  );
  log.info({ owner: host.owner }, 'Kerameus worker is ready.');
  await tidy();
  await completeDrawings(host);
}

/** Drawings of older installations get the form that pages draw them from. */
async function completeDrawings({ database, stop }: TaskHost): Promise<void> {
  try {
    for (const sha256 of await incompleteDrawings(database)) {
      if (stop.aborted) return;
      const folder = await scratchFolder('task');
      await completeDrawing(database, sha256, folder)
        .catch((thrown: unknown) =>
          log.warn(
            { err: thrown, artwork: sha256 },
            'a drawing of an older installation cannot be read any more',
          ),
        )
        .finally(() => rm(folder, { recursive: true, force: true }));
    }
  } catch (thrown) {
    log.warn({ err: thrown }, 'drawings of older installations were not looked for');
  }
}

main().catch((thrown: unknown) => {
  log.error({ err: thrown }, 'the worker could not start');
  process.exit(1);
});
