/**
 * Finds where an area is too narrow for its choke and must keep a core.
 *
 * The middle line of a stroke is where two neighbouring pixels have their nearest bare pixels on opposite
 * sides: at an angle of 120 degrees or more, seen from the pixel. Corners of 60 degrees and wider do not count, so that
 * a choke stays whole round them. The separation angle as a measure of what belongs to a middle line:
 * Foskey, Lin, Manocha, Efficient computation of a simplified medial axis, J. Comput. Inf. Sci. Eng. 3 (2003).
 *
 * @param bare 255 = bare garment, width * height; the plane's border is no edge.
 * @param chokePx what the choke takes off each side.
 * @param keepPx the width that must be left.
 * @returns discs (x, y, radius triples, in pixels) that together are the cores to keep.
 */
export function strokeCores(
  bare: Uint8Array,
  width: number,
  height: number,
  chokePx: number,
  keepPx: number,
): Float64Array {
  const reach = Math.ceil(chokePx + keepPx / 2) + 1;
  const nearest = nearestBare(bare, width, height, reach);
  const discs: number[] = [];
  const visit = (p: number, q: number): void => {
    const fp = nearest[p]!;
    const fq = nearest[q]!;
    if (fp < 0 || fq < 0 || fp === fq) return;
    const px = p % width;
    const py = (p / width) | 0;
    const qx = q % width;
    const qy = (q / width) | 0;
    const ax = px - (fp % width);
    const ay = py - ((fp / width) | 0);
    const bx = qx - (fq % width);
    const by = qy - ((fq / width) | 0);
    const la = Math.sqrt(ax * ax + ay * ay);
    const lb = Math.sqrt(bx * bx + by * by);
    const depth = (la + lb) / 2;
    if (depth < 1 || depth >= chokePx + keepPx / 2) return;
    const cosine = (ax * bx + ay * by) / (la * lb);
    if (cosine > -0.5) return;
    // Between opposite edges the middle of the two nearest bare pixels is the middle of the stroke.
    const opposite = cosine < -0.85;
    const x = opposite ? ((fp % width) + (fq % width)) / 2 : (px + qx) / 2;
    const y = opposite ? (((fp / width) | 0) + ((fq / width) | 0)) / 2 : (py + qy) / 2;
    discs.push(x, y, Math.min(keepPx / 2, depth));
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (nearest[p]! < 0) continue;
      if (x + 1 < width) visit(p, p + 1);
      if (y + 1 < height) visit(p, p + width);
    }
  }
  return Float64Array.from(discs);
}

/** How far `strokeCores` looks beyond a pixel. */
export function strokeCoresHalo(chokePx: number, keepPx: number): number {
  return 2 * Math.ceil(chokePx + keepPx / 2) + 3;
}

/**
 * Index of the nearest bare pixel within `reach` of each inked pixel, or -1. First the nearest in each column,
 * then the best column: exact, after Felzenszwalb and Huttenlocher, Theory of Computing 8 (2012), cut off at
 * the reach.
 */
function nearestBare(bare: Uint8Array, width: number, height: number, reach: number): Int32Array {
  const far = reach + 1;
  const up = new Int16Array(width * height);
  // Distance in rows to the nearest bare pixel of the column, negative when it lies above.
  for (let x = 0; x < width; x++) {
    let steps = far;
    for (let y = 0, i = x; y < height; y++, i += width) {
      steps = bare[i] !== 0 ? 0 : Math.min(far, steps + 1);
      up[i] = -steps;
    }
    steps = far;
    for (let y = height - 1, i = (height - 1) * width + x; y >= 0; y--, i -= width) {
      steps = bare[i] !== 0 ? 0 : Math.min(far, steps + 1);
      if (steps < -up[i]!) up[i] = steps;
    }
  }
  const nearest = new Int32Array(width * height).fill(-1);
  for (let y = 0; y < height; y++) {
    // Columns since which nothing bare was in reach need no look: most of a plane.
    let lastHit = -reach - 1;
    let ahead = -1;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      while (ahead < Math.min(width - 1, x + reach)) {
        ahead++;
        if (Math.abs(up[y * width + ahead]!) <= reach) lastHit = ahead;
      }
      if (bare[i] !== 0 || lastHit < x - reach) continue;
      let best = reach * reach + 1;
      let at = -1;
      for (let dx = 0; dx <= reach && dx * dx < best; dx++) {
        for (let side = dx === 0 ? 1 : -1; side <= 1; side += 2) {
          const column = x + side * dx;
          if (column < 0 || column >= width) continue;
          const dy = up[y * width + column]!;
          const distance = dx * dx + dy * dy;
          if (distance < best) {
            best = distance;
            at = (y + dy) * width + column;
          }
        }
      }
      nearest[i] = at;
    }
  }
  return nearest;
}
