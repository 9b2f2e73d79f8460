import { and, asc, desc, eq, lt, or, sql } from 'drizzle-orm';
import type { ErrorReport } from '@/core/units';
import {
  FILM_ARCHIVE,
  type TaskFile,
  type TaskPayload,
  type TaskProgress,
  type TaskResult,
  type TaskView,
} from '@/protocol/tasks';
import type { Database } from '../db/database';
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

/** Takes a task that waits or whose worker is gone; null when there is nothing to take. */
export async function claimTask(database: Database, id: string, owner: string): Promise<TaskRow | null> {
  const [row] = await database
    .update(tasks)
    .set({
      state: 'running',
      leaseOwner: owner,
      leaseUntil: leaseEnd,
      attempts: sql`${tasks.attempts} + 1`,
      progress: null,
    })
    .where(
      and(
        eq(tasks.id, id),
        or(eq(tasks.state, 'queued'), and(eq(tasks.state, 'running'), lt(tasks.leaseUntil, sql`now()`))),
      ),
    )
    .returning();
  return row ?? null;
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
  await database
    .update(tasks)
    .set({ progress })
    .where(and(eq(tasks.id, id), eq(tasks.leaseOwner, owner), eq(tasks.state, 'running')));
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
    .set({ state: 'done', result, leaseUntil: null })
    .where(and(eq(tasks.id, id), eq(tasks.leaseOwner, owner), eq(tasks.state, 'running')))
    .returning({ id: tasks.id });
  return rows.length === 1;
}

export async function endTask(
  database: Database,
  id: string,
  owner: string,
  state: 'failed' | 'cancelled',
  error: ErrorReport | null,
): Promise<void> {
  await database
    .update(tasks)
    .set({ state, error, leaseUntil: null })
    .where(and(eq(tasks.id, id), eq(tasks.leaseOwner, owner), eq(tasks.state, 'running')));
}

/** Tasks whose worker fell silent. */
export async function abandonedTasks(database: Database): Promise<{ id: string; kind: TaskRow['kind'] }[]> {
  return database
    .select({ id: tasks.id, kind: tasks.kind })
    .from(tasks)
    .where(and(eq(tasks.state, 'running'), lt(tasks.leaseUntil, sql`now()`)));
}

/** Asks a task to stop; one that has not begun stops at once. */
export async function requestCancel(database: Database, id: string): Promise<void> {
  await database
    .update(tasks)
    .set({
      cancelRequested: true,
      state: sql`case when ${tasks.state} = 'queued' then 'cancelled' else ${tasks.state} end`,
    })
    .where(eq(tasks.id, id));
}

async function filesOf(database: Database, { id, kind }: TaskRow): Promise<TaskFile[]> {
  const stored = await database
    .select({ name: taskFiles.name, type: files.type, size: files.size, version: taskFiles.version })
    .from(taskFiles)
    .innerJoin(files, eq(files.id, taskFiles.fileId))
    .where(eq(taskFiles.taskId, id))
    .orderBy(asc(taskFiles.position));
  // Sets of older installations have an archive of their own.
  if (kind !== 'films' || stored.some(({ name }) => name === FILM_ARCHIVE)) return stored;
  return [
    { name: FILM_ARCHIVE, type: 'application/zip', size: archiveSize(stored), version: null },
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
