import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { KerameusError, toErrorReport } from '@/core/units';
import type { TaskPayload, TaskProgress, TaskResult } from '@/protocol/tasks';
import { collectGarbage } from '@/server/collectGarbage';
import { type Database, isDatabaseAway } from '@/server/db/database';
import {
  LEASE_SECONDS,
  type TaskRow,
  claimTask,
  completeTask,
  endTask,
  renewLease,
  reportProgress,
} from '@/server/tasks/taskStore';
import { runApproval } from './runApproval';
import { runFilms } from './runFilms';
import { runImport } from './runImport';
import { runPicture } from './runPicture';
import { runPrint } from './runPrint';

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

/** What a task's work may use. */
export interface TaskRun {
  readonly id: string;
  readonly database: Database;
  /** Fires when the task is cancelled or was given to another worker. */
  readonly signal: AbortSignal;
  /** Scratch files; removed at the end, whatever happens. */
  readonly folder: string;
  progress(progress: TaskProgress): Promise<void>;
  /** Makes the result visible: everything in one transaction, and only if the task is still ours. */
  finish(work: (transaction: Transaction) => Promise<TaskResult>): Promise<TaskResult>;
  enqueue(payload: TaskPayload, jobId: string): Promise<void>;
}

class Cancelled extends Error {}
class Lost extends Error {}

export interface TaskHost {
  readonly database: Database;
  /** Names this worker in leases. */
  readonly owner: string;
  enqueue(payload: TaskPayload, jobId: string): Promise<void>;
  /** Fires when the worker shall stop; its task goes back to the queue by its lease. */
  readonly stop: AbortSignal;
}

/** Claims a task and does it; does nothing when another worker has it. */
export async function runTask(host: TaskHost, id: string): Promise<void> {
  const row = await claimTask(host.database, id, host.owner);
  if (!row) return;
  // What earlier tasks left is not to add to this one's memory.
  collectGarbage();
  const controller = new AbortController();
  const beat = setInterval(() => void heartbeat(host, id, controller), (LEASE_SECONDS * 1000) / 4);
  const stop = () => controller.abort(new Lost());
  host.stop.addEventListener('abort', stop);
  const folder = await mkdtemp(path.join(tmpdir(), 'kerameus-task-'));
  try {
    if (row.attempts > MAX_ATTEMPTS) throw gaveUp();
    await perform(host, row, controller.signal, folder);
  } catch (thrown) {
    const reason = controller.signal.aborted ? controller.signal.reason : thrown;
    // While the database is away nothing can be said; the lease runs out, and the work is taken up again.
    if (reason instanceof Lost || isDatabaseAway(reason)) return;
    if (reason instanceof Cancelled) await endTask(host.database, id, host.owner, 'cancelled', null);
    else {
      const report = toErrorReport(thrown);
      if (report.code === 'internal') console.error(thrown);
      await endTask(host.database, id, host.owner, 'failed', report);
    }
  } finally {
    clearInterval(beat);
    host.stop.removeEventListener('abort', stop);
    await rm(folder, { recursive: true, force: true });
  }
}

/** A task that brought down this many workers is not tried again. */
const MAX_ATTEMPTS = 4;

function gaveUp(): KerameusError {
  return new KerameusError({
    code: 'gave-up',
    message: 'The work was begun several times and never came to its end.',
    remedy: 'Try again; if it happens again, the artwork may be too large for this machine.',
  });
}

async function heartbeat(host: TaskHost, id: string, controller: AbortController): Promise<void> {
  try {
    const { held, cancel } = await renewLease(host.database, id, host.owner);
    if (!held) controller.abort(new Lost());
    else if (cancel) controller.abort(new Cancelled());
  } catch {
    // The database is away; the lease decides when it is back.
  }
}

async function perform(host: TaskHost, row: TaskRow, signal: AbortSignal, folder: string): Promise<void> {
  const run: TaskRun = {
    id: row.id,
    database: host.database,
    signal,
    folder,
    enqueue: host.enqueue,
    progress: async (progress) => {
      try {
        await reportProgress(host.database, row.id, host.owner, progress);
      } catch {
        // Progress is news, not work.
      }
    },
    finish: (work) =>
      whenThere(signal, () =>
        host.database.transaction(async (transaction) => {
          const result = await work(transaction);
          signal.throwIfAborted();
          if (!(await completeTask(transaction, row.id, host.owner, result))) throw new Lost();
          return result;
        }),
      ),
  };
  const { payload } = row;
  if (payload.kind === 'import') await runImport(run, payload);
  else if (payload.kind === 'films') await runFilms(run, payload);
  else if (payload.kind === 'approval') await runApproval(run, payload);
  else if (payload.kind === 'print') await runPrint(run, payload);
  else await runPicture(run, payload);
}

const TRIES = 15;
const BETWEEN_TRIES_MS = 2000;

/** Does what is all or nothing, again where the database went away meanwhile: what was made would otherwise have to be made anew. */
async function whenThere<T>(signal: AbortSignal, work: () => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await work();
    } catch (thrown) {
      if (!isDatabaseAway(thrown) || attempt === TRIES) throw thrown;
      await setTimeout(BETWEEN_TRIES_MS, undefined, { signal });
    }
  }
}
