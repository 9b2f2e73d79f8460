import type { InkOptics, LinearRgb } from '../colour';

/** A garment that inks print on. */
export interface Ground {
  /** Linear light of it. */
  readonly garment: LinearRgb;
  /** Places of the inks whose screens do not run for it, rising. */
  readonly without: readonly number[];
}

/** Inks in print order, on one garment or on several that the same films print on. Dots lie independently of each other but for those that divide cells or lie in each other. */
export interface InkStack {
  readonly grounds: readonly Ground[];
  readonly inks: readonly StackInk[];
  /** Whether its table is found coarsely, at once, from one that is known; left out: with care. */
  readonly draft?: true;
  /** What the coverages of `counted` inks add up to at most; left out: no limit. */
  readonly inkLimit?: number;
}

export interface StackInk extends InkOptics {
  /** What a full layer of it costs when a colour can be printed in several ways, see `solveColour`. */
  readonly cost: InkCost;
  /** What a full layer costs more, or less where it is negative, as a square of a colour difference; left out: nothing. */
  readonly bias?: number;
  /** Whether it is the black of process colour, which is led by the darkness of the colour that is printed. */
  readonly isBlack?: true;
  /** Whether the stack's limit counts it. */
  readonly counted?: true;
  /** Coverage below which its dots stand so far apart that each is seen where it differs much from what is round it; left out: they may. */
  readonly lone?: number;
  /** Left out for dots that lie independently of all others. */
  readonly cell?: CellPlace;
  /** Inks of the same number have their dots in each other, on one grid; left out for others. */
  readonly nest?: number;
}

/** How an ink lies in the cells that several divide among them. */
export interface CellPlace {
  /** Inks of the same number divide their cells. */
  readonly group: number;
  /** A base under the others of its group, which all lie on it; it prints before them. */
  readonly under: boolean;
}

/** The light of a print as its inks' coverages make it. */
export interface PrintModel {
  readonly count: number;
  /**
   * Light of a print.
   *
   * @param tones coverage of each ink, 0..1.
   * @param light takes three channels, linear.
   */
  print(tones: Float64Array, light: Float64Array): void;
  /**
   * How the light of the last `print` changes with the coverage of each ink.
   *
   * @param slopes takes three channels of each ink.
   */
  slopes(tones: Float64Array, slopes: Float64Array): void;
}

/**
 * `none`: only as much as all have. `spare`: a little, for a white on top that the base can mostly stand for. `dark`: more the lighter the colour
 * is that it would darken, so that dark dots stay out of light tones.
 */
export type InkCost = 'none' | 'spare' | 'dark';

/** What covers nothing and lets everything through. */
export const NOTHING: InkOptics = { colour: [1, 1, 1], opacity: 0 };

/**
 * The print model of dots that lie independently of each other, with its numbers at hand: x ← x + a·(o·C + (1 − o)·x·C − x) for ink after ink, in linear light (Demichel 1924, Neugebauer
 * 1937). A full layer makes p + q·x of a backing x.
 */
export class StackModel implements PrintModel {
  readonly count: number;
  private readonly garment: Float64Array;
  /** o·C of each ink, three channels each. */
  private readonly opaque: Float64Array;
  /** (1 − o)·C − 1. */
  private readonly change: Float64Array;
  /** Light before each ink, three channels each, of the last `print`; behind the last ink that of the print. */
  private readonly before: Float64Array;

  /** @param ground what it prints on; left out: the stack's first. */
  constructor({ grounds, inks: all }: InkStack, { garment, without }: Ground = grounds[0]!) {
    // A screen that does not run leaves the light as it is.
    const inks = all.map((ink, k) => (without.includes(k) ? NOTHING : ink));
    this.count = inks.length;
    this.garment = Float64Array.from(garment);
    this.opaque = Float64Array.from(inks.flatMap(({ colour, opacity }) => colour.map((c) => opacity * c)));
    this.change = Float64Array.from(
      inks.flatMap(({ colour, opacity }) => colour.map((c) => (1 - opacity) * c - 1)),
    );
    this.before = new Float64Array((inks.length + 1) * 3);
  }

  print(tones: Float64Array, light: Float64Array): void {
    const { before, opaque, change, garment } = this;
    let r = garment[0]!;
    let g = garment[1]!;
    let b = garment[2]!;
    for (let k = 0, i = 0; k < this.count; k++, i += 3) {
      const a = tones[k]!;
      before[i] = r;
      before[i + 1] = g;
      before[i + 2] = b;
      r += a * (opaque[i]! + change[i]! * r);
      g += a * (opaque[i + 1]! + change[i + 1]! * g);
      b += a * (opaque[i + 2]! + change[i + 2]! * b);
    }
    light[0] = r;
    light[1] = g;
    light[2] = b;
  }

  slopes(tones: Float64Array, slopes: Float64Array): void {
    const { before, opaque, change } = this;
    // What the inks on top let through of a change under them.
    let r = 1;
    let g = 1;
    let b = 1;
    for (let k = this.count - 1, i = k * 3; k >= 0; k--, i -= 3) {
      slopes[i] = r * (opaque[i]! + change[i]! * before[i]!);
      slopes[i + 1] = g * (opaque[i + 1]! + change[i + 1]! * before[i + 1]!);
      slopes[i + 2] = b * (opaque[i + 2]! + change[i + 2]! * before[i + 2]!);
      const a = tones[k]!;
      r *= 1 + a * change[i]!;
      g *= 1 + a * change[i + 1]!;
      b *= 1 + a * change[i + 2]!;
    }
  }
}
