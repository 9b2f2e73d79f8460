import {
  type LinearRgb,
  type Rgb8,
  labFromLinear,
  linearFromRgb8,
  parseHexColour,
  printOver,
} from '../colour';
import type { JobSheet, Plate } from '../sheet';

/** Steps of the table of a way. */
export const WAY_STEPS = 16;

/**
 * How two inks print the colours between them: for each step from the second colour alone to the first one alone, how much of each
 * prints, 0..1. Dots that lie independently of each other leave base bare and overlap, so shares that sum to 1 would print a
 * milky band.
 */
export interface Way {
  readonly first: Float64Array;
  readonly second: Float64Array;
}

/** The ways of a pair for artwork that was mixed in coded and in linear light. */
export interface PairWays {
  readonly coded: Way;
  readonly linear: Way;
}

interface Screen {
  readonly colour: LinearRgb;
  readonly opacity: number;
  readonly tint: number;
}

/** Ways that were worked out, by everything that they depend on: a change of a job seldom changes them. */
const known = new Map<string, PairWays>();
const MOST_KNOWN = 512;

/** The way between each two colours of a job's transitions, as the print model has it; null where shares are as good. */
export function waysOf(sheet: JobSheet): (PairWays | null)[] {
  return (sheet.transitions ?? []).map(([one, other]) => wayBetween(sheet, one, other));
}

function wayBetween(sheet: JobSheet, one: string, other: string): PairWays | null {
  const entryOf = (colour: string) =>
    sheet.palette.find((each) => each.colour === colour && each.within === null);
  const [p, q] = [entryOf(one), entryOf(other)];
  const plateOf = (id: string | null | undefined) => sheet.plates.find((plate) => plate.id === id);
  const [first, second] = [plateOf(p?.plateId), plateOf(q?.plateId)];
  // Where the garment is one end, the ink fades out by itself; dots that interlock lie beside each other.
  if (!p || !q || !first || !second || first === second) return null;
  const { interlock } = first.screen;
  if (interlock !== null && interlock === second.screen.interlock) return null;
  const base = sheet.plates.find((plate) => plate.role === 'underbase');
  const strength = base ? Math.max(first.baseStrength, second.baseStrength) : 0;
  const firstIsUnder = sheet.plates.indexOf(first) < sheet.plates.indexOf(second);
  const key = JSON.stringify([
    [one, p.tint, first.ink, firstIsUnder],
    [other, q.tint, second.ink],
    strength > 0 ? [base!.ink, strength] : null,
    sheet.garment.colour,
  ]);
  let ways = known.get(key);
  if (!ways) {
    const garment = linearFromRgb8(parseHexColour(sheet.garment.colour));
    const backing = strength > 0 ? printOver(garment, opticsOf(base!), strength) : garment;
    const screens = [screenOf(first, p.tint), screenOf(second, q.tint)] as const;
    const ends = [parseHexColour(one), parseHexColour(other)] as const;
    const solve = (between: (t: number) => LinearRgb) => solveWay(screens, firstIsUnder, backing, between);
    ways = {
      coded: solve((t) => linearFromRgb8(mixCoded(...ends, t))),
      linear: solve((t) => mixLight(linearFromRgb8(ends[0]), linearFromRgb8(ends[1]), t)),
    };
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(key, ways);
  }
  return ways;
}

function opticsOf({ ink }: Plate): { colour: LinearRgb; opacity: number } {
  return { colour: linearFromRgb8(parseHexColour(ink.colour)), opacity: ink.opacity };
}

function screenOf(plate: Plate, tint: number): Screen {
  return { ...opticsOf(plate), tint };
}

function mixCoded(p: Rgb8, q: Rgb8, t: number): Rgb8 {
  return p.map((code, c) => Math.round(q[c]! + (code - q[c]!) * t)) as unknown as Rgb8;
}

