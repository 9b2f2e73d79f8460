import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import { connect } from '@/server/db/database';
import { QUEUES, type QueuedTask, enqueue, queueOf, startQueue } from '@/server/tasks/queue';
import { abandonedTasks, createTask } from '@/server/tasks/taskStore';
import { type TaskHost, runTask } from './runTask';

const SWEEP_EVERY_MS = 5000;

/** The background worker: takes tasks from the queue until it is told to stop. Any number may run on one database. */
async function main(): Promise<void> {
  const { database, pool } = connect();
  const boss = await startQueue('worker');
  const stopping = new AbortController();
  const host: TaskHost = {
    database,
    owner: `${hostname()}-${process.pid}-${randomUUID().slice(0, 8)}`,
    stop: stopping.signal,
    enqueue: async (payload, jobId) => {
      const id = await createTask(database, payload, jobId);
      await enqueue(payload.kind, id, { boss });
    },
  };
  for (const queue of QUEUES) {
    await boss.work<QueuedTask>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async (jobs) => {
      for (const job of jobs) await runTask(host, job.data.taskId);
    });
  }
  // Work of a worker that was killed: its lease has run out, so ring the bell again.
  const sweep = setInterval(() => {
    abandonedTasks(database)
      .then((found) => Promise.all(found.map((task) => boss.send(queueOf(task.kind), { taskId: task.id }))))
      .catch(() => undefined);
  }, SWEEP_EVERY_MS);
  console.log('Kerameus worker is ready.');

  const stop = async (): Promise<void> => {
    clearInterval(sweep);
    stopping.abort();
    await boss.stop({ graceful: false, timeout: 3000 }).catch(() => undefined);
    await pool.end().catch(() => undefined);
    process.exit(0);
  };
  process.once('SIGINT', () => void stop());
  process.once('SIGTERM', () => void stop());
}

main().catch((thrown: unknown) => {
  console.error(thrown);
  process.exitCode = 1;
});
