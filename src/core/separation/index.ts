export {
  addColour,
  assignColour,
  changeGarment,
  changePlate,
  changePlates,
  changePrintWidth,
  changeRole,
  mergePlates,
  nearestInks,
  removeColour,
  setCloseness,
  setTint,
  splitColour,
} from './editPlates';
export { relabelShares, relabelWithin, type LocalColour } from './relabelWithin';
export { createJobSheet, type NewJob } from './createJobSheet';
export { PaletteLookup } from './palette';
export { BARE, MIXED } from '../raster';
export {
  copyShares,
  pixelShares,
  pixelSharesHalo,
  type PixelShares,
  type SharesContext,
} from './pixelShares';
export {
  EXPAND_HALO,
  adoptLabels,
  bareLabelMap,
  expandLabels,
  largestLabels,
  type LabelMap,
  type ToneSource,
} from './labelMap';
export { cellKinds, pixelSpan, toneExpansion, type CellKinds, type PlaneMapping } from './labelCells';
export {
  isWhite,
  proposePlates,
  slug,
  suggestBaseStrength,
  suggestOpacity,
  underbasePlate,
  unique,
  type InkRequest,
  type PlateProposal,
} from './proposePlates';
