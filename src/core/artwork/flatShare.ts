import { type Rgb8, deltaE76, labFromRgb8 } from '../colour';
import { forEachBand } from './flatPixels';
import { type ArtworkReader, OPAQUE_ALPHA } from './rgbaPlane';

/** Side of the squares that are looked at, in pixels: compression's noise averages out, the shading of a photograph does not. */
const SIDE = 4;
/** A square without an edge has no more range than this in any channel, in sRGB codes. */
const QUIET_CODES = 24;
/** A square is of a flat colour where its mean lies within this of it, CIELAB. */
const OF_COLOUR = 2;

/**
 * The share of the places without an edge that have one of the flat colours, 0..1: near 1 for flat artwork, also where compression damaged it;
 * low for photographs and paintings, whose shades go on between any colours that stand for them. 1 where there is no such place.
 *
 * @param ground what the artwork stands on, which says nothing of the artwork itself and is not counted; null: none.
 */
export function flatShare(art: ArtworkReader, colours: readonly Rgb8[], ground: Rgb8 | null = null): number {
  const labs = colours.map((rgb) => labFromRgb8(rgb));
  const groundLab = ground && labFromRgb8(ground);
  const known = new Map<number, boolean>();
  const isFlatColour = (r: number, g: number, b: number): boolean => {
    const key = (r << 16) | (g << 8) | b;
    let answer = known.get(key);
    if (answer === undefined) {
      const lab = labFromRgb8([r, g, b]);
      answer = labs.some((each) => deltaE76(each, lab) <= OF_COLOUR);
      known.set(key, answer);
    }
    return answer;
  };
  let quiet = 0;
  let flat = 0;
  forEachBand(art, (data, width, _top, first, last) => {
    for (let y = first; y + SIDE <= last + 1; y += SIDE) {
      for (let x = 0; x + SIDE <= width; x += SIDE) {
        const mean = quietMean(data, width, x, y);
        if (!mean || (groundLab && deltaE76(labFromRgb8(mean), groundLab) <= OF_COLOUR)) continue;
        quiet++;
        if (isFlatColour(...mean)) flat++;
      }
    }
  });
  return quiet === 0 ? 1 : flat / quiet;
}

/** The mean of a square that is opaque and has no edge; else null. */
function quietMean(data: Uint8Array, width: number, x: number, y: number): Rgb8 | null {
  const mean = [0, 0, 0];
  for (let c = 0; c < 3; c++) {
    let [low, high, sum] = [255, 0, 0];
    for (let row = y; row < y + SIDE; row++) {
      for (let i = (row * width + x) * 4, end = i + SIDE * 4; i < end; i += 4) {
        if (data[i + 3]! < OPAQUE_ALPHA) return null;
        const code = data[i + c]!;
        if (code < low) low = code;
        if (code > high) high = code;
        sum += code;
      }
    }
    if (high - low > QUIET_CODES) return null;
    mean[c] = Math.round(sum / (SIDE * SIDE));
  }
  return mean as unknown as Rgb8;
}
