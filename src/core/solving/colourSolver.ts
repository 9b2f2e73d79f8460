import {
  LINEAR_TO_WHITE_SHARES,
  type Lab,
  deltaE76,
  encodeSrgb,
  labCurve,
  labCurveSlope,
  labFromLinear,
  linearFromLab,
} from '../colour';
import { CellAreas } from './cellModel';
import { modelOf } from './nestedModel';
import type { InkStack, PrintModel } from './inkStack';

// By name: a look-up for each of millions of calls is slow where globals stand behind a proxy, as under the test runner.
const { abs, max, min, sqrt } = Math;

/** Keeps every coverage small where it makes no difference, in squares of colour differences for a full layer. */
const RIDGE = 2;
/** A full layer of an ink that is 100 darker (L*) than the colour costs as much as this square of a colour difference. */
const DARK_COST = 5;
/** A full layer of what the base can mostly stand for. */
const SPARE_COST = 0.3;

/** A full layer of any ink for the garment's own colour; less for colours beside it, up to so far (CIELAB). */
const NEEDLESS_COST = 30;
const NEAR_GARMENT = 12;

/** Process black: nothing up to a darkness (the least of 1 − R, 1 − G and 1 − B, of codes), and from there on as a curve up to the most. */
const BLACK_START = 0.15;
const BLACK_MOST = 0.9;
const BLACK_POWER = 1.5;
/** What a coverage of black that lies 1 away from it costs, twice, as a square of a colour difference. */
const BLACK_WEIGHT = 50;
/** The same for inks that add up to 1 more than their limit. */
const LIMIT_WEIGHT = 5000;

const MOST_STEPS = 6;
const MOST_HALVINGS = 4;
/** A step that gains less than this square of a colour difference is the last one. */
const LEAST_GAIN = 1e-4;
const SWEEPS = 12;

/** A wish that coverages lie near to others, such as those of neighbouring colours. */
export interface Anchor {
  readonly tones: Float64Array;
  /** What a coverage that is 1 away costs, twice, as a square of a colour difference. */
  readonly weight: number;
}

/**
 * Finds how much of each ink prints a colour, or the nearest to it that can be printed, on all garments of a stack alike: the Gauss-Newton method on the colour difference in lightness, chroma
 * and hue, each weighed as CIE94 and the lightness of CIEDE2000 do at the colour, inside of 0..1 by cyclic coordinate descent, with steps halved where they lead uphill.
 */
export class ColourSolver {
  readonly count: number;
  private readonly grounds: readonly {
    readonly model: PrintModel;
    readonly lab: Lab;
    readonly without: readonly number[];
    /** Light of the last print on it, and its weighed error in lightness, chroma and hue. */
    readonly light: Float64Array;
    readonly error: Float64Array;
    readonly target: Float64Array;
    /** From CIELAB to the weighed axes of the colour that is looked for, row after row. */
    readonly axes: Float64Array;
  }[];
  /** What the error on each garment counts. */
  private readonly weight: number;
  private readonly costs: InkStack['inks'];
  private readonly lightness: Float64Array;
  private readonly slopes: Float64Array;
  /** Of the weighed error on a garment in lightness, chroma and hue with each coverage, three for each ink. */
  private readonly jacobian: Float64Array;
  private readonly hessian: Float64Array;
  private readonly gradient: Float64Array;
  private readonly step: Float64Array;
  private readonly moved: Float64Array;
  private readonly linear: Float64Array;
  /** The place of process black, or -1, and the coverage that it is led to. */
  private readonly black: number;
  private blackWanted = 0;
  /** Inks that add up to the limit at most. */
  private readonly counted: readonly number[];
  private readonly limit: number;
  /** How inks divide cells; null where all are independent, and areas the same as coverages. */
  private readonly divided: CellAreas | null;
  private readonly areas: Float64Array;
  private readonly coverages: Float64Array;
  private readonly anchored: Float64Array;
  private closed = 0;

