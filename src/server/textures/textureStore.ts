import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { JobSheet } from '@/core/sheet';
import { PICTURE_SIDE } from '@/core/texture';
import { KerameusError } from '@/core/units';
import { type TextureFile, sniffArtwork } from '../artwork';
import type { Database, Reader } from '../db/database';
import { textures } from '../db/schema';

/** What names the samples of a picture. */
export function hashSamples(grey: Uint8Array): string {
  return createHash('sha256').update(grey).digest('hex');
}

/** Stores the samples of a picture; what is there already stays. */
export async function storeTexture(
  database: Pick<Database, 'insert'>,
  sha256: string,
  grey: Uint8Array,
): Promise<void> {
  await database
    .insert(textures)
    .values({ sha256, bytes: gzipSync(grey) })
    .onConflictDoNothing();
}

/** The gzipped samples of a picture. Throws KerameusError `texture-missing`. */
export async function readTexture(database: Reader, sha256: string): Promise<Uint8Array> {
  const [row] = await database
    .select({ bytes: textures.bytes })
    .from(textures)
    .where(eq(textures.sha256, sha256));
  if (row) return row.bytes;
  throw new KerameusError({
    code: 'texture-missing',
    message: 'The picture of this job’s texture is not here any more.',
    remedy: 'Add the picture again in the Fit step.',
  });
}

/** Writes the picture of a sheet's texture into a folder; undefined where it has none. */
export async function fetchTexture(
  database: Reader,
  { texture }: Pick<JobSheet, 'texture'>,
  folder: string,
): Promise<TextureFile | undefined> {
  if (!texture?.picture) return undefined;
  const { sha256 } = texture.picture;
  const file = { sha256, path: path.join(folder, textureName(sha256)) };
  await writeFile(file.path, await readTexture(database, sha256));
  return file;
}

/** The name of a texture's samples as they lie in a folder. */
export function textureName(sha256: string): string {
  return `texture-${sha256.slice(0, 16)}.gz`;
}

/** The name of a texture's picture as it lies beside a job sheet. */
export function texturePngName(sha256: string): string {
  return `texture-${sha256.slice(0, 16)}.png`;
}

/** The samples of a picture as a PNG in grey. */
export function pngOfSamples(grey: Uint8Array): Promise<Buffer> {
  const raw = { width: PICTURE_SIDE, height: PICTURE_SIDE, channels: 1 as const };
  return sharp(grey, { raw }).toColourspace('b-w').png().toBuffer();
}

/** The samples of a PNG that `pngOfSamples` made. Throws KerameusError `texture-missing` where it is another picture. */
export async function samplesOfPng(png: Buffer, sha256: string): Promise<Uint8Array> {
  const read = isPng(png) ? await decoded(png) : null;
  if (read && hashSamples(read) === sha256) return read;
  throw new KerameusError({
    code: 'texture-missing',
    parameter: 'texture',
    message: 'The picture of the texture is damaged, or another one than the job was made with.',
    remedy: 'Export the job again.',
  });
}

/** Nothing but a PNG may come to the decoder, which would read drawings by readers of its own. */
function isPng(bytes: Buffer): boolean {
  return bytes.length > 0 && sniffArtwork(bytes) === 'png';
}

function decoded(png: Buffer): Promise<Buffer | null> {
  return sharp(png, { limitInputPixels: PICTURE_SIDE * PICTURE_SIDE })
    .toColourspace('b-w')
    .raw()
    .toBuffer()
    .catch(() => null);
}
