export { NestRows, nestsIn } from './nestRows';
export { PieceCounter, type SmallPieces } from './countPieces';
export { Arena, FRESH_MEMORY, StageMemory, type Allocator } from './allocator';
export { blend, expandRow, expansion, placeBetween, type Expansion } from './expansion';
export { PLAIN_RASTER_KERNELS, type RasterKernels } from './kernels';
export { BARE, DARK, INKED, LEAST_TONE, LIT, MIXED, PARTLY, THIN, TONED, UNBASED, UNLIT } from './codes';
export { layTones, type ToneArguments } from './layTones';
export { boundaryLines, markNearBoundary, markNearLines, nearBoundaryHalo } from './markNearBoundary';
export {
  clearFrom,
  forEachRun,
  invertInto,
  isEmpty,
  keepIn,
  maskWithout,
  orInto,
  runEnd,
  wordsOf,
} from './masks';
export type { markTone } from './markTone';
export {
  KNOWN_COUNT,
  knownPlace,
  type KnownLabels,
  type KnownMixtures,
  type MixArguments,
  type NameArguments,
  namePixels,
} from './namePixels';
export { groupsOf, type GroupPlace, type LayerGroup, type PrintLayer } from './printLayer';
export { printView, type PrintArguments, type Spans } from './printView';
export { besideIn } from './nearestPairs';
export { NO_PLATE, labelsIn, sortLabels, type LabelTables, type SortArguments } from './sortLabels';
export { stampDiscs } from './stampDiscs';
export { tonePlanes, type TonePixels, type TonePlaneArguments } from './tonePlanes';
export { cellStride, type uniformCells } from './uniformCells';
