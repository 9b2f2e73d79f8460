import { and, asc, desc, eq, gt, lt, or, sql } from 'drizzle-orm';
import type { ErrorReport } from '@/core/units';
import {
  FILM_ARCHIVE,
  type TaskFile,
  type TaskPayload,
  type TaskProgress,
  type TaskResult,
  type TaskView,
} from '@/protocol/tasks';
import type { Database, Reader } from '../db/database';
import { files, taskFiles, tasks } from '../db/schema';
import { archiveSize } from '../files/archive';

/** How long a worker may be silent before its task goes to another. */
export const LEASE_SECONDS = 15;

export type TaskRow = typeof tasks.$inferSelect;

const leaseEnd = sql`now() + interval '${sql.raw(String(LEASE_SECONDS))} seconds'`;

export async function createTask(
  database: Pick<Database, 'insert'>,
  payload: TaskPayload,
  jobId: string | null = null,
): Promise<string> {
  const [row] = await database
    .insert(tasks)
    .values({ kind: payload.kind, payload, jobId })
    .returning({ id: tasks.id });
  return row!.id;
}

/**
 * Takes a task that waits. One whose worker fell silent is taken only by a process that runs nothing else, and counts against the task; to others it is
 * told as `abandoned`. Null when there is nothing to take.
 */
export async function claimTask(
  database: Database,
  id: string,
  owner: string,
  alone: boolean,
): Promise<TaskRow | 'abandoned' | null> {
  const silent = and(eq(tasks.id, id), eq(tasks.state, 'running'), lt(tasks.leaseUntil, sql`now()`));
  const taken = { state: 'running', leaseOwner: owner, leaseUntil: leaseEnd, progress: null } as const;
  const [row] = await database
    .update(tasks)
    .set(taken)
    .where(and(eq(tasks.id, id), eq(tasks.state, 'queued')))
    .returning();
  if (row) return row;
  if (!alone) {
    const [found] = await database.select({ id: tasks.id }).from(tasks).where(silent);
    return found ? 'abandoned' : null;
  }
  const [again] = await database
    .update(tasks)
    .set({ ...taken, attempts: sql`${tasks.attempts} + 1` })
    .where(silent)
    .returning();
  return again ?? null;
}

function held(id: string, owner: string) {
  return and(
    eq(tasks.id, id),
    eq(tasks.leaseOwner, owner),
    eq(tasks.state, 'running'),
    gt(tasks.leaseUntil, sql`now()`),
  );
}

/** Whether a task is still its worker's: its lease has not run out, and no other has it. */
export async function holdsTask(
  database: Pick<Database, 'select'>,
  id: string,
  owner: string,
): Promise<boolean> {
  const rows = await database.select({ id: tasks.id }).from(tasks).where(held(id, owner));
  return rows.length === 1;
}

/** Gives a task back that its worker will not end. */
export async function releaseTask(database: Database, id: string, owner: string): Promise<void> {
  await database
    .update(tasks)
    .set({ state: 'queued', leaseOwner: null, leaseUntil: null, progress: null })
    .where(held(id, owner));
}

/** Renews a lease; tells whether the task is still ours and whether it shall stop. */
export async function renewLease(
  database: Database,
  id: string,
  owner: string,
): Promise<{ readonly held: boolean; readonly cancel: boolean }> {
  const [row] = await database
    .update(tasks)
    .set({ leaseUntil: leaseEnd })
    .where(and(eq(tasks.id, id), eq(tasks.leaseOwner, owner), eq(tasks.state, 'running')))
    .returning({ cancel: tasks.cancelRequested });
  return { held: row !== undefined, cancel: row?.cancel ?? false };
}

export async function reportProgress(
  database: Database,
  id: string,
  owner: string,
  progress: TaskProgress,
): Promise<void> {
  await database.update(tasks).set({ progress }).where(held(id, owner));
}

/** Ends a task that is still ours; false when another has it. Part of the transaction that makes its result visible. */
export async function completeTask(
  database: Pick<Database, 'update'>,
  id: string,
  owner: string,
  result: TaskResult,
): Promise<boolean> {
  const rows = await database
    .update(tasks)
    .set({ state: 'done', result, leaseUntil: null, endedAt: sql`now()` })
    .where(held(id, owner))
    .returning({ id: tasks.id });
  return rows.length === 1;
}

/** Ends a task without a result; false when it is not ours any more. */
export async function endTask(
  database: Pick<Database, 'update'>,
  id: string,
  owner: string,
  state: 'failed' | 'cancelled',
  error: ErrorReport | null,
): Promise<boolean> {
  const rows = await database
    .update(tasks)
    .set({ state, error, leaseUntil: null, endedAt: sql`now()` })
    .where(held(id, owner))
    .returning({ id: tasks.id });
  return rows.length === 1;
}

/** Tasks that are looked after at a time. */
const MOST_FORGOTTEN = 200;

/** A task that has no bell, and whether its worker fell silent. */
export interface ForgottenTask {
  readonly id: string;
  readonly payload: TaskPayload;
  readonly silent: boolean;
}

/**
 * Tasks that may have no bell any more: their worker fell silent, or they wait longer than their first bell needs; a worker that ended may have taken
 * the bell with it, or have given them back. Those with a bell that still waits are left out, however many they are: bells would pile up before the
 * tasks that need one. Those whose worker fell silent come first.
 */
