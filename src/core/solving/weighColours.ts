import { type Lab, type LinearRgb, labFromLinear, linearFromRgb8 } from '../colour';

/** A colour of the artwork, and the share of the print that has it or one near it. */
export interface WeighedColour {
  readonly lab: Lab;
  /** 0..1; those of all colours add up to 1. */
  readonly share: number;
  /** Set for the two sides of an edge, whose share is 0: another colour of the list that stands beside it, and how much of the print a plate that lies off would change so. */
  readonly edge?: { readonly beside: number; readonly share: number };
}

/** Five bits of each channel tell colours apart while they are counted; those of a cell are told by their mean. */
const BITS = 5;
const CELLS = 1 << (3 * BITS);

interface CountedCell {
  readonly lab: Lab;
  readonly count: number;
}

/** Three bits of each channel tell apart what stands beside each other: there are 131,000 different edges at most. */
const EDGE_BITS = 3;
const EDGE_CELLS = 1 << (3 * EDGE_BITS);

/** The cell of a colour, blue in its highest bits, among those by which edges are told apart. */
function edgeCell(colour: number): number {
  return ((colour >>> 15) & 0o700) | ((colour >>> 10) & 0o70) | ((colour >>> 5) & 7);
}

/** A cell's middle. */
function edgeLab(cell: number): Lab {
  const codeOf = (shift: number) => (((cell >> shift) & 7) << 5) + (255 >> (EDGE_BITS + 1));
  return labFromLinear(linearFromRgb8([codeOf(0), codeOf(3), codeOf(6)]));
}

/** Counts the colours of artwork, piece by piece. */
export class ColourCount {
  private readonly counts = new Float64Array(CELLS);
  private readonly sums = new Float64Array(CELLS * 3);
  /** By the cells of both sides of an edge, the lower one first, how often they stand beside each other. */
  private readonly edges = new Uint32Array(EDGE_CELLS * EDGE_CELLS);
  private pairs = 0;

  /**
   * @param colours codes of sRGB, red in the lowest byte.
   * @param printing 0 for pixels that print nothing.
   */
  add(colours: Uint32Array, printing: Uint8Array): void {
    const { counts, sums } = this;
    for (let i = 0; i < colours.length; i++) {
      if (printing[i] === 0) continue;
      const colour = colours[i]!;
      const [r, g, b] = [colour & 255, (colour >> 8) & 255, (colour >> 16) & 255];
      const cell = ((r >> 3) << (2 * BITS)) | ((g >> 3) << BITS) | (b >> 3);
      counts[cell]!++;
      sums[cell * 3]! += r;
      sums[cell * 3 + 1]! += g;
      sums[cell * 3 + 2]! += b;
    }
  }

  /**
   * Counts what stands beside each other: pixels and their neighbours to the right and below.
   *
   * @param width of the piece.
   */
  addEdges(colours: Uint32Array, printing: Uint8Array, width: number): void {
    for (let i = 0; i < colours.length; i++) {
      if (printing[i] === 0) continue;
      const cell = edgeCell(colours[i]!);
      const right = i + 1;
      if (right % width !== 0 && right < colours.length && printing[right] !== 0) {
        this.addEdge(cell, edgeCell(colours[right]!));
      }
      const below = i + width;
      if (below < colours.length && printing[below] !== 0) this.addEdge(cell, edgeCell(colours[below]!));
    }
  }

  private addEdge(one: number, other: number): void {
    this.pairs++;
    if (one === other) return;
    this.edges[one < other ? one * EDGE_CELLS + other : other * EDGE_CELLS + one]!++;
  }

