import { and, desc, eq, inArray, isNull, lt, max, sql } from 'drizzle-orm';
import {
  type JobSheet,
  artworkOf,
  describeChange,
  garmentOf,
  parseJobSheet,
  withArtworkFacts,
} from '@/core/sheet';
import { KerameusError } from '@/core/units';
import type { ArtworkView, JobCard, JobMove, JobView, VersionCard } from '@/protocol/jobs';
import { type ArtworkAnalysis, notesOf } from '../artwork';
import type { Database, Reader } from '../db/database';
import { artworks, jobVersions, jobs, tasks } from '../db/schema';

function notFound(): KerameusError {
  return new KerameusError({
    code: 'job-not-found',
    message: 'There is no such job.',
    remedy: 'It may have been deleted; go back to the jobs.',
  });
}

/** Stores a new job with its first version. */
export async function createJob(database: Pick<Database, 'insert'>, sheet: JobSheet): Promise<string> {
  const [job] = await database.insert(jobs).values({ head: 1 }).returning({ id: jobs.id });
  await database.insert(jobVersions).values({ jobId: job!.id, number: 1, parent: null, sheet });
  return job!.id;
}

export async function readArtworkView(database: Reader, sha256: string): Promise<ArtworkView> {
  const [row] = await database.select().from(artworks).where(eq(artworks.sha256, sha256));
  if (!row) {
    throw new KerameusError({
      code: 'artwork-missing',
      message: 'The artwork of this job is not here any more.',
      remedy: 'Drop the artwork again as a new job.',
    });
  }
  const { facts, analysis } = row;
  const hex = (rgb: readonly number[]) =>
    '#' + rgb.map((part) => part.toString(16).padStart(2, '0')).join('');
  return {
    sha256,
    fileName: facts.fileName,
    format: facts.format,
    kind: facts.kind,
    widthPx: facts.widthPx,
    heightPx: facts.heightPx,
    ownWidthMm: facts.ownWidthMm,
    ownHeightMm: facts.ownHeightMm,
    hasAlpha: facts.hasAlpha,
    transparentShare: analysis.transparentShare,
    colourSpace: facts.colourSpace,
    bits: facts.bits,
    notes: notesOf(facts, analysis),
    page: facts.page ?? null,
    oblong: facts.oblong ?? null,
    filterPictures: facts.filterPictures ?? 0,
    filterWidthPx: facts.filterWidthPx ?? null,
    flat: {
      colours: analysis.colours,
      // Older analyses do not know.
      transitions: (analysis as Partial<ArtworkAnalysis>).transitions ?? null,
      background: analysis.background,
    },
    areas: Object.fromEntries(analysis.colours.map((colour) => [hex(colour.rgb), colour.area])),
    hasOuterMap: row.outerMap !== null,
  };
}

/** A job at its version in force. */
export async function readJob(database: Reader, id: string): Promise<JobView> {
  const [row] = await database
    .select({ head: jobs.head, sheet: jobVersions.sheet, parent: jobVersions.parent })
    .from(jobs)
    .innerJoin(jobVersions, and(eq(jobVersions.jobId, jobs.id), eq(jobVersions.number, jobs.head)))
    .where(eq(jobs.id, id));
  if (!row) throw notFound();
  const [child] = await database
    .select({ number: jobVersions.number })
    .from(jobVersions)
    .where(and(eq(jobVersions.jobId, id), eq(jobVersions.parent, row.head)))
    .limit(1);
  const sheet = parseJobSheet(row.sheet);
  return {
    id,
    version: row.head,
    canUndo: row.parent !== null,
    canRedo: child !== undefined,
    sheet,
    artwork: await readArtworkView(database, artworkOf(sheet).sha256),
  };
}

export async function readVersion(database: Reader, id: string, number: number): Promise<JobSheet> {
  const [row] = await database
    .select({ sheet: jobVersions.sheet })
    .from(jobVersions)
    .where(and(eq(jobVersions.jobId, id), eq(jobVersions.number, number)));
  if (!row) throw notFound();
  return parseJobSheet(row.sheet);
}

/** Thrown when somebody else changed the job meanwhile; the newer state goes to the page with it. */
export class StaleVersionError extends Error {
  constructor() {
    super('The job was changed elsewhere.');
    this.name = 'StaleVersionError';
  }
}

