import { readFileSync } from 'node:fs';
import path from 'node:path';
import { tiffHead } from '@/core/formats';
import { createWasmKernels } from '@/core/kernels';
import { expansion } from '@/core/raster';
import { type ScreenedPlate, type ThresholdTile, firstCodes } from '@/core/screening';
import { KerameusError, MM_PER_INCH } from '@/core/units';
import { kernelModule } from '../projectRoot';
import { writeWhole } from './writeWhole';

/** A finished plate as tones: one value a pixel, 0 = none, the highest one = solid ink. */
export interface ToneFile {
  readonly width: number;
  readonly height: number;
  /** 255 or 65535. */
  readonly highest: number;
  readonly values: Uint8Array | Uint16Array;
}

/** A portable graymap of bytes or of words (netpbm, P5), or null where the file is none. */
function readGraymap(bytes: Buffer): ToneFile | null {
  const head = /^P5\s+(?:#[^\n]*\n\s*)*(\d+)\s+(\d+)\s+(\d+)\s/.exec(
    bytes.subarray(0, 200).toString('latin1'),
  );
  if (!head) return null;
  const [width, height, highest] = head.slice(1).map(Number) as [number, number, number];
  const rest = bytes.subarray(head[0].length);
  const count = width * height;
  if ((highest !== 255 && highest !== 65535) || rest.length < count * (highest > 255 ? 2 : 1)) return null;
  // A plain view: slices of a Buffer are slow to make, and one is made for each row.
  if (highest === 255) {
    return { width, height, highest, values: new Uint8Array(rest.buffer, rest.byteOffset, count) };
  }
  const values = new Uint16Array(count);
  for (let k = 0; k < count; k++) values[k] = rest.readUInt16BE(k * 2);
  return { width, height, highest, values };
}

/** In one piece: a promise's reading is put together from many, and a plate has tens of megabytes. */
function readWhole(file: string): Buffer {
  try {
    return readFileSync(file);
  } catch {
    throw unreadable(file, 'The file cannot be read.', 'Check its name.');
  }
}

/** Throws KerameusError `plane` for what is no picture in grey. */
export async function readTones(file: string): Promise<ToneFile> {
  const bytes = readWhole(file);
  const graymap = readGraymap(bytes);
  if (graymap) return graymap;
  // Loaded where it is needed: a graymap is read without it.
  const { default: sharp } = await import('sharp');
  try {
    const picture = sharp(bytes, { limitInputPixels: 1e9 });
    const { depth, channels } = await picture.metadata();
    if (channels > 2) {
      throw unreadable(file, 'The picture has colours.', 'Give one plate, in grey.');
    }
    const wide = depth === 'ushort';
    const { data, info } = await picture
      .extractChannel(0)
      .raw({ depth: wide ? 'ushort' : 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const values = wide ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data;
    return { width: info.width, height: info.height, highest: wide ? 65535 : 255, values };
  } catch (thrown) {
    if (thrown instanceof KerameusError) throw thrown;
    throw unreadable(file, 'The file is no picture that can be read.', 'Give a PGM, PNG or TIFF in grey.');
  }
}

function unreadable(file: string, message: string, remedy: string): KerameusError {
  return new KerameusError({
    code: 'plane',
    parameter: 'plane',
    message: `${path.basename(file)}: ${message}`,
    remedy,
  });
}

export interface ScreenFileRequest {
  readonly plane: ToneFile;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly dpi: number;
  readonly edges: 'nearest' | 'linear';
  readonly tile: ThresholdTile;
  /** From the plane's values to what shall stand on film, 0..65535; `highest` + 1 entries. */
  readonly tones: Uint16Array;
  readonly description: string;
}

const STRIP_ROWS = 256;

/** Screens a finished plate and writes it as a 1-bit TIFF, some rows at a time. */
export async function writeScreenedTiff(request: ScreenFileRequest, target: string): Promise<void> {
  const { plane, dpi, edges, tile } = request;
  const width = Math.round((request.widthMm * dpi) / MM_PER_INCH);
  const height = Math.round((request.heightMm * dpi) / MM_PER_INCH);
  const encoder = createWasmKernels(kernelModule()).createPlateEncoder({
    width,
    pixels: plane.width,
    across: expansion(width, plane.width, edges, (width + 15) & ~15),
    down: expansion(height, plane.height, edges),
    tile,
    rows: rowsOf(request),
  });
  const stream: Uint8Array[] = [];
  for (let row = 0; row < height; row += STRIP_ROWS) {
    stream.push(encoder.encode(Math.min(STRIP_ROWS, height - row)));
  }
  stream.push(encoder.finish());
  const length = stream.reduce((sum, part) => sum + part.length, 0);
  const head = tiffHead({ width, height, dpi, length, description: request.description });
  await writeWhole(target, [head, ...stream]);
}

function rowsOf({ plane, edges, tones }: ScreenFileRequest): ScreenedPlate['rows'] {
  const { values, width } = plane;
  // Bytes that are not interpolated need no tones: the thresholds are theirs.
  if (edges === 'nearest' && values instanceof Uint8Array && tones[255] === 65535) {
    const rowsOf = (y: number, count: number) => values.subarray(y * width, (y + count) * width);
    return { kind: 'codes', rowsOf, first: firstCodes(tones) };
  }
  const rowOf = (y: number, into: Uint16Array): void => {
    const from = y * width;
    for (let x = 0; x < width; x++) into[x] = tones[values[from + x]!]!;
  };
  return { kind: 'tones', rowOf };
}
