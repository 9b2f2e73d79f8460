export { realScreen, type DotShape, type RealScreen, type ScreenGeometry } from './screenLattice';
export { firstCodes, screenPlate, type CodeRows, type ScreenedPlate, type ToneRows } from './screenPlate';
export {
  NONE,
  deviceWeights,
  foldTile,
  laidTone,
  packedBits,
  planeAlone,
  pasteBits,
  screenLayers,
  weighField,
  weighPlane,
  type BitTarget,
  type FieldMapping,
  type LaidTone,
  type LayerTone,
  type PlaneAlone,
  type ScreenLayer,
  type ScreenRegion,
  type ToneStack,
} from './screenLayers';
export {
  SOLID_TILE,
  ThresholdTiles,
  buildDispersedTile,
  buildThresholdTile,
  dispersedDotPx,
  tilePosition,
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
