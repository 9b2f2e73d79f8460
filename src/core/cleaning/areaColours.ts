import { EMPTY_ALPHA, OPAQUE_ALPHA, isLossy } from '../artwork';
import { type Rgb8, formatHexColour } from '../colour';
import { BARE, MIXED, namePixels } from '../raster';
import { PaletteLookup, markEdgePixels, removeDust } from '../separation';

/** Pieces of so many pixels are no areas that others are told by. */
const NOISE_PX = 2;
/** Mixtures of two colours that explain a colour this much better (sRGB codes) than one of them alone are taken. */
const WORTH_MIXING = 3;
/** What no colours that are near explain within so many sRGB codes is the nearest of all colours: a line too thin to have a pure pixel. */
const EXPLAINED = 45;

/** The colours that areas may have. */
export class AreaColours {
  private readonly palette: PaletteLookup;
  private readonly isDamaged: boolean;
  private best = BARE;

  /** @param purity CIELAB distance within which a pixel is one of the colours. */
  constructor(
    readonly colours: readonly Rgb8[],
    purity: number,
  ) {
    this.isDamaged = isLossy(purity);
    this.palette = new PaletteLookup({
      colours: colours.map((rgb) => ({ colour: formatHexColour(rgb), purity })),
      transitions: [],
      ways: [],
      fades: new Map(),
      edges: true,
    });
  }

  /** Which colour each pixel of a plane surely is, BARE where it is transparent, MIXED where it is an edge or damaged. */
  surely(data: Uint8Array, width: number, height: number): Uint8Array {
    const pixels = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
    const label = new Uint8Array(width * height);
    const known = this.palette.names;
    namePixels({ pixels, empty: EMPTY_ALPHA, opaque: OPAQUE_ALPHA, known, label });
    // The colour of an edge, or of compression's noise, may be that of an area elsewhere.
    markEdgePixels(label, pixels, width, height, this.palette);
    removeDust(label, width, height, NOISE_PX);
    if (this.isDamaged) this.markBetween(label, width, height);
    return label;
  }

  /** The same for edges that compression with halved colour resolution made wider: lines that have no square of DAMAGED_CORE of their colour, between two other ones of which it looks as a mixture. */
  private markBetween(label: Uint8Array, width: number, height: number): void {
    const wide = wideParts(label, width, height, DAMAGED_CORE);
    const doubtful: number[] = [];
    for (let i = 0; i < label.length; i++) if (label[i]! < BARE && !wide[i]) doubtful.push(i);
    const seen = label.slice();
    for (const i of doubtful) {
      const [x, y] = [i % width, Math.floor(i / width)];
      for (const [dx, dy] of ACROSS) {
        const one = firstBeside(seen, wide, width, height, x, y, dx, dy);
        const other = firstBeside(seen, wide, width, height, x, y, -dx, -dy);
        if (one < 0 || other < 0 || one === other || !this.isBetween(seen[i]!, one, other)) continue;
        label[i] = MIXED;
        break;
      }
    }
  }

  /** Whether compression may have made a colour of two others. */
  private isBetween(middle: number, one: number, other: number): boolean {
    if (middle === one || middle === other) return false;
    return sideOfEdge(this.colours[middle]!, this.colours[one]!, this.colours[other]!) !== null;
  }

  /**
   * Which colour a place of an upsampled picture belongs to: the larger part of the mixture of two colours near it that explains it, else the nearest of all.
   * Parts are taken in sRGB codes, in which smooth edges are drawn.
   *
   * @param near indexes of colours that stand near the place. @param around those that stand within what compression reaches.
   */
  largest(r: number, g: number, b: number, near: readonly number[], around: () => readonly number[]): number {
    if (this.explain(r, g, b, near) <= EXPLAINED) return this.best;
    if (this.isDamaged) {
      const wider = around();
      if (this.explain(r, g, b, wider) <= EXPLAINED) return this.best;
      const smeared = this.largestOfEdge([r, g, b], wider);
      if (smeared !== null) return smeared;
    }
    const { colours } = this;
    let [best, least] = [BARE, Infinity];
    for (let k = 0; k < colours.length; k++) {
      const [x, y, z] = colours[k]!;
      const distance = Math.hypot(r - x, g - y, b - z);
      if (distance < least) [least, best] = [distance, k];
    }
    return best;
  }

  /** How far a colour is from what explains it, in sRGB codes; `best` is the larger part of that. */
  private explain(r: number, g: number, b: number, near: readonly number[]): number {
    const { colours } = this;
    let best = BARE;
    let least = Infinity;
    for (const k of near) {
      const [x, y, z] = colours[k]!;
      const distance = Math.hypot(r - x, g - y, b - z);
      if (distance < least) [least, best] = [distance, k];
    }
    for (let i = 0; i < near.length && least > WORTH_MIXING; i++) {
      const one = colours[near[i]!]!;
      for (let j = i + 1; j < near.length; j++) {
        const other = colours[near[j]!]!;
        const [u, v, w] = [other[0] - one[0], other[1] - one[1], other[2] - one[2]];
        const [x, y, z] = [r - one[0], g - one[1], b - one[2]];
        const share = Math.min(1, Math.max(0, (x * u + y * v + z * w) / (u * u + v * v + w * w)));
        const distance = Math.hypot(x - share * u, y - share * v, z - share * w);
        if (distance < least - WORTH_MIXING) [least, best] = [distance, share < 0.5 ? near[i]! : near[j]!];
      }
    }
    this.best = best;
    return least;
  }

