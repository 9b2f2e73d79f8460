import { type Outline, crossingsOf } from '../geometry';
import type { RgbaPlane } from './rgbaPlane';

/** Lines on which a row of pixels is looked at: the outline's edge is known to a sixteenth of a pixel down, and exactly across. */
const LINES = 16;

/**
 * Artwork of which only what lies inside of an outline is there: everything else is transparent.
 *
 * @param outline in pixels of the plane's level.
 * @param smooth whether pixels on the outline keep the share of them that lies inside, as edges of pictures have it; else they are there when their centre is
 *   inside, as those of a drawing.
 */
export function maskPlane({ rect, data }: RgbaPlane, outline: Outline, smooth: boolean): RgbaPlane {
  const { width, height } = rect;
  const own = outline.map(([x, y]) => [x - rect.x, y - rect.y] as const);
  const masked = data.slice();
  const inside = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    inside.fill(0);
    if (smooth) {
      for (let line = 0; line < LINES; line++) {
        forEachSpan(own, y + (line + 0.5) / LINES, (from, to) => addShares(inside, from, to));
      }
    } else {
      forEachSpan(own, y + 0.5, (from, to) => addCentres(inside, from, to));
    }
    for (let x = 0; x < width; x++) {
      const share = inside[x]! / LINES;
      if (share < 1) masked[(y * width + x) * 4 + 3] = Math.round(data[(y * width + x) * 4 + 3]! * share);
    }
  }
  return { rect, data: masked };
}

function forEachSpan(outline: Outline, y: number, visit: (from: number, to: number) => void): void {
  const crossings = crossingsOf(outline, y);
  for (let k = 0; k + 1 < crossings.length; k += 2) visit(crossings[k]!, crossings[k + 1]!);
}

/** Adds to each pixel how much of its width lies between two places. */
function addShares(inside: Float64Array, from: number, to: number): void {
  const first = Math.max(0, Math.floor(from));
  const end = Math.min(inside.length, Math.ceil(to));
  for (let x = first; x < end; x++) inside[x]! += Math.min(to, x + 1) - Math.max(from, x);
}

/** Adds all of those pixels whose centre lies between two places. */
function addCentres(inside: Float64Array, from: number, to: number): void {
  const first = Math.max(0, Math.ceil(from - 0.5));
  const end = Math.min(inside.length, Math.ceil(to - 0.5));
  if (end > first) inside.fill(LINES, first, end);
}