  /**
   * Both sides of a few edges that stand for all, as colours of no area: each edge with a chance that follows how often it comes and how far its sides
   * are apart, and weighed so that sums over them are those over all (systematic sampling with probability proportional to size: Madow 1949).
   *
   * @param most edges.
   * @param first place in their list of the first of them.
   * @param part of an edge's change that a plate makes which lies off, for each pixel that stands beside another.
   */
  weighEdges(most: number, first: number, part: number): WeighedColour[] {
    const all: { one: Lab; other: Lab; count: number; size: number }[] = [];
    this.edges.forEach((count, key) => {
      if (count === 0) return;
      const [one, other] = [edgeLab(Math.floor(key / EDGE_CELLS)), edgeLab(key % EDGE_CELLS)];
      const apart = Math.hypot(one[0] - other[0], one[1] - other[1], one[2] - other[2]);
      all.push({ one, other, count, size: count * apart });
    });
    const total = all.reduce((sum, { size }) => sum + size, 0);
    const found: WeighedColour[] = [];
    let [passed, next] = [0, 0.5];
    for (const { one, other, count, size } of all) {
      passed += (size * most) / total;
      if (passed <= next) continue;
      // A frequent edge may stand for several.
      const times = Math.ceil(passed - next);
      next += times;
      const share = ((times * count * total) / (size * most) / this.pairs) * part;
      const place = first + found.length;
      found.push({ lab: one, share: 0, edge: { beside: place + 1, share: share / 2 } });
      found.push({ lab: other, share: 0, edge: { beside: place, share: share / 2 } });
    }
    return found;
  }

  /**
   * The colours counted, the many of them gathered to a few: the set that varies most is cut in two at its mean, along the axis of CIELAB on which it varies
   * most, until there are enough (after Wan, Prusinkiewicz and Wong, Variance-based color image quantization, 1990). Empty where nothing prints.
   *
   * @param most colours at most.
   */
  weigh(most: number): WeighedColour[] {
    const cells: CountedCell[] = [];
    this.counts.forEach((count, cell) => {
      if (count === 0) return;
      const mean = [0, 1, 2].map((c) => this.sums[cell * 3 + c]! / count) as [number, number, number];
      cells.push({ lab: labFromLinear(linearOfMean(mean)), count });
    });
    if (cells.length === 0) return [];
    const sets = [spreadOf(cells)];
    while (sets.length < most) {
      let widest = 0;
      sets.forEach(({ variance }, k) => {
        if (variance > sets[widest]!.variance) widest = k;
      });
      const { cells: whole, axis, mean, variance } = sets[widest]!;
      if (variance <= 0) break;
      const low = whole.filter(({ lab }) => lab[axis] <= mean[axis]);
      const high = whole.filter(({ lab }) => lab[axis] > mean[axis]);
      // Rounding may find a mean above all: what cannot be cut stays whole.
      if (high.length === 0 || low.length === 0) sets[widest] = { ...sets[widest]!, variance: 0 };
      else sets.splice(widest, 1, spreadOf(low), spreadOf(high));
    }
    const all = cells.reduce((sum, { count }) => sum + count, 0);
    return sets.map(({ mean, count }) => ({ lab: mean, share: count / all }));
  }
}

function linearOfMean(codes: readonly [number, number, number]): LinearRgb {
  const low = linearFromRgb8([Math.floor(codes[0]), Math.floor(codes[1]), Math.floor(codes[2])]);
  const high = linearFromRgb8([Math.ceil(codes[0]), Math.ceil(codes[1]), Math.ceil(codes[2])]);
  const between = (c: 0 | 1 | 2) => low[c] + (codes[c] - Math.floor(codes[c])) * (high[c] - low[c]);
  return [between(0), between(1), between(2)];
}

/** A set of cells: their mean, and the axis along which they vary most with their summed variance there. */
function spreadOf(cells: readonly CountedCell[]) {
  let count = 0;
  const sum = [0, 0, 0];
  const squares = [0, 0, 0];
  for (const { lab, count: own } of cells) {
    count += own;
    for (const c of [0, 1, 2] as const) {
      sum[c]! += own * lab[c];
      squares[c]! += own * lab[c] * lab[c];
    }
  }
  const mean = sum.map((each) => each / count) as [number, number, number];
  const variances = squares.map((each, c) => each - count * mean[c]! * mean[c]!);
  const variance = Math.max(...variances);
  return { cells, count, mean: mean as Lab, variance, axis: variances.indexOf(variance) as 0 | 1 | 2 };
}
