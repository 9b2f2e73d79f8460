import { type Allocator, type RasterKernels, clearFrom, nearBoundaryHalo, orInto } from '../raster';
import type { JobSheet, Plate, Special } from '../sheet';
import type { PlatePlane } from './platePlane';

type Sized = Pick<JobSheet, 'plates'>;

/** The special plates of a job. */
export function specialPlates({ plates }: Sized): readonly (Plate & { readonly special: Special })[] {
  return plates.filter((plate): plate is Plate & { readonly special: Special } => plate.special !== null);
}

/** How far special plates look beyond a region behind all stages of fit, in pixels. */
export function specialHalo(sheet: Sized, pxPerMm: number): number {
  const most = Math.max(0, ...specialPlates(sheet).map(({ special }) => Math.abs(special.growMm)));
  return most === 0 ? 0 : nearBoundaryHalo(most * pxPerMm);
}

/** How far they reach beyond the plates that they are made of, in mm. */
export function specialGrowthMm(sheet: Sized): number {
  return Math.max(0, ...specialPlates(sheet).map(({ special }) => special.growMm));
}

/**
 * Where a special plate prints: the shapes of its plates, behind fit, joined and then grown or drawn back on all sides. Where tones are dots it is solid below or
 * above all of them.
 *
 * @param planes of the plates that are not special.
 */
export function specialShape(
  { over, growMm }: Special,
  planes: readonly Pick<PlatePlane, 'plate' | 'shape'>[],
  size: { readonly width: number; readonly height: number; readonly pxPerMm: number },
  kernels: RasterKernels,
  memory: Allocator,
): Uint8Array {
  const { width, height, pxPerMm } = size;
  const shape = memory.bytes(width * height);
  for (const { plate, shape: own } of planes) {
    if (over === null || over.includes(plate.id)) orInto(shape, own);
  }
  if (growMm === 0) return shape;
  memory.scratch(() => {
    const near = memory.bytes(width * height);
    kernels.markNearBoundary(shape, width, height, Math.abs(growMm) * pxPerMm, near);
    if (growMm > 0) orInto(shape, near);
    else clearFrom(shape, near);
  });
  return shape;
}
