import type { JobSheet, Press, ScreenSetting } from './jobSheet';

/** Presses by their registration tolerance, heads and flashes. Common practice, no source. */
export const PRESS_PROFILES: readonly Press[] = [
  { name: 'Automatic, tight', toleranceMm: 0.1, heads: 14, flashes: 3 },
  { name: 'Automatic', toleranceMm: 0.15, heads: 10, flashes: 2 },
  { name: 'Manual', toleranceMm: 0.3, heads: 6, flashes: 1 },
];

/** Film sheets in millimetres; all are common sizes of the trade. */
export const FILM_SHEETS: readonly { name: string; widthMm: number; heightMm: number }[] = [
  { name: '8.5 x 11 in', widthMm: 215.9, heightMm: 279.4 },
  { name: '8.5 x 14 in', widthMm: 215.9, heightMm: 355.6 },
  { name: '11 x 17 in', widthMm: 279.4, heightMm: 431.8 },
  { name: '13 x 19 in', widthMm: 330.2, heightMm: 482.6 },
  { name: '17 x 22 in', widthMm: 431.8, heightMm: 558.8 },
  { name: '24 x 36 in', widthMm: 609.6, heightMm: 914.4 },
];

/** Gain is not made up for unless it is asked for. */
export const DEFAULT_SCREEN: ScreenSetting = {
  lpi: 45,
  angleDeg: 22.5,
  shape: 'ellipse',
  gain: 0,
  holdSmallest: false,
  largest: 1,
};

/** Fit that a job starts with. Common practice, no source. */
export const DEFAULT_FIT: JobSheet['fit'] = {
  press: PRESS_PROFILES[1]!,
  chokeMm: null,
  highlightChokeMm: 25.4 / 300,
  spreadMm: 0,
  underDarkMm: 0.15,
  keepMm: 0.2,
};

/** Threads per inch by what a screen prints. Common practice, no source. */
export const MESH = {
  solidWhite: 140,
  halftoneWhite: 205,
  highlight: 205,
  solidColour: 180,
  halftoneColour: 230,
};

export const BASE_WHITE = { name: 'Base white', colour: '#f6f6f3', opacity: 0.85 };
export const HIGHLIGHT_WHITE = { name: 'Highlight white', colour: '#f6f6f3', opacity: 0.85 };
