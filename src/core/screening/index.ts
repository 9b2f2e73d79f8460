export { screenStrip, tilePosition, type ScreenArguments } from './screenStrip';
export {
  SOLID_TILE,
  ThresholdTiles,
  buildThresholdTile,
  type DotShape,
  type ScreenGeometry,
  type ThresholdTile,
} from './thresholdTile';
