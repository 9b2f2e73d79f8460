import {
  type Allocator,
  type RasterKernels,
  clearFrom,
  invertInto,
  keepIn,
  nearBoundaryHalo,
  orInto,
} from '../raster';
import { copyOf } from './choke';
import { strokeCores, strokeCoresHalo } from './strokeCores';

/** A square is wider from corner to corner than from side to side. */
const DIAGONAL = Math.SQRT2;

/**
 * Places of an area that are narrower than a width: slits, counters of small letters, reversed-out stars. Corners of wide places are none.
 *
 * What a disc of that width does not reach inside of the area (an opening: Serra, Image Analysis and Mathematical Morphology, 1982) is kept where the
 * area's middle line is as near to its edges.
 *
 * @param area 255 = in, width * height; the plane's border is no edge.
 */
export function narrowPlaces(
  area: Uint8Array,
  width: number,
  height: number,
  widthPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): Uint8Array {
  const narrow = copyOf(area, memory);
  memory.scratch(() => {
    const discs = strokeCores(complementOf(area, memory), width, height, 0, widthPx, kernels);
    const round = memory.bytes(width * height);
    for (let i = 2; i < discs.length; i += 3) discs[i] = discs[i]! * DIAGONAL + 1;
    kernels.stampDiscs(discs, width, height, round);
    keepIn(narrow, round);
    const near = memory.bytes(width * height);
    kernels.markNearBoundary(area, width, height, widthPx / 2, near);
    const opened = copyOf(area, memory);
    clearFrom(opened, near);
    kernels.markNearBoundary(opened, width, height, widthPx / 2, near);
    orInto(opened, near);
    clearFrom(narrow, opened);
  });
  return narrow;
}

/** How far `narrowPlaces` looks beyond a pixel. */
export function narrowPlacesHalo(widthPx: number): number {
  const discs = strokeCoresHalo(0, widthPx) + Math.ceil((widthPx / 2) * DIAGONAL) + 1;
  return Math.max(discs, 2 * nearBoundaryHalo(widthPx / 2));
}

/** What a mask of 0 and 255 is not, as a mask. */
export function complementOf(mask: Uint8Array, memory: Allocator): Uint8Array {
  const out = memory.bytes(mask.length, 'any');
  invertInto(out, mask);
  return out;
}
