export { describeChange } from './describeChange';
export {
  DOT_SHAPES,
  LIMITS,
  SHEET_VERSION,
  effectiveChokeMm,
  jobSheetSchema,
  parseJobSheet,
  garmentSchema,
  inkSchema,
  pressSchema,
  type Garment,
  type Ink,
  type JobSheet,
  type PaletteColour,
  type Plate,
  type Press,
  type ScreenSetting,
  type Station,
} from './jobSheet';
export {
  BASE_WHITE,
  DEFAULT_FIT,
  DEFAULT_SCREEN,
  FILM_SHEETS,
  HIGHLIGHT_WHITE,
  MESH,
  PRESS_PROFILES,
} from './presets';
export { alignRun, firstPasses, freeNumber, passes, proposeRun, renumber, withRun } from './run';
export {
  START_STOCK,
  filmSheetSchema,
  meshSchema,
  printerSchema,
  stockSchema,
  threadUmOf,
  type FilmPrinter,
  type Mesh,
  type Stock,
} from './stock';