  constructor(stack: InkStack) {
    const n = stack.inks.length;
    this.count = n;
    this.grounds = stack.grounds.map((ground) => ({
      model: modelOf(stack, ground),
      lab: labFromLinear(ground.garment),
      without: ground.without,
      light: new Float64Array(3),
      error: new Float64Array(3),
      target: new Float64Array(3),
      axes: new Float64Array(9),
    }));
    this.weight = 1 / stack.grounds.length;
    this.costs = stack.inks;
    this.lightness = Float64Array.from(stack.inks, ({ colour }) => labFromLinear(colour)[0]);
    this.slopes = new Float64Array(n * 3);
    this.jacobian = new Float64Array(n * 3);
    this.hessian = new Float64Array(n * n);
    this.gradient = new Float64Array(n);
    this.step = new Float64Array(n);
    this.moved = new Float64Array(n);
    this.linear = new Float64Array(n);
    this.black = stack.inks.findIndex(({ isBlack }) => isBlack);
    this.counted = stack.inks.flatMap(({ counted }, k) => (counted ? [k] : []));
    this.limit = stack.inkLimit ?? Infinity;
    const divided = new CellAreas(stack);
    this.divided = divided.cells.length > 0 ? divided : null;
    this.areas = new Float64Array(n);
    this.coverages = new Float64Array(n);
    this.anchored = new Float64Array(n);
  }

  /**
   * Moves coverages to where they print a colour best.
   *
   * @param colours one for all garments, or one for each.
   * @param tones where to begin, 0..1 of each ink; takes the coverages that were found.
   * @param anchor where they would rather lie; null: anywhere.
   * @param mostSteps of the method; a colour that is solved again and again needs few at a time.
   * @param closed inks that print nothing, one bit each; their coverages are given as 0.
   * @returns what they are worth, see `worth`.
   */
  solve(
    colours: readonly Lab[],
    tones: Float64Array,
    anchor: Anchor | null,
    mostSteps = MOST_STEPS,
    closed = 0,
  ): number {
    this.aim(colours);
    this.closed = closed;
    const { divided, areas, anchored } = this;
    if (!divided) {
      const value = this.solveAreas(tones, anchor, mostSteps);
      this.keepLimit(tones);
      return value;
    }
    divided.ofTones(tones, areas);
    if (anchor) divided.ofTones(anchor.tones, anchored);
    const value = this.solveAreas(areas, anchor && { ...anchor, tones: anchored }, mostSteps);
    divided.toTones(areas, tones);
    return value;
  }

  /** Inks that add up to more than their limit are made less, all but black alike. */
  private keepLimit(tones: Float64Array): void {
    const over = this.overLimit(tones);
    if (over <= 0) return;
    const black = this.counted.includes(this.black) ? tones[this.black]! : 0;
    const colours = this.limit + over - black;
    for (const k of this.counted) if (k !== this.black) tones[k]! *= max(0, 1 - over / colours);
  }

  /** How much more than their limit inks add up to; negative where there is room. */
  private overLimit(tones: Float64Array): number {
    let sum = -this.limit;
    for (const k of this.counted) sum += tones[k]!;
    return sum;
  }

  /** Moves areas as `solve` moves coverages. */
  private solveAreas(tones: Float64Array, anchor: Anchor | null, mostSteps: number): number {
    let value = this.value(tones, anchor);
    for (let k = 0; k < mostSteps; k++) {
      this.linearise(tones, anchor);
      this.descend(tones);
      const gained = this.advance(tones, anchor, value);
      if (gained === null) break;
      const gain = value - gained;
      value = gained;
      if (gain < LEAST_GAIN) break;
    }
    return value;
  }

  /** What `solve` makes least: the square of the weighed difference, halved, with all costs. */
  worth(colours: readonly Lab[], tones: Float64Array): number {
    this.aim(colours);
    if (!this.divided) return this.value(tones, null);
    this.divided.ofTones(tones, this.areas);
    return this.value(this.areas, null);
  }

