import { layTones } from './layTones';
import { markTone } from './markTone';
import { boundaryLines, markNearBoundary, markNearLines } from './markNearBoundary';
import { mixPixels, namePixels } from './namePixels';
import { nearestPairs } from './nearestPairs';
import { nearestSet } from './nearestSet';
import { printView } from './printView';
import { stampDiscs } from './stampDiscs';
import { tonePlanes } from './tonePlanes';
import { uniformCells } from './uniformCells';

/**
 * The hot loops. The plain forms in this folder are the definition; the compiled ones must give
 * the same bytes and are handed in by whoever runs the pipeline.
 */
export interface RasterKernels {
  readonly markNearBoundary: typeof markNearBoundary;
  /** The two parts of it, for who asks for several distances from one boundary. */
  readonly boundaryLines: typeof boundaryLines;
  readonly markNearLines: typeof markNearLines;
  readonly stampDiscs: typeof stampDiscs;
  readonly nearestSet: typeof nearestSet;
  readonly nearestPairs: typeof nearestPairs;
  readonly printView: typeof printView;
  readonly layTones: typeof layTones;
  readonly tonePlanes: typeof tonePlanes;
  readonly namePixels: typeof namePixels;
  readonly mixPixels: typeof mixPixels;
  readonly markTone: typeof markTone;
  readonly uniformCells: typeof uniformCells;
}

export const PLAIN_RASTER_KERNELS: RasterKernels = {
  markNearBoundary,
  boundaryLines,
  markNearLines,
  stampDiscs,
  nearestSet,
  nearestPairs,
  printView,
  layTones,
  tonePlanes,
  namePixels,
  mixPixels,
  markTone,
  uniformCells,
};
