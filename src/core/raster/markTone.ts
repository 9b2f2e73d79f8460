import { MIXED } from './codes';

/**
 * Marks mixed pixels with no pure one within the radius (a square's), and what of a transition is joined to them within `growth` steps.
 * Beyond the plane is unknown and counts as mixed.
 *
 * @param label one for each pixel, width * height.
 * @param tone gets 1 where marked, 0 elsewhere.
 */
export function markTone(
  label: Uint8Array,
  width: number,
  height: number,
  radius: number,
  growth: number,
  tone: Uint8Array,
): void {
  // Chessboard distance to the nearest pure pixel, in two passes. It is told up to one beyond the limit: pixels at the limit are the
  // rim of what is tone, from which it grows.
  const limit = radius + 1;
  const most = limit + 1;
  const distance = new Uint8Array(width * height);
  const last = width - 1;
  tone.fill(0);
  for (let i = label.indexOf(MIXED); i >= 0; i = label.indexOf(MIXED, i + 1)) {
    const x = i % width;
    let d = most;
    if (x > 0) d = Math.min(d, distance[i - 1]! + 1);
    if (i >= width) {
      d = Math.min(d, distance[i - width]! + 1);
      if (x > 0) d = Math.min(d, distance[i - width - 1]! + 1);
      if (x < last) d = Math.min(d, distance[i - width + 1]! + 1);
    }
    distance[i] = d;
  }
  let frontier: number[] = [];
  for (let i = label.lastIndexOf(MIXED); i >= 0; i = i > 0 ? label.lastIndexOf(MIXED, i - 1) : -1) {
    const x = i % width;
    let d = distance[i]!;
    if (x < last) d = Math.min(d, distance[i + 1]! + 1);
    if (i + width < distance.length) {
      d = Math.min(d, distance[i + width]! + 1);
      if (x > 0) d = Math.min(d, distance[i + width - 1]! + 1);
      if (x < last) d = Math.min(d, distance[i + width + 1]! + 1);
    }
    distance[i] = d;
    if (d < limit) continue;
    tone[i] = 1;
    if (d === limit) frontier.push(i);
  }
  for (let pass = 0; pass < growth && frontier.length > 0; pass++) {
    const next: number[] = [];
    for (const i of frontier) {
      const x = i % width;
      const [x0, x1] = [x > 0 ? -1 : 0, x < last ? 1 : 0];
      for (let row = Math.max(x, i - width); row <= i + width && row < label.length; row += width) {
        for (let j = row + x0; j <= row + x1; j++) {
          if (label[j] === MIXED && tone[j] === 0) {
            tone[j] = 1;
            next.push(j);
          }
        }
      }
    }
    frontier = next;
  }
}
