import { ColourSolver } from './colourSolver';
import { TABLE_SIDE } from './codes';
import type { InkStack } from './inkStack';
import { LoneDots } from './loneDots';
import { Grid, refine } from './toneGrid';

/** Colours along each side of the table that is solved first; of the one that is made from it TABLE_SIDE. */
const COARSE = 17;

/** How strongly a colour's coverages are pulled to the mean of its six neighbours', pass after pass: there are many ways to print a colour, and neighbours must take the same. */
const COARSE_PULLS = [400, 400, 300, 200, 100, 100];
const FINE_PULLS = [400, 300];
/** Steps of the method for a colour at a time: it is come back to. */
const STEPS = 3;

/**
 * How much of each ink prints each colour of sRGB: coverages 0..1 for TABLE_SIDE codes along each side, red slowest and blue fastest, inks together.
 * Every colour is solved for, then pulled towards its neighbours and solved again, so that a gradient of the artwork is one of every plate.
 */
export function solveTable(stack: InkStack): Float64Array {
  const solver = new ColourSolver(stack);
  const coarse = new Grid(COARSE, solver.count, null);
  startGrid(coarse, solver);
  for (const weight of COARSE_PULLS) relax(coarse, solver, weight);
  const fine = refine(coarse);
  for (const weight of FINE_PULLS) relax(fine, solver, weight);
  new LoneDots(stack, solver).leaveOut(fine);
  return fine.tones;
}

/** Coverages 0..65535 for TABLE_SIDE codes along each side, `lanes` of each colour together. */
interface ToneEntries {
  readonly lanes: number;
  readonly entries: Uint16Array;
}

/** Steps of the method, and the pull to neighbours, of a draft. */
const DRAFT_STEPS = 2;
const DRAFT_PULL = 100;

/**
 * The same, coarsely and many times sooner, for inks that are a little other than those of a table that is known: its coverages solved once more on the coarse grid. For what is
 * shown while a hand drags.
 */
export function solveDraft(stack: InkStack, from: ToneEntries): Float64Array {
  const solver = new ColourSolver(stack);
  const coarse = new Grid(COARSE, solver.count, null);
  const step = (TABLE_SIDE - 1) / (COARSE - 1);
  for (let node = 0; node < coarse.labs.length; node++) {
    const [r, g, b] = coarse.placeOf(node);
    const at = ((r * step * TABLE_SIDE + g * step) * TABLE_SIDE + b * step) * from.lanes;
    const own = coarse.at(node);
    for (let k = 0; k < own.length; k++) own[k] = from.entries[at + k]! / 65535;
  }
  relax(coarse, solver, DRAFT_PULL, DRAFT_STEPS);
  return refine(coarse).tones;
}

/** Colours along each side of a fade's tables that are solved: what fades is seen less exactly, and there are several of them. */
const FADE_SIDE = 9;
/** How strongly coverages of a fade are pulled to their neighbours', pass after pass. */
const FADE_PULLS = [200, 100];

/**
 * The same for colours that fade out: over each garment of a stack they are to print as they look there, their codes mixed with the garment's as programs that draw
 * mix.
 *
 * @param opacity of the colours, above 0 and below 1.
 * @param whole the table of opaque colours, at whose part of the opacity every colour begins.
 */
export function solveFade(stack: InkStack, opacity: number, whole: ToneEntries): Float64Array {
  const solver = new ColourSolver(stack);
  const coarse = new Grid(FADE_SIDE, solver.count, { grounds: stack.grounds, opacity });
  const step = (TABLE_SIDE - 1) / (FADE_SIDE - 1);
  for (let node = 0; node < coarse.labs.length; node++) {
    const [r, g, b] = coarse.placeOf(node);
    const from = ((r * step * TABLE_SIDE + g * step) * TABLE_SIDE + b * step) * whole.lanes;
    const own = coarse.at(node);
    for (let k = 0; k < own.length; k++) own[k] = (whole.entries[from + k]! / 65535) * opacity;
    solver.solve(coarse.labs[node]!, own, null, STEPS * 2);
  }
  for (const weight of FADE_PULLS) relax(coarse, solver, weight);
  return refine(refine(coarse)).tones;
}

/** Each colour from where the one before it led, along a way through the grid that never jumps, or from nothing where that is better. */
function startGrid(grid: Grid, solver: ColourSolver): void {
  const { side } = grid;
  const before = new Float64Array(solver.count);
  const other = new Float64Array(solver.count);
  const starts = [0.15, 0.5].map((tone) => new Float64Array(solver.count).fill(tone));
  for (let r = 0; r < side; r++) {
    for (let j = 0; j < side; j++) {
      const g = r % 2 === 0 ? j : side - 1 - j;
      for (let k = 0; k < side; k++) {
        const b = (r + j) % 2 === 0 ? k : side - 1 - k;
        const node = (r * side + g) * side + b;
        let value = solver.solve(grid.labs[node]!, before, null, STEPS);
        for (const start of starts) {
          other.set(start);
          const found = solver.solve(grid.labs[node]!, other, null, STEPS);
          if (found >= value) continue;
          value = found;
          before.set(other);
        }
        grid.at(node).set(before);
      }
    }
  }
}

/** Pulls every colour towards its neighbours, one after another. */
function relax(grid: Grid, solver: ColourSolver, weight: number, steps = STEPS): void {
  const mean = new Float64Array(solver.count);
  const anchor = { tones: mean, weight };
  const tones = new Float64Array(solver.count);
  for (let node = 0; node < grid.labs.length; node++) {
    const own = grid.at(node);
    grid.around(node, mean);
    for (let k = 0; k < tones.length; k++) tones[k] = (own[k]! + mean[k]!) / 2;
    solver.solve(grid.labs[node]!, tones, anchor, steps);
    own.set(tones);
  }
}
