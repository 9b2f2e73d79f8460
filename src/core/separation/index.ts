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
export { relabelWithin, type LocalColour } from './relabelWithin';
export { createJobSheet, type NewJob } from './createJobSheet';
export { BARE, MIXED, PaletteLookup } from './palette';
export { pixelShares, pixelSharesHalo, type PixelShares, type SharesContext } from './pixelShares';
export { EXPAND_HALO, adoptLabels, bareLabelMap, expandLabels } from './labelMap';
export type { LabelMap } from './cellMixtures';
export type { PlaneMapping } from './labelCells';
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
