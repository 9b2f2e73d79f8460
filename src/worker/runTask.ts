import { rm } from 'node:fs/promises';
import { setTimeout as wait } from 'node:timers/promises';
import { KerameusError, toErrorReport } from '@/core/units';
import type { TaskKind, TaskPayload, TaskProgress, TaskResult } from '@/protocol/tasks';
import { collectGarbage } from '@/server/collectGarbage';
import { type Database, type Reader, isDatabaseAway } from '@/server/db/database';
import { scratchFolder } from '@/server/files/scratch';
import { log, tellUser } from '@/server/log';
import {
  LEASE_SECONDS,
  type TaskRow,
  claimTask,
  completeTask,
  endTask,
  holdsTask,
  releaseTask,
  renewLease,
  reportProgress,
} from '@/server/tasks/taskStore';
import { runApproval } from './runApproval';
import { runFilms } from './runFilms';
import { runImport } from './runImport';
import { runPicture } from './runPicture';
import { runPrint } from './runPrint';
import { runRevise } from './runRevise';
import { runTexture } from './runTexture';

export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

/**
 * What a task's work may use. It can read the database; it changes it only by `finish` and by what it leaves for its failure, both of which
 * hold only as long as the task is this worker's.
 */
export interface TaskRun {
  readonly id: string;
  readonly database: Reader;
  /** Fires when the task is cancelled, takes longer than its kind may, or was given to another worker. */
  readonly signal: AbortSignal;
  /** Scratch files; removed at the end, whatever happens. */
  readonly folder: string;
  progress(progress: TaskProgress): Promise<void>;
  /** Makes the result visible: everything in one transaction, and only if the task is still ours. */
  finish(work: (transaction: Transaction) => Promise<TaskResult>): Promise<TaskResult>;
  /** Adds to a result that is visible already what nothing depends on: it is lost where the program ends before, or the database is away. */
  afterwards(work: (database: Database) => Promise<void>): Promise<void>;
  /** What is done together with telling that the task failed or was cancelled. */
  onFailure(work: (transaction: Transaction) => Promise<void>): void;
  /** @param afterSeconds that it waits at least. */
  enqueue(payload: TaskPayload, jobId: string, afterSeconds?: number): Promise<void>;
}

class Cancelled extends Error {}
/** Another worker has the task, or this one is about to end. */
class Lost extends Error {}
class OverTime extends Error {}

export interface TaskHost {
  readonly database: Database;
  /** Names this worker in leases. */
  readonly owner: string;
  /** @param afterSeconds that it waits at least. */
  enqueue(payload: TaskPayload, jobId: string, afterSeconds?: number): Promise<void>;
  /** Fires when the worker shall stop; its tasks go back to the queue. */
  readonly stop: AbortSignal;
  /** Takes up a task whose worker ended, in a process of its own: nobody else's work is in there if it ends again. Absent in such a process. */
  readonly runApart?: (id: string) => Promise<void>;
}

/** How long each kind of work may take, in seconds. */
const BUDGET_SECONDS: Readonly<Record<TaskKind, number>> = {
  import: 600,
  films: 4 * 3600,
  picture: 900,
  approval: 900,
  print: 2 * 3600,
  revise: 900,
  texture: 600,
};

/** A task that brought down this many workers that did nothing else is not tried again. */
const MAX_ATTEMPTS = 2;

/** Claims a task and does it; does nothing when another worker has it. */
export async function runTask(host: TaskHost, id: string): Promise<void> {
  const claim = await claimTask(host.database, id, host.owner, host.runApart === undefined);
  if (claim === 'abandoned') return host.runApart?.(id);
  if (claim === null) return;
  // What earlier tasks left is not to add to this one's memory.
  collectGarbage();
  const controller = new AbortController();
  let isDone = false;
  const beat = setInterval(
    () => void heartbeat(host, id, controller, () => isDone),
    (LEASE_SECONDS * 1000) / 8,
  );
  const budget = setTimeout(
    () => controller.abort(new OverTime()),
    BUDGET_SECONDS[claim.payload.kind] * 1000,
  );
  const stop = () => controller.abort(new Lost());
  host.stop.addEventListener('abort', stop);
  const cleanups: ((transaction: Transaction) => Promise<void>)[] = [];
  const folder = await scratchFolder('task');
  try {
    if (claim.attempts > MAX_ATTEMPTS) throw gaveUp();
    await perform(host, claim, controller.signal, folder, cleanups, () => (isDone = true));
  } catch (thrown) {
    await end(host, claim, controller.signal.aborted ? controller.signal.reason : thrown, cleanups);
  } finally {
    clearInterval(beat);
    clearTimeout(budget);
    host.stop.removeEventListener('abort', stop);
    await rm(folder, { recursive: true, force: true });
  }
}

