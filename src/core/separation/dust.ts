import { BARE, MIXED } from '../raster';

/** Where edges of a drawing coincide, rounding leaves pieces of one to three film pixels. */
const MOST_PIXELS = 3;
/** Area of a piece that no film and no screen holds, in mm². */
const DUST_MM2 = 0.0045;

/** How far `removeDust` looks beyond a pixel. */
export const DUST_HALO = MOST_PIXELS + 1;

/** Pixels that a piece of dust has at most at a resolution; 0 where a pixel is larger than dust. */
export function dustPixels(pxPerMm: number): number {
  return Math.min(MOST_PIXELS, Math.floor(DUST_MM2 * pxPerMm * pxPerMm));
}

const piece: number[] = [];

/**
 * Gives pieces of at most so many pixels, joined at their sides, to the name that most of their neighbours have. Pieces at the plane's border
 * may go on beyond it and stay.
 *
 * @param label one for each pixel; changed.
 */
export function removeDust(label: Uint8Array, width: number, height: number, most: number): void {
  if (most === 0) return;
  const renamed: [pixel: number, name: number][] = [];
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const own = label[i]!;
      // A piece is found at its first pixel: nothing of its name stands before it or above it.
      if (own === label[i - 1] || own === label[i - width] || own === MIXED) continue;
      if (own === label[i + 1] && own === label[i + 2] && own === label[i + 3]) continue;
      if (!gather(label, width, height, i, own, most)) continue;
      const name = mostAround(label, width);
      if (name !== own) for (const pixel of piece) renamed.push([pixel, name]);
    }
  }
  for (const [pixel, name] of renamed) label[pixel] = name;
}

/** Puts the pixels of a piece into `piece`; false where it is larger, or reaches the border. */
function gather(
  label: Uint8Array,
  width: number,
  height: number,
  first: number,
  own: number,
  most: number,
): boolean {
  piece.length = 0;
  piece.push(first);
  for (let k = 0; k < piece.length; k++) {
    const i = piece[k]!;
    const x = i % width;
    if (x === 0 || x === width - 1 || i < width || i >= width * (height - 1)) return false;
    for (const next of [i - 1, i + 1, i - width, i + width]) {
      if (label[next] !== own || piece.includes(next)) continue;
      if (piece.length === most) return false;
      piece.push(next);
    }
  }
  return true;
}

/** The name that most pixels beside the piece have; of equals the lower one. Transitions give none. */
function mostAround(label: Uint8Array, width: number): number {
  const own = label[piece[0]!]!;
  const counts = new Map<number, number>();
  for (const i of piece) {
    for (const next of [i - 1, i + 1, i - width, i + width]) {
      const name = label[next]!;
      if (name <= BARE && name !== own) counts.set(name, (counts.get(name) ?? 0) + 1);
    }
  }
  let best = own;
  let most = 0;
  for (const [name, count] of counts) {
    if (count > most || (count === most && name < best)) [best, most] = [name, count];
  }
  return best;
}
