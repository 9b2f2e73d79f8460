import fitCurve from 'fit-curve';

export type Point = readonly [number, number];

/** Straight lines and Bézier curves from one point to the next. */
export type Segment =
  | { readonly kind: 'line'; readonly to: Point }
  | { readonly kind: 'curve'; readonly one: Point; readonly two: Point; readonly to: Point };

/** A fitted line: where it begins, and how it goes on. */
export interface FittedLine {
  readonly from: Point;
  readonly segments: readonly Segment[];
}

/** How far a curve may pass from the places that it was fitted to, and a straight line, in working pixels. */
const CURVE_ERROR = 0.5;
const LINE_ERROR = 0.3;
/** Turns from this on are corners, in radians. */
const LEAST_TURN = 0.6;
/** Both sides of a corner run straight within this, in working pixels (root of the mean square). */
const STRAIGHT = 0.22;
/** Points of a side of a corner, and those right at it, which the blur has rounded. */
const ARM = 9;
const LEAST_ARM = 5;
const ROUNDED = 4;
/** How far a corner's point may lie from where the line turns, in working pixels. */
const FARTHEST = 5;
/** More points are fitted in parts: the time of a fit grows faster than their number. */
const MOST_AT_ONCE = 240;

interface Corner {
  readonly at: number;
  readonly turn: number;
  readonly point: Point;
  /** How far the point lies from the line's place there, in working pixels. */
  readonly off: number;
}

/**
 * Fits straight lines and curves (Schneider's method, Graphics Gems 1990) to a line of places a working pixel apart. Corners that a blur has rounded are
 * where the straight lines on both sides meet.
 *
 * @param points x and y, alternating.
 * @param fixed indexes of points that are corners as they are.
 */
export function fitLine(points: Float64Array, isClosed: boolean, fixed: readonly number[]): FittedLine {
  const all: Point[] = [];
  for (let k = 0; k + 1 < points.length; k += 2) all.push([points[k]!, points[k + 1]!]);
  const corners = [
    ...findCorners(all, isClosed).filter(({ at }) => !fixed.some((each) => Math.abs(each - at) <= ROUNDED)),
    ...fixed.map((at): Corner => ({ at, turn: Math.PI, point: all[at]!, off: 0 })),
  ].sort((p, q) => p.at - q.at);
  if (isClosed) return fitClosed(all, corners);
  const segments: Segment[] = [];
  let part: Point[] = [all[0]!];
  let next = 1;
  for (const { at, point, turn } of corners) {
    const rounded = turn === Math.PI ? 0 : ROUNDED;
    for (; next < at - rounded; next++) part.push(all[next]!);
    part.push(point);
    segments.push(...fitPart(part));
    part = [point];
    next = Math.max(next, at + rounded + 1);
  }
  // Its end stays where other lines meet it.
  for (; next < all.length - 1; next++) part.push(all[next]!);
  part.push(all[all.length - 1]!);
  segments.push(...fitPart(part));
  return { from: all[0]!, segments };
}

/** A closed line begins at one of its corners, or anywhere. */
function fitClosed(all: readonly Point[], corners: readonly Corner[]): FittedLine {
  const start = corners[0]?.at ?? 0;
  const turned = [...all.slice(start), ...all.slice(0, start)];
  if (corners.length === 0) {
    return { from: turned[0]!, segments: fitPart([...turned, turned[0]!]) };
  }
  const rest = corners.slice(1);
  const first = corners[0]!;
  const rounded = first.turn === Math.PI ? 0 : ROUNDED;
  const segments: Segment[] = [];
  let part: Point[] = [first.point];
  let next = rounded + 1;
  for (const { at, point, turn } of rest) {
    const cut = turn === Math.PI ? 0 : ROUNDED;
    for (; next < at - start - cut; next++) part.push(turned[next]!);
    part.push(point);
    segments.push(...fitPart(part));
    part = [point];
    next = Math.max(next, at - start + cut + 1);
  }
  for (; next < turned.length - rounded; next++) part.push(turned[next]!);
  part.push(first.point);
  segments.push(...fitPart(part));
  return { from: first.point, segments };
}

/** Where a line turns sharply between two straight sides. */
function findCorners(all: readonly Point[], isClosed: boolean): Corner[] {
  const count = all.length;
  const found: Corner[] = [];
  if (count < 2 * (LEAST_ARM + ROUNDED)) return found;
  const side = (at: number, step: 1 | -1): Line | null => {
    const arm: Point[] = [];
    for (let k = ROUNDED; k < ROUNDED + ARM; k++) {
      const i = at + step * k;
      if (!isClosed && (i < 0 || i >= count)) break;
      arm.push(all[(i + count) % count]!);
    }
    return arm.length < LEAST_ARM || 2 * arm.length > count ? null : lineThrough(arm);
  };
  for (let at = 0; at < count; at++) {
    const [before, after] = [side(at, -1), side(at, 1)];
    if (!before || !after || before.error > STRAIGHT || after.error > STRAIGHT) continue;
    // The line before runs away from the corner.
    const turn = Math.PI - Math.acos(Math.max(-1, Math.min(1, before.u * after.u + before.v * after.v)));
    if (turn < LEAST_TURN) continue;
    const point = crossing(before, after);
    const [x, y] = all[at]!;
    if (!point) continue;
    const off = Math.hypot(point[0] - x, point[1] - y);
    if (off <= FARTHEST) found.push({ at, turn, point, off });
  }
  return sharpest(found, count, isClosed);
}

