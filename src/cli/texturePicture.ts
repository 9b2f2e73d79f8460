import { mkdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { type JobSheet, pictureAsTexture } from '@/core/sheet';
import { type ArtworkFiles, type TextureFile, takeInArtwork } from '@/server/artwork';
import {
  pngOfSamples,
  samplePicture,
  samplesOfPng,
  textureFacts,
  textureName,
  texturePngName,
} from '@/server/textures';
import { type Options, bad } from './arguments';
import { checkFile } from './workFiles';

/** The sheet with the picture or drawing that `--texture-picture` names as its texture, and its samples; null samples where there is none. */
export async function withTexturePicture(
  { 'texture-picture': file }: Options,
  sheet: JobSheet,
  folder: string,
): Promise<{ readonly sheet: JobSheet; readonly grey: Uint8Array | null }> {
  if (file === undefined) return { sheet, grey: null };
  await checkFile(file, 'texture');
  const own = path.join(folder, 'texture');
  await mkdir(own, { recursive: true });
  const { facts, files } = await takeInArtwork(file, path.basename(file), own);
  const grey = samplePicture(files, facts);
  const texture = pictureAsTexture(sheet.texture, textureFacts(grey, facts));
  return { sheet: { ...sheet, texture }, grey };
}

/**
 * The artwork's files with the picture of the sheet's texture, where it has one. Throws KerameusError `argument` where that is not there.
 *
 * @param grey its samples where they were just made; null: they lie as a PNG beside the job sheet.
 */
export async function filesWithTexture(
  files: ArtworkFiles,
  { texture }: JobSheet,
  grey: Uint8Array | null,
  besideJob: string,
  folder: string,
): Promise<ArtworkFiles> {
  if (!texture?.picture) return files;
  const { sha256 } = texture.picture;
  const name = texturePngName(sha256);
  const samples = grey ?? (await samplesBeside(path.join(besideJob, name), sha256));
  const target = path.join(folder, textureName(sha256));
  await writeFile(target, gzipSync(samples));
  return { ...files, texture: { sha256, path: target } };
}

async function samplesBeside(file: string, sha256: string): Promise<Uint8Array> {
  const png = await readFile(file).catch(() => null);
  if (png) return samplesOfPng(png, sha256);
  throw bad(
    'texture',
    `The picture of the texture, ${path.basename(file)}, does not lie beside the job sheet.`,
    'Copy it there, or give another one with --texture-picture.',
  );
}

/** Writes the picture of a job's texture beside its job sheet. */
export async function writeTexturePng(out: string, texture: TextureFile): Promise<void> {
  const grey = gunzipSync(await readFile(texture.path));
  await writeFile(path.join(out, texturePngName(texture.sha256)), await pngOfSamples(grey));
}
