import { BARE, MIXED } from '../raster';
import type { PaletteLookup } from './palette';

/** How far from a pixel the colours on both sides of an edge are looked for. */
const REACH = 2;

/** How far `markEdgePixels` looks beyond a pixel. */
export const EDGE_LABELS_HALO = REACH;

/**
 * Takes back the names of pixels that are only the smooth edge between two other colours: where a third colour lies on the way from one to the
 * other, its name would stand along the edge as a sliver. Such a pixel lies in no block of two by two of its name, has two other colours within
 * two pixels, and is a mixture of them. Lines of one pixel that are drawn between two areas of one colour keep their name.
 *
 * @param label one for each pixel; those that are edges become MIXED.
 * @param pixels red lowest.
 * @returns how many became MIXED.
 */
export function markEdgePixels(
  label: Uint8Array,
  pixels: Uint32Array,
  width: number,
  height: number,
  palette: PaletteLookup,
): number {
  const found: number[] = [];
  for (let y = 0; y < height; y++) {
    const below = y + 1 < height ? width : 0;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const own = label[i]!;
      // Most pixels stand in a block to their right.
      const right = x + 1 < width ? 1 : 0;
      if (label[i + right] === own && label[i + below] === own && label[i + below + right] === own) continue;
      if (own >= BARE || inBlock(label, width, height, x, y, own)) continue;
      if (isBetween(label, pixels[i]!, width, height, x, y, own, palette)) found.push(i);
    }
  }
  for (const i of found) label[i] = MIXED;
  return found.length;
}

function inBlock(
  label: Uint8Array,
  width: number,
  height: number,
  x: number,
  y: number,
  own: number,
): boolean {
  const i = y * width + x;
  for (let side = -1; side <= 1; side += 2) {
    // Beyond the plane is unknown and counts as of the same name.
    if (x + side < 0 || x + side >= width) return true;
    if (label[i + side] !== own) continue;
    if (y === 0 || y === height - 1) return true;
    if (label[i - width] === own && label[i - width + side] === own) return true;
    if (label[i + width] === own && label[i + width + side] === own) return true;
  }
  return false;
}

const near: number[] = [];

function isBetween(
  label: Uint8Array,
  pixel: number,
  width: number,
  height: number,
  x: number,
  y: number,
  own: number,
  palette: PaletteLookup,
): boolean {
  near.length = 0;
  for (let row = Math.max(0, y - REACH); row <= Math.min(height - 1, y + REACH); row++) {
    for (let column = Math.max(0, x - REACH); column <= Math.min(width - 1, x + REACH); column++) {
      const here = label[row * width + column]!;
      if (here < BARE && here !== own && !near.includes(here)) near.push(here);
    }
  }
  for (let i = 0; i < near.length; i++) {
    for (let j = i + 1; j < near.length; j++) if (palette.isMixture(pixel, near[i]!, near[j]!)) return true;
  }
  return false;
}
