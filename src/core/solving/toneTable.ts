import type { InkStack } from './inkStack';
import { TABLE_SIDE } from './codes';
import { solveTable } from './solveTable';

const STEPS = TABLE_SIDE - 1;
/** Where each code of 0..255 lies in the table: the entry before it, and how far behind that, in 256ths of a step. */
const ENTRY = Uint8Array.from({ length: 256 }, (_, code) =>
  Math.min(STEPS - 1, Math.floor((code * STEPS) / 255)),
);
const BEHIND = Uint16Array.from({ length: 256 }, (_, code) =>
  Math.floor(((code * STEPS - ENTRY[code]! * 255) * 512 + 255) / 510),
);

/** Tones of a colour stand side by side in groups of this many, which are looked up together. */
const LANES = 8;

/** Coverages of inks for every colour of sRGB. */
export class ToneTable {
  /** Inks, in print order. */
  readonly count: number;
  /** Places for tones of one colour: `count`, and what is left of its last group of eight. */
  readonly lanes: number;
  /** Coverages 0..65535; red slowest, then green, then blue, `lanes` of each colour together. */
  readonly entries: Uint16Array;

  /** @param solved coverages 0..1 of `count` inks, as `solveTable` gives them. */
  constructor(count: number, solved: Float64Array) {
    const lanes = Math.ceil(count / LANES) * LANES;
    this.count = count;
    this.lanes = lanes;
    this.entries = new Uint16Array(TABLE_SIDE ** 3 * lanes);
    for (let colour = 0; colour < TABLE_SIDE ** 3; colour++) {
      for (let k = 0; k < count; k++) {
        this.entries[colour * lanes + k] = Math.round(solved[colour * count + k]! * 65535);
      }
    }
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
    const blue = this.lanes;
    const green = TABLE_SIDE * blue;
    const red = TABLE_SIDE * green;
    const first = ENTRY[r]! * red + ENTRY[g]! * green + ENTRY[b]! * blue;
    const last = first + red + green + blue;
    // From the first corner to the last one along the sides, those first on which the colour lies farthest.
    let second = first + blue;
    let third = second;
    let most = z;
    let least = z;
    if (x >= y && x >= z) {
      second = first + red;
      most = x;
    } else if (y >= z) {
      second = first + green;
      most = y;
    }
    if (z <= x && z <= y) third = first + red + green;
    else if (y <= x) {
      third = first + red + blue;
      least = y;
    } else {
      third = first + green + blue;
      least = x;
    }
    const middle = x + y + z - most - least;
    const ofFirst = 256 - most;
    const ofSecond = most - middle;
    const ofThird = middle - least;
    for (let k = 0; k < count; k++) {
      const sum =
        ofFirst * entries[first + k]! +
        ofSecond * entries[second + k]! +
        ofThird * entries[third + k]! +
        least * entries[last + k]!;
      tones[k] = (sum + 128) >> 8;
    }
  }
}

const known = new Map<string, ToneTable>();
/** A table of eight inks has half a megabyte. */
const MOST_KNOWN = 8;

/** The table of a stack; those made last are kept, since one takes a second. */
export function toneTableOf(stack: InkStack): ToneTable {
  const key = JSON.stringify(stack);
  const table = known.get(key) ?? new ToneTable(stack.inks.length, solveTable(stack));
  known.delete(key);
  known.set(key, table);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
  return table;
}
