import { type ArtworkReader, EMPTY_ALPHA, OPAQUE_ALPHA } from './rgbaPlane';

/** Of what an artwork's pixels print, less than this share is opaque in artwork that is faint as a whole: exported at 60 %, say. */
const OPAQUE_SHARE = 0.02;
const BAND_ROWS = 256;

/** Artwork that is hardly anywhere opaque. */
export interface Faintness {
  /** The alpha that half of what prints has or exceeds, 0..255. */
  readonly alpha: number;
  /** Pixels that are not quite opaque, as a share of all. */
  readonly transparentShare: number;
}

/** How faint artwork is as a whole; null for ordinary artwork, most of which is opaque, and where nothing prints. */
export function findFaintness(art: ArtworkReader): Faintness | null {
  const all = art.width * art.height;
  const counts = new Uint32Array(256);
  let opaque = 0;
  for (let y = 0; y < art.height; y += BAND_ROWS) {
    const height = Math.min(BAND_ROWS, art.height - y);
    const { data } = art.read({ x: 0, y, width: art.width, height });
    for (let i = 3; i < data.length; i += 4) counts[data[i]!]!++;
    opaque = counts.subarray(OPAQUE_ALPHA).reduce((sum, count) => sum + count, 0);
    // Whatever follows, enough of it is opaque.
    if (opaque > OPAQUE_SHARE * all) return null;
  }
  const printing = counts.subarray(EMPTY_ALPHA + 1).reduce((sum, count) => sum + count, 0);
  if (printing === 0 || opaque > OPAQUE_SHARE * printing) return null;
  let alpha = 255;
  for (let above = counts[alpha]!; above < printing / 2; above += counts[alpha]!) alpha--;
  return { alpha, transparentShare: 1 - opaque / all };
}

/** Faint artwork as if it were printed in full: its own alpha is opaque, lower ones are lower in proportion. */
export function inFull(art: ArtworkReader, { alpha }: Faintness): ArtworkReader {
  // A little more than in proportion: alphas beside it are opaque, too.
  const lifted = Uint8ClampedArray.from({ length: 256 }, (_, each) => (each * 262) / alpha);
  return {
    width: art.width,
    height: art.height,
    read: (rect) => {
      const plane = art.read(rect);
      const data = plane.data.slice();
      for (let i = 3; i < data.length; i += 4) data[i] = lifted[data[i]!]!;
      return { ...plane, data };
    },
  };
}
