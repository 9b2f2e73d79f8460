import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { KerameusError, MM_PER_INCH } from '@/core/units';
import { type PictureDecoder, flattenDrawing } from '../drawings';
import type { ArtworkFiles } from './artworkSource';
import { decodeApart, decodePictures } from './askRaster';
import { type ArtworkFormat, sniffArtwork } from './sniffArtwork';

/** Facts about artwork as the user is told them. */
export interface ArtworkFacts {
  readonly sha256: string;
  readonly fileName: string;
  readonly format: string;
  readonly kind: 'raster' | 'vector';
  /** Pixels, or user units of a drawing. */
  readonly widthPx: number;
  readonly heightPx: number;
  /** What it measures at its own resolution; null when it states none. */
  readonly ownWidthMm: number | null;
  readonly ownHeightMm: number | null;
  readonly hasAlpha: boolean;
  readonly colourSpace: string;
  readonly bits: number;
  readonly missingFonts: readonly string[];
  /** The file's own size in pixels where these are not square and were made so; absent in artwork of older installations. */
  readonly oblong?: { readonly widthPx: number; readonly heightPx: number } | null;
  /** Blurs, shadows and other filters of a drawing that became pictures; absent in artwork of older installations. */
  readonly filterPictures?: number;
  /** Pixels that the coarsest of these has to the width of the whole drawing; null where there are none. */
  readonly filterWidthPx?: number | null;
}

export async function hashFile(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of createReadStream(file)) hash.update(piece as Buffer);
  return hash.digest('hex');
}

/** The first bytes of a file, enough to tell what it is. */
export async function readHead(file: string): Promise<Uint8Array> {
  const handle = await open(file);
  try {
    const buffer = Buffer.alloc(65536);
    const { bytesRead } = await handle.read(buffer, 0, buffer.length, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

/** What a file is, before anything of it is decoded. Throws what `sniffArtwork` throws. */
export async function identifyArtwork(
  file: string,
): Promise<{ readonly sha256: string; readonly format: ArtworkFormat }> {
  const format = sniffArtwork(await readHead(file));
  return { sha256: await hashFile(file), format };
}

/** Artwork that was read, and where its decoded form lies. */
export interface TakenArtwork {
  readonly facts: ArtworkFacts;
  readonly files: ArtworkFiles;
}

/**
 * Decodes artwork into a folder: raster levels, or a drawing's stored form. All that could go wrong with a file goes wrong in a program or a thread
 * of its own, within limits. Throws KerameusError with what is wrong and what to do, or the signal's reason.
 */
export async function takeInArtwork(
  file: string,
  fileName: string,
  folder: string,
  signal?: AbortSignal,
): Promise<TakenArtwork> {
  const common = { ...(await identifyArtwork(file)), fileName: plainName(fileName) };
  return common.format === 'svg'
    ? takeInDrawing(file, common, folder, signal)
    : takeInRaster(file, common, folder, signal);
}

/** The last part of a path, without what no file system and no database takes. */
export function plainName(fileName: string): string {
  const name = path
    .basename(fileName)
    .replace(/[\u0000-\u001f\u007f/\\]/g, '')
    .toWellFormed()
    .slice(-200);
  return name === '' || name === '.' || name === '..' ? 'artwork' : name;
}

type Common = Pick<ArtworkFacts, 'sha256' | 'fileName' | 'format'>;

async function takeInDrawing(
  file: string,
  common: Common,
  folder: string,
  signal?: AbortSignal,
): Promise<TakenArtwork> {
  const decode: PictureDecoder = (files) => decodePictures(files, folder, signal);
  const { facts, flat } = await flattenDrawing(file, decode, signal);
  if (flat.isEmpty) {
    throw new KerameusError({
      code: 'artwork-empty',
      parameter: 'artwork',
      message: 'The drawing shows nothing: it is empty, or all of it lies outside of its view box.',
      remedy: 'Set the page or the view box round the drawing and export it again.',
    });
  }
  const target = path.join(folder, 'artwork.drawing');
  await writeFile(target, flat.bytes);
  return {
    files: { kind: 'vector', path: target },
    facts: {
      ...common,
      kind: 'vector',
      widthPx: facts.width,
      heightPx: facts.height,
      ownWidthMm: facts.statesSize ? facts.widthMm : null,
      ownHeightMm: facts.statesSize ? facts.heightMm : null,
      hasAlpha: true,
      colourSpace: 'RGB',
      bits: 8,
      missingFonts: facts.missingFonts,
      filterPictures: flat.filters.count,
      filterWidthPx: flat.filters.pxPerUnit === null ? null : flat.filters.pxPerUnit * facts.width,
    },
  };
}

async function takeInRaster(
  file: string,
  common: Common,
  folder: string,
  signal?: AbortSignal,
): Promise<TakenArtwork> {
  const { facts, levels } = await decodeApart(file, folder, signal);
  const toMm = (pixels: number) => (facts.ownDpi ? (pixels / facts.ownDpi) * MM_PER_INCH : null);
  return {
    files: { kind: 'raster', levels },
    facts: {
      ...common,
      kind: 'raster',
      widthPx: facts.widthPx,
      heightPx: facts.heightPx,
      ownWidthMm: toMm(facts.widthPx),
      ownHeightMm: toMm(facts.heightPx),
      hasAlpha: facts.hasAlpha,
      colourSpace: facts.colourSpace,
      bits: facts.bits,
      oblong: facts.oblong,
      missingFonts: [],
      filterPictures: 0,
      filterWidthPx: null,
    },
  };
}
