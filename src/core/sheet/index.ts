export { type CheckLimits, checkLimitsSchema } from './checkLimits';
export { backgroundOf, droppedBackground } from './background';
export { garmentOf, otherGarments, setRuns, withGarment, withOtherGarment, withoutGarment } from './garments';
export { FIRST_ARTWORK, FIRST_LAYER, colourId, freeColourId, freeGarmentId, garmentId } from './ids';
export { MOST_CORNERS, MOST_PATCHES, PATCH_ACTS, type Patch, type PlateShare } from './layerSchema';
export { addPatch, patchesOf, sharesOf, withPatches, withShare } from './patches';
export type {
  Adjustment,
  Artwork,
  FlatLayer,
  FullToneLayer,
  SuppliedLayer,
  KeptColour,
  Layer,
  PlateSource,
} from './layerSchema';
export { type KeptPrint, keptOf, withKept } from './kept';
export {
  type PaletteColour,
  artworkOf,
  asDraft,
  flatLayer,
  fullToneLayer,
  channelOf,
  hasFilePlates,
  isSimulated,
  isSupplied,
  printsTones,
  layerOf,
  methodOf,
  paletteOf,
  type TonedGarment,
  tonedGarments,
  transitionsOf,
  withBackground,
  withLayer,
  withMask,
  withPalette,
} from './layers';
export { effectiveChokeMm } from './choke';
export { stagesOf } from './stagesOf';
export type { TrapPairSetting } from './trapPairSchema';
export { gapPairs, pairSetting, withPairSetting } from './trapPairSettings';
export type { Special } from './specialSchema';
export {
  SPECIAL_DEFAULTS,
  SPECIAL_NAMES,
  addSpecial,
  changeSpecial,
  halftoneWhite,
  isInk,
  isWhiteBelow,
  removeSpecial,
  withoutSpecials,
} from './specials';
export type { Texture } from './textureSchema';
export { describeChange } from './describeChange';
export {
  garmentSchema,
  inkSchema,
  jobSheetSchema,
  parseJobSheet,
  pressSchema,
  type Garment,
  type JobGarment,
  type Ink,
  type JobSheet,
  type Plate,
  type Press,
  type ScreenSetting,
  type Station,
} from './jobSheet';
export {
  BASE_WHITE,
  PROCESS_INKS,
  PROCESS_INK_LIMIT,
  DEFAULT_FILM,
  DEFAULT_FIT,
  DEFAULT_LIMITS,
  DEFAULT_MARKS,
  DEFAULT_PRESS,
  DEFAULT_SCREEN,
  DEFAULT_TEXTURE,
  FILM_SHEETS,
  HIGHLIGHT_WHITE,
  MESH,
  PRESS_PROFILES,
} from './presets';
export { freeNumber } from './freeNumber';
export { alignRun, firstPasses, passes, proposeRun, renumber, withRun } from './run';
export { START_STOCK, curveKey, isCurveOf, threadUmOf, type CurveKey } from './stock';
export {
  filmSheetSchema,
  meshSchema,
  printerSchema,
  stockSchema,
  type FilmPrinter,
  type GainCurve,
  type Mesh,
  type Stock,
} from './stockSchema';
export {
  BACKGROUNDS,
  DOT_SHAPES,
  FILM_FORMATS,
  LABEL_FIELDS,
  LIMITS,
  MARK_DESIGNS,
  MARK_PLACES,
  METHODS,
  SCREENINGS,
  SHEET_VERSION,
  SPECIALS,
  type SpecialKind,
  TEXTURES,
  type TextureKind,
} from './vocabulary';
export { upgradeJobSheet } from './upgradeJobSheet';
export { type SheetArtworkFacts, withArtworkFacts } from './withArtworkFacts';
export { pictureAsTexture } from './pictureAsTexture';
