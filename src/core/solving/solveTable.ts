import { ColourSolver } from './colourSolver';
import { TABLE_SIDE } from './codes';
import type { InkStack } from './inkStack';
import { LoneDots } from './loneDots';
import { Grid, refine } from './toneGrid';

// By name: a look-up for each of millions of calls is slow where globals stand behind a proxy, as under the test runner.
const { floor, max, min } = Math;

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

/** Colours along each side that a draft is solved for, the steps of the method, and the pull to what was known. */
const DRAFT_SIDE = 9;
const DRAFT_STEPS = 2;
const DRAFT_PULL = 100;

/**
 * The same, coarsely and many times sooner, for inks that are a little other than those of a table that is known: the change of its coverages is solved for on a coarse grid, and added
 * with what lies between. For what is shown while a hand drags.
 */
export function solveDraft(stack: InkStack, from: ToneEntries): Float64Array {
  const solver = new ColourSolver(stack);
  const { count } = solver;
  const coarse = new Grid(DRAFT_SIDE, count, null);
  const step = (TABLE_SIDE - 1) / (DRAFT_SIDE - 1);
  const known = new Float64Array(count);
  const anchor = { tones: known, weight: DRAFT_PULL };
  for (let node = 0; node < coarse.labs.length; node++) {
    const [r, g, b] = coarse.placeOf(node);
    const at = ((r * step * TABLE_SIDE + g * step) * TABLE_SIDE + b * step) * from.lanes;
    const own = coarse.at(node);
    for (let k = 0; k < count; k++) own[k] = known[k] = from.entries[at + k]! / 65535;
    solver.solve(coarse.labs[node]!, own, anchor, DRAFT_STEPS);
    for (let k = 0; k < count; k++) own[k]! -= known[k]!;
  }
  return addChange(from, coarse, step);
}

/** Coverages with a change of them that is known at every so-manieth code along each side, linear between. */
function addChange(
  { entries, lanes }: ToneEntries,
  { tones: change, count, side }: Grid,
  step: number,
): Float64Array {
  const out = new Float64Array(TABLE_SIDE ** 3 * count);
  const before = Int32Array.from({ length: TABLE_SIDE }, (_, code) => min(side - 2, floor(code / step)));
  const behind = Float64Array.from(before, (place, code) => code / step - place);
  // Along each line of blue the change between four lines of the coarse grid, then between its codes.
  const line = new Float64Array(side * count);
  for (let r = 0, i = 0, at = 0; r < TABLE_SIDE; r++) {
    for (let g = 0; g < TABLE_SIDE; g++) {
      const first = (before[r]! * side + before[g]!) * side * count;
      const [x, y] = [behind[r]!, behind[g]!];
      for (let k = 0; k < line.length; k++) {
        const one = change[first + k]! * (1 - y) + change[first + side * count + k]! * y;
        const other = first + side * side * count + k;
        line[k] = one * (1 - x) + (change[other]! * (1 - y) + change[other + side * count]! * y) * x;
      }
      for (let b = 0; b < TABLE_SIDE; b++, i += count, at += lanes) {
        const from = before[b]! * count;
        const z = behind[b]!;
        for (let k = 0; k < count; k++) {
          const more = line[from + k]! * (1 - z) + line[from + count + k]! * z;
          out[i + k] = min(1, max(0, entries[at + k]! / 65535 + more));
        }
      }
    }
  }
  return out;
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
  // A wish for more base is one of solid colours: in a fade it would leave a light rim on dark garments.
  const solver = new ColourSolver({ ...stack, inks: stack.inks.map((ink) => ({ ...ink, bias: 0 })) });
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
