import { type LinearRgb, ciede2000, labFromLinear } from '../colour';
import { ColourSolver } from './colourSolver';
import { type StackInk, StackModel } from './inkStack';
import type { WeighedColour } from './weighColours';

/** How near inks come to the colours of an artwork. All are CIEDE2000. */
export interface Closeness {
  readonly mean: number;
  /** Less than this on 95 % of the print. */
  readonly p95: number;
  /** How far the print moves on average when its dots gain GAIN_ERROR more, or less, than they are expected to. */
  readonly wander: number;
}

/** What a press's gain is off by, as coverage at 50 %. Common practice, no source. */
export const GAIN_ERROR = 0.05;

/** The coverages that inks print some colours with, and how near that comes. */
export interface JudgedInks extends Closeness {
  /** By colour: 0..1 of each ink. */
  readonly tones: readonly Float64Array[];
  /** By colour, CIEDE2000. */
  readonly differences: Float64Array;
}

/** Where the solver begins with a colour: at one coverage for all inks, or at those of a similar set of inks. */
export interface SolverStarts {
  readonly even: readonly number[];
  readonly from: readonly Float64Array[] | null;
}

/**
 * Solves for every colour and measures what the inks print.
 *
 * @param inks in print order.
 * @param steps of the solver for each start at most.
 */
export function judgeInks(
  garment: LinearRgb,
  inks: readonly StackInk[],
  colours: readonly WeighedColour[],
  { even, from }: SolverStarts,
  steps: number,
): JudgedInks {
  const stack = { garment, inks };
  const solver = new ColourSolver(stack);
  const model = new StackModel(stack);
  const differences = new Float64Array(colours.length);
  const tones: Float64Array[] = [];
  const tried = new Float64Array(inks.length);
  let [mean, wander] = [0, 0];
  colours.forEach(({ lab, share }, i) => {
    const best = new Float64Array(inks.length);
    let least = Infinity;
    for (let start = from ? -1 : 0; start < even.length; start++) {
      if (start < 0) tried.set(from![i]!);
      else tried.fill(even[start]!);
      const worth = solver.solve(lab, tried, null, steps);
      if (worth >= least) continue;
      least = worth;
      best.set(tried);
    }
    tones.push(best);
    const printed = labOf(model, best);
    differences[i] = ciede2000(printed, lab);
    mean += share * differences[i]!;
    for (const way of [-1, 1]) {
      best.forEach((tone, k) => (tried[k] = tone + way * GAIN_ERROR * 4 * tone * (1 - tone)));
      wander += 0.5 * share * ciede2000(labOf(model, tried), printed);
    }
  });
  return { mean, p95: percentile(differences, colours), wander, tones, differences };
}

const light = new Float64Array(3);

function labOf(model: StackModel, tones: Float64Array) {
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
