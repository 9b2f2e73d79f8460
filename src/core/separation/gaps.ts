import { BARE } from '../raster';

/** Gaps narrower than this let the garment through where a drawing's shapes were meant to meet: no press shows them as drawn. In mm. */
export const NARROW_GAP_MM = 0.15;

/** Whole pixels of the widest gap that is narrower than so many; a gap's width is right to a pixel. */
function widestGap(gapPx: number): number {
  return Math.ceil(gapPx) - 1;
}

/** How far `findGaps` and `closeGaps` look beyond a pixel. */
export function gapsHalo(gapPx: number): number {
  return gapPx <= 1 ? 0 : 4 * Math.ceil(gapPx) + 2;
}

/**
 * Finds bare pixels of gaps between shapes: those that no bare disc as wide as the gap covers (a closing by that disc), where something stands on
 * both sides of the pixel in its row or in its column. What lies beyond the plane counts as bare.
 *
 * @param label one for each pixel; bare is BARE.
 * @param gapPx gaps narrower than this are found; below 1 there are none.
 * @param visit called with each pixel, in ascending order.
 */
export function findGaps(
  label: Uint8Array,
  width: number,
  height: number,
  gapPx: number,
  visit: (pixel: number) => void,
): void {
  const gap = widestGap(gapPx);
  if (gap < 1) return;
  const discs = new BareDiscs(label, width, height, gap);
  // A slanted gap is wider along its row or column by up to a diagonal.
  const longest = Math.ceil(gap * Math.SQRT2) + 1;
  const columns = new ColumnRuns(label, width, height, longest);
  for (let y = 0; y < height; y++) {
    columns.enter(y);
    const row = y * width;
    for (let x = 0; x < width;) {
      const from = nextBare(label, row + x, row + width) - row;
      let to = from;
      while (to < width && label[row + to] === BARE) to++;
      const isNarrow = from > 0 && to < width && to - from <= longest;
      for (let at = from; at < to; at++) {
        if ((isNarrow || columns.isNarrow(at)) && !discs.covers(at, y)) visit(row + at);
      }
      x = to + 1;
    }
  }
}

/** Closes what `findGaps` finds: each pixel gets the name that stands nearest; where only transitions are near, it stays bare. */
export function closeGaps(label: Uint8Array, width: number, height: number, gapPx: number): void {
  const found: number[] = [];
  findGaps(label, width, height, gapPx, (pixel) => found.push(pixel));
  if (found.length === 0) return;
  const near = offsetsWithin(Math.ceil(gapPx) + 1);
  const names = found.map((pixel) => nearestName(label, width, height, pixel, near));
  found.forEach((pixel, k) => (label[pixel] = names[k]!));
}

function nearestName(
  label: Uint8Array,
  width: number,
  height: number,
  pixel: number,
  near: readonly Offset[],
): number {
  const x = pixel % width;
  const y = (pixel / width) | 0;
  for (const [dx, dy] of near) {
    if (x + dx < 0 || x + dx >= width || y + dy < 0 || y + dy >= height) continue;
    const name = label[pixel + dy * width + dx]!;
    if (name < BARE) return name;
  }
  return BARE;
}

function nextBare(label: Uint8Array, from: number, end: number): number {
  const at = label.indexOf(BARE, from);
  return at < 0 || at > end ? end : at;
}

type Offset = readonly [dx: number, dy: number];

/** Offsets within a distance, the nearest first; of equals the upper, then the left one. */
function offsetsWithin(radius: number): Offset[] {
  const offsets: Offset[] = [];
  for (let dy = -radius; dy <= radius; dy++) {
    for (let dx = -radius; dx <= radius; dx++) {
      if (dx * dx + dy * dy <= radius * radius) offsets.push([dx, dy]);
    }
  }
  return offsets.sort(([ax, ay], [bx, by]) => ax * ax + ay * ay - bx * bx - by * by || ay - by || ax - bx);
}

/** Bare runs of a column that have something at both ends and are no longer than a length, row after row. */
class ColumnRuns {
  private readonly ends: Int32Array;
  private readonly narrow: Uint8Array;
  private readonly label: Uint8Array;
  private readonly width: number;
  private readonly height: number;
  private readonly longest: number;

  constructor(label: Uint8Array, width: number, height: number, longest: number) {
    this.label = label;
    this.width = width;
    this.height = height;
    this.longest = longest;
    this.ends = new Int32Array(width);
    this.narrow = new Uint8Array(width);
  }

  /** Goes to a row; rows come in order. */
  enter(y: number): void {
    const { label, width, height, ends, narrow, longest } = this;
    for (let x = 0; x < width; x++) {
      if (y < ends[x]! || label[y * width + x] !== BARE) continue;
      // The run is followed no further than it matters, but to its end once it is known to be long.
      let end = y + 1;
      while (end < height && end <= y + longest && label[end * width + x] === BARE) end++;
      const bounded = end < height && label[end * width + x] !== BARE;
      const begins = y > 0 && label[(y - 1) * width + x] !== BARE;
      narrow[x] = begins && bounded && end - y <= longest ? 1 : 0;
      ends[x] = end;
    }
  }

  isNarrow(x: number): boolean {
    return this.narrow[x] === 1;
  }
}

/** Discs of one size that lie in the bare: the least that is wider than a gap. */
class BareDiscs {
  private readonly label: Uint8Array;
  private readonly width: number;
  private readonly height: number;
  private readonly disc: readonly Offset[];
  /** Whether a disc lies at a pixel, where that was looked at. */
  private readonly known = new Map<number, boolean>();

  constructor(label: Uint8Array, width: number, height: number, gap: number) {
    this.label = label;
    this.width = width;
    this.height = height;
    // As many pixels across as the narrowest gap that stays; where that is even, its centre is a corner of pixels.
    const centre = gap % 2 === 0 ? 0 : 0.5;
    const radius = (gap + 1) / 2 - 1e-6;
    this.disc = offsetsWithin(gap + 1).filter(([dx, dy]) => Math.hypot(dx - centre, dy - centre) < radius);
  }

  /** Whether one of them covers a pixel. */
  covers(x: number, y: number): boolean {
    return this.disc.some(([dx, dy]) => this.liesAt(x - dx, y - dy));
  }

  private liesAt(x: number, y: number): boolean {
    const { label, width, height } = this;
    const key = (y + height) * 3 * width + x + width;
    let lies = this.known.get(key);
    if (lies === undefined) {
      lies = this.disc.every(([dx, dy]) => {
        const [column, row] = [x + dx, y + dy];
        const isBeyond = column < 0 || column >= width || row < 0 || row >= height;
        return isBeyond || label[row * width + column] === BARE;
      });
      this.known.set(key, lies);
    }
    return lies;
  }
}
