import { type Allocator, type RasterKernels, clearFrom, isEmpty, keepIn, orInto } from '../raster';
import type { FitRadii } from './fitRadii';
import { strokeCores } from './strokeCores';

/** Takes away from a shape what lies within a radius of the boundary of a mask. */
export function chokeShape(
  shape: Uint8Array,
  boundary: Uint8Array,
  width: number,
  height: number,
  radiusPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): void {
  memory.scratch(() => {
    const near = memory.bytes(width * height);
    kernels.markNearBoundary(boundary, width, height, radiusPx, near);
    clearFrom(shape, near);
  });
}

/**
 * A base drawn back from bare garment.
 *
 * @param based where ink that wants a base prints: there what is too fine for the choke keeps a core.
 */
export function chokeBaseShape(
  under: Uint8Array,
  bare: Uint8Array,
  based: Uint8Array,
  width: number,
  height: number,
  radii: FitRadii,
  kernels: RasterKernels,
  memory: Allocator,
): Uint8Array {
  if (!(radii.baseChoke > 0) || isEmpty(bare) || isEmpty(under)) return under;
  const shape = copyOf(under, memory);
  chokeShape(shape, bare, width, height, radii.baseChoke, kernels, memory);
  if (radii.keep > 0) {
    memory.scratch(() => keepCores(based, bare, shape, width, height, radii, kernels, memory));
  }
  return shape;
}

/** Gives back to the base, where a stroke is too fine for the choke, a core of the width to keep. */
function keepCores(
  based: Uint8Array,
  bare: Uint8Array,
  shape: Uint8Array,
  width: number,
  height: number,
  radii: FitRadii,
  kernels: RasterKernels,
  memory: Allocator,
): void {
  const discs = strokeCores(bare, width, height, radii.baseChoke, radii.keep, kernels);
  if (discs.length === 0) return;
  const cores = memory.bytes(width * height);
  kernels.stampDiscs(discs, width, height, cores);
  keepIn(cores, based);
  orInto(shape, cores);
}

/** A mask that may be written. */
export function copyOf(mask: Uint8Array, memory: Allocator): Uint8Array {
  const copy = memory.bytes(mask.length);
  copy.set(mask);
  return copy;
}
