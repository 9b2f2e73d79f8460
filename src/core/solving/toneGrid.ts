import { type Lab, decodeSrgb, encodeSrgb, labFromLinear } from '../colour';
import type { InkStack } from './inkStack';

// By name: a look-up for each of millions of calls is slow where globals stand behind a proxy, as under the test runner.
const { floor } = Math;

/** Colours that fade out. */
export interface Fade {
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
export class Grid {
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

/** A grid with a colour between any two of another one. */
export function refine(coarse: Grid): Grid {
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
