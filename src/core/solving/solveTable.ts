import { type Lab, decodeSrgb, encodeSrgb, labFromLinear } from '../colour';
import { ColourSolver } from './colourSolver';
import { TABLE_SIDE } from './codes';
import type { InkStack } from './inkStack';

// By name: a look-up for each of millions of calls is slow where globals stand behind a proxy, as under the test runner.
const { floor } = Math;

/** Colours along each side of the table that is solved first; of the one that is made from it TABLE_SIDE. */
const COARSE = 17;

/** How strongly a colour's coverages are pulled to the mean of its six neighbours', pass after pass: there are many ways to print a colour, and neighbours must take the same. */
const COARSE_PULLS = [400, 400, 300, 200, 100, 100];
const FINE_PULLS = [400, 300];
/** Steps of the method for a colour at a time: it is come back to. */
const STEPS = 3;

interface Fade {
  readonly grounds: InkStack['grounds'];
  /** Of the codes, 0..1. */
  readonly opacity: number;
}

const plain = new Map<number, readonly (readonly Lab[])[]>();

/** The colours of a grid's codes as they are. */
function plainLabs(side: number): readonly (readonly Lab[])[] {
  const known = plain.get(side) ?? labsOf(side, null);
  plain.set(side, known);
  return known;
}

function labsOf(side: number, fade: Fade | null): readonly (readonly Lab[])[] {
  const codes = Array.from({ length: side }, (_, k) => k / (side - 1));
  const over = fade?.grounds.map(({ garment }) => garment.map(encodeSrgb)) ?? [[0, 0, 0]];
  const opacity = fade?.opacity ?? 1;
  const mix = (code: number, ground: number) => decodeSrgb(code * opacity + ground * (1 - opacity));
  return codes.flatMap((r) =>
    codes.flatMap((g) =>
      codes.map((b) =>
        over.map((ground) => labFromLinear([mix(r, ground[0]!), mix(g, ground[1]!), mix(b, ground[2]!)])),
      ),
    ),
  );
}

/** Coverages of inks for a grid of sRGB codes, red slowest and blue fastest, inks together. */
class Grid {
  readonly side: number;
  readonly count: number;
  readonly tones: Float64Array;
  /** The colours that each code is to print as, one for all garments or one for each. */
  readonly labs: readonly (readonly Lab[])[];

  /** @param fade the garments that codes are mixed with, and how much of each code there is; null: codes as they are. */
  constructor(side: number, count: number, fade: Fade | null) {
    this.side = side;
    this.count = count;
    this.tones = new Float64Array(side ** 3 * count);
    this.labs = fade ? labsOf(side, fade) : plainLabs(side);
  }

  at(node: number): Float64Array {
    return this.tones.subarray(node * this.count, (node + 1) * this.count);
  }

  /** Of a node along each side. */
  placeOf(node: number): [number, number, number] {
    const { side } = this;
    return [floor(node / (side * side)), floor(node / side) % side, node % side];
  }

  /** The mean of a node's neighbours along the sides, those inside of the grid. */
  around(node: number, mean: Float64Array): void {
    const { side, count, tones } = this;
    const place = this.placeOf(node);
    const strides = [side * side, side, 1];
    mean.fill(0);
    let found = 0;
    for (let axis = 0; axis < 3; axis++) {
      for (const way of [-1, 1]) {
        const next = place[axis]! + way;
        if (next < 0 || next >= side) continue;
        const from = (node + way * strides[axis]!) * count;
        for (let k = 0; k < count; k++) mean[k]! += tones[from + k]!;
        found++;
      }
    }
    for (let k = 0; k < count; k++) mean[k]! /= found;
  }
}

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

/** A grid with a colour between any two of another one. */
function refine(coarse: Grid): Grid {
  const { count, side } = coarse;
  const fine = new Grid(side * 2 - 1, count, null);
  for (let node = 0; node < fine.labs.length; node++) {
    const place = fine.placeOf(node);
    const low = place.map((each) => each >> 1);
    const odd = place.map((each) => each & 1);
    const own = fine.at(node);
    let corners = 0;
    for (let corner = 0; corner < 8; corner++) {
      const add = [(corner >> 2) & 1, (corner >> 1) & 1, corner & 1];
      if (add.some((each, axis) => each > odd[axis]!)) continue;
      const at = low.map((each, axis) => each + add[axis]!);
      const tones = coarse.at((at[0]! * side + at[1]!) * side + at[2]!);
      for (let k = 0; k < count; k++) own[k]! += tones[k]!;
      corners++;
    }
    for (let k = 0; k < count; k++) own[k]! /= corners;
  }
  return fine;
}
