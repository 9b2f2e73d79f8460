import { wordsOf } from './masks';
import { MIXED } from './codes';

/** From one row of cells to the next: rows start on a word. */
export function cellStride(width: number): number {
  return (width + 3) & ~3;
}

/**
 * For each cell, between a pixel and its right and lower neighbours, the label of all 4 by 4 pixels round it, or MIXED. Beyond the plane its
 * border goes on.
 *
 * @param cells gets `cellStride(width)` for each row; what is beyond the width means nothing.
 */
export function uniformCells(label: Uint8Array, width: number, height: number, cells: Uint8Array): void {
  const stride = cellStride(width);
  const across = new Uint8Array(stride * height).fill(MIXED);
  for (let y = 0; y < height; y++) {
    const row = label.subarray(y * width, (y + 1) * width);
    for (let x = 0; x < width;) {
      const here = row[x]!;
      let end = x + 1;
      while (end < width && row[end] === here) end++;
      // A cell looks at one pixel before it and two behind.
      const from = x === 0 ? 0 : x + 1;
      const to = end === width ? width : end - 2;
      if (here !== MIXED && to > from) across.fill(here, y * stride + from, y * stride + to);
      x = end;
    }
  }
  const rows = wordsOf(across);
  const out = wordsOf(cells);
  const perRow = stride >> 2;
  for (let y = 0; y < height; y++) {
    const base = y * perRow;
    const above = Math.max(0, y - 1) * perRow;
    const below = Math.min(height - 1, y + 1) * perRow;
    const far = Math.min(height - 1, y + 2) * perRow;
    for (let k = 0; k < perRow; k++) {
      const word = rows[base + k]!;
      const differs = (word ^ rows[above + k]!) | (word ^ rows[below + k]!) | (word ^ rows[far + k]!);
      out[base + k] = differs === 0 ? word : word | spreadBytes(differs);
    }
  }
}

/** 255 in each byte of a word that is not 0. */
function spreadBytes(word: number): number {
  let bits = word | (word >>> 4);
  bits |= bits >>> 2;
  bits |= bits >>> 1;
  return Math.imul(bits & 0x01010101, 255);
}
