import { labFromLinear } from '../colour';
import { modelOf } from './nestedModel';
import type { ColourSolver } from './colourSolver';
import type { InkStack, PrintModel } from './inkStack';
import type { Grid } from './toneGrid';

/** A dot that differs by this much in lightness (L*) from what is round it is seen by itself. */
const SEEN = 30;
/** Leaving lone dots out may take a colour this much farther off, as the solver weighs it (about CIEDE2000). */
const MOST_COST = 1;
/** Pull to the mean of the neighbours, so that what makes up for dots that are left out is even. */
const PULL = 100;
const STEPS = 4;

/**
 * Leaves inks out where their dots would stand alone and be seen: a few dark dots in skin, a few white ones in a shadow. The other inks are solved for again. Where they
 * cannot make up for it the dots stay.
 */
export class LoneDots {
  private readonly least: readonly number[];
  private readonly solver: ColourSolver;
  private readonly models: readonly { readonly model: PrintModel; readonly without: readonly number[] }[];
  private readonly light = new Float64Array(3);

  constructor(stack: InkStack, solver: ColourSolver) {
    // A base that others of its cells lie on goes with them.
    this.least = stack.inks.map(({ lone, cell }) => (cell?.under ? 0 : (lone ?? 0)));
    this.solver = solver;
    this.models = stack.grounds.map((ground) => ({ model: modelOf(stack, ground), without: ground.without }));
  }

  leaveOut(grid: Grid): void {
    if (this.least.every((share) => share === 0)) return;
    const { count } = grid;
    /** For each colour the inks that are left out, one bit each. */
    const closed = new Uint32Array(grid.labs.length);
    const tones = new Float64Array(count);
    for (let node = 0; node < closed.length; node++) closed[node] = this.settle(grid, node, tones);
    const mean = new Float64Array(count);
    for (let node = 0; node < closed.length; node++) {
      if (closed[node] === 0) continue;
      const own = grid.at(node);
      grid.around(node, mean);
      this.solver.solve(grid.labs[node]!, own, { tones: mean, weight: PULL }, STEPS, closed[node]);
    }
  }

  /** Leaves out what can be of a colour, what has the fewest dots first; returns which inks, one bit each. */
  private settle(grid: Grid, node: number, tones: Float64Array): number {
    const own = grid.at(node);
    const labs = grid.labs[node]!;
    let closed = 0;
    let tried = 0;
    let before = -1;
    for (let k = this.loneOf(own, tried); k >= 0; k = this.loneOf(own, tried)) {
      if (before < 0) before = this.solver.difference(labs, own);
      tried |= 1 << k;
      tones.set(own);
      tones[k] = 0;
      this.solver.solve(labs, tones, null, STEPS, closed | (1 << k));
      if (this.solver.difference(labs, tones) > before + MOST_COST) continue;
      own.set(tones);
      closed |= 1 << k;
    }
    return closed;
  }

  /** The ink with the fewest dots of those whose dots stand alone and are seen; -1 where none do. */
  private loneOf(tones: Float64Array, tried: number): number {
    let found = -1;
    for (let k = 0; k < tones.length; k++) {
      const tone = tones[k]!;
      if (tone <= 0 || tone >= this.least[k]! || (tried & (1 << k)) !== 0) continue;
      if ((found < 0 || tone < tones[found]!) && this.contrastOf(tones, k) >= SEEN) found = k;
    }
    return found;
  }

  /** How much an ink's dots differ in lightness from what is round them, on the garment where they do most. */
  private contrastOf(tones: Float64Array, k: number): number {
    const own = tones[k]!;
    let most = 0;
    for (const { model, without } of this.models) {
      if (without.includes(k)) continue;
      tones[k] = 1;
      const dot = this.lightnessOf(model, tones);
      tones[k] = 0;
      most = Math.max(most, Math.abs(dot - this.lightnessOf(model, tones)));
    }
    tones[k] = own;
    return most;
  }

  private lightnessOf(model: PrintModel, tones: Float64Array): number {
    const { light } = this;
    model.print(tones, light);
    return labFromLinear([light[0]!, light[1]!, light[2]!])[0];
  }
}
