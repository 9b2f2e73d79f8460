import path from 'node:path';
import { and, desc, eq, ne } from 'drizzle-orm';
import type { FilmsPayload } from '@/protocol/tasks';
import { type JobSheet, droppedBackground } from '@/core/sheet';
import { hashFile } from '@/server/artwork';
import { useJobArtwork } from '@/server/artworks/jobArtwork';
import type { LocalArtwork } from '@/server/artworks/artworkStore';
import { files, taskFiles, tasks } from '@/server/db/schema';
import { storeFile } from '@/server/files/fileStore';
import { makeFilmSet, writeFilmFiles } from '@/server/films';
import { readVersion } from '@/server/jobs/jobStore';
import { study } from '@/server/study';
import { filmsFirst } from './precedence';
import type { TaskRun, Transaction } from './runTask';

/** Progress goes to the database at most this often. */
const REPORT_EVERY_MS = 300;

/** Renders the films of one version of a job; its files become visible together, at the end, or not at all. */
export function runFilms(run: TaskRun, payload: FilmsPayload): Promise<void> {
  const started = performance.now();
  return filmsFirst.first(async () => {
    const { database } = run;
    const sheet = await readVersion(database, payload.jobId, payload.version);
    await run.progress({ step: 'Fetching the artwork', items: [] });
    await useJobArtwork(database, sheet, run.folder, (local) =>
      makeFilms(run, payload, sheet, local, started),
    );
  });
}

async function makeFilms(
  run: TaskRun,
  payload: FilmsPayload,
  sheet: JobSheet,
  local: LocalArtwork,
  started: number,
): Promise<void> {
  const { folder, signal } = run;
  signal.throwIfAborted();
  let reported = 0;
  const set = await makeFilmSet({
    sheet,
    artwork: local.files,
    outerMap: droppedBackground(sheet) ? local.outerMap : null,
    folder,
    only: payload.only ? [payload.only] : null,
    signal,
    onProgress: (done, names) => {
      const now = performance.now();
      if (now - reported < REPORT_EVERY_MS && done < 1) return;
      reported = now;
      void run.progress({
        step: 'Rendering the films',
        items: names.map((name) => ({ name, done })),
      });
    },
  });
  signal.throwIfAborted();
  await run.progress({
    step: 'Writing the files',
    items: set.films.map((film) => ({ name: film.plate.ink.name, done: 1 })),
  });
  const written = await writeFilmFiles(set, folder);
  if (sheet.film.formats.includes('png-print') && !payload.only) {
    const target = path.join(folder, 'print.png');
    await study(
      { kind: 'print', job: { sheet, files: local.files, outerMap: local.outerMap }, target },
      signal,
    );
    written.push({ name: 'print.png', type: 'image/png', path: target });
  }
  await run.finish(async (transaction) => {
    const last = await lastFiles(transaction, run.id, payload.jobId);
    for (const [position, file] of written.entries()) {
      const before = last.get(file.name);
      // What came out as before is the file of before: its screen can stay.
      const isSame = before !== undefined && before.sha256 === (await hashFile(file.path));
      await transaction.insert(taskFiles).values({
        taskId: run.id,
        position,
        name: file.name,
        fileId: isSame ? before.fileId : (await storeFile(transaction, file.path, file, signal)).id,
        version: payload.version,
        unchangedSince: isSame ? (before.unchangedSince ?? before.version) : null,
      });
    }
    if (payload.only) await keepOthers(transaction, run.id, last, written.length);
    return { seconds: Math.round(performance.now() - started) / 1000 };
  });
}

/** Files of a whole set are left where they are when one of its films is made again; so are archives of older installations. */
const OF_THE_SET = /^(films\.zip|films\.pdf|gang\.pdf|gang-\d+\.tif)$/;

type LastFiles = ReadonlyMap<
  string,
  Pick<typeof taskFiles.$inferSelect, 'fileId' | 'version' | 'unchangedSince'> & { readonly sha256: string }
>;

/** The files of a job's last finished film set before a task, by their names in their order. */
async function lastFiles(transaction: Transaction, taskId: string, jobId: string): Promise<LastFiles> {
  const [last] = await transaction
    .select({ id: tasks.id })
    .from(tasks)
    .where(
      and(eq(tasks.jobId, jobId), eq(tasks.kind, 'films'), eq(tasks.state, 'done'), ne(tasks.id, taskId)),
    )
    .orderBy(desc(tasks.createdAt))
    .limit(1);
  if (!last) return new Map();
  const { name, fileId, version, unchangedSince } = taskFiles;
  const rows = await transaction
    .select({ name, fileId, version, unchangedSince, sha256: files.sha256 })
    .from(taskFiles)
    .innerJoin(files, eq(files.id, taskFiles.fileId))
    .where(eq(taskFiles.taskId, last.id))
    .orderBy(taskFiles.position);
  return new Map(rows.map(({ name: own, ...file }) => [own, file]));
}

/** The films of the last finished set stand beside the one that was made again, byte for byte as they were. */
async function keepOthers(
  transaction: Transaction,
  taskId: string,
  last: LastFiles,
  from: number,
): Promise<void> {
  const made = await transaction
    .select({ name: taskFiles.name })
    .from(taskFiles)
    .where(eq(taskFiles.taskId, taskId));
  const names = new Set(made.map(({ name }) => name));
  const kept = [...last].filter(([name]) => !names.has(name) && !OF_THE_SET.test(name));
  for (const [k, [name, { fileId, version, unchangedSince }]] of kept.entries()) {
    await transaction
      .insert(taskFiles)
      .values({ taskId, position: from + k, name, fileId, version, unchangedSince });
  }
}
