import type { InkStack } from './inkStack';
import { TABLE_SIDE } from './codes';
import type { FieldsRequest } from './toneFields';
import { solveDraft, solveFade, solveTable } from './solveTable';

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

  /** @param solved coverages 0..1 of `count` inks, as `solveTable` gives them, or the entries of a table that was solved elsewhere. */
  constructor(count: number, solved: Float64Array | Uint16Array) {
    const lanes = Math.ceil(count / LANES) * LANES;
    this.count = count;
    this.lanes = lanes;
    if (solved instanceof Uint16Array) {
      if (solved.length !== TABLE_SIDE ** 3 * lanes) throw new RangeError('entries of another table');
      this.entries = solved;
      return;
    }
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

/** Steps of opacity between which the coverages of a fade are interpolated. */
const FADE_STEPS = 4;

/** A table that colours of a stack are looked up in. */
export interface TableWish {
  readonly stack: InkStack;
  /** Of the colours, in quarters: 4 of those that are opaque, 1 to 3 of those that fade out on several garments at once. */
  readonly opacity: number;
}

/** A table of eight inks has half a megabyte. */
const MOST_KNOWN = 24;

interface KnownTable extends TableWish {
  readonly table: ToneTable;
}

/** The tables that were asked for last, by their keys, since one takes a second. */
const known = new Map<string, KnownTable>();
/** The last draft of each opacity. */
const drafts = new Map<number, { readonly key: string; readonly table: ToneTable }>();

/** What a table is known by: stacks that print alike have the same. */
export function tableKey({ stack, opacity }: TableWish): string {
  const { grounds, inks, inkLimit } = stack;
  return JSON.stringify([opacity, grounds, inks, inkLimit]);
}

/** The table that was made or kept for a wish; undefined where there is none. */
export function knownTable(wish: TableWish): ToneTable | undefined {
  return known.get(tableKey(wish))?.table;
}

/** Keeps a table that was made elsewhere. */
export function keepTable(wish: TableWish, table: ToneTable): void {
  const key = tableKey(wish);
  known.delete(key);
  known.set(key, { ...wish, table });
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
}

/** Makes a table, or has the one that is known. */
export function tableOf(wish: TableWish): ToneTable {
  const { stack, opacity } = wish;
  const draft = stack.draft && !knownTable(wish) ? draftOf(wish) : null;
  if (draft) return draft;
  const { length: count } = stack.inks;
  const table =
    knownTable(wish) ??
    (opacity === FADE_STEPS
      ? new ToneTable(count, solveTable(stack))
      : new ToneTable(count, solveFade(stack, opacity / FADE_STEPS, toneTableOf(stack))));
  keepTable(wish, table);
  return table;
}

/** The last table that has as many inks and garments as a wish, which drafts of it are made from. */
function tableNear({ stack, opacity }: TableWish): KnownTable | undefined {
  return [...known.values()].findLast(
    (each) =>
      each.opacity === opacity &&
      each.stack.inks.length === stack.inks.length &&
      each.stack.grounds.length === stack.grounds.length,
  );
}

/** Whether a draft of a table could be shown while it is found with care. */
export function canBeDraft(wish: TableWish): boolean {
  return tableNear(wish) !== undefined;
}

/** A draft of a table, from the last one that has as many inks and garments; null where there is none. */
function draftOf(wish: TableWish): ToneTable | null {
  const { stack, opacity } = wish;
  const key = tableKey(wish);
  const last = drafts.get(opacity);
  if (last?.key === key) return last.table;
  const near = tableNear(wish);
  if (!near) return null;
  // Fades are seen less exactly: those that are known stand for them.
  const table =
    opacity === FADE_STEPS ? new ToneTable(stack.inks.length, solveDraft(stack, near.table)) : near.table;
  drafts.set(opacity, { key, table });
  return table;
}

/** The tables that opaque colours of a stack need, and those that fade out on all its garments, in the order in which they are made. */
export function tablesOf(stack: InkStack, fades: boolean): TableWish[] {
  const steps = Array.from({ length: FADE_STEPS - 1 }, (_, k) => ({ stack, opacity: k + 1 }));
  return [{ stack, opacity: FADE_STEPS }, ...(fades ? steps : [])];
}

/** The table of a stack. */
export function toneTableOf(stack: InkStack): ToneTable {
  return tableOf({ stack, opacity: FADE_STEPS });
}

/** The table up to which an opacity of 0..255 lies. */
const STEP_OF = Uint8Array.from({ length: 256 }, (_, alpha) =>
  Math.min(FADE_STEPS - 1, Math.floor((alpha / 255) * FADE_STEPS)),
);

/** Colours that fade out, gathered from a picture. */
export interface FadesRequest {
  /** Codes of sRGB, red in the lowest byte, opacity in the highest. */
  readonly colours: Uint32Array;
  /** Places of the colours that fade out among those. */
  readonly at: Int32Array;
  /** One for each ink, as long as `colours`: takes the tones of those places. */
  readonly planes: readonly Uint16Array[];
  /** `toneFields`, or its compiled twin. */
  readonly toneFields: (request: FieldsRequest) => void;
}

/** What colours that fade out print on several garments at once. */
export class FadeTables {
  private readonly tables: readonly ToneTable[];
  private readonly low: Uint16Array;
  private readonly high: Uint16Array;

  constructor(stack: InkStack) {
    const [whole, ...steps] = tablesOf(stack, true).map(tableOf);
    this.tables = [...steps, whole!];
    this.low = new Uint16Array(stack.inks.length);
    this.high = new Uint16Array(stack.inks.length);
  }

  /** What `find` says of many colours, those of a step of opacity together. Loops are written out: there are millions of places. */
  fields({ colours, at, planes, toneFields }: FadesRequest): void {
    const places = new Int32Array(at.length);
    const gathered = new Uint32Array(at.length);
    const part = new Float64Array(at.length);
    const wanted = new Uint8Array(at.length).fill(1);
    for (let step = 0; step < FADE_STEPS; step++) {
      let count = 0;
      for (let n = 0; n < at.length; n++) {
        const colour = colours[at[n]!]!;
        if (STEP_OF[colour >>> 24] !== step) continue;
        places[count] = at[n]!;
        gathered[count] = colour;
        part[count++] = ((colour >>> 24) / 255) * FADE_STEPS - step;
      }
      if (count === 0) continue;
      const lookUp = (table: ToneTable) => {
        const found = planes.map(() => new Uint16Array(count));
        const some = gathered.subarray(0, count);
        toneFields({ table, colours: some, wanted: wanted.subarray(0, count), planes: found });
        return found;
      };
      const high = lookUp(this.tables[step]!);
      // Of no opacity nothing prints.
      const low = step > 0 ? lookUp(this.tables[step - 1]!) : planes.map(() => new Uint16Array(count));
      planes.forEach((plane, k) => between(low[k]!, high[k]!, part, places, plane));
    }
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
    const step = STEP_OF[colour >>> 24]!;
    // Of no opacity nothing prints.
    if (step === 0) low.fill(0);
    else made[step - 1]!.find(r, g, b, low);
    made[step]!.find(r, g, b, high);
    for (let k = 0; k < tones.length; k++) {
      tones[k] = Math.round(low[k]! + (place - step) * (high[k]! - low[k]!));
    }
  }
}

/** Tones between two tables', put at their places. */
function between(
  low: Uint16Array,
  high: Uint16Array,
  part: Float64Array,
  places: Int32Array,
  plane: Uint16Array,
): void {
  for (let i = 0; i < low.length; i++) {
    // None is negative: cut, a half more is rounded.
    plane[places[i]!] = (low[i]! + part[i]! * (high[i]! - low[i]!) + 0.5) | 0;
  }
}
