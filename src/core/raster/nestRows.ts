import { COVERAGE, type PrintLayer } from './printLayer';

const f = Math.fround;

/** Where the rows of `NestRows` lie: a mask for each layer, and one row of weights. */
export interface NestTarget {
  /** By layer: 255 where its dots are, 0 elsewhere; those of layers outside of nests are not touched. */
  readonly masks: readonly Uint8Array[];
  /** How much of a pixel a part has. */
  readonly weights: Float32Array;
}

interface Nest {
  readonly members: readonly number[];
  /** By member, for each pixel: how many of the nest are larger. */
  readonly ranks: readonly Uint8Array[];
  /** The areas, the largest first, for each pixel. */
  readonly sorted: readonly Float32Array[];
}

/** The places of layers whose dots lie in each other, nest by nest; those of two and more. */
export function nestsIn(layers: readonly PrintLayer[]): number[][] {
  const known = new Set(layers.map(({ nest }) => nest ?? null));
  return [...known]
    .map((nest) => layers.flatMap((layer, k) => (nest !== null && layer.nest === nest ? [k] : [])))
    .filter((members) => members.length > 1);
}

/**
 * Takes the pixels of a row apart where dots of some layers lie in each other: into parts in which each of these layers is there in full or not at all. A nest of n layers has n + 1
 * parts, from its bare rim to the middle where all are; those of several nests meet by chance.
 */
export class NestRows {
  private readonly layers: readonly PrintLayer[];
  private readonly width: number;
  private readonly target: NestTarget;
  private readonly nests: readonly Nest[];
  private readonly part: number[];

  constructor(layers: readonly PrintLayer[], width: number, target: NestTarget) {
    this.layers = layers;
    this.width = width;
    this.target = target;
    this.nests = nestsIn(layers).map((members) => ({
      members,
      ranks: members.map(() => new Uint8Array(width)),
      sorted: members.map(() => new Float32Array(width)),
    }));
    this.part = this.nests.map(() => 0);
  }

  /** Shows every part of a row that has an area, in the target. @param y row of the layers. */
  forEachPart(y: number, show: () => void): void {
    for (const nest of this.nests) this.sort(nest, y);
    this.showFrom(0, show);
  }

  private sort({ members, ranks, sorted }: Nest, y: number): void {
    const { layers, width } = this;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      for (let m = 0; m < members.length; m++) {
        const { shape, tone } = layers[members[m]!]!;
        const area = f(f(shape[i]! * (tone ? tone[i]! : 65535)) * COVERAGE);
        // Those before it that are as large stay before it.
        let rank = m;
        while (rank > 0 && sorted[rank - 1]![x]! < area) {
          sorted[rank]![x] = sorted[rank - 1]![x]!;
          rank--;
        }
        sorted[rank]![x] = area;
        for (let other = 0; other < m; other++) if (ranks[other]![x]! >= rank) ranks[other]![x]!++;
        ranks[m]![x] = rank;
      }
    }
  }

  private showFrom(first: number, show: () => void): void {
    const { nests, part, target } = this;
    if (first === nests.length) {
      if (this.weigh()) show();
      return;
    }
    const { members, ranks } = nests[first]!;
    for (let inked = 0; inked <= members.length; inked++) {
      part[first] = inked;
      members.forEach((k, m) => {
        const mask = target.masks[k]!;
        const rank = ranks[m]!;
        for (let x = 0; x < rank.length; x++) mask[x] = rank[x]! < inked ? 255 : 0;
      });
      this.showFrom(first + 1, show);
    }
  }

  /** The weights of the part that the target shows; false where none of the row is in it. */
  private weigh(): boolean {
    const { nests, part, width } = this;
    const { weights } = this.target;
    weights.fill(1);
    let any = false;
    nests.forEach(({ sorted }, n) => {
      const inked = part[n]!;
      const outer = inked > 0 ? sorted[inked - 1]! : null;
      const inner = sorted[inked] ?? null;
      for (let x = 0; x < width; x++) {
        weights[x] = f(weights[x]! * f((outer ? outer[x]! : 1) - (inner ? inner[x]! : 0)));
      }
    });
    for (let x = 0; x < width && !any; x++) any = weights[x]! > 0;
    return any;
  }
}
