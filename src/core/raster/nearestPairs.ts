import { nearestSet } from './nearestSet';

/**
 * Neighbouring pixels whose nearest set pixels lie apart: neither the same nor neighbours in the same direction, as they are along
 * a straight edge. Between such pixels is the middle of what is not set.
 *
 * @param set, reach as for `nearestSet`.
 * @returns four indices for each pair: a pixel, its right or lower neighbour, the nearest set pixel of each.
 */
export function nearestPairs(set: Uint8Array, width: number, height: number, reach: number): Int32Array {
  const nearest = new Int32Array(width * height);
  nearestSet(set, width, height, reach, nearest);
  const beside = besideIn(width, reach);
  const pairs: number[] = [];
  const look = (p: number, q: number, step: number): void => {
    const [from, to] = [nearest[p]!, nearest[q]!];
    if (from >= 0 && to >= 0 && to !== from && to !== from + step) pairs.push(p, q, from, to);
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (x + 1 < width) look(p, p + 1, beside);
      if (y + 1 < height) look(p, p + width, width);
    }
  }
  return Int32Array.from(pairs);
}

/** From a pixel's index to that of its right neighbour; 0 where planes are so narrow that the next row may be near, too. */
export function besideIn(width: number, reach: number): number {
  return width > 2 * reach + 2 ? 1 : 0;
}
