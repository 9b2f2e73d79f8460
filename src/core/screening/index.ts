export { realScreen, type DotShape, type RealScreen, type ScreenGeometry } from './screenLattice';
export { firstCodes, screenPlate, type CodeRows, type ScreenedPlate, type ToneRows } from './screenPlate';
export {
  NONE,
  deviceWeights,
  weighTones,
  foldTile,
  laidTone,
  pasteBits,
  screenLayers,
  type BitTarget,
  type LaidTone,
  type LayerArguments,
  type ToneLayer,
  type ToneStack,
} from './screenLayers';
export { screenStrip, tilePosition, type ScreenArguments } from './screenStrip';
export {
  SOLID_TILE,
  ThresholdTiles,
  buildDispersedTile,
  buildThresholdTile,
  dispersedDotPx,
  type DispersedGeometry,
  type ThresholdTile,
  type TileStore,
} from './thresholdTile';
export { MASK_SIDE, voidAndClusterOrder } from './voidAndCluster';
export {
  CLEAR_ANGLES,
  SHOWS_FROM,
  eyeSensitivity,
  findAngles,
  meshBeats,
  meshRisk,
  pairBeats,
  tripleBeats,
  type Beat,
  type Grating,
  type MeshRisk,
  type WovenMesh,
} from './moire';
