import {
  type Lab,
  type LinearRgb,
  type Rgb8,
  labFromLinear,
  linearFromRgb8,
  parseHexColour,
  printOver,
} from '../colour';
import { type JobSheet, type Plate, garmentOf, paletteOf, transitionsOf } from '../sheet';
import { baseUnder } from './baseUnder';
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
  return (transitionsOf(sheet) ?? []).map(([one, other]) => wayBetween(sheet, one, other));
}

function wayBetween(sheet: JobSheet, one: string, other: string): PairWays | null {
  const entryOf = (colour: string) =>
    paletteOf(sheet).find((each) => each.colour === colour && each.within === null);
  const [p, q] = [entryOf(one), entryOf(other)];
  const plateOf = (id: string | null | undefined) => sheet.plates.find((plate) => plate.id === id);
  const [first, second] = [plateOf(p?.plateId), plateOf(q?.plateId)];
  // Where the garment is one end, the ink fades out by itself; dots that interlock lie beside each other.
  if (!p || !q || !first || !second || first === second) return null;
  // What the base prints itself lies below the other colour as its base.
  if (first.role === 'underbase' || second.role === 'underbase') return null;
  const { interlock } = first.screen;
  if (interlock !== null && interlock === second.screen.interlock) return null;
  const base = sheet.plates.find((plate) => plate.role === 'underbase');
  const strength = base ? Math.max(baseUnder(sheet, p), baseUnder(sheet, q)) : 0;
  const firstIsUnder = sheet.plates.indexOf(first) < sheet.plates.indexOf(second);
  const key = JSON.stringify([
    [one, p.tint, first.ink, firstIsUnder],
    [other, q.tint, second.ink],
    strength > 0 ? [base!.ink, strength] : null,
    garmentOf(sheet).colour,
  ]);
  let ways = known.get(key);
  if (!ways) {
    const garment = linearFromRgb8(parseHexColour(garmentOf(sheet).colour));
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

/** Amounts that the first search of a way tries, evenly from none to all. */
const TRIES = 12;
/** Widths of the searches round what was found before. */
const SEARCH = [0.04, 0.02, 0.01];
/** What a step costs that leaves the one before, in CIELAB units for its whole range: ways must not jump. */
const STAY = 3;

/** How far the print of some amounts is from a colour, squared CIELAB. */
type Off = (wanted: Lab, first: number, second: number) => number;

/**
 * The amounts of both inks, step by step, that print nearest to the colours between them, also half way between two steps, where amounts are
 * interpolated. Their sum is at least 1: base between the dots of both would show.
 *
 * @param between the artwork's colour at a share of the first, in linear light.
 */
function solveWay(
  [one, other]: readonly [Screen, Screen],
  firstIsUnder: boolean,
  backing: LinearRgb,
  between: (t: number) => LinearRgb,
): Way {
  const printed = (a: number, b: number) => {
    const [under, over, u, o] = firstIsUnder
      ? ([one, other, a * one.tint, b * other.tint] as const)
      : ([other, one, b * other.tint, a * one.tint] as const);
    return labFromLinear(printOver(printOver(backing, under, u), over, o));
  };
  const off: Off = (wanted, a, b) => squaredDistance(printed(a, b), wanted);
  const wanted = Array.from({ length: 2 * WAY_STEPS + 1 }, (_, k) =>
    labFromLinear(between(k / (2 * WAY_STEPS))),
  );
  const way = roughWay(printed, wanted);
  for (const width of SEARCH) refineWay(way, off, wanted, width);
  return way;
}

function squaredDistance(p: Lab, q: Lab): number {
  return (p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 + (p[2] - q[2]) ** 2;
}

/**
 * The best way over evenly spread amounts: the cheapest path through all steps, found step by step (dynamic programming).
 *
 * @param wanted the colours of the steps and of what lies half way between them.
 */
function roughWay(printed: (a: number, b: number) => Lab, wanted: readonly Lab[]): Way {
  // Half way between two amounts lies on a grid of twice as many.
  const side = 2 * TRIES + 1;
  const labs = Array.from({ length: side * side }, (_, k) =>
    printed((k % side) / (2 * TRIES), Math.floor(k / side) / (2 * TRIES)),
  );
  const states: (readonly [i: number, j: number])[] = [];
  for (let j = 0; j <= TRIES; j++) for (let i = TRIES - j; i <= TRIES; i++) states.push([i, j]);
  const start = states.findIndex(([i, j]) => i === 0 && j === TRIES);
  const end = states.findIndex(([i, j]) => i === TRIES && j === 0);
  let costs = states.map((_, k) => (k === start ? 0 : Infinity));
  const from: Int32Array[] = [];
  for (let step = 1; step <= WAY_STEPS; step++) {
    const half = Float64Array.from(labs, (lab) => squaredDistance(lab, wanted[2 * step - 1]!));
    const came = new Int32Array(states.length);
    costs = states.map(([i, j], k) => {
      let least = Infinity;
      states.forEach(([p, q], before) => {
        const moved = STAY ** 2 * (((i - p) / TRIES) ** 2 + ((j - q) / TRIES) ** 2);
        const cost = costs[before]! + half[i + p + (j + q) * side]! + moved;
        if (cost < least) [least, came[k]] = [cost, before];
      });
      return least + squaredDistance(labs[2 * i + 2 * j * side]!, wanted[2 * step]!);
    });
    from.push(came);
  }
  const first = new Float64Array(WAY_STEPS + 1);
  const second = new Float64Array(WAY_STEPS + 1);
  for (let step = WAY_STEPS, state = end; step >= 0; step--) {
    [first[step], second[step]] = [states[state]![0] / TRIES, states[state]![1] / TRIES];
    if (step > 0) state = from[step - 1]![state]!;
  }
  return { first, second };
}

/** Tries amounts a little beside those of each step; changes the way. */
function refineWay({ first, second }: Way, off: Off, wanted: readonly Lab[], width: number): void {
  for (let step = 1; step < WAY_STEPS; step++) {
    const cost = (a: number, b: number) =>
      [step - 1, step + 1].reduce(
        (sum, next) => {
          const half = off(wanted[step + next]!, (a + first[next]!) / 2, (b + second[next]!) / 2);
          return sum + half + STAY ** 2 * ((a - first[next]!) ** 2 + (b - second[next]!) ** 2);
        },
        off(wanted[2 * step]!, a, b),
      );
    const [a, b] = [first[step]!, second[step]!];
    let least = cost(a, b);
    for (let i = -2; i <= 2; i++) {
      for (let j = -2; j <= 2; j++) {
        const [p, q] = [a + (i * width) / 2, b + (j * width) / 2];
        if (p < 0 || p > 1 || q < 0 || q > 1 || p + q < 1) continue;
        const each = cost(p, q);
        if (each < least) [least, first[step], second[step]] = [each, p, q];
      }
    }
  }
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
