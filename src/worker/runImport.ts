import path from 'node:path';
import { eq } from 'drizzle-orm';
import { bestOffer, tablesFor } from '@/core/pipeline';
import { chooseInkSet, createJobSheet, isFullTone, startPrint, usualSimulatedInks } from '@/core/separation';
import { type JobSheet, artworkOf, isSimulated, withArtworkFacts } from '@/core/sheet';
import { KerameusError } from '@/core/units';
import { tableName } from '@/protocol/tables';
import type { ImportPayload } from '@/protocol/tasks';
import {
  type ArtworkAnalysis,
  type ArtworkFacts,
  artworkFor,
  identifyArtwork,
  isZip,
  plainName,
  readHead,
} from '@/server/artwork';
import type { LocalArtwork } from '@/server/artworks/artworkStore';
import { files as fileTable } from '@/server/db/schema';
import { materialise, storeFile } from '@/server/files/fileStore';
import { openBundle } from '@/server/jobs/jobBundle';
import { createJob } from '@/server/jobs/jobStore';
import { readStock } from '@/server/stock/stockStore';
import type { Study } from '@/server/study';
import { type SolvedTable, announceTables, forgetTables, keepTables } from '@/server/tables';
import { hashSamples, storeTexture } from '@/server/textures';
import { type BroughtIn, bringIn } from './bringIn';
import type { TaskRun, Transaction } from './runTask';

/** Decodes and analyses uploaded artwork and opens a job on it; all of it becomes visible at once. */
export async function runImport(run: TaskRun, payload: ImportPayload): Promise<void> {
  const { database, folder } = run;
  const original = path.join(folder, 'original');
  // Refused artwork leaves nothing behind.
  run.onFailure(async (transaction) => {
    await transaction.delete(fileTable).where(eq(fileTable.id, payload.fileId));
  });
  await run.progress({ step: 'Reading the file', items: [] });
  await materialise(database, payload.fileId, original);
  if (isZip(await readHead(original))) await importBundle(run, payload, original);
  else await importFile(run, payload, original);
}

/** A job that was exported: its artwork is read as any other, its sheet is taken as it is. */
async function importBundle(run: TaskRun, payload: ImportPayload, zip: string): Promise<void> {
  const { sheet, artworkPath, texture } = await openBundle(zip, run.folder);
  const { sha256 } = await identifyArtwork(artworkPath, artworkOf(sheet).page);
  if (sha256 !== artworkOf(sheet).sha256) {
    throw new KerameusError({
      code: 'bundle',
      parameter: 'job',
      message: 'The artwork in the zip is not the one that the job was made for.',
      remedy: 'Export the job again, or drop the artwork as a new job.',
    });
  }
  await importFile(run, payload, artworkPath, sheet, texture);
}

/** @param bundled the sheet of a job that came with its artwork. */
async function importFile(
  run: TaskRun,
  payload: ImportPayload,
  original: string,
  bundled?: JobSheet,
  texture: Uint8Array | null = null,
): Promise<void> {
  const fileName = bundled ? artworkOf(bundled).fileName : payload.fileName;
  const page = bundled ? artworkOf(bundled).page : payload.page;
  const brought = await bringIn(run, original, fileName, page, bundled === undefined);
  try {
    const { facts } = brought.local;
    const tell = barOf(run, facts.fileName);
    // Inks are chosen while the artwork is stored, and its table of tones is solved while the page is opened.
    const opening = bundled
      ? { sheet: Promise.resolve(withArtworkFacts(bundled, facts)), tables: Promise.resolve([]) }
      : openSheet(run, brought, plainName(fileName), (done) => tell(0, done));
    opening.sheet.then(
      () => tell(0, 1),
      () => undefined,
    );
    let announced: readonly string[] = [];
    const result = await run.finish(async (transaction) => {
      const fileId =
        bundled && brought.isNew ? await replaceFile(transaction, payload, original, facts) : payload.fileId;
      await brought.store(transaction, fileId, (done) => tell(1, done));
      const sheet = await opening.sheet;
      if (!bundled) {
        announced = await Promise.all(
          tablesFor(sheet).map((wish) => tableName(wish, process.env.SOLVER_HASH)),
        );
        await announceTables(transaction, announced);
      }
      if (texture) await storeTexture(transaction, hashSamples(texture), texture);
      return { jobId: await createJob(transaction, sheet) };
    });
    await brought.adopt();
    await ringForPicture(run, result);
    const tables = await opening.tables;
    await run.afterwards(async (database) => {
      await keepTables(database, tables);
      await forgetTables(database, announced);
    });
  } finally {
    await brought.close();
  }
}

