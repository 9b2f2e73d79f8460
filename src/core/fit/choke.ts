import { type Allocator, type RasterKernels, clearFrom } from '../raster';

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

/** A mask that may be written. */
export function copyOf(mask: Uint8Array, memory: Allocator): Uint8Array {
  const copy = memory.bytes(mask.length);
  copy.set(mask);
  return copy;
}
