import type { RasterKernels } from '../raster';

/** A disc of this radius holds the centre of a pixel wherever it stands. */
const LEAST_RADIUS = Math.SQRT1_2;

/** From a pixel to the nearest bare one there is a pixel at least. */
const LEAST_DEPTH = 1;

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
  kernels: RasterKernels,
): Float64Array {
  // No pixel is as near to its edges as that.
  if (!(chokePx + keepPx / 2 > LEAST_DEPTH)) return new Float64Array(0);
  const reach = Math.ceil(chokePx + keepPx / 2) + 1;
  let discs = new Float64Array(3 * 1024);
  let count = 0;
  const visit = (p: number, q: number, fp: number, fq: number): void => {
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
    if (depth < LEAST_DEPTH || depth >= chokePx + keepPx / 2) return;
    const cosine = (ax * bx + ay * by) / (la * lb);
    if (cosine > -0.5) return;
    // Between opposite edges the middle of the two nearest bare pixels is the middle of the stroke.
    const opposite = cosine < -0.85;
    const x = opposite ? ((fp % width) + (fq % width)) / 2 : (px + qx) / 2;
    const y = opposite ? (((fp / width) | 0) + ((fq / width) | 0)) / 2 : (py + qy) / 2;
    // On a coarse view a core may be finer than a pixel; it is still to be seen.
    if (count + 3 > discs.length) {
      const larger = new Float64Array(2 * discs.length);
      larger.set(discs);
      discs = larger;
    }
    discs[count++] = x;
    discs[count++] = y;
    discs[count++] = Math.max(LEAST_RADIUS, Math.min(keepPx / 2, depth));
  };
  const pairs = kernels.nearestPairs(bare, width, height, reach);
  for (let k = 0; k < pairs.length; k += 4) {
    visit(pairs[k]!, pairs[k + 1]!, pairs[k + 2]!, pairs[k + 3]!);
  }
  return discs.subarray(0, count);
}

/** How far `strokeCores` looks beyond a pixel. */
export function strokeCoresHalo(chokePx: number, keepPx: number): number {
  return 2 * Math.ceil(chokePx + keepPx / 2) + 3;
}
