import type { InkStack } from './inkStack';
import { TABLE_SIDE } from './codes';
import { solveFade, solveTable } from './solveTable';

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

/** A table of eight inks has half a megabyte. */
const MOST_KNOWN = 8;

/** Tables of the stacks that were asked for last, since one takes a second. */
class KnownTables<T> {
  private readonly known = new Map<string, T>();

  of(stack: InkStack, make: () => T): T {
    const key = JSON.stringify(stack);
    const made = this.known.get(key) ?? make();
    this.known.delete(key);
    this.known.set(key, made);
    if (this.known.size > MOST_KNOWN) this.known.delete(this.known.keys().next().value!);
    return made;
  }
}

const solved = new KnownTables<Float64Array>();
const tables = new KnownTables<ToneTable>();
const fades = new KnownTables<readonly ToneTable[]>();

const solvedTable = (stack: InkStack) => solved.of(stack, () => solveTable(stack));

/** The table of a stack. */
export function toneTableOf(stack: InkStack): ToneTable {
  return tables.of(stack, () => new ToneTable(stack.inks.length, solvedTable(stack)));
}

/** Steps of opacity between which the coverages of a fade are interpolated. */
const FADE_STEPS = 4;

/** What colours that fade out print on several garments at once. */
export class FadeTables {
  private readonly tables: readonly ToneTable[];
  private readonly low: Uint16Array;
  private readonly high: Uint16Array;

  constructor(stack: InkStack) {
    const { length: count } = stack.inks;
    this.tables = fades.of(stack, () =>
      Array.from({ length: FADE_STEPS }, (_, k) =>
        k === FADE_STEPS - 1
          ? toneTableOf(stack)
          : new ToneTable(count, solveFade(stack, (k + 1) / FADE_STEPS, solvedTable(stack))),
      ),
    );
    this.low = new Uint16Array(count);
    this.high = new Uint16Array(count);
  }

  /**
   * Coverages of a colour, 0..65535.
   *
   * @param colour codes of sRGB, red in the lowest byte, opacity in the highest.
   * @param tones takes one for each ink.
   */
  find(colour: number, tones: Uint16Array): void {
    const { tables: made, low, high } = this;
    const [r, g, b] = [colour & 255, (colour >> 8) & 255, (colour >> 16) & 255];
    const place = ((colour >>> 24) / 255) * FADE_STEPS;
    const step = Math.min(FADE_STEPS - 1, Math.floor(place));
    // Of no opacity nothing prints.
    if (step === 0) low.fill(0);
    else made[step - 1]!.find(r, g, b, low);
    made[step]!.find(r, g, b, high);
    for (let k = 0; k < tones.length; k++) {
      tones[k] = Math.round(low[k]! + (place - step) * (high[k]! - low[k]!));
    }
  }
}