  /** How far a print is off a colour, as the solver weighs it (about CIEDE2000); of several garments the mean. */
  difference(colours: readonly Lab[], tones: Float64Array): number {
    this.worth(colours, tones);
    let sum = 0;
    for (const { error } of this.grounds) {
      sum += sqrt(error[0]! * error[0]! + error[1]! * error[1]! + error[2]! * error[2]!);
    }
    return this.weight * sum;
  }

  private isClosed(k: number): boolean {
    return (this.closed & (1 << k)) !== 0;
  }

  private aim(colours: readonly Lab[]): void {
    const { linear, lightness, weight } = this;
    this.costs.forEach(({ bias }, k) => (linear[k] = bias ?? 0));
    if (this.black >= 0) this.blackWanted = blackOf(colours);
    this.grounds.forEach((ground, g) => {
      const colour = colours[g] ?? colours[0]!;
      aimAt(colour, ground);
      const [l] = colour;
      this.costs.forEach(({ cost }, k) => {
        const darker = max(0, l - lightness[k]!) / 100;
        if (cost === 'dark') linear[k]! += weight * DARK_COST * darker * darker;
        if (cost === 'spare') linear[k]! += weight * SPARE_COST;
      });
      // A garment prints its own colour best: no ink is laid there only to be covered by another.
      const needless = weight * NEEDLESS_COST * max(0, 1 - deltaE76(ground.lab, colour) / NEAR_GARMENT);
      if (needless === 0) return;
      for (let k = 0; k < this.count; k++) if (!ground.without.includes(k)) linear[k]! += needless;
    });
  }

  /** What coverages are worth: half the square of the weighed difference, of several garments the mean, and what they cost. Leaves errors and light behind. */
  private value(tones: Float64Array, anchor: Anchor | null): number {
    const { linear, weight } = this;
    const coverages = this.coveragesOf(tones);
    const m = LINEAR_TO_WHITE_SHARES;
    let value = 0;
    for (const { model, light, error, axes, target } of this.grounds) {
      model.print(coverages, light);
      const [r, g, b] = [light[0]!, light[1]!, light[2]!];
      const fx = labCurve(m[0]! * r + m[1]! * g + m[2]! * b);
      const fy = labCurve(m[3]! * r + m[4]! * g + m[5]! * b);
      const fz = labCurve(m[6]! * r + m[7]! * g + m[8]! * b);
      const dl = 116 * fy - 16 - target[0]!;
      const da = 500 * (fx - fy) - target[1]!;
      const db = 200 * (fy - fz) - target[2]!;
      error[0] = axes[0]! * dl;
      error[1] = axes[4]! * da + axes[5]! * db;
      error[2] = axes[7]! * da + axes[8]! * db;
      value += 0.5 * weight * (error[0] * error[0] + error[1] * error[1] + error[2] * error[2]);
    }
    for (let k = 0; k < this.count; k++) {
      const tone = tones[k]!;
      value += 0.5 * RIDGE * tone * tone + linear[k]! * tone;
      if (!anchor) continue;
      const away = tone - anchor.tones[k]!;
      value += 0.5 * anchor.weight * away * away;
    }
    if (this.black >= 0) {
      const away = tones[this.black]! - this.blackWanted;
      value += 0.5 * BLACK_WEIGHT * away * away;
    }
    const over = this.overLimit(tones);
    if (over > 0) value += 0.5 * LIMIT_WEIGHT * over * over;
    return value;
  }

  private coveragesOf(areas: Float64Array): Float64Array {
    if (!this.divided) return areas;
    this.divided.toTones(areas, this.coverages);
    return this.coverages;
  }