/** Adds a version made from `base`. Throws StaleVersionError when the job is no longer at `base`. */
export async function commitVersion(
  database: Database,
  id: string,
  base: number,
  sheet: JobSheet,
): Promise<JobView> {
  await database.transaction(async (transaction) => {
    const before = await lockAtBase(transaction, id, base);
    const { sha256 } = artworkOf(sheet);
    const [stored] = await transaction
      .select({ facts: artworks.facts })
      .from(artworks)
      .where(eq(artworks.sha256, sha256));
    if (!stored && artworkOf(before).sha256 !== sha256) {
      throw new KerameusError({
        code: 'artwork-missing',
        message: 'The artwork of this change is not here.',
        remedy: 'Choose the revised file again.',
      });
    }
    const [highest] = await transaction
      .select({ number: max(jobVersions.number) })
      .from(jobVersions)
      .where(eq(jobVersions.jobId, id));
    const number = (highest?.number ?? 0) + 1;
    const told = stored ? withArtworkFacts(sheet, stored.facts) : { ...sheet, artworks: before.artworks };
    await transaction.insert(jobVersions).values({ jobId: id, number, parent: base, sheet: told });
    await transaction
      .update(jobs)
      .set({ head: number, updatedAt: sql`now()` })
      .where(eq(jobs.id, id));
  });
  return readJob(database, id);
}

/** Moves a job to the version before, to the newest one made from this, or to one by its number. */
export async function moveHead(
  database: Database,
  id: string,
  base: number,
  move: JobMove,
): Promise<JobView> {
  await database.transaction(async (transaction) => {
    await lockAtBase(transaction, id, base);
    const [target] =
      typeof move === 'number'
        ? await transaction
            .select({ number: jobVersions.number })
            .from(jobVersions)
            .where(and(eq(jobVersions.jobId, id), eq(jobVersions.number, move)))
        : move === 'undo'
          ? await transaction
              .select({ number: jobVersions.parent })
              .from(jobVersions)
              .where(and(eq(jobVersions.jobId, id), eq(jobVersions.number, base)))
          : await transaction
              .select({ number: jobVersions.number })
              .from(jobVersions)
              .where(and(eq(jobVersions.jobId, id), eq(jobVersions.parent, base)))
              .orderBy(desc(jobVersions.number))
              .limit(1);
    if (target?.number === undefined || target.number === null) return;
    await transaction
      .update(jobs)
      .set({ head: target.number, updatedAt: sql`now()` })
      .where(eq(jobs.id, id));
  });
  return readJob(database, id);
}

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

async function lockAtBase(transaction: Transaction, id: string, base: number): Promise<JobSheet> {
  const [row] = await transaction.select({ head: jobs.head }).from(jobs).where(eq(jobs.id, id)).for('update');
  if (!row) throw notFound();
  if (row.head !== base) throw new StaleVersionError();
  const [version] = await transaction
    .select({ sheet: jobVersions.sheet })
    .from(jobVersions)
    .where(and(eq(jobVersions.jobId, id), eq(jobVersions.number, base)));
  return version!.sheet;
}

/** How many versions one page of a history holds. */
const HISTORY_PAGE = 100;

/** Versions of a job, the newest first, from before a number. */
export async function listVersions(
  database: Database,
  id: string,
  before = Number.MAX_SAFE_INTEGER,
): Promise<VersionCard[]> {
  const rows = await database
    .select()
    .from(jobVersions)
    .where(and(eq(jobVersions.jobId, id), lt(jobVersions.number, Math.min(before, 2 ** 31 - 1))))
    .orderBy(desc(jobVersions.number))
    .limit(HISTORY_PAGE);
  const parents = rows.flatMap((row) => (row.parent === null ? [] : [row.parent]));
  const known = new Map(rows.map((row) => [row.number, row.sheet]));
  const missing = parents.filter((number) => !known.has(number));
  if (missing.length > 0) {
    const more = await database
      .select({ number: jobVersions.number, sheet: jobVersions.sheet })
      .from(jobVersions)
      .where(and(eq(jobVersions.jobId, id), inArray(jobVersions.number, missing)));
    for (const row of more) known.set(row.number, row.sheet);
  }
  return rows.map((row) => ({
    number: row.number,
    parent: row.parent,
    change: row.parent === null ? 'began' : describeChange(known.get(row.parent)!, row.sheet),
    name: row.name,
    createdAt: row.createdAt.toISOString(),
  }));
}

