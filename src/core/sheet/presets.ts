import type { JobSheet, Press, ScreenSetting } from './jobSheet';
import type { CheckLimits } from './checkLimits';
import type { Texture } from './textureSchema';

/** Presses by their registration tolerance, heads and flashes. Common practice, no source. */
export const PRESS_PROFILES: readonly Press[] = [
  { name: 'Automatic, tight', toleranceMm: 0.1, heads: 14, flashes: 3 },
  { name: 'Automatic', toleranceMm: 0.15, heads: 10, flashes: 2 },
  { name: 'Manual', toleranceMm: 0.3, heads: 6, flashes: 1 },
];

/** Film sheets and rolls (those have no height) in millimetres; all are common sizes of the trade. */
export const FILM_SHEETS: readonly { name: string; widthMm: number; heightMm: number | null }[] = [
  { name: '8.5 x 11 in', widthMm: 215.9, heightMm: 279.4 },
  { name: '8.5 x 14 in', widthMm: 215.9, heightMm: 355.6 },
  { name: '11 x 17 in', widthMm: 279.4, heightMm: 431.8 },
  { name: '13 x 19 in', widthMm: 330.2, heightMm: 482.6 },
  { name: '17 x 22 in', widthMm: 431.8, heightMm: 558.8 },
  { name: '24 x 36 in', widthMm: 609.6, heightMm: 914.4 },
  { name: 'Roll, 13 in', widthMm: 330.2, heightMm: null },
  { name: 'Roll, 17 in', widthMm: 431.8, heightMm: null },
  { name: 'Roll, 24 in', widthMm: 609.6, heightMm: null },
];

/** Small dots of the usual ellipse are this much longer than wide. */
const ELLIPSE_RATIO = 1.175;

/**
 * Screens that a job starts with: 20 % gain is made up for, no dot is smaller than the mesh holds, none so large that its opening
 * plugs. Common practice, no source.
 */
export const DEFAULT_SCREEN: ScreenSetting = {
  screening: 'grid',
  lpi: 45,
  angleDeg: 22.5,
  interlock: null,
  shape: 'ellipse',
  ratio: ELLIPSE_RATIO,
  dotUm: null,
  gain: 0.2,
  measured: null,
  holdSmallest: true,
  largest: 0.9,
};

/** Marks whose lines hold on a coarse mesh. Common practice, no source. */
export const DEFAULT_MARKS: JobSheet['film']['marks'] = {
  register: true,
  design: 'ring',
  place: 'auto',
  sizeMm: 10,
  lineMm: (0.75 * 25.4) / 72,
  fromEdgeMm: 25.4,
  centre: false,
  crop: false,
  bleedMm: 0,
  pallet: false,
  wedge: false,
};

/** Films that a job starts with; the date is the day's. */
export const DEFAULT_FILM: Omit<JobSheet['film'], 'date'> = {
  printer: null,
  dpi: 720,
  sheetWidthMm: 330.2,
  sheetHeightMm: 482.6,
  turned: false,
  gang: { widthMm: 609.6, heightMm: null },
  printAtMm: null,
  collar: null,
  stretch: { x: 0, y: 0 },
  negative: false,
  emulsion: 'up',
  marks: DEFAULT_MARKS,
  density: null,
  label: true,
  labelFields: ['job', 'role', 'size', 'screen', 'gain', 'mesh', 'date'],
  printerTones: null,
  formats: ['pdf', 'tiff'],
  names: '{n}-{ink}',
};

/** The press that a job starts with. */
export const DEFAULT_PRESS = PRESS_PROFILES[1]!;

/** Fit that a job starts with. Common practice, no source. */
export const DEFAULT_FIT: JobSheet['fit'] = {
  chokeMm: null,
  highlightChokeMm: 25.4 / 300,
  spreadMm: 0,
  trapMm: 0,
  pairs: [],
  guardMm: 0,
  underDarkMm: 0.15,
  keepMm: 0.2,
  thickenMm: 0,
  lightBase: null,
  closeGapsMm: 0,
};

/** Threads per inch by what a screen prints. Common practice, no source. */
export const MESH = {
  solidWhite: 140,
  halftoneWhite: 205,
  highlight: 205,
  solidColour: 180,
  halftoneColour: 230,
};

/** Transparent inks of process colour in print order, with the angles that their dots usually have. Common practice, no source. */
export const PROCESS_INKS = [
  { ink: { name: 'Process yellow', colour: '#ffec00', opacity: 0.06 }, angleDeg: 7.5 },
  { ink: { name: 'Process magenta', colour: '#e2007a', opacity: 0.06 }, angleDeg: 52.5 },
  { ink: { name: 'Process cyan', colour: '#009ee0', opacity: 0.06 }, angleDeg: 22.5 },
  { ink: { name: 'Process black', colour: '#1d1d1b', opacity: 0.5 }, angleDeg: 82.5 },
];
/** What process inks cover together at most, 1 for each full layer: more does not dry. Common practice, no source. */
export const PROCESS_INK_LIMIT = 2.6;

export const BASE_WHITE = { name: 'Base white', colour: '#f6f6f3', opacity: 0.85 };
export const HIGHLIGHT_WHITE = { name: 'Highlight white', colour: '#f6f6f3', opacity: 0.85 };

/** What a texture begins as. */
export const DEFAULT_TEXTURE: Texture = {
  kind: 'cracked',
  picture: null,
  strength: 0.15,
  contrast: 0.9,
  scale: 1,
  angleDeg: 0,
  xMm: 0,
  yMm: 0,
  secondDeg: null,
  spared: [],
};

/** Common practice, no source; openings, resolution and plugging as shops that print on garments state them. */
export const DEFAULT_LIMITS: CheckLimits = {
  rightDpi: 300,
  softDpi: 200,
  likeInks: 7,
  visiblyOff: 5,
  vanishing: 6,
  emptyShare: 5e-4,
  openingMm: 0.3,
  lineMm: null,
  plugging: 0.9,
  pieces: 20,
};
