// A binomial filter: wide enough to see which way an edge runs, narrow enough to keep corners.
const REACH = 4;
const TAP = [1, 8, 28, 56, 70, 56, 28, 8, 1] as const;

/** How far `markNearBoundary` looks beyond a pixel, for a radius in pixels. */
export function nearBoundaryHalo(radiusPx: number): number {
  return Math.ceil(radiusPx) + REACH + 2;
}

/** The mask around (x, y), smoothed; 0..1. Beyond the plane the border pixel goes on. */
function smoothed(mask: Uint8Array, width: number, height: number, x: number, y: number): number {
  let sum = 0;
  for (let dy = -REACH; dy <= REACH; dy++) {
    const row = Math.min(height - 1, Math.max(0, y + dy)) * width;
    let line = 0;
    for (let dx = -REACH; dx <= REACH; dx++) {
      const column = Math.min(width - 1, Math.max(0, x + dx));
      if (mask[row + column] !== 0) line += TAP[dx + REACH]!;
    }
    sum += line * TAP[dy + REACH]!;
  }
  return sum / 65536;
}

/**
 * Where the edge crosses between two neighbouring pixels, as a fraction of the way from the first:
 * the half level of the smoothed mask, or the middle where a shape is too thin to be smoothed.
 */
function crossing(from: number, to: number, fromIn: boolean): number {
  const falls = fromIn ? from > 0.5 && to < 0.5 : from < 0.5 && to > 0.5;
  return falls ? (from - 0.5) / (from - to) : 0.5;
}

/**
 * The boundary of a mask as short lines: the contour between pixel centres (marching squares on the mask), placed with sub-pixel precision by the
 * smoothed mask, so that a distance from it neither follows the steps of a slanting edge nor depends on its angle.
 *
 * @param mask as for `markNearBoundary`.
 * @returns x and y of both ends of each line, in pixels; (0, 0) is the middle of the first pixel.
 */
export function boundaryLines(mask: Uint8Array, width: number, height: number): Float64Array {
  const lines: number[] = [];
  const line = (...ends: [number, number, number, number]) => lines.push(...ends);
  for (let y = 0; y + 1 < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const i = y * width + x;
      const a = mask[i] !== 0;
      const b = mask[i + 1] !== 0;
      const c = mask[i + width] !== 0;
      const d = mask[i + width + 1] !== 0;
      if (a === b && a === c && a === d) continue;
      const va = smoothed(mask, width, height, x, y);
      const vb = smoothed(mask, width, height, x + 1, y);
      const vc = smoothed(mask, width, height, x, y + 1);
      const vd = smoothed(mask, width, height, x + 1, y + 1);
      // Crossings on the four sides of the cell, where there is one.
      const topX = x + crossing(va, vb, a);
      const bottomX = x + crossing(vc, vd, c);
      const leftY = y + crossing(va, vc, a);
      const rightY = y + crossing(vb, vd, b);
      const top = a !== b;
      const bottom = c !== d;
      const left = a !== c;
      if (top && bottom && left) {
        // A saddle: four crossings, two lines; which way they run makes no difference to a distance worth having.
        line(topX, y, x, leftY);
        line(bottomX, y + 1, x + 1, rightY);
      } else if (top && bottom) line(topX, y, bottomX, y + 1);
      else if (top && left) line(topX, y, x, leftY);
      else if (top) line(topX, y, x + 1, rightY);
      else if (bottom && left) line(bottomX, y + 1, x, leftY);
      else if (bottom) line(bottomX, y + 1, x + 1, rightY);
      else line(x, leftY, x + 1, rightY);
    }
  }
  return Float64Array.from(lines);
}

/**
 * Marks every pixel whose centre lies within a Euclidean distance of lines.
 *
 * @param lines from `boundaryLines`.
 * @param radiusPx, out as for `markNearBoundary`.
 */
export function markNearLines(
  lines: Float64Array,
  width: number,
  height: number,
  radiusPx: number,
  out: Uint8Array,
): void {
  out.fill(0);
  if (!(radiusPx > 0)) return;
  // One counter more than the width in each row, so that a run may end at the border.
  const stride = width + 1;
  const runs = new Int32Array(stride * height);
  const step = Math.max(0.25, Math.min(1, radiusPx) * 0.5);
  const r2 = radiusPx * radiusPx;

  const stamp = (cx: number, cy: number): void => {
    const y0 = Math.max(0, Math.ceil(cy - radiusPx));
    const y1 = Math.min(height - 1, Math.floor(cy + radiusPx));
    for (let y = y0; y <= y1; y++) {
      const dy = y - cy;
      const rest = r2 - dy * dy;
      if (rest < 0) continue;
      const half = Math.sqrt(rest);
      const x0 = Math.max(0, Math.ceil(cx - half));
      const x1 = Math.min(width - 1, Math.floor(cx + half));
      if (x1 >= x0) {
        runs[y * stride + x0]!++;
        runs[y * stride + x1 + 1]!--;
      }
    }
  };

  for (let i = 0; i < lines.length; i += 4) {
    const [ax, ay] = [lines[i]!, lines[i + 1]!];
    const [dx, dy] = [lines[i + 2]! - ax, lines[i + 3]! - ay];
    const pieces = Math.max(1, Math.ceil(Math.sqrt(dx * dx + dy * dy) / step));
    for (let k = 0; k < pieces; k++) {
      const t = (k + 0.5) / pieces;
      stamp(ax + dx * t, ay + dy * t);
    }
  }

  for (let y = 0; y < height; y++) {
    let depth = 0;
    for (let x = 0; x < width; x++) {
      depth += runs[y * stride + x]!;
      if (depth > 0) out[y * width + x] = 255;
    }
  }
}

/**
 * Marks every pixel whose centre lies within a Euclidean distance of the boundary of a mask. A choke
 * takes these pixels away from the mask, a spread adds them to it.
 *
 * @param mask width * height, 0 = out, anything else = in; not touched. The plane's own border is no boundary.
 * @param radiusPx 0 or more; fractions count in full.
 * @param out same size; set to 255 within the distance and to 0 elsewhere; must not be the mask.
 */
export function markNearBoundary(
  mask: Uint8Array,
  width: number,
  height: number,
  radiusPx: number,
  out: Uint8Array,
): void {
  markNearLines(boundaryLines(mask, width, height), width, height, radiusPx, out);
}
