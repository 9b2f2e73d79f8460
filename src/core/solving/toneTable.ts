import type { InkStack } from './inkStack';
import { TABLE_SIDE, solveTable } from './solveTable';

const STEPS = TABLE_SIDE - 1;
/** Where each code of 0..255 lies in the table: the entry before it, and how far behind that, in 255ths of a step. */
const ENTRY = Uint8Array.from({ length: 256 }, (_, code) =>
  Math.min(STEPS - 1, Math.floor((code * STEPS) / 255)),
);
const BEHIND = Uint8Array.from({ length: 256 }, (_, code) => code * STEPS - ENTRY[code]! * 255);

/** Coverages of inks for every colour of sRGB. */
export class ToneTable {
  /** Inks, in print order. */
  readonly count: number;
  /** Coverages 0..65535; red slowest, then green, then blue, inks together. */
  private readonly entries: Uint16Array;

  constructor(stack: InkStack) {
    this.count = stack.inks.length;
    this.entries = Uint16Array.from(solveTable(stack), (tone) => Math.round(tone * 65535));
  }

  /**
   * Coverages of a colour, 0..65535: between the table's entries by tetrahedra, in whole numbers.
   *
   * @param r, g, b codes of sRGB, 0..255.
   * @param tones takes one for each ink.
   */
  find(r: number, g: number, b: number, tones: Uint16Array): void {
    const { entries, count } = this;
    const x = BEHIND[r]!;
    const y = BEHIND[g]!;
    const z = BEHIND[b]!;
    const red = TABLE_SIDE * TABLE_SIDE * count;
    const green = TABLE_SIDE * count;
    const first = ENTRY[r]! * red + ENTRY[g]! * green + ENTRY[b]! * count;
    const last = first + red + green + count;
    // From the first corner to the last one along the sides, those first on which the colour lies farthest.
    let second: number;
    let third: number;
    let most: number;
    let middle: number;
    let least: number;
    if (x >= y) {
      if (y >= z) [second, third, most, middle, least] = [red, red + green, x, y, z];
      else if (x >= z) [second, third, most, middle, least] = [red, red + count, x, z, y];
      else [second, third, most, middle, least] = [count, red + count, z, x, y];
    } else if (x >= z) [second, third, most, middle, least] = [green, red + green, y, x, z];
    else if (y >= z) [second, third, most, middle, least] = [green, green + count, y, z, x];
    else [second, third, most, middle, least] = [count, green + count, z, y, x];
    second += first;
    third += first;
    const weights = [255 - most, most - middle, middle - least] as const;
    for (let k = 0; k < count; k++) {
      const sum =
        weights[0] * entries[first + k]! +
        weights[1] * entries[second + k]! +
        weights[2] * entries[third + k]! +
        least * entries[last + k]!;
      tones[k] = Math.floor((sum + 127) / 255);
    }
  }
}

const known = new Map<string, ToneTable>();
/** A table of eight inks has half a megabyte. */
const MOST_KNOWN = 8;

/** The table of a stack; those made last are kept, since one takes a second. */
export function toneTableOf(stack: InkStack): ToneTable {
  const key = JSON.stringify(stack);
  const table = known.get(key) ?? new ToneTable(stack);
  known.delete(key);
  known.set(key, table);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
  return table;
}
