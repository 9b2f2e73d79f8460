import {
  type Lab,
  type LinearRgb,
  type Rgb8,
  labFromLinear,
  linearFromRgb8,
  parseHexColour,
  printOver,
} from '../colour';
import type { JobSheet, Plate } from '../sheet';
import { opticsOf } from './predictFlat';

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

export interface Screen {
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
    const backing = strength > 0 ? printOver(garment, opticsOf(base!.ink), strength) : garment;
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

/** An ink at its tint, as the print model sees it. */
export function screenOf(plate: Plate, tint: number): Screen {
  return { ...opticsOf(plate.ink), tint };
}

/** Two colours mixed by their codes, as programs that draw do: `t` of p. */
export function mixCoded(p: Rgb8, q: Rgb8, t: number): Rgb8 {
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
  const offAt = (wanted: Lab, p: number, q: number) => {
    const lab = printed(p, q);
    return (lab[0] - wanted[0]) ** 2 + (lab[1] - wanted[1]) ** 2 + (lab[2] - wanted[2]) ** 2;
  };
  let [a, b] = [0, 1];
  for (let step = 1; step < WAY_STEPS; step++) {
    const t = step / WAY_STEPS;
    const wanted = labFromLinear(between(t));
    const halfBefore = labFromLinear(between(t - 0.5 / WAY_STEPS));
    const halfBehind = labFromLinear(between(t + 0.5 / WAY_STEPS));
    const before = [a, b] as const;
    const cost = (p: number, q: number) => {
      const moved = step === 1 ? 0 : (p - before[0]) ** 2 + (q - before[1]) ** 2;
      // Between the steps amounts are interpolated: what lies half way must print as well.
      const half = offAt(halfBefore, (p + before[0]) / 2, (q + before[1]) / 2);
      const last = step === WAY_STEPS - 1 ? offAt(halfBehind, (p + 1) / 2, q / 2) : 0;
      return offAt(wanted, p, q) + half + last + STAY ** 2 * moved;
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
