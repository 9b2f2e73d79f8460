import { CellModel, cellsOf } from './cellModel';
import { type Ground, type InkStack, type PrintModel, StackModel } from './inkStack';

/** The inks of each nest of a stack, two and more, by their places. */
export function nestsOf({ inks }: Pick<InkStack, 'inks'>): number[][] {
  const known = [...new Set(inks.flatMap(({ nest }) => (nest === undefined ? [] : [nest])))];
  return known
    .map((nest) => inks.flatMap((ink, k) => (ink.nest === nest ? [k] : [])))
    .filter((members) => members.length > 1);
}

/** The print model of a stack on one of its garments. */
export function modelOf(stack: InkStack, ground: Ground = stack.grounds[0]!): PrintModel {
  const inner = cellsOf(stack).length > 0 ? new CellModel(stack, ground) : new StackModel(stack, ground);
  const nests = nestsOf(stack);
  return nests.length > 0 ? new NestedModel(inner, nests) : inner;
}

/**
 * The print model of dots that lie in each other: those of one grid, round the same middles. Of a nest an ink prints where the screen's thresholds are below its coverage, so that
 * the inks of larger coverage lie under or over those of smaller coverage everywhere, and a cell has one part more than it has different coverages. The print
 * is the mean of these parts by area (Neugebauer 1937), each printed as `inner` prints it; parts of several nests meet by chance (Demichel 1924).
 */
export class NestedModel implements PrintModel {
  readonly count: number;
  private readonly inner: PrintModel;
  private readonly nests: readonly (readonly number[])[];
  /** For each ink its nest, or -1. */
  private readonly nestOf: Int32Array;
  /** Of the part that is printed: coverages, those of nests 0 or 1; and for each nest how wide it is, as a share of the cell, and the coverage that ends it. */
  private readonly part: Float64Array;
  private readonly widths: Float64Array;
  private readonly ends: Float64Array;
  private readonly light = new Float64Array(3);
  private readonly sum = new Float64Array(3);
  private readonly partSlopes: Float64Array;
  private readonly found: Float64Array;

  constructor(inner: PrintModel, nests: readonly (readonly number[])[]) {
    const { count } = inner;
    this.inner = inner;
    this.nests = nests;
    this.count = count;
    this.nestOf = Int32Array.from({ length: count }, (_, k) =>
      nests.findIndex((members) => members.includes(k)),
    );
    this.part = new Float64Array(count);
    this.widths = new Float64Array(nests.length);
    this.ends = new Float64Array(nests.length);
    this.partSlopes = new Float64Array(count * 3);
    this.found = new Float64Array(count * 3);
  }

  /** Finds the slopes with the light: both need the parts of the cells. */
  print(tones: Float64Array, light: Float64Array): void {
    this.sum.fill(0);
    this.found.fill(0);
    this.part.set(tones);
    this.printParts(0, tones, 1);
    light.set(this.sum);
  }

  slopes(_tones: Float64Array, slopes: Float64Array): void {
    slopes.set(this.found);
  }

  /** Every part of the cells of one nest after another, from their bare rims to their middles. @param share of the parts of the nests before it. */
  private printParts(nest: number, tones: Float64Array, share: number): void {
    const members = this.nests[nest];
    if (!members) return this.printPart(tones, share);
    for (let from = 1; ;) {
      let ends = 0;
      for (const k of members) {
        const tone = tones[k]!;
        this.part[k] = tone >= from ? 1 : 0;
        if (tone < from && tone > ends) ends = tone;
      }
      this.ends[nest] = ends;
      this.widths[nest] = from - ends;
      this.printParts(nest + 1, tones, share * (from - ends));
      if (ends === 0) return;
      from = ends;
    }
  }

  private printPart(tones: Float64Array, share: number): void {
    const { inner, part, light, sum, partSlopes, found, nestOf, widths, ends } = this;
    inner.print(part, light);
    inner.slopes(part, partSlopes);
    for (let c = 0; c < 3; c++) sum[c]! += share * light[c]!;
    for (let k = 0; k < this.count; k++) {
      const nest = nestOf[k]!;
      let weight = share;
      if (nest >= 0) {
        // An ink that grows takes from the part that it ends; one that fills the cell can only give up what it has at the rim.
        const isRim = tones[k]! >= 1 && ends[nest]! + widths[nest]! >= 1;
        if (tones[k] !== ends[nest] && !isRim) continue;
        weight = share / widths[nest]!;
      }
      for (let c = 0; c < 3; c++) found[k * 3 + c]! += weight * partSlopes[k * 3 + c]!;
    }
  }
}
