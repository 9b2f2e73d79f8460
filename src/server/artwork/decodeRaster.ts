import { createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import sharp, { type Metadata } from 'sharp';
import { levelCount, levelSide } from '@/core/pipeline';
import { KerameusError } from '@/core/units';
import type { RasterLevel } from './artworkSource';
import { halveLevel } from './halveLevel';
import { ownResolution } from './ownResolution';

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
  /** The file's own size in pixels where these are not square: they are made square, by more of them along the coarser side. */
  readonly oblong: { readonly widthPx: number; readonly heightPx: number } | null;
  readonly hasAlpha: boolean;
  /** Pictures that the file holds, of which the first is read: pages of a TIFF, or what a WebP shows one after another. */
  readonly pictures: number;
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

/** What decoders say, in our words; the first that fits. Their own words are for their programmers. */
const REASONS: readonly (readonly [RegExp, string])[] = [
  [/unsupported image format/i, 'its head or its directory is damaged or cut off'],
  [/png read error/i, 'its picture data are damaged or end early'],
  [
    /premature end|unexpected end|not enough|truncat|ends? (?:of file|early)|eof|short read|too few/i,
    'it ends early',
  ],
  [/crc|checksum|adler/i, 'its checksum is wrong'],
  [
    /huffman|corrupt|extraneous|bad data|invalid (?:code|data|distance|block|bit)|inflate|decompress|zip|lzw|decod/i,
    'its picture data are damaged',
  ],
  [/dimension|width|height|too (?:large|big)|pixel limit/i, 'the size that it states is not possible'],
  [/memory|allocat|malloc/i, 'it takes more memory than is allowed'],
  [/profile|icc/i, 'its colour profile is damaged'],
  [/unsupported|not supported|unknown|no known/i, 'it is of a kind that is not supported'],
];

function reasonOf(thrown: unknown): string {
  const text = thrown instanceof Error ? thrown.message : String(thrown);
  return REASONS.find(([pattern]) => pattern.test(text))?.[1] ?? 'it is damaged';
}

/** A full disk is no damage of the file. */
function isOfSystem(thrown: unknown): boolean {
  const text =
    thrown instanceof Error ? `${(thrown as NodeJS.ErrnoException).code ?? ''} ${thrown.message}` : '';
  return /ENOSPC|EDQUOT|EFBIG|No space left|disk full/i.test(text);
}

function diskFull(): Error {
  return Object.assign(new Error('no room on the disk'), { code: 'ENOSPC' });
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

/**
 * Reads the head of a raster file. Throws KerameusError `artwork-unreadable` or `artwork-too-large`.
 *
 * @param isArtwork whether it has to keep to the sizes that are taken in; films are larger.
 */
export async function readRasterFacts(file: string | Buffer, isArtwork = true): Promise<RasterFacts> {
  let head: Metadata;
  try {
    head = await sharp(file, { limitInputPixels: false }).metadata();
  } catch (thrown) {
    throw isOfSystem(thrown) ? diskFull() : unreadable(reasonOf(thrown));
  }
  const own = await ownResolution(file, head.exif).catch(() => null);
  const turned = (head.orientation ?? 1) >= 5;
  const aspect = turned ? 1 / (own?.aspect ?? 1) : (own?.aspect ?? 1);
  const [across, down] = turned ? [head.height, head.width] : [head.width, head.height];
  const isOblong = isArtwork && Math.abs(aspect - 1) > OBLONG;
  const widthPx = isOblong && aspect < 1 ? Math.round(across / aspect) : across;
  const heightPx = isOblong && aspect > 1 ? Math.round(down * aspect) : down;
  if (isArtwork) checkPixels(widthPx, heightPx);
  const deep = head.depth === 'ushort' || head.depth === 'short';
  return {
    widthPx,
    heightPx,
    ownDpi: own?.dpi ? Math.max(own.dpi.x, isOblong ? own.dpi.y : 0) : null,
    oblong: isOblong ? { widthPx: across, heightPx: down } : null,
    hasAlpha: head.hasAlpha === true,
    pictures: head.pages ?? 1,
    bits: deep ? 16 : head.depth === 'float' ? 32 : 8,
    colourSpace: SPACES[head.space ?? ''] ?? head.space ?? 'unknown',
  };
}

/** Resolutions of the two sides that differ by less are meant to be one. */
const OBLONG = 0.01;

/** How a file is read: damage that a decoder only warns of becomes grey pixels in silence, so a warning is an error here. */
function decoderOf(
  file: string | Buffer,
  failOn: 'warning' | 'error',
  square: Pick<RasterFacts, 'widthPx' | 'heightPx'> | null = null,
) {
  const read = sharp(file, { limitInputPixels: MAX_PIXELS + 1, failOn, sequentialRead: true }).autoOrient();
  const sized = square
    ? read.resize(square.widthPx, square.heightPx, { fit: 'fill', kernel: 'cubic' })
    : read;
  return sized.toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' });
}

/** Warnings that say nothing of the pixels: metadata that a decoder does not know or like. */
const HARMLESS =
  /exif|xmp|icc|profile|metadata|tag|field|directory|density|resolution|adobe|app\d+|chunk|iptc/i;

function isHarmless(thrown: unknown): boolean {
  const text = thrown instanceof Error ? thrown.message : '';
  return HARMLESS.test(text) && !/premature|corrupt|extraneous|huffman|truncat|crc/i.test(text);
}

/**
 * Decodes a raster file into levels of raw sRGB with straight alpha, each half the one before, in a folder. Profile and
 * orientation are honoured. Throws KerameusError `artwork-unreadable`, also where only a part is damaged.
 */
export async function decodeRaster(file: string, facts: RasterFacts, folder: string): Promise<RasterLevel[]> {
  const first: RasterLevel = {
    width: facts.widthPx,
    height: facts.heightPx,
    path: path.join(folder, 'level-0.rgba'),
  };
  const square = facts.oblong ? facts : null;
  try {
    await pipeline(decoderOf(file, 'warning', square), createWriteStream(first.path));
  } catch (thrown) {
    if (!isHarmless(thrown)) throw await damage(thrown, file);
    try {
      await pipeline(decoderOf(file, 'error', square), createWriteStream(first.path));
    } catch (again) {
      throw await damage(again, file);
    }
  }
  if ((await sizeOf(first.path)) !== first.width * first.height * 4) throw unreadable('it ends early');
  const levels = [first];
  for (let level = 1; level < levelCount(first.width, first.height); level++) {
    const half: RasterLevel = {
      width: levelSide(first.width, level),
      height: levelSide(first.height, level),
      path: path.join(folder, `level-${level}.rgba`),
    };
    await halveLevel(levels[level - 1]!, half);
    levels.push(half);
  }
  return levels;
}

async function sizeOf(file: string): Promise<number> {
  const found = await stat(file).catch(() => null);
  return found?.size ?? 0;
}

/** What went wrong, and about where. */
async function damage(thrown: unknown, file: string): Promise<Error> {
  if (isOfSystem(thrown)) return diskFull();
  const lost = await lostFrom(file).catch(() => null);
  const where = lost === null ? '' : `; nothing of it is left from row ${lost.row} of ${lost.height} on`;
  return unreadable(`${reasonOf(thrown)}${where}`);
}

/** The row from which on a picture that ends early has one colour, which is what its decoder fills in; null where there is none. */
async function lostFrom(file: string): Promise<{ readonly row: number; readonly height: number } | null> {
  const options = { limitInputPixels: MAX_PIXELS + 1, failOn: 'none', sequentialRead: true } as const;
  const decoder = sharp(file, options).toColourspace('srgb').removeAlpha().raw({ depth: 'uchar' });
  const { data, info } = await decoder.toBuffer({ resolveWithObject: true });
  const { width, height, channels } = info;
  let row = height;
  const isPlain = (y: number): boolean => {
    const from = y * width * channels;
    const first = data.subarray(from, from + channels);
    for (let at = from; at < from + width * channels; at++) {
      if (data[at] !== first[(at - from) % channels]) return false;
    }
    return true;
  };
  while (row > 0 && isPlain(row - 1)) row--;
  return row > 0 && row < height ? { row, height } : null;
}

/** A small picture, as pixels. Throws KerameusError `artwork-unreadable` or `artwork-too-large`. */
export async function decodePixels(
  file: Buffer,
  mostPixels: number,
): Promise<{ readonly width: number; readonly height: number; readonly data: Uint8Array }> {
  const { widthPx, heightPx } = await readRasterFacts(file).catch((thrown: unknown) => {
    throw insideDrawing(thrown);
  });
  if (widthPx * heightPx > mostPixels) {
    throw new KerameusError({
      code: 'artwork-too-large',
      parameter: 'artwork',
      message: `The pictures inside the drawing have more pixels than are taken; one has ${widthPx} x ${heightPx}.`,
      remedy: 'Make them smaller: 300 dpi at print size is enough. Or drop the picture itself.',
    });
  }
  const read = (failOn: 'warning' | 'error') => decoderOf(file, failOn).toBuffer({ resolveWithObject: true });
  try {
    const { data, info } = await read('warning').catch((thrown: unknown) => {
      if (isHarmless(thrown)) return read('error');
      throw thrown;
    });
    return { width: info.width, height: info.height, data };
  } catch (thrown) {
    throw isOfSystem(thrown) ? diskFull() : insideDrawing(unreadable(reasonOf(thrown)));
  }
}

/** What is wrong with a picture that a drawing embeds. */
function insideDrawing(thrown: unknown): unknown {
  if (!(thrown instanceof KerameusError)) return thrown;
  const report = thrown.toReport();
  return new KerameusError({
    ...report,
    message: report.message.replace('The artwork', 'A picture inside the drawing'),
  });
}
