import { type Lab, ciede2000, labFromLinear } from '../colour';
import { ColourSolver } from './colourSolver';
import { modelOf } from './nestedModel';
import type { InkStack, PrintModel } from './inkStack';
import type { WeighedColour } from './weighColours';

/** How near inks come to the colours of an artwork. All are CIEDE2000. */
export interface Closeness {
  readonly mean: number;
  /** Less than this on 95 % of the print. */
  readonly p95: number;
  /** How far the print moves on average when its dots gain GAIN_ERROR more, or less, than they are expected to. */
  readonly wander: number;
  /** How far it moves on average when one plate lies off by the press's tolerance; 0 where edges were not looked at. */
  readonly register: number;
}

/** What a press's gain is off by, as coverage at 50 %. Common practice, no source. */
export const GAIN_ERROR = 0.05;

/** How near inks come on each garment of a stack, and on the mean of them. */
export interface ClosenessByGround extends Closeness {
  readonly grounds: readonly Closeness[];
}

/** The coverages that inks print some colours with, and how near that comes. */
export interface JudgedInks extends ClosenessByGround {
  /** By colour: 0..1 of each ink. */
  readonly tones: readonly Float64Array[];
}

/** Where the solver begins with a colour: at one coverage for all inks, or at those of a similar set of inks. */
export interface SolverStarts {
  readonly even: readonly number[];
  readonly from: readonly Float64Array[] | null;
  /** A difference below which a colour is not begun once more; left out: every start is tried. */
  readonly enough?: number;
}

/**
 * Solves for every colour and measures what the inks print.
 *
 * @param steps of the solver for each start at most.
 */
export function judgeInks(
  stack: InkStack,
  colours: readonly WeighedColour[],
  { even, from, enough }: SolverStarts,
  steps: number,
): JudgedInks {
  const count = stack.inks.length;
  const solver = new ColourSolver(stack);
  const tones: Float64Array[] = [];
  const tried = new Float64Array(count);
  colours.forEach(({ lab }, i) => {
    const best = new Float64Array(count);
    let least = Infinity;
    for (let start = from ? -1 : 0; start < even.length; start++) {
      if (start < 0) tried.set(from![i]!);
      else tried.fill(even[start]!);
      const worth = solver.solve([lab], tried, null, steps);
      if (worth >= least) continue;
      least = worth;
      best.set(tried);
      if (enough !== undefined && solver.difference([lab], best) < enough) break;
    }
    tones.push(best);
  });
  const grounds = stack.grounds.map((ground) => judgePrint(modelOf(stack, ground), colours, tones));
  const meanOf = (of: (each: Closeness) => number) =>
    grounds.reduce((sum, each) => sum + of(each), 0) / grounds.length;
  return {
    mean: meanOf(({ mean }) => mean),
    p95: meanOf(({ p95 }) => p95),
    wander: meanOf(({ wander }) => wander),
    register: meanOf(({ register }) => register),
    grounds,
    tones,
  };
}

/** Coverages of all inks at which the solver begins with a colour: of several valleys it takes the lowest it finds. */
export const STARTS = [0, 0.15, 0.5];
export const MANY_STEPS = 8;

/** The coverages that a stack prints colours with, one after another: 0..1 of each ink. */
export function solveColours(stack: InkStack, colours: readonly WeighedColour[]): readonly Float64Array[] {
  return judgeInks(stack, colours, { even: STARTS, from: null }, MANY_STEPS).tones;
}

/** What coverages print on one garment, against the colours. */
function judgePrint(
  model: PrintModel,
  colours: readonly WeighedColour[],
  tones: readonly Float64Array[],
): Closeness {
  const differences = new Float64Array(colours.length);
  const off = new Float64Array(model.count);
  let [mean, wander, register] = [0, 0, 0];
  colours.forEach(({ lab, share, edge }, i) => {
    const printed = labOf(model, tones[i]!);
    differences[i] = ciede2000(printed, lab);
    mean += share * differences[i]!;
    if (edge) {
      register += edge.share * offAtEdge(model, tones[i]!, tones[edge.beside]!, printed, off);
      return;
    }
    for (const way of [-1, 1]) {
      tones[i]!.forEach((tone, k) => (off[k] = tone + way * GAIN_ERROR * 4 * tone * (1 - tone)));
      wander += 0.5 * share * ciede2000(labOf(model, off), printed);
    }
  });
  return { mean, p95: percentile(differences, colours), wander, register };
}

/** How far a print moves on average where one plate after the other prints what it should beside. */
function offAtEdge(
  model: PrintModel,
  tones: Float64Array,
  beside: Float64Array,
  printed: Lab,
  off: Float64Array,
): number {
  let [sum, moved] = [0, 0];
  for (let k = 0; k < tones.length; k++) {
    off.set(tones);
    off[k] = beside[k]!;
    sum += ciede2000(labOf(model, off), printed);
    moved++;
  }
  return moved === 0 ? 0 : sum / moved;
}

const light = new Float64Array(3);

function labOf(model: PrintModel, tones: Float64Array) {
  model.print(tones, light);
  return labFromLinear([light[0]!, light[1]!, light[2]!]);
}

/** The difference that is not passed on 95 % of the print. */
function percentile(differences: Float64Array, colours: readonly WeighedColour[]): number {
  const order = [...differences.keys()].sort((p, q) => differences[p]! - differences[q]!);
  let share = 0;
  for (const i of order) {
    share += colours[i]!.share;
    if (share >= 0.95) return differences[i]!;
  }
  return order.length === 0 ? 0 : differences[order.at(-1)!]!;
}
