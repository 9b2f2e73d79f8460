export {
  addColour,
  colourOf,
  assignColour,
  changeBackground,
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
  setBaseUnder,
  setBaseUnderInk,
  setLightBase,
  splitTints,
  tintsOf,
  splitColour,
} from './editPlates';
export { relabelShares, relabelWithin, type LocalColour } from './relabelWithin';
export { createJobSheet, type NewJob } from './createJobSheet';
export type { BackgroundWish, FoundBackground } from './sheetParts';
export { reviseSheet, type CarriedOver, type Revision } from './reviseSheet';
export {
  addInk,
  chooseInkSet,
  inksOf,
  keepOnOwnInk,
  leaveOut,
  setInkLimit,
  setLeaveOutLone,
  setWhite,
  toProcess,
  toSimulated,
  toSpot,
  toSupplied,
  wishBase,
  wishInk,
} from './editTones';
export {
  addChannel,
  addOwnBase,
  missingChannels,
  setSuppliedBase,
  suppliedParts,
  unusedChannels,
  type NamedPlate,
} from './supplied';
export { findTransitions, type FoundTransitions } from './findTransitions';
export { droppedGround, isGarmentColour, type DroppedGround } from './droppedGround';
export { DUST_HALO, dustPixels, removeDust } from './dust';
export { EDGE_LABELS_HALO, markEdgePixels } from './edgeLabels';
export { NARROW_GAP_MM, closeGaps, findGaps, gapsHalo } from './gaps';
export { mayHaveTone } from './mayHaveTone';
export { fadesOf, nestedPlates } from './fades';
export { waysOf, type PairWays } from './pairWays';
export { PaletteLookup, type LookedUp } from './palette';
export { CUT_GROUND_HALO, GROUND_PURITY, cutGround } from './cutGround';
export {
  type KeepWish,
  changeKept,
  keepColour,
  keepFlat,
  keptOffers,
  leaveToTones,
  settleKept,
  solidPlates,
} from './keepSolid';
export { silhouetteColours, silhouetteShares } from './silhouette';
export { type KeptColours, keptShares, keptSharesHalo } from './keptShares';
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
  type PlateFields,
  type ToneSource,
} from './labelMap';
export { cellKinds, pixelSpan, toneExpansion, type CellKinds, type PlaneMapping } from './labelCells';
export { baseUnder, baseUnderPlate, coloursOnBase } from './baseUnder';
export { adviseBase, isWhite, suggestBaseStrength, type BaseAdvice } from './baseStrength';
export { type SetPair, type TrapPair, isTrapped, setPairs, overPairs, trapPairs } from './trapPairs';
export {
  findTint,
  isPredicted,
  offerBase,
  offerTint,
  predictFlat,
  printFlat,
  type FlatPrint,
} from './predictFlat';
export { startPrint, type SizeFacts } from './startPrint';
export {
  proposePlates,
  slug,
  suggestOpacity,
  underbasePlate,
  unique,
  type InkRequest,
  type PlateProposal,
} from './proposePlates';
export { inkCandidates, type NamedCandidate, type PlateInk } from './inkCandidates';
export { addGarment, runsOn, setTogether, withScreensForAll } from './together';
export { lumaMapOf, printedEnds, withAdjustment } from './adjust';
export { mixInk, mixLight, type InkMix } from './mixInk';
export { cellPlaces, nestPlaces } from './dotPlaces';
export { liesOnBase, stackInks, stackLimit } from './stackInks';
export { proposeSimulated, usualSimulatedInks, type SimulatedInks } from './proposeSimulated';
export { FULL_TONE, isFullTone } from './fullTone';
