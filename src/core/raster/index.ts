export { Arena, FRESH_MEMORY, type Allocator } from './allocator';
export { compositeInk, coverageFromShapeAndTone, type CompositeArguments } from './composite';
export { PLAIN_RASTER_KERNELS, type RasterKernels } from './kernels';
export { markNearBoundary, nearBoundaryHalo } from './markNearBoundary';
export { clearFrom, forEachRun, isEmpty, keepIn, orInto, runEnd, wordsOf } from './masks';
export { stampDiscs } from './stampDiscs';
