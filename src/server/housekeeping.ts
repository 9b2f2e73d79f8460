import { type SQL, and, eq, inArray, isNotNull, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { Database } from './db/database';
import { artworks, files, jobs, solvedTables, tasks, textures } from './db/schema';

/** How long things stay that nothing needs any more, in days. */
export const KEPT_DAYS = {
  /** A deleted job can be brought back for so long. */
  deletedJobs: 30,
  /** Film sets and approvals that a newer one of the same job took the place of; those of a version with a name stay. */
  superseded: 30,
  /** Imports, pictures and printings that ended, and films that failed or were cancelled. */
  endedTasks: 7,
  /** Artwork that no job shows, and pictures of textures that none has. */
  artwork: 30,
  /** Tables of tones of new jobs: browsers keep those that they show. */
  tables: 1,
  /** Files that nothing refers to; what is being made just now is not referred to yet. */
  files: 1,
} as const;

export type Tidied = Readonly<
  Record<'jobs' | 'tasks' | 'artworks' | 'textures' | 'tables' | 'files', number>
>;

/** So many rows go in one transaction: nobody waits long for it. */
const AT_ONCE = 20;

function older(column: SQL | PgTable['_']['columns'][string], days: number): SQL {
  return sql`${column} < now() - make_interval(days => ${days})`;
}

/** Removes what nothing refers to, by the rule of `KEPT_DAYS`. Any number may run at once. */
export async function keepHouse(database: Database): Promise<Tidied> {
  const removedJobs = await inPieces(() =>
    database
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(isNotNull(jobs.deletedAt), older(jobs.deletedAt, KEPT_DAYS.deletedJobs)))
      .limit(AT_ONCE)
      .then((rows) => rows.map(({ id }) => id))
      .then(async (ids) => {
        if (ids.length > 0) await database.delete(jobs).where(inArray(jobs.id, ids));
        return ids.length;
      }),
  );
  const removedTasks = await inPieces(() => removeTasks(database));
  const removedArtworks = await inPieces(() => removeArtworks(database));
  const removedTextures = await inPieces(() => removeTextures(database));
  const removedTables = await inPieces(() => removeTables(database));
  const removedFiles = await inPieces(() => removeFiles(database));
  return {
    jobs: removedJobs,
    tasks: removedTasks,
    artworks: removedArtworks,
    textures: removedTextures,
    tables: removedTables,
    files: removedFiles,
  };
}

async function inPieces(remove: () => Promise<number>): Promise<number> {
  let sum = 0;
  for (;;) {
    const count = await remove();
    sum += count;
    if (count < AT_ONCE) return sum;
  }
}

async function removeTasks(database: Database): Promise<number> {
  const ended = sql`coalesce(${tasks.endedAt}, ${tasks.createdAt})`;
  const superseded = sql`exists (
    select 1 from tasks newer where newer.job_id = ${tasks.jobId} and newer.kind = ${tasks.kind}
      and newer.state = 'done' and newer.created_at > ${tasks.createdAt})`;
  const named = sql`exists (
    select 1 from job_versions v where v.job_id = ${tasks.jobId} and v.name is not null
      and v.number = (${tasks.payload} ->> 'version')::int)`;
  const rows = await database
    .select({ id: tasks.id })
    .from(tasks)
    .where(
      sql`(${tasks.state} in ('done', 'failed', 'cancelled') and ${older(ended, KEPT_DAYS.endedTasks)}
           and (${tasks.kind} not in ('films', 'approval') or ${tasks.state} <> 'done'))
        or (${tasks.state} = 'done' and ${tasks.kind} in ('films', 'approval') and ${older(ended, KEPT_DAYS.superseded)}
           and ${superseded} and not ${named})`,
    )
    .limit(AT_ONCE);
  if (rows.length > 0)
    await database.delete(tasks).where(
      inArray(
        tasks.id,
        rows.map(({ id }) => id),
      ),
    );
  return rows.length;
}

