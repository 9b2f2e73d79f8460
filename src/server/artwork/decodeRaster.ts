import { createWriteStream } from 'node:fs';
import { open } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import sharp, { type Metadata } from 'sharp';
import { LINEAR_OF_CODE8, encodeSrgb8 } from '@/core/colour';
import { levelCount, levelSide } from '@/core/pipeline';
import { KerameusError } from '@/core/units';
import type { RasterLevel } from './artworkSource';

export const MAX_SIDE_PX = 20_000;
export const MAX_PIXELS = 300e6;

// Only these readers may ever be tried; the library would otherwise hand SVG and PDF to readers of its own.
sharp.block({ operation: ['VipsForeignLoad'] });
sharp.unblock({
  operation: [
    'VipsForeignLoadPngFile',
    'VipsForeignLoadPngBuffer',
    'VipsForeignLoadJpegFile',
    'VipsForeignLoadJpegBuffer',
    'VipsForeignLoadWebpFile',
    'VipsForeignLoadWebpBuffer',
    'VipsForeignLoadTiffFile',
    'VipsForeignLoadTiffBuffer',
  ],
});
// Decoding streams; a cache of files that are read once would only hold memory.
sharp.cache(false);

/** What a raster file says of itself. */
export interface RasterFacts {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Pixels per inch that the file states, or null. */
  readonly ownDpi: number | null;
  readonly hasAlpha: boolean;
  /** Bits for each channel. */
  readonly bits: number;
  /** In words, for the user. */
  readonly colourSpace: string;
}

function unreadable(reason: string): KerameusError {
  return new KerameusError({
    code: 'artwork-unreadable',
    parameter: 'artwork',
    message: `The artwork cannot be read: ${reason}.`,
    remedy: 'The file may be cut off or damaged; export or copy it again.',
  });
}

/** The library's words for a failure, in one line and without paths. */
function reasonOf(thrown: unknown): string {
  const text = thrown instanceof Error ? thrown.message : String(thrown);
  return (
    text
      .split('\n')[0]!
      .replace(/(?:\/[\w.@-]+)+\/?/g, 'the file')
      .replace(/^Input file (is missing|contains)/, 'it $1')
      .replace(/[.\s]+$/, '') || 'unknown damage'
  );
}

/** Refuses a picture that is larger than the application takes on. */
export function checkPixels(widthPx: number, heightPx: number): void {
  if (widthPx <= MAX_SIDE_PX && heightPx <= MAX_SIDE_PX && widthPx * heightPx <= MAX_PIXELS) return;
  throw new KerameusError({
    code: 'artwork-too-large',
    parameter: 'artwork',
    message: `The artwork has ${widthPx} x ${heightPx} pixels.`,
    remedy: `At most ${MAX_SIDE_PX} pixels a side and ${MAX_PIXELS / 1e6} million in all are taken; 300 dpi at print size is enough.`,
  });
}

const SPACES: Readonly<Record<string, string>> = {
  srgb: 'RGB',
  rgb: 'RGB',
  rgb16: 'RGB',
  'b-w': 'grey',
  grey16: 'grey',
  cmyk: 'CMYK',
  lab: 'Lab',
};

/** Reads the head of a raster file. Throws KerameusError `artwork-unreadable` or `artwork-too-large`. */
export async function readRasterFacts(file: string | Buffer): Promise<RasterFacts> {
  let head: Metadata;
  try {
    head = await sharp(file, { limitInputPixels: false }).metadata();
  } catch (thrown) {
    throw unreadable(reasonOf(thrown));
  }
  const turned = (head.orientation ?? 1) >= 5;
  const widthPx = turned ? head.height : head.width;
  const heightPx = turned ? head.width : head.height;
  checkPixels(widthPx, heightPx);
  const deep = head.depth === 'ushort' || head.depth === 'short';
  return {
    widthPx,
    heightPx,
    ownDpi: head.density && head.density >= 30 && head.density <= 4800 ? head.density : null,
    hasAlpha: head.hasAlpha === true,
    bits: deep ? 16 : head.depth === 'float' ? 32 : 8,
    colourSpace: SPACES[head.space ?? ''] ?? head.space ?? 'unknown',
  };
}

