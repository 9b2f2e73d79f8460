export { screenStrip, tilePosition, type ScreenArguments } from './screenStrip';
export { buildThresholdTile, type ScreenGeometry, type ThresholdTile } from './thresholdTile';