function mixLight(p: LinearRgb, q: LinearRgb, t: number): LinearRgb {
  return [q[0] + (p[0] - q[0]) * t, q[1] + (p[1] - q[1]) * t, q[2] + (p[2] - q[2]) * t];
}

/** Widths of the searches round what was found before. */
const SEARCH = [0.1, 0.03, 0.01];
/** What a step costs that leaves the one before, in CIELAB units for its whole range: ways must not jump. */
const STAY = 3;

/**
 * The amounts of both inks, step by step, that print nearest to the colours between them. Their sum is at least 1: base between the dots of both
 * would show.
 *
 * @param between the artwork's colour at a share of the first, in linear light.
 */
function solveWay(
  [one, other]: readonly [Screen, Screen],
  firstIsUnder: boolean,
  backing: LinearRgb,
  between: (t: number) => LinearRgb,
): Way {
  const first = new Float64Array(WAY_STEPS + 1);
  const second = new Float64Array(WAY_STEPS + 1);
  [first[WAY_STEPS], second[0]] = [1, 1];
  const printed = (a: number, b: number) => {
    const [under, over, u, o] = firstIsUnder
      ? ([one, other, a * one.tint, b * other.tint] as const)
      : ([other, one, b * other.tint, a * one.tint] as const);
    return labFromLinear(printOver(printOver(backing, under, u), over, o));
  };
  let [a, b] = [0, 1];
  for (let step = 1; step < WAY_STEPS; step++) {
    const t = step / WAY_STEPS;
    const wanted = labFromLinear(between(t));
    const before = [a, b] as const;
    const cost = (p: number, q: number) => {
      const lab = printed(p, q);
      const off = (lab[0] - wanted[0]) ** 2 + (lab[1] - wanted[1]) ** 2 + (lab[2] - wanted[2]) ** 2;
      const moved = step === 1 ? 0 : (p - before[0]) ** 2 + (q - before[1]) ** 2;
      return off + STAY ** 2 * moved;
    };
    let least = Infinity;
    const attempt = (p: number, q: number) => {
      if (p < 0 || p > 1 || q < 0 || q > 1 || p + q < 1) return;
      const each = cost(p, q);
      if (each < least) [least, a, b] = [each, p, q];
    };
    for (let i = 0; i <= 10; i++) for (let j = 10 - i; j <= 10; j++) attempt(i / 10, j / 10);
    for (const width of SEARCH) {
      const [p, q] = [a, b];
      for (let i = -3; i <= 3; i++) {
        for (let j = -3; j <= 3; j++) attempt(p + (i * width) / 3, q + (j * width) / 3);
      }
    }
    first[step] = a;
    second[step] = b;
  }
  return { first, second };
}

/** What a way has at a share of the first colour, 0..65535 of each ink. */
export function onWay({ first, second }: Way, share: number): readonly [first: number, second: number] {
  const at = share * WAY_STEPS;
  const step = Math.min(WAY_STEPS - 1, Math.floor(at));
  const part = at - step;
  const between = (amounts: Float64Array) =>
    Math.round((amounts[step]! + (amounts[step + 1]! - amounts[step]!) * part) * 65535);
  return [between(first), between(second)];
}

/**
 * The base and the inks that only fade out, where their dots lie in each other: on one screen, smaller dots grow inside of larger ones. Inks
 * that interlock say so themselves; those that also meet other inks in transitions are taken as independent.
 */
export function nestedPlates({ transitions, palette, plates }: JobSheet): ReadonlySet<string> {
  const base = plates.find((plate) => plate.role === 'underbase');
  if (!base || !transitions || base.screen.screening !== 'grid') return new Set();
  const isOnScreenOfBase = ({ screen }: Plate) =>
    JSON.stringify({ ...screen, gain: 0, measured: null }) ===
    JSON.stringify({ ...base.screen, gain: 0, measured: null });
  const inks = plates.filter((plate) => {
    if (plate === base || plate.baseStrength === 0 || plate.screen.interlock !== null) return false;
    const colours = new Set(palette.flatMap(({ colour, plateId }) => (plateId === plate.id ? [colour] : [])));
    const own = transitions.filter((pair) => pair.some((colour) => colours.has(colour)));
    return own.length > 0 && own.every(([one, other]) => one === other) && isOnScreenOfBase(plate);
  });
  return new Set(inks.length > 0 ? [base.id, ...inks.map(({ id }) => id)] : []);
}

