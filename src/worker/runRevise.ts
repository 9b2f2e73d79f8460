import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { ArtworkSamples } from '@/core/artwork';
import { type JobSheet, artworkOf } from '@/core/sheet';
import { type CleaningNotes, type CleaningWish, REVISION_FILES, type RevisePayload } from '@/protocol/tasks';
import { readHead, sniffArtwork } from '@/server/artwork';
import { artworkShelf } from '@/server/artworks/artworkShelf';
import { files as fileTable, taskFiles } from '@/server/db/schema';
import { materialise, storeFile } from '@/server/files/fileStore';
import { readVersion } from '@/server/jobs/jobStore';
import type { Revised } from '@/server/revision';
import { study } from '@/server/study';
import { type BroughtIn, bringIn } from './bringIn';
import type { TaskRun } from './runTask';

/**
 * Reads artwork that is to take the place of a job's, or cleans the job's own, and tells what that would change. The job stays as it is: whoever asked takes the
 * result, or leaves it.
 */
export async function runRevise(run: TaskRun, payload: RevisePayload): Promise<void> {
  const { database, folder } = run;
  const { from } = payload;
  if (from.kind === 'file') {
    run.onFailure(async (transaction) => {
      await transaction.delete(fileTable).where(eq(fileTable.id, from.fileId));
    });
  }
  const sheet = await readVersion(database, payload.jobId, payload.version);
  const original = path.join(folder, 'original');
  const cleaning = from.kind === 'cleaning' ? await clean(run, from.wish, sheet, original) : null;
  if (from.kind === 'file') await materialise(database, from.fileId, original);
  const fileName = from.kind === 'file' ? from.fileName : cleanedName(sheet);
  // Of a PDF the page that the job prints.
  const isPdf = sniffArtwork(await readHead(original)) === 'pdf';
  const brought = await bringIn(run, original, fileName, isPdf ? artworkOf(sheet).page : undefined, true);
  try {
    await run.progress({ step: 'Comparing it with the artwork before', items: [] });
    const revised = await compare(run, sheet, brought);
    const made = await drawPictures(revised, folder);
    if (cleaning) made.push({ name: REVISION_FILES.drawing, type: 'image/svg+xml', path: original });
    const { facts } = brought.local;
    await run.finish(async (transaction) => {
      const about = { name: fileName, type: 'application/octet-stream' };
      const fileId = from.kind === 'file' ? from.fileId : (await storeFile(transaction, original, about)).id;
      await brought.store(
        transaction,
        fileId,
        (done) => void run.progress({ step: 'Storing the artwork', items: [{ name: facts.fileName, done }] }),
      );
      for (const [position, file] of made.entries()) {
        const stored = await storeFile(transaction, file.path, file);
        await transaction
          .insert(taskFiles)
          .values({ taskId: run.id, position, name: file.name, fileId: stored.id });
      }
      const { share, places, placeCount } = revised.changes;
      return {
        jobId: payload.jobId,
        revision: { sheet: revised.sheet, carried: revised.carried, share, places, placeCount, cleaning },
      };
    });
    await brought.adopt();
  } finally {
    await brought.close();
  }
}

function cleanedName(sheet: JobSheet): string {
  return `${path.parse(artworkOf(sheet).fileName).name.slice(0, 180)}-clean.svg`;
}

/** Cleans the job's artwork into a drawing at `target`. */
async function clean(
  run: TaskRun,
  wish: CleaningWish,
  sheet: JobSheet,
  target: string,
): Promise<CleaningNotes> {
  const step = 'Cleaning the artwork';
  await run.progress({ step, items: [] });
  return artworkShelf.use(run.database, artworkOf(sheet).sha256, async ({ files, facts, analysis }) => {
    const { notes } = await study(
      { kind: 'clean', files, facts, analysis, wish, printWidthMm: sheet.print.widthMm, target },
      run.signal,
      undefined,
      (done) => void run.progress({ step, items: [{ name: facts.fileName, done }] }),
    );
    return notes;
  });
}

async function compare(run: TaskRun, sheet: JobSheet, brought: BroughtIn): Promise<Revised> {
  return artworkShelf.use(run.database, artworkOf(sheet).sha256, (old) =>
    brought.use(async ({ files, facts, analysis }, thread) => {
      const input = { sheet, old: { files: old.files, facts: old.facts }, next: { files, facts, analysis } };
      return (await thread.ask({ kind: 'revise', input })).revised;
    }),
  );
}

interface Picture {
  readonly name: string;
  readonly type: string;
  readonly path: string;
}

/** Both artworks, and what differs, over nothing. */
async function drawPictures({ before, after, changes }: Revised, folder: string): Promise<Picture[]> {
  const { columns, rows } = before;
  const changed = new Uint32Array(columns * rows);
  changes.mask.forEach((each, i) => {
    if (each) changed[i] = CHANGED;
  });
  const pictures: [string, ArtworkSamples['pixels']][] = [
    [REVISION_FILES.before, before.pixels],
    [REVISION_FILES.after, after.pixels],
    [REVISION_FILES.changed, changed],
  ];
  const drawn: Picture[] = [];
  for (const [name, pixels] of pictures) {
    const target = path.join(folder, name);
    const raw = { width: columns, height: rows, channels: 4 as const };
    const bytes = Buffer.from(pixels.buffer, pixels.byteOffset, pixels.byteLength);
    await writeFile(target, await sharp(bytes, { raw }).png().toBuffer());
    drawn.push({ name, type: 'image/png', path: target });
  }
  return drawn;
}

/** Clay, as all that wants to be looked at, at three quarters; red lowest, alpha highest. */
const CHANGED = 0xc02f56b0;
