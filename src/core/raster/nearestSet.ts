/**
 * The nearest set pixel within a reach, for each pixel that is not set: first the nearest in each column, then the best
 * column. Exact, after Felzenszwalb and Huttenlocher, Distance Transforms of Sampled Functions, Theory of Computing 8
 * (2012), cut off at the reach.
 *
 * @param set 0 = not set, anything else = set; width * height.
 * @param reach whole pixels, Euclidean, between centres.
 * @param out width * height; the index of the nearest set pixel; -1 where there is none within reach, and in the set itself.
 */
export function nearestSet(
  set: Uint8Array,
  width: number,
  height: number,
  reach: number,
  out: Int32Array,
): void {
  const far = reach + 1;
  // Rows to the nearest set pixel of the column, negative when it lies above.
  const rows = new Int16Array(width * height);
  for (let x = 0; x < width; x++) rows[x] = set[x] !== 0 ? 0 : -far;
  for (let i = width; i < rows.length; i++) {
    rows[i] = set[i] !== 0 ? 0 : Math.max(-far, rows[i - width]! - 1);
  }
  const down = new Int16Array(width).fill(far);
  for (let y = height - 1; y >= 0; y--) {
    const base = y * width;
    for (let x = 0; x < width; x++) {
      const steps = set[base + x] !== 0 ? 0 : Math.min(far, down[x]! + 1);
      down[x] = steps;
      if (steps < -rows[base + x]!) rows[base + x] = steps;
    }
  }
  for (let i = 0; i < out.length; i++) {
    let at = -1;
    if (set[i] === 0) {
      const x = i % width;
      let best = reach * reach + 1;
      for (let dx = 0; dx <= reach && dx * dx < best; dx++) {
        for (let side = dx === 0 ? 1 : -1; side <= 1; side += 2) {
          const column = x + side * dx;
          if (column < 0 || column >= width) continue;
          const dy = rows[i + side * dx]!;
          const distance = dx * dx + dy * dy;
          if (distance < best) {
            best = distance;
            at = i + side * dx + dy * width;
          }
        }
      }
    }
    out[i] = at;
  }
}
