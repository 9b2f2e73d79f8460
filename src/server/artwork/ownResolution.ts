import { open } from 'node:fs/promises';

/** What a picture says of its pixels. */
export interface OwnResolution {
  /** Pixels per inch along each side; null where it gives no unit. */
  readonly dpi: { readonly x: number; readonly y: number } | null;
  /** Height of a pixel over its width. */
  readonly aspect: number;
}

const NONE: OwnResolution = { dpi: null, aspect: 1 };
/** Heads of files are looked at this far; what states a resolution stands at the beginning. */
const HEAD_BYTES = 1 << 20;
const INCH_IN_METRES = 0.0254;

/** Resolutions beyond these are mistakes of whoever wrote the file. */
function stated(x: number, y: number, perInch: number): OwnResolution {
  const dpi = { x: x * perInch, y: y * perInch };
  const isOne = (each: number) => Number.isFinite(each) && each >= 30 && each <= 4800;
  const aspect = x > 0 && y > 0 && x / y > 0.2 && x / y < 5 ? x / y : 1;
  return { dpi: isOne(dpi.x) && isOne(dpi.y) ? dpi : null, aspect };
}

/**
 * The resolution that a picture's file states itself: PNG's pHYs, JPEG's JFIF or Exif, TIFF's tags. Decoders give 72 where there is none.
 *
 * @param exif the file's Exif data as its decoder found it, for formats without a statement of their own.
 */
export async function ownResolution(file: string | Buffer, exif?: Buffer): Promise<OwnResolution> {
  const head = typeof file === 'string' ? await readPart(file, 0, HEAD_BYTES) : file;
  if (head.subarray(0, 8).toString('latin1') === '\x89PNG\r\n\x1a\n') return ofPng(head);
  if (head[0] === 0xff && head[1] === 0xd8) return ofJpeg(head) ?? ofExif(exif);
  const order = head.subarray(0, 2).toString('latin1');
  if (order === 'II' || order === 'MM') {
    const at = order === 'II' ? head.readUInt32LE(4) : head.readUInt32BE(4);
    if (at + 2 < head.length) return ofTiff(head, 0, at);
    // Tags may stand at the end of the file.
    if (typeof file === 'string') return ofTiff(await readPart(file, at, 1 << 16), at, at, order);
  }
  return ofExif(exif);
}

async function readPart(file: string, at: number, bytes: number): Promise<Buffer> {
  const handle = await open(file);
  try {
    const part = Buffer.alloc(bytes);
    const { bytesRead } = await handle.read(part, 0, bytes, at);
    return part.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

function ofPng(head: Buffer): OwnResolution {
  for (let at = 8; at + 21 <= head.length;) {
    const length = head.readUInt32BE(at);
    const type = head.subarray(at + 4, at + 8).toString('latin1');
    if (type === 'IDAT' || type === 'IEND') return NONE;
    if (type === 'pHYs' && length === 9) {
      const [x, y] = [head.readUInt32BE(at + 8), head.readUInt32BE(at + 12)];
      return stated(x, y, head[at + 16] === 1 ? INCH_IN_METRES : 0);
    }
    at += 12 + length;
  }
  return NONE;
}

function ofJpeg(head: Buffer): OwnResolution | null {
  let found: OwnResolution | null = null;
  for (let at = 2; at + 18 <= head.length && head[at] === 0xff;) {
    const marker = head[at + 1]!;
    if (marker === 0xda) break;
    const length = head.readUInt16BE(at + 2);
    const name = head.subarray(at + 4, at + 9).toString('latin1');
    if (marker === 0xe0 && name === 'JFIF\0') {
      const unit = head[at + 11]!;
      const [x, y] = [head.readUInt16BE(at + 12), head.readUInt16BE(at + 14)];
      found = stated(x, y, unit === 1 ? 1 : unit === 2 ? 2.54 : 0);
      if (found.dpi) return found;
    }
    at += 2 + length;
  }
  return found && found.aspect !== 1 ? found : null;
}

function ofExif(exif?: Buffer): OwnResolution {
  if (!exif) return NONE;
  const begin = exif.subarray(0, 6).toString('latin1') === 'Exif\0\0' ? 6 : 0;
  const tiff = exif.subarray(begin);
  const order = tiff.subarray(0, 2).toString('latin1');
  if (tiff.length < 8 || (order !== 'II' && order !== 'MM')) return NONE;
  return ofTiff(tiff, 0, order === 'II' ? tiff.readUInt32LE(4) : tiff.readUInt32BE(4));
}

/** XResolution, YResolution and ResolutionUnit of the first directory (TIFF 6.0, section 8). */
function ofTiff(
  part: Buffer,
  partAt: number,
  directory: number,
  order = part.subarray(0, 2).toString('latin1'),
): OwnResolution {
  const little = order === 'II';
  const inside = (at: number, bytes: number) => at >= 0 && at + bytes <= part.length;
  const word = (at: number) => (little ? part.readUInt16LE(at) : part.readUInt16BE(at));
  const long = (at: number) => (little ? part.readUInt32LE(at) : part.readUInt32BE(at));
  const start = directory - partAt;
  if (!inside(start, 2)) return NONE;
  const values = new Map<number, number>();
  for (let k = 0; k < word(start); k++) {
    const at = start + 2 + 12 * k;
    if (!inside(at, 12)) break;
    const tag = word(at);
    if (tag === 296) values.set(tag, word(at + 8));
    if (tag !== 282 && tag !== 283) continue;
    const where = long(at + 8) - partAt;
    if (inside(where, 8)) values.set(tag, long(where) / long(where + 4));
  }
  const [x, y, unit] = [values.get(282), values.get(283), values.get(296) ?? 2];
  if (x === undefined || y === undefined) return NONE;
  return stated(x, y, unit === 2 ? 1 : unit === 3 ? 2.54 : 0);
}