/** Tries of a fade's amount, evenly from none to all. */
const FADE_TRIES = 250;

/**
 * How an ink fades out into the garment: for each step of opacity the share of it that prints nearest to the artwork, which mixes its codes with the
 * garment's. The base under it fades as the square of the ink. Null where the colour has no ink.
 */
export function fadeOf(sheet: JobSheet, colour: string): Float64Array | null {
  const entry = sheet.palette.find((each) => each.colour === colour && each.within === null);
  const plate = sheet.plates.find((each) => each.id === entry?.plateId);
  if (!entry || !plate) return null;
  const base = sheet.plates.find((each) => each.role === 'underbase');
  const garment = parseHexColour(sheet.garment.colour);
  const ground = linearFromRgb8(garment);
  const ink = screenOf(plate, entry.tint);
  // Dots of the base that lie under the ink's dots show nowhere beside them.
  const isNested = nestedPlates(sheet).has(plate.id);
  const printed = (share: number) => {
    const strength = base ? plate.baseStrength * share * share : 0;
    const amount = share * ink.tint;
    if (strength === 0) return labFromLinear(printOver(ground, ink, amount));
    if (!isNested) return labFromLinear(printOver(printOver(ground, opticsOf(base!), strength), ink, amount));
    const onBase = printOver(printOver(ground, opticsOf(base!), 1), ink, 1);
    const under = Math.min(strength, amount);
    const bare = printOver(ground, ink, 1);
    const mix = (c: 0 | 1 | 2) => under * onBase[c] + (amount - under) * bare[c] + (1 - amount) * ground[c];
    return labFromLinear([mix(0), mix(1), mix(2)]);
  };
  const tries = Array.from({ length: FADE_TRIES + 1 }, (_, k) => printed(k / FADE_TRIES));
  const shares = new Float64Array(WAY_STEPS + 1);
  shares[WAY_STEPS] = 1;
  let least = 0;
  for (let step = 1; step < WAY_STEPS; step++) {
    const mixed = mixCoded(parseHexColour(colour), garment, step / WAY_STEPS);
    const wanted = labFromLinear(linearFromRgb8(mixed));
    let best = Infinity;
    let at = least;
    // It never prints less where the artwork shows more.
    for (let k = least; k <= FADE_TRIES; k++) {
      const lab = tries[k]!;
      const off = (lab[0] - wanted[0]) ** 2 + (lab[1] - wanted[1]) ** 2 + (lab[2] - wanted[2]) ** 2;
      if (off < best) [best, at] = [off, k];
    }
    least = at;
    shares[step] = at / FADE_TRIES;
  }
  return shares;
}

/** The share of an ink at an opacity of the artwork, 0..65535. */
export function onFade(shares: Float64Array, opacity: number): number {
  const at = Math.min(1, Math.max(0, opacity)) * WAY_STEPS;
  const step = Math.min(WAY_STEPS - 1, Math.floor(at));
  return Math.round((shares[step]! + (shares[step + 1]! - shares[step]!) * (at - step)) * 65535);
}

/** The fades of a job's colours that fade out, by their colour. */
export function fadesOf(sheet: JobSheet): ReadonlyMap<string, Float64Array> {
  const fades = new Map<string, Float64Array>();
  for (const [one, other] of sheet.transitions ?? []) {
    const fade = one === other ? fadeOf(sheet, one) : null;
    if (fade) fades.set(one, fade);
  }
  return fades;
}
