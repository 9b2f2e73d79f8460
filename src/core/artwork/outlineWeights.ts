import type { Rect } from '../geometry';

type Corner = readonly [number, number];

/** A region with soft borders, in pixels. */
export interface SoftOutline {
  /** Of a polygon; where its lines cross, what they go round twice lies outside. */
  readonly corners: readonly Corner[];
  /** Width in which the weight goes from 0 to 1, half of it on either side of the outline; 0: a hard border. */
  readonly feather: number;
}

/** Tells the weight of every pixel that an outline reaches inside of a rectangle, above 0 to 1, by the place of its centre: the same in whatever rectangle it is part of. */
export function outlineWeights(
  { corners, feather }: SoftOutline,
  rect: Rect,
  tell: (index: number, weight: number) => void,
): void {
  const half = feather / 2;
  const xs = corners.map(([x]) => x);
  const ys = corners.map(([, y]) => y);
  const left = Math.max(rect.x, Math.floor(Math.min(...xs) - half));
  const right = Math.min(rect.x + rect.width, Math.ceil(Math.max(...xs) + half));
  const top = Math.max(rect.y, Math.floor(Math.min(...ys) - half));
  const bottom = Math.min(rect.y + rect.height, Math.ceil(Math.max(...ys) + half));
  for (let row = top; row < bottom; row++) {
    for (let column = left; column < right; column++) {
      const [x, y] = [column + 0.5, row + 0.5];
      const inside = isInside(corners, x, y);
      let weight = inside ? 1 : 0;
      if (half > 0) {
        const away = Math.min(half, distance(corners, x, y));
        weight = 0.5 + ((inside ? 1 : -1) * away) / feather;
      }
      if (weight > 0) tell((row - rect.y) * rect.width + column - rect.x, weight);
    }
  }
}

/** Whether a ray to the right crosses the outline an odd number of times. */
function isInside(corners: readonly Corner[], x: number, y: number): boolean {
  let inside = false;
  for (let k = 0, j = corners.length - 1; k < corners.length; j = k++) {
    const [ax, ay] = corners[k]!;
    const [bx, by] = corners[j]!;
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
  }
  return inside;
}

/** To the nearest point of the outline. */
function distance(corners: readonly Corner[], x: number, y: number): number {
  let least = Infinity;
  for (let k = 0, j = corners.length - 1; k < corners.length; j = k++) {
    const [ax, ay] = corners[j]!;
    const [dx, dy] = [corners[k]![0] - ax, corners[k]![1] - ay];
    const length = dx * dx + dy * dy;
    const along = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / length)) : 0;
    const [ox, oy] = [x - ax - along * dx, y - ay - along * dy];
    least = Math.min(least, ox * ox + oy * oy);
  }
  return Math.sqrt(least);
}
