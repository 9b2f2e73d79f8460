export {
  LIMITS,
  effectiveChokeMm,
  jobSheetSchema,
  parseJobSheet,
  type Ink,
  type JobSheet,
  type PaletteColour,
  type Plate,
  type ScreenSetting,
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
