import { type CurveSetting, MOST_CURVE_POINTS } from './curve';

export type CurvePoints = CurveSetting['points'];

/** The curve that changes nothing. */
export const PLAIN_CURVE: CurvePoints = [
  [0, 0],
  [1, 1],
];

/** Points are this far from each other at least, coverage 0..1. */
const APART = 0.01;

const clamp = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));
const rounded = (value: number) => Math.round(value * 1000) / 1000;

/** From where to where a point may lie: behind the one before it, before the next one, never falling. */
export function roomOf(points: CurvePoints, index: number) {
  const before = points[index - 1];
  const next = points[index + 1];
  return {
    x: [before ? before[0] + APART : 0, next ? next[0] - APART : 1] as const,
    y: [before ? before[1] : 0, next ? next[1] : 1] as const,
  };
}

/** Moves a point as far towards a place as its room goes. */
export function movePoint(
  points: CurvePoints,
  index: number,
  [x, y]: readonly [number, number],
): CurvePoints {
  const room = roomOf(points, index);
  const moved: [number, number] = [rounded(clamp(x, ...room.x)), rounded(clamp(y, ...room.y))];
  return points.map((point, k) => (k === index ? moved : point));
}

/** Puts a point where there is room for one; null where there is none, or the curve has as many as it may. */
export function addPoint(
  points: CurvePoints,
  [x, y]: readonly [number, number],
): { readonly points: CurvePoints; readonly index: number } | null {
  const found = points.findIndex(([each]) => each > x);
  const index = found < 0 ? points.length : found;
  const low = points[index - 1]?.[0] ?? -APART;
  const high = points[index]?.[0] ?? 1 + APART;
  if (points.length >= MOST_CURVE_POINTS || high - low < 2 * APART) return null;
  const more: CurvePoints = [...points.slice(0, index), [x, y], ...points.slice(index)];
  return { points: movePoint(more, index, [x, y]), index };
}

/** Takes a point away; two stay. */
export function dropPoint(points: CurvePoints, index: number): CurvePoints {
  return points.length <= 2 ? points : points.filter((_, k) => k !== index);
}
