import { open } from 'node:fs/promises';
import { ENCODE_STEPS, ENCODE_TABLE, LINEAR_OF_CODE8 } from '@/core/colour';
import type { RasterLevel } from './artworkSource';

/** Rows of the level above that are read at once. */
const BAND_ROWS = 128;

/** Writes a level of half the size: each pixel is the mean of 2 by 2 pixels in linear light, weighted by alpha; fewer at an odd right or lower side. */
export async function halveLevel(above: RasterLevel, half: RasterLevel): Promise<void> {
  const input = await open(above.path);
  const output = await open(half.path, 'w');
  const pixels = new Uint32Array(above.width * BAND_ROWS);
  const halved = new Uint32Array(half.width * (BAND_ROWS / 2));
  try {
    for (let y = 0; y < above.height; y += BAND_ROWS) {
      const taken = Math.min(BAND_ROWS, above.height - y);
      const bytes = new Uint8Array(pixels.buffer, 0, taken * above.width * 4);
      await input.read(bytes, 0, bytes.length, y * above.width * 4);
      const rows = Math.ceil(taken / 2);
      for (let row = 0; row < rows; row++) {
        halveRow(pixels, above.width, 2 * row, Math.min(2, taken - 2 * row), halved, row * half.width);
      }
      await output.write(new Uint8Array(halved.buffer, 0, rows * half.width * 4));
    }
  } finally {
    await input.close();
    await output.close();
  }
}

/**
 * @param pixels of the level above, red in the lowest byte, alpha in the highest.
 * @param y of the upper row of pixels.
 * @param taken rows, 1 or 2.
 * @param out written from `at` on.
 */
function halveRow(
  pixels: Uint32Array,
  width: number,
  y: number,
  taken: number,
  out: Uint32Array,
  at: number,
): void {
  const upper = y * width;
  const lower = upper + (taken - 1) * width;
  for (let x = 0; x < width; x += 2) {
    const right = Math.min(x + 1, width - 1);
    // A pixel without a neighbour counts twice, which changes no mean.
    const a = pixels[upper + x]!;
    const b = pixels[upper + right]!;
    const c = pixels[lower + x]!;
    const d = pixels[lower + right]!;
    out[at + (x >> 1)] = a === b && a === c && a === d ? a : meanOf(a, b, c, d);
  }
}

function meanOf(a: number, b: number, c: number, d: number): number {
  const [wa, wb, wc, wd] = [a >>> 24, b >>> 24, c >>> 24, d >>> 24];
  const all = wa + wb + wc + wd;
  if (all === 0) return 0;
  const scale = ENCODE_STEPS / all;
  let mean = 0;
  for (let shift = 0; shift < 24; shift += 8) {
    const light =
      wa * LINEAR_OF_CODE8[(a >>> shift) & 255]! +
      wb * LINEAR_OF_CODE8[(b >>> shift) & 255]! +
      wc * LINEAR_OF_CODE8[(c >>> shift) & 255]! +
      wd * LINEAR_OF_CODE8[(d >>> shift) & 255]!;
    mean |= ENCODE_TABLE[(light * scale + 0.5) | 0]! << shift;
  }
  return (mean | (Math.round(all / 4) << 24)) >>> 0;
}
