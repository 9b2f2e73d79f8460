/** Size of the square tiles of raster artwork, in pixels. */
export const RASTER_TILE = 512;

/** What is gzipped. Not a content encoding: the framework keeps that for itself. */
export const PACKED_TYPE = 'application/gzip';

/** Behind the pixels of a tile: they are differences. Tiles of earlier versions have nothing there. */
const DIFFERENCES = 1;

const LOW = 0x7f7f7f7f;
const HIGH = 0x80808080;

/**
 * The pixels of a tile as they are packed: each byte less the one of the pixel before, modulo 256, as by the filter "Sub" of PNG (ISO/IEC 15948, 9.2). Pictures become half as large so.
 *
 * @param pixels four bytes each.
 * @returns four bytes each, and one that says what they are.
 */
export function tileForPacking(pixels: Uint8Array): Uint8Array {
  const words = wordsOf(pixels);
  const out = new Uint8Array(pixels.length + 1);
  const differences = new Uint32Array(out.buffer, 0, words.length);
  let before = 0;
  for (let i = 0; i < words.length; i++) {
    const own = words[i]!;
    // Four bytes at once: a borrow stops at the highest bit of each.
    differences[i] = ((own | HIGH) - (before & LOW)) ^ ((own ^ ~before) & HIGH);
    before = own;
  }
  out[pixels.length] = DIFFERENCES;
  return out;
}

/**
 * The pixels of a tile that was unpacked.
 *
 * @returns a word for each; perhaps in the memory that was given.
 */
export function tilePixels(unpacked: Uint8Array): Uint32Array {
  const words = wordsOf(unpacked);
  if (unpacked.length % 4 === 0) return words;
  let pixel = 0;
  for (let i = 0; i < words.length; i++) {
    const more = words[i]!;
    pixel = ((pixel & LOW) + (more & LOW)) ^ ((pixel ^ more) & HIGH);
    words[i] = pixel;
  }
  return words;
}

/** Bytes seen four at a time; copied where they do not start on a word. */
function wordsOf(bytes: Uint8Array): Uint32Array {
  const count = bytes.length >> 2;
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : new Uint8Array(bytes);
  return new Uint32Array(aligned.buffer, aligned.byteOffset, count);
}
