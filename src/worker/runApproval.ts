import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import type { ApprovalPayload } from '@/protocol/tasks';
import { approvalPdf, drawGarment } from '@/server/approval';
import { type JobSheet } from '@/core/sheet';
import { useJobArtwork } from '@/server/artworks/jobArtwork';
import type { LocalArtwork } from '@/server/artworks/artworkStore';
import { taskFiles } from '@/server/db/schema';
import { storeFile } from '@/server/files/fileStore';
import { renderPage } from '@/server/drawings';
import { readVersion } from '@/server/jobs/jobStore';
import { study } from '@/server/study';
import type { TaskRun } from './runTask';

/** Pixels of the print across, and of the finished picture. */
const PRINT_PX = 1400;
const PICTURE_PX = 2000;

/** Draws the print on a garment as PNG, and a page with it as PDF. */
export async function runApproval(run: TaskRun, payload: ApprovalPayload): Promise<void> {
  const { database } = run;
  await run.progress({ step: 'Drawing the print', items: [] });
  const sheet = await readVersion(database, payload.jobId, payload.version);
  await useJobArtwork(database, sheet, run.folder, (local) => draw(run, sheet, local));
}

async function draw(run: TaskRun, sheet: JobSheet, local: LocalArtwork): Promise<void> {
  const { folder, signal } = run;
  const job = { sheet, files: local.files, outerMap: local.outerMap };
  const { preview } = await study(
    { kind: 'preview', job, widthPx: PRINT_PX, marginMm: 0, survey: false },
    signal,
  );
  const print = await sharp(preview.rgba, {
    raw: { width: preview.width, height: preview.height, channels: 4 },
  })
    .removeAlpha()
    .png()
    .toBuffer();
  const page = await renderPage(drawGarment(sheet, print), PICTURE_PX, signal);
  const picture = await sharp(page.data, { raw: { width: page.width, height: page.height, channels: 4 } })
    .png()
    .toBuffer();
  const files = [
    { name: 'approval.png', type: 'image/png', path: path.join(folder, 'approval.png') },
    { name: 'approval.pdf', type: 'application/pdf', path: path.join(folder, 'approval.pdf') },
  ];
  await writeFile(files[0]!.path, picture);
  await writeFile(files[1]!.path, await approvalPdf(sheet, picture));
  await run.finish(async (transaction) => {
    for (const [position, file] of files.entries()) {
      const stored = await storeFile(transaction, file.path, file);
      await transaction
        .insert(taskFiles)
        .values({ taskId: run.id, position, name: file.name, fileId: stored.id });
    }
    return {};
  });
}
