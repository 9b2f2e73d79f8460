import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import type { ApprovalPayload } from '@/protocol/tasks';
import { approvalPdf, drawGarment } from '@/server/approval';
import type { JobSheet } from '@/core/sheet';
import { openArtwork } from '@/server/artwork';
import { artworkShelf } from '@/server/artworks/artworkShelf';
import type { LocalArtwork } from '@/server/artworks/artworkStore';
import { taskFiles } from '@/server/db/schema';
import { storeFile } from '@/server/files/fileStore';
import { renderPreview } from '@/server/films';
import { readVersion } from '@/server/jobs/jobStore';
import type { TaskRun } from './runTask';

/** Pixels of the print across, and of the finished picture. */
const PRINT_PX = 1400;
const PICTURE_PX = 2000;

/** Draws the print on a garment as PNG, and a page with it as PDF. */
export async function runApproval(run: TaskRun, payload: ApprovalPayload): Promise<void> {
  const { database } = run;
  await run.progress({ step: 'Drawing the print', items: [] });
  const sheet = await readVersion(database, payload.jobId, payload.version);
  await artworkShelf.use(database, sheet.artwork.sha256, (local) => draw(run, sheet, local));
}

async function draw(run: TaskRun, sheet: JobSheet, local: LocalArtwork): Promise<void> {
  const { folder } = run;
  const source = openArtwork(local.files);
  try {
    const outer = sheet.background?.dropped ? local.outerMap : null;
    const print = await renderPreview(sheet, source, outer, PRINT_PX);
    const png = await sharp(print.rgba, { raw: { width: print.width, height: print.height, channels: 4 } })
      .removeAlpha()
      .png()
      .toBuffer();
    const picture = new Resvg(drawGarment(sheet, png), { fitTo: { mode: 'width', value: PICTURE_PX } })
      .render()
      .asPng();
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
  } finally {
    source.close();
  }
}