export async function forgottenTasks(database: Reader): Promise<ForgottenTask[]> {
  const silent = sql<boolean>`${tasks.state} = 'running'`;
  return database
    .select({ id: tasks.id, payload: tasks.payload, silent })
    .from(tasks)
    .where(
      and(
        or(
          and(eq(tasks.state, 'running'), lt(tasks.leaseUntil, sql`now()`)),
          and(eq(tasks.state, 'queued'), lt(tasks.createdAt, sql`now() - interval '30 seconds'`)),
        ),
        sql`not exists (
          select from pgboss.job where state in ('created', 'retry') and data->>'taskId' = ${tasks.id}::text
        )`,
      ),
    )
    .orderBy(desc(silent), asc(tasks.createdAt))
    .limit(MOST_FORGOTTEN);
}

/** Asks a task to stop; one that has not begun stops at once. */
export async function requestCancel(database: Database, id: string): Promise<void> {
  await database
    .update(tasks)
    .set({
      cancelRequested: true,
      state: sql`case when ${tasks.state} = 'queued' then 'cancelled' else ${tasks.state} end`,
      endedAt: sql`case when ${tasks.state} = 'queued' then now() else ${tasks.endedAt} end`,
    })
    .where(eq(tasks.id, id));
}

async function filesOf(database: Database, { id, kind }: TaskRow): Promise<TaskFile[]> {
  const stored = await database
    .select({
      name: taskFiles.name,
      type: files.type,
      size: files.size,
      version: taskFiles.version,
      unchangedSince: taskFiles.unchangedSince,
    })
    .from(taskFiles)
    .innerJoin(files, eq(files.id, taskFiles.fileId))
    .where(eq(taskFiles.taskId, id))
    .orderBy(asc(taskFiles.position));
  // Sets of older installations have an archive of their own.
  if (kind !== 'films' || stored.some(({ name }) => name === FILM_ARCHIVE)) return stored;
  return [
    {
      name: FILM_ARCHIVE,
      type: 'application/zip',
      size: archiveSize(stored),
      version: null,
      unchangedSince: null,
    },
    ...stored,
  ];
}

async function toView(database: Database, row: TaskRow): Promise<TaskView> {
  return {
    id: row.id,
    kind: row.kind,
    state: row.state,
    version: row.payload.kind === 'films' ? row.payload.version : null,
    progress: row.progress,
    result: row.result,
    error: row.error,
    files: row.state === 'done' ? await filesOf(database, row) : [],
    createdAt: row.createdAt.toISOString(),
  };
}

export async function viewTask(database: Database, id: string): Promise<TaskView | null> {
  const [row] = await database.select().from(tasks).where(eq(tasks.id, id));
  return row ? toView(database, row) : null;
}

/** The newest film task of a job. */
export async function latestFilms(database: Database, jobId: string): Promise<TaskView | null> {
  const [row] = await database
    .select()
    .from(tasks)
    .where(and(eq(tasks.jobId, jobId), eq(tasks.kind, 'films')))
    .orderBy(desc(tasks.createdAt))
    .limit(1);
  return row ? toView(database, row) : null;
}

/** Film sets of a job that are done, the newest first. */
export async function doneFilms(database: Database, jobId: string, most: number): Promise<TaskView[]> {
  const rows = await database
    .select()
    .from(tasks)
    .where(and(eq(tasks.jobId, jobId), eq(tasks.kind, 'films'), eq(tasks.state, 'done')))
    .orderBy(desc(tasks.createdAt))
    .limit(most);
  return Promise.all(rows.map((row) => toView(database, row)));
}

/** A finished file of a task. */
export async function findTaskFile(
  database: Database,
  id: string,
  name: string,
): Promise<{ fileId: string; type: string; size: number } | null> {
  const [row] = await database
    .select({ fileId: files.id, type: files.type, size: files.size })
    .from(taskFiles)
    .innerJoin(files, eq(files.id, taskFiles.fileId))
    .innerJoin(tasks, eq(tasks.id, taskFiles.taskId))
    .where(and(eq(taskFiles.taskId, id), eq(taskFiles.name, name), eq(tasks.state, 'done')));
  return row ?? null;
}

/** All files of a film set that is done, for its archive; none where there is no such set. */
export async function archivedFiles(
  database: Database,
  id: string,
): Promise<{ fileId: string; name: string; size: number }[]> {
  return database
    .select({ fileId: files.id, name: taskFiles.name, size: files.size })
    .from(taskFiles)
    .innerJoin(files, eq(files.id, taskFiles.fileId))
    .innerJoin(tasks, eq(tasks.id, taskFiles.taskId))
    .where(and(eq(taskFiles.taskId, id), eq(tasks.kind, 'films'), eq(tasks.state, 'done')))
    .orderBy(asc(taskFiles.position));
}

/** Whether a task of a kind waits for its turn already. */
export async function isWaiting(database: Database, kind: TaskRow['kind'], jobId: string): Promise<boolean> {
  const [row] = await database
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(eq(tasks.jobId, jobId), eq(tasks.kind, kind), eq(tasks.state, 'queued')))
    .limit(1);
  return row !== undefined;
}