  /** The gradient and the Gauss-Newton matrix at coverages whose error is at hand. */
  private linearise(tones: Float64Array, anchor: Anchor | null): void {
    const { count, hessian, gradient, linear } = this;
    hessian.fill(0);
    const stay = RIDGE + (anchor?.weight ?? 0);
    for (let p = 0; p < count; p++) {
      let slope = RIDGE * tones[p]! + linear[p]!;
      if (anchor) slope += anchor.weight * (tones[p]! - anchor.tones[p]!);
      gradient[p] = slope;
      hessian[p * count + p] = stay;
    }
    const { black } = this;
    if (black >= 0) {
      gradient[black]! += BLACK_WEIGHT * (tones[black]! - this.blackWanted);
      hessian[black * count + black]! += BLACK_WEIGHT;
    }
    this.addLimit(tones);
    for (const ground of this.grounds) this.addGround(tones, ground);
  }

  /** Adds what inks beyond their limit cost; up to it they are free. */
  private addLimit(tones: Float64Array): void {
    const over = this.overLimit(tones);
    if (over <= 0) return;
    for (const p of this.counted) {
      this.gradient[p]! += LIMIT_WEIGHT * over;
      for (const q of this.counted) this.hessian[p * this.count + q]! += LIMIT_WEIGHT;
    }
  }

  /** Adds what the error on one garment makes of the gradient and the matrix. */
  private addGround(
    tones: Float64Array,
    { model, light, error, axes }: ColourSolver['grounds'][number],
  ): void {
    const { count, slopes, jacobian, hessian, gradient, weight } = this;
    model.slopes(tones, slopes);
    this.divided?.turnSlopes(slopes);
    const m = LINEAR_TO_WHITE_SHARES;
    const [r, g, b] = [light[0]!, light[1]!, light[2]!];
    const sx = labCurveSlope(labCurve(m[0]! * r + m[1]! * g + m[2]! * b));
    const sy = labCurveSlope(labCurve(m[3]! * r + m[4]! * g + m[5]! * b));
    const sz = labCurveSlope(labCurve(m[6]! * r + m[7]! * g + m[8]! * b));
    for (let k = 0, i = 0; k < count; k++, i += 3) {
      const [dr, dg, db] = [slopes[i]!, slopes[i + 1]!, slopes[i + 2]!];
      const fx = sx * (m[0]! * dr + m[1]! * dg + m[2]! * db);
      const fy = sy * (m[3]! * dr + m[4]! * dg + m[5]! * db);
      const fz = sz * (m[6]! * dr + m[7]! * dg + m[8]! * db);
      const [ofA, ofB] = [500 * (fx - fy), 200 * (fy - fz)];
      jacobian[i] = axes[0]! * 116 * fy;
      jacobian[i + 1] = axes[4]! * ofA + axes[5]! * ofB;
      jacobian[i + 2] = axes[7]! * ofA + axes[8]! * ofB;
    }
    for (let p = 0, i = 0; p < count; p++, i += 3) {
      const [e, f, h] = [weight * jacobian[i]!, weight * jacobian[i + 1]!, weight * jacobian[i + 2]!];
      gradient[p]! += e * error[0]! + f * error[1]! + h * error[2]!;
      for (let q = 0, j = 0; q <= p; q++, j += 3) {
        const product = e * jacobian[j]! + f * jacobian[j + 1]! + h * jacobian[j + 2]!;
        hessian[p * count + q]! += product;
        if (q < p) hessian[q * count + p]! += product;
      }
    }
  }

  /** The step to the least value of the quadratic that leaves all coverages in 0..1, and in each cell as much as it has room for. */
  private descend(tones: Float64Array): void {
    const { count, hessian, gradient, step, divided } = this;
    step.fill(0);
    if (divided) return this.descendInCells(tones, divided);
    for (let sweep = 0; sweep < SWEEPS; sweep++) {
      let most = 0;
      for (let p = 0; p < count; p++) {
        if (this.isClosed(p)) continue;
        const wanted = step[p]! - gradient[p]! / hessian[p * count + p]!;
        const next = min(1 - tones[p]!, max(-tones[p]!, wanted));
        most = max(most, this.advanceOne(p, next - step[p]!));
      }
      if (most < 1e-5) return;
    }
  }