  /** The larger part of an edge between two colours that compression smeared; null where no two of those near explain it. */
  private largestOfEdge(rgb: Rgb8, near: readonly number[]): number | null {
    for (let i = 0; i < near.length; i++) {
      for (let j = i + 1; j < near.length; j++) {
        const share = shareOfEdge(rgb, this.colours[near[i]!]!, this.colours[near[j]!]!);
        if (share !== null) return share < 0.5 ? near[i]! : near[j]!;
      }
    }
    return null;
  }
}

/** Pixels on a side of a square of one colour that no damaged edge holds. */
const DAMAGED_CORE = 3;
/** Ways across an edge. */
const ACROSS = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
] as const;
/** How far from the middle of an edge the colours on its sides are looked for, in pixels. */
const EDGE_REACH = 3;
/** How far `surely` looks beyond a pixel, beside what it calls. */
export const AREA_COLOURS_HALO = EDGE_REACH + DAMAGED_CORE;

/** 1 for each pixel that lies in a square of one label, of so many pixels on a side. */
function wideParts(label: Uint8Array, width: number, height: number, side: number): Uint8Array {
  const wide = new Uint8Array(label.length);
  for (let y = 0; y + side <= height; y++) {
    for (let x = 0; x + side <= width; x++) {
      const first = y * width + x;
      let isOne = label[first]! < BARE;
      for (let row = 0; row < side && isOne; row++) {
        for (let i = first + row * width, end = i + side; i < end; i++)
          if (label[i] !== label[first]) isOne = false;
      }
      if (isOne)
        for (let row = 0; row < side; row++) wide.fill(1, first + row * width, first + row * width + side);
    }
  }
  return wide;
}

/** The first label on a way from a pixel that stands in a wide part; -1: none is near. */
function firstBeside(
  label: Uint8Array,
  wide: Uint8Array,
  width: number,
  height: number,
  x: number,
  y: number,
  dx: number,
  dy: number,
): number {
  for (let n = 1; n <= EDGE_REACH; n++) {
    const [u, v] = [x + n * dx, y + n * dy];
    if (u < 0 || v < 0 || u >= width || v >= height) return -1;
    const i = v * width + u;
    if (wide[i]) return label[i]!;
  }
  return -1;
}

/** Luma and the two chroma differences (ITU-R BT.601, as JPEG's file format JFIF has them), in codes. */
function lumaChroma([r, g, b]: Rgb8): readonly [number, number, number] {
  const luma = 0.299 * r + 0.587 * g + 0.114 * b;
  return [luma, 0.564 * (b - luma), 0.713 * (r - luma)];
}

/** A colour that compression made of an edge has so much of either side at least: what is nearer to one of them is a colour beside it. */
const OF_BOTH = 0.15;

/** Which side of the edge between two colours one is nearer to that compression may have made of it, 0 or 1; null where it is none of theirs. */
export function sideOfEdge(rgb: Rgb8, one: Rgb8, other: Rgb8): 0 | 1 | null {
  const share = shareOfEdge(rgb, one, other);
  if (share === null || share < OF_BOTH || share > 1 - OF_BOTH) return null;
  return share < 0.5 ? 0 : 1;
}

/** What compression adds to luma beside an edge and to chroma at most, in codes. */
const RINGING = 30;
const CHROMA_NOISE = 18;
/** Two colours whose chroma differs by less are mixed along their edge as in any picture. */
const CHROMA_APART = 24;

/**
 * How much of the second of two colours is in one that compression made of their edge, 0..1; null where it made it of something else. Luma keeps its resolution and rings;
 * chroma has half of it and is a mixture, whatever luma is.
 */
function shareOfEdge(rgb: Rgb8, one: Rgb8, other: Rgb8): number | null {
  const [own, a, b] = [lumaChroma(rgb), lumaChroma(one), lumaChroma(other)];
  if (own[0] < Math.min(a[0], b[0]) - RINGING || own[0] > Math.max(a[0], b[0]) + RINGING) return null;
  const [u, v] = [b[1] - a[1], b[2] - a[2]];
  const [x, y] = [own[1] - a[1], own[2] - a[2]];
  const span = u * u + v * v;
  if (span < CHROMA_APART ** 2) return null;
  const along = Math.min(1, Math.max(0, (x * u + y * v) / span));
  return Math.hypot(x - along * u, y - along * v) > CHROMA_NOISE ? null : along;
}
