import { EMPTY_ALPHA, type RgbaPlane, adjustPlane } from '../artwork';
import { LINEAR_OF_CODE8, type LinearRgb, decodeSrgb, encodeSrgb } from '../colour';
import type { Rect } from '../geometry';
import { lumaMapOf } from '../separation';
import type { JobSheet } from '../sheet';
import { maskedArtwork } from './maskedArtwork';
import { type ArtworkNeed, type PrintGrid, planeMapping } from './printGrid';

/** A region in linear light: three planes one after another, each width * height long. */
export interface LightPlane {
  readonly width: number;
  readonly height: number;
  readonly light: Float32Array;
}

/** What shows through transparent artwork at a pixel of the print. */
export type Ground = (x: number, y: number) => LinearRgb;

/**
 * A colour over a ground, as programs that draw lay it: their codes are mixed, not their light.
 *
 * @param code of the ground's light.
 * @param light of the colour, multiplied by alpha.
 */
function laidOver(ground: number, code: number, light: number, alpha: number): number {
  if (alpha <= 0) return ground;
  if (alpha >= 1) return light;
  return decodeSrgb(encodeSrgb(light / alpha) * alpha + code * (1 - alpha));
}

/** The artwork, with its colours as the job changes them, over a ground in a region of the print, interpolated in linear light; beyond the print there is ground. */
export function artworkLight(
  sheet: JobSheet,
  grid: PrintGrid,
  region: Rect,
  need: ArtworkNeed,
  whole: RgbaPlane,
  ground: Ground,
): LightPlane {
  const count = region.width * region.height;
  const light = new Float32Array(count * 3);
  const masked = maskedArtwork(sheet, need, whole);
  const luma = lumaMapOf(sheet);
  const art = luma ? adjustPlane(masked, luma) : masked;
  const map = planeMapping(sheet, grid, need);
  const { width, height } = art.rect;
  // Grounds are few, and of one kind for many pixels.
  let known: LinearRgb | null = null;
  let codes: LinearRgb = [0, 0, 0];
  for (let row = 0; row < region.height; row++) {
    const y = region.y + row;
    const ay = Math.min(height - 1, Math.max(0, (y + 0.5) * map.scaleY - 0.5 + map.offsetY));
    const y0 = Math.floor(ay);
    for (let column = 0; column < region.width; column++) {
      const x = region.x + column;
      const o = row * region.width + column;
      const under = ground(x, y);
      let r = under[0];
      let g = under[1];
      let b = under[2];
      if (x >= 0 && y >= 0 && x < grid.widthPx && y < grid.heightPx && width > 0 && height > 0) {
        const ax = Math.min(width - 1, Math.max(0, (x + 0.5) * map.scaleX - 0.5 + map.offsetX));
        const x0 = Math.floor(ax);
        let alpha = 0;
        let red = 0;
        let green = 0;
        let blue = 0;
        for (let dy = 0; dy < 2; dy++) {
          const wy = dy === 0 ? 1 - (ay - y0) : ay - y0;
          if (wy === 0) continue;
          for (let dx = 0; dx < 2; dx++) {
            const wx = dx === 0 ? 1 - (ax - x0) : ax - x0;
            if (wx === 0) continue;
            const p = (Math.min(height - 1, y0 + dy) * width + Math.min(width - 1, x0 + dx)) * 4;
            const code = art.data[p + 3]!;
            if (code <= EMPTY_ALPHA) continue;
            const weight = (wx * wy * code) / 255;
            alpha += weight;
            red += weight * LINEAR_OF_CODE8[art.data[p]!]!;
            green += weight * LINEAR_OF_CODE8[art.data[p + 1]!]!;
            blue += weight * LINEAR_OF_CODE8[art.data[p + 2]!]!;
          }
        }
        if (alpha > 0 && alpha < 1 && under !== known) {
          known = under;
          codes = [encodeSrgb(under[0]), encodeSrgb(under[1]), encodeSrgb(under[2])];
        }
        r = laidOver(r, codes[0], red, alpha);
        g = laidOver(g, codes[1], green, alpha);
        b = laidOver(b, codes[2], blue, alpha);
      }
      light[o] = r;
      light[count + o] = g;
      light[2 * count + o] = b;
    }
  }
  return { width: region.width, height: region.height, light };
}
