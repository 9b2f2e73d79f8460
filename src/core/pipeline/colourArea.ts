import { componentOutline } from '../artwork';
import { deltaE76, labFromRgb8 } from '../colour';
import type { PrintGrid } from './printGrid';

const INSIDE = 0;
const OUTSIDE = 1;

/**
 * The outline of the area of like colours that a place of the artwork belongs to, as fractions of it: all that touches the place without leaving
 * its colour. Null beyond the print.
 *
 * @param codes of the whole grid's artwork, red in the lowest byte.
 * @param closeness CIELAB distance up to which a colour is like that of the place.
 */
export function colourArea(
  { widthPx, heightPx, pxPerMm }: PrintGrid,
  codes: Uint32Array,
  place: { readonly xMm: number; readonly yMm: number },
  closeness: number,
): [number, number][] | null {
  const x = Math.floor(place.xMm * pxPerMm);
  const y = Math.floor(place.yMm * pxPerMm);
  if (x < 0 || y < 0 || x >= widthPx || y >= heightPx) return null;
  const labOf = (code: number) => labFromRgb8([code & 255, (code >> 8) & 255, (code >> 16) & 255]);
  const wanted = labOf(codes[y * widthPx + x]!);
  const known = new Map<number, number>();
  const labels = new Uint8Array(codes.length);
  for (let i = 0; i < codes.length; i++) {
    const code = codes[i]! & 0xffffff;
    let label = known.get(code);
    if (label === undefined) {
      label = deltaE76(labOf(code), wanted) <= closeness ? INSIDE : OUTSIDE;
      known.set(code, label);
    }
    labels[i] = label;
  }
  const outline = componentOutline(labels, widthPx, heightPx, x, y);
  return outline && outline.map(([px, py]) => [px / widthPx, py / heightPx]);
}