  /** The same for inks that divide cells. In a full cell none can have more unless another has less: every two of a cell exchange what is better exchanged. */
  private descendInCells(tones: Float64Array, { cells, cellOf }: CellAreas): void {
    const { count, hessian, step } = this;
    for (let sweep = 0; sweep < SWEEPS; sweep++) {
      let most = 0;
      for (let p = 0; p < count; p++) {
        if (this.isClosed(p)) continue;
        const cell = cells[cellOf[p]!];
        const wanted = -this.gradient[p]! / hessian[p * count + p]!;
        const room = cell ? this.roomIn(cell.members, tones) : 1 - tones[p]! - step[p]!;
        most = max(most, this.advanceOne(p, min(room, max(-tones[p]! - step[p]!, wanted))));
      }
      for (const { members } of cells) {
        if (this.roomIn(members, tones) > 1e-9) continue;
        for (const p of members) {
          for (const q of members) {
            if (q >= p) break;
            if (this.isClosed(p) || this.isClosed(q)) continue;
            const bend = hessian[p * count + p]! + hessian[q * count + q]! - 2 * hessian[p * count + q]!;
            const wanted = (this.gradient[q]! - this.gradient[p]!) / bend;
            const amount = min(tones[q]! + step[q]!, max(-tones[p]! - step[p]!, wanted));
            most = max(most, this.advanceOne(p, amount));
            this.advanceOne(q, -amount);
          }
        }
      }
      if (most < 1e-5) return;
    }
  }

  /** What is left of a cell. */
  private roomIn(members: readonly number[], tones: Float64Array): number {
    let room = 1;
    for (const k of members) room -= tones[k]! + this.step[k]!;
    return max(0, room);
  }

  /** Makes the step larger along one coverage, and the gradient that which is found there. Returns by how much. */
  private advanceOne(p: number, amount: number): number {
    const { count, hessian, gradient, step } = this;
    if (amount === 0) return 0;
    step[p]! += amount;
    for (let q = 0; q < count; q++) gradient[q]! += amount * hessian[p * count + q]!;
    return abs(amount);
  }

  /** Takes the step, or a part of it that leads downhill; null where none does. */
  private advance(tones: Float64Array, anchor: Anchor | null, value: number): number | null {
    const { count, step, moved } = this;
    for (let halving = 0, part = 1; halving <= MOST_HALVINGS; halving++, part /= 2) {
      for (let k = 0; k < count; k++) moved[k] = min(1, max(0, tones[k]! + part * step[k]!));
      const reached = this.value(moved, anchor);
      if (reached < value) {
        tones.set(moved);
        return reached;
      }
    }
    return null;
  }
}

/** How much process black a colour has, of several colours the mean. */
function blackOf(colours: readonly Lab[]): number {
  const all = colours.map((lab) => {
    const codes = linearFromLab(lab).map((channel) => encodeSrgb(min(1, max(0, channel))));
    const darkness = max(0, (1 - max(...codes) - BLACK_START) / (1 - BLACK_START));
    return BLACK_MOST * darkness ** BLACK_POWER;
  });
  return all.reduce((sum, each) => sum + each, 0) / all.length;
}

/** Sets the colour that is looked for on a garment, and how its axes of lightness, chroma and hue are weighed. */
function aimAt(
  [l, a, b]: Lab,
  { axes, target }: { readonly axes: Float64Array; readonly target: Float64Array },
): void {
  target[0] = l;
  target[1] = a;
  target[2] = b;
  const chroma = sqrt(a * a + b * b);
  const [u, v] = chroma > 1e-9 ? [a / chroma, b / chroma] : [1, 0];
  const middle = (l - 50) * (l - 50);
  axes[0] = 1 / (1 + (0.015 * middle) / sqrt(20 + middle));
  const ofChroma = 1 / (1 + 0.045 * chroma);
  const ofHue = 1 / (1 + 0.015 * chroma);
  axes[4] = u * ofChroma;
  axes[5] = v * ofChroma;
  axes[7] = -v * ofHue;
  axes[8] = u * ofHue;
}