/** Removes what no version of a job names, of a table whose rows are called by their hashes. @param unnamed whether no version names a row. */
async function removeUnnamed(
  database: Database,
  table: typeof artworks | typeof textures,
  unnamed: SQL,
): Promise<number> {
  const rows = await database
    .select({ sha256: table.sha256 })
    .from(table)
    .where(and(older(table.createdAt, KEPT_DAYS.artwork), unnamed))
    .limit(AT_ONCE);
  const hashes = rows.map(({ sha256 }) => sha256);
  if (hashes.length > 0) await database.delete(table).where(inArray(table.sha256, hashes));
  return hashes.length;
}

// Sheets are stored as they were written: those of up to version 9 name their only artwork.
const removeArtworks = (database: Database) =>
  removeUnnamed(
    database,
    artworks,
    sql`not exists (select 1 from job_versions v where v.sheet -> 'artwork' ->> 'sha256' = ${artworks.sha256}
      or v.sheet -> 'artworks' @> jsonb_build_array(jsonb_build_object('sha256', ${artworks.sha256})))`,
  );

const removeTextures = (database: Database) =>
  removeUnnamed(
    database,
    textures,
    sql`not exists (select 1 from job_versions v where v.sheet #>> '{texture,picture,sha256}' = ${textures.sha256})`,
  );

async function removeTables(database: Database): Promise<number> {
  const rows = await database
    .select({ name: solvedTables.name })
    .from(solvedTables)
    .where(older(solvedTables.createdAt, KEPT_DAYS.tables))
    .limit(AT_ONCE);
  const names = rows.map(({ name }) => name);
  if (names.length > 0) await database.delete(solvedTables).where(inArray(solvedTables.name, names));
  return rows.length;
}

async function removeFiles(database: Database): Promise<number> {
  const rows = await database
    .select({ id: files.id })
    .from(files)
    .where(and(older(files.createdAt, KEPT_DAYS.files), unreferenced()))
    .limit(AT_ONCE);
  for (const { id } of rows) {
    // Looked at again as it goes: something may have come to refer to it.
    await database.delete(files).where(and(eq(files.id, id), unreferenced()));
  }
  return rows.length;
}

/** Whether a file belongs to no artwork, no task and no job. */
export function unreferenced(): SQL {
  return sql`not exists (select 1 from artworks a where a.file_id = ${files.id} or a.drawing_file_id = ${files.id})
    and not exists (select 1 from task_files t where t.file_id = ${files.id})
    and not exists (select 1 from jobs j where j.picture_id = ${files.id})
    and not exists (select 1 from tasks k where k.state in ('queued', 'running') and k.payload ->> 'fileId' = ${files.id}::text)`;
}

export interface SpaceUse {
  readonly what: string;
  readonly count: number;
  readonly bytes: number;
}

/** What takes how much of the database. */
export async function spaceReport(database: Database): Promise<SpaceUse[]> {
  const rows = await database.execute<{ what: string; count: string; bytes: string | null }>(sql`
    select 'artwork as it came' what, count(*) count, sum(f.size) bytes from artworks a join files f on f.id = a.file_id
    union all select 'drawings, made ready', count(*), sum(f.size) from artworks a join files f on f.id = a.drawing_file_id
    union all select 'pictures, decoded into tiles', count(*), sum(octet_length(bytes)) from artwork_tiles
    union all select 'pictures of textures', count(*), sum(octet_length(bytes)) from textures
    union all select 'tables of tones', count(*), sum(octet_length(entries)) from solved_tables
    union all select 'films and their archives', count(*), sum(f.size) from files f where exists
      (select 1 from task_files t join tasks k on k.id = t.task_id where t.file_id = f.id and k.kind = 'films')
    union all select 'approvals', count(*), sum(f.size) from files f where exists
      (select 1 from task_files t join tasks k on k.id = t.task_id where t.file_id = f.id and k.kind = 'approval')
    union all select 'pictures of jobs', count(*), sum(f.size) from jobs j join files f on f.id = j.picture_id
    union all select 'histories of jobs', count(*), sum(octet_length(sheet::text)) from job_versions
    union all select 'of these, of deleted jobs', count(*), sum(octet_length(v.sheet::text)) from job_versions v
      join jobs j on j.id = v.job_id where j.deleted_at is not null
    union all select 'files that nothing refers to', count(*), sum(size) from files where ${unreferenced()}`);
  return rows.rows.map(({ what, count, bytes }) => ({
    what,
    count: Number(count),
    bytes: Number(bytes ?? 0),
  }));
}
