import { forEachBand } from './flatPixels';
import type { FoundColour } from './findPalette';
import { type ArtworkReader, OPAQUE_ALPHA } from './rgbaPlane';

/** Side of the squares that are looked at, in pixels: of clean artwork, where a letter's stroke holds one, and of damaged artwork, whose noise averages out in it. */
const CLEAN_SIDE = 3;
const LOSSY_SIDE = 8;
/** A square is flat where no channel has more range than this, in sRGB codes. */
const CLEAN_CODES = 0;
const LOSSY_CODES = 10;
/** Squares of one flat colour differ by no more than this in any channel; squares of a gradient go on as far again and farther. */
const NEAR = 1;
const ROUND = 5;
/** From this share of what lies near it on a colour is flat, and no part of a gradient. */
const FLAT_SHARE = 0.7;
/** In clean artwork so few codes near a colour are flat colours beside it. */
const FEW_CODES = 4;
/** A flat colour has at least this share of the artwork. */
const LEAST_AREA = 0.001;

/**
 * Colours that stand in flat areas, also in artwork that is full of tones otherwise: lettering, borders, plain grounds. A colour of a gradient is none, however
 * long the gradient is.
 *
 * @param lossy whether compression has damaged flat areas.
 * @returns the largest first, each with its share of the opaque artwork as far as it fills whole squares.
 */
export function flatAreas(art: ArtworkReader, lossy: boolean): FoundColour[] {
  const side = lossy ? LOSSY_SIDE : CLEAN_SIDE;
  const most = lossy ? LOSSY_CODES : CLEAN_CODES;
  const counts = new Map<number, number>();
  let opaque = 0;
  forEachBand(art, (data, width, _top, first, last) => {
    for (let y = first; y + side <= last + 1; y += side) {
      for (let x = 0; x + side <= width; x += side) {
        if (data[(y * width + x) * 4 + 3]! >= OPAQUE_ALPHA) opaque++;
        const colour = flatColour(data, width, x, y, side, most);
        if (colour >= 0) counts.set(colour, (counts.get(colour) ?? 0) + 1);
      }
    }
  });
  const found: FoundColour[] = [];
  const taken = new Set<number>();
  for (const [colour, count] of [...counts].sort((p, q) => q[1] - p[1])) {
    if (count * (2 * NEAR + 1) ** 3 < LEAST_AREA * opaque) break;
    if (taken.has(colour)) continue;
    const near = around(counts, colour, NEAR);
    if (near < LEAST_AREA * opaque || isShaded(counts, colour, near, lossy)) continue;
    forEachAround(colour, lossy ? ROUND : NEAR, (each) => taken.add(each));
    found.push({ rgb: [colour >> 16, (colour >> 8) & 255, colour & 255], area: near / opaque });
  }
  return found.sort((p, q) => q.area - p.area);
}

/** Whether a colour is one of a gradient's. @param near squares of the colour. */
function isShaded(
  counts: ReadonlyMap<number, number>,
  colour: number,
  near: number,
  lossy: boolean,
): boolean {
  if (near >= FLAT_SHARE * around(counts, colour, ROUND)) return false;
  if (lossy) return true;
  let codes = 0;
  forEachAround(colour, ROUND, (each) => (codes += counts.has(each) ? 1 : 0));
  return codes > FEW_CODES;
}

/** The mean of a square that is opaque and flat, red highest; else -1. */
function flatColour(
  data: Uint8Array,
  width: number,
  x: number,
  y: number,
  side: number,
  most: number,
): number {
  let colour = 0;
  for (let c = 0; c < 3; c++) {
    let [low, high, sum] = [255, 0, 0];
    for (let row = y; row < y + side; row++) {
      for (let i = (row * width + x) * 4, end = i + side * 4; i < end; i += 4) {
        if (c === 0 && data[i + 3]! < OPAQUE_ALPHA) return -1;
        const code = data[i + c]!;
        if (code < low) low = code;
        if (code > high) high = code;
        sum += code;
      }
      if (high - low > most) return -1;
    }
    colour = (colour << 8) | Math.round(sum / (side * side));
  }
  return colour;
}

function around(counts: ReadonlyMap<number, number>, colour: number, reach: number): number {
  let sum = 0;
  forEachAround(colour, reach, (each) => (sum += counts.get(each) ?? 0));
  return sum;
}

function forEachAround(colour: number, reach: number, visit: (colour: number) => void): void {
  const span = (shift: number): [number, number] => {
    const code = (colour >> shift) & 255;
    return [Math.max(0, code - reach), Math.min(255, code + reach)];
  };
  const [[r0, r1], [g0, g1], [b0, b1]] = [span(16), span(8), span(0)];
  for (let r = r0; r <= r1; r++) {
    for (let g = g0; g <= g1; g++) for (let b = b0; b <= b1; b++) visit((r << 16) | (g << 8) | b);
  }
}