/** Names a version, or takes its name away. */
export async function nameVersion(
  database: Database,
  id: string,
  number: number,
  name: string | null,
): Promise<void> {
  const rows = await database
    .update(jobVersions)
    .set({ name: name === '' ? null : name })
    .where(and(eq(jobVersions.jobId, id), eq(jobVersions.number, number)))
    .returning({ number: jobVersions.number });
  if (rows.length === 0) throw notFound();
}

/** A new job with the state of another, its history left behind; tells whether it has that one's picture. */
export async function duplicateJob(
  database: Database,
  id: string,
): Promise<{ readonly id: string; readonly hasPicture: boolean }> {
  const { sheet, version } = await readJob(database, id);
  return database.transaction(async (transaction) => {
    const copy = await createJob(transaction, { ...sheet, name: `${sheet.name.slice(0, 72)} (copy)` });
    const [source] = await transaction
      .select({
        pictureId: jobs.pictureId,
        pictureVersion: jobs.pictureVersion,
        findings: jobs.findings,
      })
      .from(jobs)
      .where(eq(jobs.id, id));
    // The print is the same, so its picture is.
    if (!source?.pictureId || source.pictureVersion !== version) return { id: copy, hasPicture: false };
    await transaction
      .update(jobs)
      .set({ pictureId: source.pictureId, pictureVersion: 1, findings: source.findings })
      .where(eq(jobs.id, copy));
    return { id: copy, hasPicture: true };
  });
}

/** Deletes a job so that it can be brought back. */
export async function deleteJob(database: Database, id: string): Promise<void> {
  await setDeleted(database, id, true);
}

export async function restoreJob(database: Database, id: string): Promise<void> {
  await setDeleted(database, id, false);
}

async function setDeleted(database: Database, id: string, deleted: boolean): Promise<void> {
  const rows = await database
    .update(jobs)
    .set({ deletedAt: deleted ? sql`now()` : null })
    .where(eq(jobs.id, id))
    .returning({ id: jobs.id });
  if (rows.length === 0) throw notFound();
}

/** All jobs, the one worked on last first. */
export async function listJobs(database: Database): Promise<JobCard[]> {
  const rows = await database
    .select({
      id: jobs.id,
      version: jobs.head,
      sheet: jobVersions.sheet,
      pictureId: jobs.pictureId,
      pictureVersion: jobs.pictureVersion,
      findings: jobs.findings,
      updatedAt: jobs.updatedAt,
      films: sql<{ state: string; version: number } | null>`(
        select json_build_object('state', ${tasks.state}, 'version', (${tasks.payload} ->> 'version')::int)
        from ${tasks} where ${tasks.jobId} = ${jobs.id} and ${tasks.kind} = 'films'
        order by ${tasks.createdAt} desc limit 1)`,
    })
    .from(jobs)
    .innerJoin(jobVersions, and(eq(jobVersions.jobId, jobs.id), eq(jobVersions.number, jobs.head)))
    .where(isNull(jobs.deletedAt))
    .orderBy(desc(jobs.updatedAt));
  return rows.map((row) => ({
    id: row.id,
    name: row.sheet.name,
    version: row.version,
    garment: garmentOf(row.sheet),
    print: row.sheet.print,
    inks: row.sheet.plates.map((plate) => ({ name: plate.ink.name, colour: plate.ink.colour })),
    hasPicture: row.pictureId !== null,
    findings: row.pictureVersion === row.version ? row.findings : null,
    filmState: filmState(row.films, row.version),
    updatedAt: row.updatedAt.toISOString(),
  }));
}

function filmState(films: { state: string; version: number } | null, version: number): JobCard['filmState'] {
  if (!films || films.state === 'failed' || films.state === 'cancelled') return 'none';
  if (films.state !== 'done') return 'working';
  return films.version === version ? 'ready' : 'stale';
}