/**
 * Decodes a raster file into levels of raw sRGB with straight alpha, each half the one before, in a folder. Profile and
 * orientation are honoured; memory does not grow with the picture.
 */
export async function decodeRaster(file: string, folder: string): Promise<RasterLevel[]> {
  const facts = await readRasterFacts(file);
  const first: RasterLevel = {
    width: facts.widthPx,
    height: facts.heightPx,
    path: path.join(folder, 'level-0.rgba'),
  };
  try {
    const decoder = sharp(file, { limitInputPixels: MAX_PIXELS + 1, failOn: 'error', sequentialRead: true })
      .autoOrient()
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' });
    await pipeline(decoder, createWriteStream(first.path));
  } catch (thrown) {
    throw unreadable(reasonOf(thrown));
  }
  const handle = await open(first.path);
  const { size } = await handle.stat();
  await handle.close();
  if (size !== first.width * first.height * 4) throw unreadable('it ends early');
  const levels = [first];
  for (let level = 1; level < levelCount(first.width, first.height); level++) {
    levels.push(await halve(levels[level - 1]!, first, level, folder));
  }
  return levels;
}

/** Makes the next level: the mean of 2 by 2 pixels in linear light, weighted by alpha. */
async function halve(
  above: RasterLevel,
  first: RasterLevel,
  level: number,
  folder: string,
): Promise<RasterLevel> {
  const width = levelSide(first.width, level);
  const height = levelSide(first.height, level);
  const target = path.join(folder, `level-${level}.rgba`);
  const input = await open(above.path);
  const output = await open(target, 'w');
  const rows = Buffer.alloc(above.width * 8);
  const line = Buffer.alloc(width * 4);
  try {
    for (let y = 0; y < height; y++) {
      const taken = Math.min(2, above.height - 2 * y);
      await input.read(rows, 0, taken * above.width * 4, 2 * y * above.width * 4);
      halveRow(rows, above.width, taken, line, width);
      await output.write(line);
    }
  } finally {
    await input.close();
    await output.close();
  }
  return { width, height, path: target };
}

function halveRow(rows: Buffer, width: number, taken: number, line: Buffer, halfWidth: number): void {
  for (let x = 0; x < halfWidth; x++) {
    const p = x * 8;
    const wide = 2 * x + 1 < width;
    const below = width * 4;
    // The common case first: four equal pixels.
    if (wide && taken === 2 && rows.readUInt32LE(p) === rows.readUInt32LE(p + 4)) {
      const code = rows.readUInt32LE(p);
      if (code === rows.readUInt32LE(p + below) && code === rows.readUInt32LE(p + below + 4)) {
        line.writeUInt32LE(code, x * 4);
        continue;
      }
    }
    let alpha = 0;
    let count = 0;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let dy = 0; dy < taken; dy++) {
      for (let dx = 0; dx < (wide ? 2 : 1); dx++) {
        const i = p + dy * below + dx * 4;
        const a = rows[i + 3]!;
        count++;
        alpha += a;
        r += a * LINEAR_OF_CODE8[rows[i]!]!;
        g += a * LINEAR_OF_CODE8[rows[i + 1]!]!;
        b += a * LINEAR_OF_CODE8[rows[i + 2]!]!;
      }
    }
    const o = x * 4;
    line[o] = alpha > 0 ? encodeSrgb8(r / alpha) : 0;
    line[o + 1] = alpha > 0 ? encodeSrgb8(g / alpha) : 0;
    line[o + 2] = alpha > 0 ? encodeSrgb8(b / alpha) : 0;
    line[o + 3] = Math.round(alpha / count);
  }
}
