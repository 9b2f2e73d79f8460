import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { type JobSheet, artworkOf, parseJobSheet, withArtworkFacts } from '@/core/sheet';
import { type ArtworkFacts, type ArtworkFiles, identifyArtwork, takeInArtwork } from '@/server/artwork';
import { type Options, bad } from './arguments';
import { withOptions } from './options';
import type { Stopwatch } from './produce';
import { withSolids } from './solids';
import { filesWithTexture, withTexturePicture } from './texturePicture';
import { checkFile } from './workFiles';

/** A job sheet, and the artwork that lies beside it. */
export interface OpenedJob {
  readonly sheet: JobSheet;
  readonly facts: ArtworkFacts;
  readonly files: ArtworkFiles;
  readonly artworkFile: string;
}

/** Reads a job sheet with what the options change of it, and its artwork into a folder. */
export async function openJob(
  jobFile: string,
  options: Options,
  folder: string,
  watch: Stopwatch,
): Promise<OpenedJob> {
  await checkFile(jobFile, 'job sheet');
  let document: unknown;
  try {
    document = JSON.parse(await readFile(jobFile, 'utf8'));
  } catch {
    throw bad('job sheet', `${path.basename(jobFile)} is not JSON.`, 'Export the job again.');
  }
  const added = await withTexturePicture(options, parseJobSheet(document), folder);
  const sheet = await withOptions(options, withSolids(added.sheet, options));
  const { fileName, page = 1, sha256: expected } = artworkOf(sheet);
  const artworkFile = path.join(path.dirname(jobFile), fileName);
  await checkFile(artworkFile, 'artwork');
  const { sha256 } = await watch.time('inspect', () => identifyArtwork(artworkFile, page));
  if (sha256 !== expected) {
    throw bad(
      'artwork',
      `${fileName} is not the artwork that the job sheet was made for.`,
      'Put the original file beside the job sheet.',
    );
  }
  const { facts, files } = await watch.time('decode', () =>
    takeInArtwork(artworkFile, fileName, folder, { page }),
  );
  const worn = await filesWithTexture(files, sheet, added.grey, path.dirname(jobFile), folder);
  return { sheet: withArtworkFacts(sheet, facts), facts, files: worn, artworkFile };
}
