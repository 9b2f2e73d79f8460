export { compositeInk, coverageFromShapeAndTone, type CompositeArguments } from './composite';
export { PLAIN_RASTER_KERNELS, type RasterKernels } from './kernels';
export { markNearBoundary, nearBoundaryHalo } from './markNearBoundary';
export { stampDiscs } from './stampDiscs';
