import path from 'node:path';
import { eq } from 'drizzle-orm';
import { buildOuterMap } from '@/core/artwork';
import { parseHexColour } from '@/core/colour';
import { createJobSheet } from '@/core/separation';
import { LIMITS } from '@/core/sheet';
import { MM_PER_INCH } from '@/core/units';
import type { ImportPayload } from '@/protocol/tasks';
import {
  type ArtworkFacts,
  analyseArtwork,
  analysisLevel,
  decodeArtwork,
  inspectArtwork,
  openArtwork,
} from '@/server/artwork';
import { findArtwork, storeArtwork } from '@/server/artworks/artworkStore';
import { files as fileTable } from '@/server/db/schema';
import { materialise } from '@/server/files/fileStore';
import { createJob } from '@/server/jobs/jobStore';
import type { TaskRun } from './runTask';

/** Widest print that a new job starts with; a usual full front. */
const START_WIDTH_MM = 12 * MM_PER_INCH;

/** What artwork measures at its own resolution, brought into the range of prints. */
function startWidthMm(facts: ArtworkFacts): number {
  const own = facts.ownWidthMm ?? (facts.widthPx / 300) * MM_PER_INCH;
  const width = Math.min(own, START_WIDTH_MM, ((16 * MM_PER_INCH) / facts.heightPx) * facts.widthPx);
  return Math.max(LIMITS.minPrintMm, Math.round(width * 100) / 100);
}

/** Decodes and analyses uploaded artwork and opens a job on it; all of it becomes visible at once. */
export async function runImport(run: TaskRun, payload: ImportPayload): Promise<void> {
  const { database, folder } = run;
  const original = path.join(folder, 'original');
  await run.progress({ step: 'Reading the file', items: [] });
  await materialise(database, payload.fileId, original);
  try {
    await importFile(run, payload, original);
  } catch (thrown) {
    // Refused artwork leaves nothing behind.
    await database.delete(fileTable).where(eq(fileTable.id, payload.fileId));
    throw thrown;
  }
}

async function importFile(run: TaskRun, payload: ImportPayload, original: string): Promise<void> {
  const { database, folder } = run;
  const facts = await inspectArtwork(original, payload.fileName);
  const known = await findArtwork(database, facts.sha256);
  if (known) {
    const jobId = await run.finish(async (transaction) => {
      const id = await createJob(
        transaction,
        sheetFor({ ...known.facts, fileName: facts.fileName }, known.analysis),
      );
      await transaction.delete(fileTable).where(eq(fileTable.id, payload.fileId));
      return { jobId: id };
    });
    await ringForPicture(run, jobId);
    return;
  }
  await run.progress({ step: 'Decoding the artwork', items: [] });
  const files = await decodeArtwork(original, facts, folder);
  run.signal.throwIfAborted();
  const source = openArtwork(files);
  try {
    await run.progress({ step: 'Finding its colours', items: [] });
    const analysis = analyseArtwork(source, facts);
    const outerMap = analysis.background
      ? buildOuterMap(source.reader(analysisLevel(facts)), parseHexColour(analysis.background))
      : null;
    run.signal.throwIfAborted();
    const sheet = sheetFor(facts, analysis);
    const jobId = await run.finish(async (transaction) => {
      const stored = { fileId: payload.fileId, facts, analysis, outerMap, files, source };
      await storeArtwork(transaction, stored, (done) => {
        void run.progress({ step: 'Storing the artwork', items: [{ name: facts.fileName, done }] });
      });
      return { jobId: await createJob(transaction, sheet) };
    });
    await ringForPicture(run, jobId);
  } finally {
    source.close();
  }
}

function sheetFor(facts: ArtworkFacts, analysis: ReturnType<typeof analyseArtwork>) {
  return createJobSheet({
    name: path.parse(facts.fileName).name.slice(0, 80) || 'Untitled',
    artwork: {
      sha256: facts.sha256,
      fileName: facts.fileName,
      kind: facts.kind,
      widthPx: facts.widthPx,
      heightPx: facts.heightPx,
    },
    colours: analysis.colours,
    purity: analysis.purity,
    background: analysis.background,
    backgroundInside: analysis.backgroundInside,
    dropBackground: true,
    printWidthMm: startWidthMm(facts),
    garment: { name: 'Navy', colour: '#16233f' },
    inks: 'auto',
    date: new Date().toISOString().slice(0, 10),
  });
}

async function ringForPicture(run: TaskRun, result: { readonly jobId?: string }): Promise<void> {
  if (result.jobId) await run.enqueue({ kind: 'picture', jobId: result.jobId }, result.jobId);
}