/** A new job's sheet, and the tables that it is drawn with, which take longer; none where they cannot be had, which is nobody's loss. */
interface Opening {
  readonly sheet: Promise<JobSheet>;
  readonly tables: Promise<readonly SolvedTable[]>;
}

function openSheet(
  run: TaskRun,
  brought: BroughtIn,
  fileName: string,
  tell: (done: number) => void,
): Opening {
  let tables: Opening['tables'] = Promise.resolve([]);
  const sheet = new Promise<JobSheet>((resolve, reject) => {
    const solving = brought.use(async (local, thread) => {
      const made = await newSheet(run, local, fileName, thread, tell);
      resolve(made);
      return tablesFor(made).length === 0 ? [] : (await thread.ask({ kind: 'tables', sheet: made })).tables;
    });
    tables = solving.catch((thrown: unknown) => {
      reject(thrown as Error);
      return [];
    });
  });
  return { sheet, tables };
}

/** Keeps the artwork of a bundle in place of the bundle. */
async function replaceFile(
  transaction: Transaction,
  payload: ImportPayload,
  artwork: string,
  facts: ArtworkFacts,
): Promise<string> {
  const { id } = await storeFile(transaction, artwork, {
    name: facts.fileName,
    type: 'application/octet-stream',
  });
  await transaction.delete(fileTable).where(eq(fileTable.id, payload.fileId));
  return id;
}

/** Screens that a new job's inks are chosen for at most: what a usual press has beside its flashes. */
const MOST_NEW_SCREENS = 8;

/** One bar for two things that are done at once: how much of each is done, 0..1, is told by its place. */
function barOf(run: TaskRun, name: string): (place: 0 | 1, done: number) => void {
  const shares: [number, number] = [0, 0];
  return (place, done) => {
    shares[place] = done;
    void run.progress({ step: 'Making the job', items: [{ name, done: (shares[0] + shares[1]) / 2 }] });
  };
}

/** A job as it opens, by the shop's limits: one of tones has the inks of stock that come nearest to its artwork. */
async function newSheet(
  run: TaskRun,
  { facts, analysis, files, outerMap }: LocalArtwork,
  fileName: string,
  thread: Study,
  tell: (done: number) => void,
): Promise<JobSheet> {
  const { stock } = await readStock(run.database);
  const sheet = { ...sheetFor({ ...facts, fileName }, analysis), limits: stock.limits };
  if (!isSimulated(sheet) || stock.inks.length === 0) return sheet;
  const { offers } = await thread.ask(
    { kind: 'inks', job: { sheet, files, outerMap }, stock: stock.inks, most: MOST_NEW_SCREENS },
    undefined,
    tell,
  );
  const chosen = bestOffer(sheet, offers);
  return chosen ? chooseInkSet(sheet, chosen.inks) : sheet;
}

function nameFor({ fileName, page }: ArtworkFacts): string {
  const ending = page && page.count > 1 ? `, page ${page.number}` : '';
  return `${path.parse(fileName).name.slice(0, 80 - ending.length)}${ending}` || 'Untitled';
}

/** A job as it opens, before inks are chosen: full-tone pictures by the tones of the usual inks, everything else by flat colours. */
function sheetFor(facts: ArtworkFacts, analysis: ArtworkAnalysis) {
  const garment = { name: 'Navy', colour: '#16233f' };
  const isToned = facts.kind === 'raster' && isFullTone(analysis.flatShare, analysis.transitions);
  return createJobSheet({
    name: nameFor(facts),
    artwork: artworkFor(facts),
    colours: analysis.colours,
    purity: analysis.purity,
    transitions: analysis.transitions,
    background: analysis.background,
    backgroundWish: 'auto',
    print: startPrint(facts),
    garment,
    inks: 'auto',
    simulated: isToned ? usualSimulatedInks(garment.colour) : null,
    date: new Date().toISOString().slice(0, 10),
  });
}

/** The page of a new job opens first: it wants the same processors for its table. */
const UNTIL_PICTURE_SECONDS = 4;

async function ringForPicture(run: TaskRun, result: { readonly jobId?: string }): Promise<void> {
  const { jobId } = result;
  if (jobId) await run.enqueue({ kind: 'picture', jobId }, jobId, UNTIL_PICTURE_SECONDS);
}