/** Turns that differ by less are alike, in radians. */
const ALIKE_TURN = 0.15;

/** Of corners that lie on each other's sides the sharpest, and of alike ones that whose point is nearest to the line, which is the middle of the turn. */
function sharpest(found: readonly Corner[], count: number, isClosed: boolean): Corner[] {
  const kept: Corner[] = [];
  const apart = (p: number, q: number): number => {
    const distance = Math.abs(p - q);
    return isClosed ? Math.min(distance, count - distance) : distance;
  };
  for (const each of [...found].sort(byTurn)) {
    if (kept.every(({ at }) => apart(at, each.at) > 2 * ROUNDED)) kept.push(each);
  }
  return kept.sort((p, q) => p.at - q.at);
}

function byTurn(one: Corner, other: Corner): number {
  const steps = Math.round(other.turn / ALIKE_TURN) - Math.round(one.turn / ALIKE_TURN);
  return steps || one.off - other.off || one.at - other.at;
}

interface Line {
  readonly x: number;
  readonly y: number;
  /** Direction from the first of its points to the last. */
  readonly u: number;
  readonly v: number;
  /** Root of the mean square distance of its points. */
  readonly error: number;
}

/** The straight line nearest to points by the squares of their distances. */
function lineThrough(points: readonly Point[]): Line {
  const count = points.length;
  const x = points.reduce((sum, point) => sum + point[0], 0) / count;
  const y = points.reduce((sum, point) => sum + point[1], 0) / count;
  let [xx, xy, yy] = [0, 0, 0];
  for (const [px, py] of points) {
    xx += (px - x) ** 2;
    xy += (px - x) * (py - y);
    yy += (py - y) ** 2;
  }
  const angle = Math.atan2(2 * xy, xx - yy) / 2;
  let [u, v] = [Math.cos(angle), Math.sin(angle)];
  const [last, first] = [points[count - 1]!, points[0]!];
  if ((last[0] - first[0]) * u + (last[1] - first[1]) * v < 0) [u, v] = [-u, -v];
  const across = Math.max(0, (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy));
  return { x, y, u, v, error: Math.sqrt(across / count) };
}

function crossing(one: Line, other: Line): Point | null {
  const det = one.u * other.v - one.v * other.u;
  if (Math.abs(det) < 1e-3) return null;
  const t = ((other.x - one.x) * other.v - (other.y - one.y) * other.u) / det;
  return [one.x + t * one.u, one.y + t * one.v];
}

/** Curves through points without a corner between them. */
function fitPart(points: readonly Point[]): Segment[] {
  const [from, to] = [points[0]!, points[points.length - 1]!];
  const isLoop = from[0] === to[0] && from[1] === to[1];
  if (!isLoop && isStraight(points)) return [{ kind: 'line', to }];
  if (points.length > MOST_AT_ONCE || isLoop) {
    if (points.length < 4) return points.slice(1).map((each) => ({ kind: 'line', to: each }));
    return inParts(
      points,
      isLoop ? Math.max(2, Math.ceil(points.length / MOST_AT_ONCE)) : Math.ceil(points.length / MOST_AT_ONCE),
    );
  }
  return curves(points);
}

function inParts(points: readonly Point[], count: number): Segment[] {
  const step = (points.length - 1) / count;
  return Array.from({ length: count }, (_, k) =>
    points.slice(Math.round(k * step), Math.round((k + 1) * step) + 1),
  ).flatMap((part) =>
    isStraight(part) ? [{ kind: 'line' as const, to: part[part.length - 1]! }] : curves(part),
  );
}

function curves(points: readonly Point[]): Segment[] {
  const fitted = fitCurve(
    points.map(([x, y]) => [x, y]),
    CURVE_ERROR * CURVE_ERROR,
  );
  const bends = fitted.every((curve) => curve.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y)));
  if (fitted.length === 0 || !bends) return points.slice(1).map((to) => ({ kind: 'line', to }));
  return fitted.map(([, one, two, to]): Segment => ({
    kind: 'curve',
    one: [one![0]!, one![1]!],
    two: [two![0]!, two![1]!],
    to: [to![0]!, to![1]!],
  }));
}

function isStraight(points: readonly Point[]): boolean {
  const [from, to] = [points[0]!, points[points.length - 1]!];
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy);
  return points.every(([x, y]) => {
    const [px, py] = [x - from[0], y - from[1]];
    const off = length === 0 ? Math.hypot(px, py) : Math.abs(dx * py - dy * px) / length;
    return off <= LINE_ERROR;
  });
}