/** Says how a task ended that did not finish; where it is not ours any more, nothing. */
async function end(
  host: TaskHost,
  row: TaskRow,
  reason: unknown,
  cleanups: readonly ((transaction: Transaction) => Promise<void>)[],
): Promise<void> {
  try {
    if (reason instanceof Lost) {
      if (host.stop.aborted) await releaseTask(host.database, row.id, host.owner);
      return;
    }
    // While the database is away nothing can be said; the lease runs out, and the work is taken up again.
    if (isDatabaseAway(reason)) return;
    const cancelled = reason instanceof Cancelled;
    const thrown = reason instanceof OverTime ? overTime(row.payload.kind) : reason;
    if (!cancelled && toErrorReport(thrown).code === 'internal')
      log.error({ err: thrown, task: row.id }, 'a task failed');
    await host.database.transaction(async (transaction) => {
      const error = cancelled ? null : tellUser(thrown);
      const held = await endTask(transaction, row.id, host.owner, cancelled ? 'cancelled' : 'failed', error);
      if (held) for (const cleanup of cleanups) await cleanup(transaction);
    });
  } catch (failed) {
    if (!isDatabaseAway(failed)) log.error({ err: failed, task: row.id }, 'the end of a task was not stored');
  }
}

function gaveUp(): KerameusError {
  return new KerameusError({
    code: 'gave-up',
    message: 'The work was begun several times and each time ended the program that did it.',
    remedy: 'The artwork may be too large for this machine: make it smaller and try again.',
  });
}

function overTime(kind: TaskKind): KerameusError {
  return new KerameusError({
    code: 'over-time',
    message: `The work took longer than ${BUDGET_SECONDS[kind] / 60} minutes and was stopped.`,
    remedy: 'Simplify the artwork, or make the print or its resolution smaller, and try again.',
  });
}

/** @param isDone whether the task's result is visible: the lease is nobody's then. */
async function heartbeat(
  host: TaskHost,
  id: string,
  controller: AbortController,
  isDone: () => boolean,
): Promise<void> {
  if (isDone()) return;
  try {
    const { held, cancel } = await renewLease(host.database, id, host.owner);
    if (!held && !isDone()) controller.abort(new Lost());
    else if (cancel) controller.abort(new Cancelled());
  } catch {
    // The database is away; the lease decides when it is back.
  }
}

async function perform(
  host: TaskHost,
  row: TaskRow,
  signal: AbortSignal,
  folder: string,
  cleanups: ((transaction: Transaction) => Promise<void>)[],
  onDone: () => void,
): Promise<void> {
  const run: TaskRun = {
    id: row.id,
    database: host.database,
    signal,
    folder,
    enqueue: host.enqueue,
    onFailure: (work) => void cleanups.push(work),
    progress: async (progress) => {
      try {
        await reportProgress(host.database, row.id, host.owner, progress);
      } catch {
        // Progress is news, not work.
      }
    },
    finish: async (work) => {
      const result = await whenThere(signal, () =>
        host.database.transaction(async (transaction) => {
          signal.throwIfAborted();
          if (!(await holdsTask(transaction, row.id, host.owner))) throw new Lost();
          const result = await work(transaction);
          signal.throwIfAborted();
          if (!(await completeTask(transaction, row.id, host.owner, result))) throw new Lost();
          return result;
        }),
      );
      onDone();
      return result;
    },
    afterwards: async (work) => {
      try {
        await work(host.database);
      } catch (thrown) {
        if (!isDatabaseAway(thrown))
          log.warn({ err: thrown, task: row.id }, 'what a task adds to its result was not stored');
      }
    },
  };
  const { payload } = row;
  if (payload.kind === 'import') await runImport(run, payload);
  else if (payload.kind === 'films') await runFilms(run, payload);
  else if (payload.kind === 'approval') await runApproval(run, payload);
  else if (payload.kind === 'print') await runPrint(run, payload);
  else if (payload.kind === 'revise') await runRevise(run, payload);
  else if (payload.kind === 'texture') await runTexture(run, payload);
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
      await wait(BETWEEN_TRIES_MS, undefined, { signal });
    }
  }
}
