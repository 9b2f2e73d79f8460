import path from 'node:path';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import { findingsOf, groupFindings } from '@/core/checks';
import type { PicturePayload } from '@/protocol/tasks';
import { useJobArtwork } from '@/server/artworks/jobArtwork';
import type { LocalArtwork } from '@/server/artworks/artworkStore';
import { jobs } from '@/server/db/schema';
import { storeFile } from '@/server/files/fileStore';
import { readJob } from '@/server/jobs/jobStore';
import { study } from '@/server/study';
import { filmsFirst } from './precedence';
import type { TaskRun } from './runTask';

/** Longer side of a job's picture, in pixels; and the garment round the print. */
const SIDE = 720;
const GARMENT_MM = 20;

/** Draws the print on its garment for the Jobs screen, and counts what deserves a look. */
export async function runPicture(run: TaskRun, payload: PicturePayload): Promise<void> {
  const { database } = run;
  const job = await readJob(database, payload.jobId);
  await useJobArtwork(database, job.sheet, run.folder, (local) => draw(run, job, local));
}

async function draw(
  run: TaskRun,
  job: Awaited<ReturnType<typeof readJob>>,
  local: LocalArtwork,
): Promise<void> {
  const { folder } = run;
  const { sheet } = job;
  const width = sheet.print.widthMm + 2 * GARMENT_MM;
  const height = sheet.print.heightMm + 2 * GARMENT_MM;
  const widthPx = Math.max(16, Math.round((SIDE * width) / Math.max(width, height)));
  const { preview, survey } = await study(
    {
      kind: 'preview',
      job: { sheet, files: local.files, outerMap: local.outerMap },
      widthPx,
      marginMm: GARMENT_MM,
      survey: true,
    },
    run.signal,
    () => filmsFirst.turn(),
  );
  const target = path.join(folder, 'picture.png');
  await sharp(preview.rgba, { raw: { width: preview.width, height: preview.height, channels: 4 } })
    .removeAlpha()
    .png()
    .toFile(target);
  const findings = groupFindings(findingsOf(sheet, job.artwork.notes, survey!)).length;
  await run.finish(async (transaction) => {
    const stored = await storeFile(transaction, target, { name: 'picture.png', type: 'image/png' });
    await transaction
      .update(jobs)
      .set({ pictureId: stored.id, pictureVersion: job.version, findings })
      .where(eq(jobs.id, job.id));
    return {};
  });
}
