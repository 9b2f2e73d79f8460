import type { Rect } from '../geometry';

/** An affine map: x' = a x + c y + e, y' = b x + d y + f. */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export const IDENTITY: Affine = [1, 0, 0, 1, 0, 0];

/** Bounds x0, y0, x1, y1. */
export type Box = readonly [x0: number, y0: number, x1: number, y1: number];

export const EMPTY_BOX: Box = [Infinity, Infinity, -Infinity, -Infinity];

/** First `inner`, then `outer`. */
export function compose(outer: Affine, inner: Affine | null): Affine {
  if (!inner) return outer;
  const [a, b, c, d, e, f] = outer;
  const [p, q, r, s, t, u] = inner;
  return [a * p + c * q, b * p + d * q, a * r + c * s, b * r + d * s, a * t + c * u + e, b * t + d * u + f];
}

/** The map back, or null where everything falls on a line or a point. */
export function invert(map: Affine): Affine | null {
  const [a, b, c, d, e, f] = map;
  const det = a * d - b * c;
  if (!(Math.abs(det) > 1e-30) || !Number.isFinite(det)) return null;
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
}

/** From shares of a box to the box's coordinates. */
export function fromShares(box: Box): Affine {
  return [box[2] - box[0], 0, 0, box[3] - box[1], box[0], box[1]];
}

export function unionBoxes(a: Box, b: Box): Box {
  return [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])];
}

/** Bounds of a box's image. */
export function mapBox(map: Affine | null, box: Box): Box {
  if (!map) return box;
  // An empty box stays one: its infinities would become numbers that are none.
  if (!(box[2] >= box[0] && box[3] >= box[1])) return EMPTY_BOX;
  const [a, b, c, d, e, f] = map;
  const xs = [
    a * box[0] + c * box[1],
    a * box[2] + c * box[1],
    a * box[0] + c * box[3],
    a * box[2] + c * box[3],
  ];
  const ys = [
    b * box[0] + d * box[1],
    b * box[2] + d * box[1],
    b * box[0] + d * box[3],
    b * box[2] + d * box[3],
  ];
  return [Math.min(...xs) + e, Math.min(...ys) + f, Math.max(...xs) + e, Math.max(...ys) + f];
}

/** The pixels of a rectangle that a box can touch, with one more on every side for rounding. */
export function pixelsUnder(box: Box, within: Rect): Rect {
  const x0 = Math.max(within.x, Math.floor(Math.max(box[0], -1e9)) - 1);
  const y0 = Math.max(within.y, Math.floor(Math.max(box[1], -1e9)) - 1);
  const x1 = Math.min(within.x + within.width, Math.ceil(Math.min(box[2], 1e9)) + 1);
  const y1 = Math.min(within.y + within.height, Math.ceil(Math.min(box[3], 1e9)) + 1);
  // Written so that a box of numbers that are none is empty.
  if (!(x1 > x0 && y1 > y0)) return { x: within.x, y: within.y, width: 0, height: 0 };
  return { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
}

/** How much a map enlarges at most: the larger singular value of its linear part. */
export function largestScale([a, b, c, d]: Affine): number {
  const sum = a * a + b * b + c * c + d * d;
  const det = a * d - b * c;
  return Math.sqrt((sum + Math.sqrt(Math.max(0, sum * sum - 4 * det * det))) / 2);
}
