import { readFile } from 'node:fs/promises';
import { ARRANGEMENTS, type Arrangement, arrangeDots } from '@/core/checks';
import {
  DOT_SHAPES,
  FILM_FORMATS,
  type JobSheet,
  LIMITS,
  type ScreenSetting,
  parseJobSheet,
} from '@/core/sheet';
import { checkNamePattern } from '@/core/film';
import { type TonePair, parseReadings } from '@/core/tone';
import { KerameusError, parseLengthMm, parseSheetSizeMm } from '@/core/units';

/** The options of the commands as they were written. */
export type Options = Readonly<Record<string, string | undefined>>;

export function bad(parameter: string, message: string, remedy: string): KerameusError {
  return new KerameusError({ code: 'argument', parameter, message, remedy });
}

export function required(options: Options, name: string): string {
  const value = options[name];
  if (value === undefined || value === '') throw bad(name, `--${name} is missing.`, 'See --help.');
  return value;
}

export function readNumber(options: Options, name: string, low: number, high: number): number | null {
  const text = options[name];
  if (text === undefined) return null;
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value) || value < low || value > high) {
    throw bad(name, `--${name} "${text}" is not a number from ${low} to ${high}.`, 'Correct it.');
  }
  return value;
}

/** A share written as `15%` or `15`, both fifteen hundredths. */
function readPercent(options: Options, name: string, low: number, high: number): number | null {
  const text = options[name]?.replace(/%$/, '');
  const value = readNumber({ [name]: text }, name, low, high);
  return value === null ? null : value / 100;
}

function readChoice<T extends string>(options: Options, name: string, known: readonly T[]): T | null {
  const text = options[name];
  if (text === undefined) return null;
  const found = known.find((each) => each === text);
  if (!found) throw bad(name, `--${name} ${text} is not known.`, `Use ${known.join(', ')}.`);
  return found;
}

function readList<T extends string>(options: Options, name: string, known: readonly T[]): T[] | null {
  const text = options[name];
  if (text === undefined) return null;
  return text.split(',').map((part) => readChoice({ [name]: part.trim() }, name, known)!);
}

async function readWedge(file: string | undefined): Promise<TonePair[] | null> {
  if (file === undefined) return null;
  const text = await readFile(file, 'utf8').catch(() => {
    throw bad('wedge', 'The file of wedge readings cannot be read.', 'Check its name.');
  });
  return parseReadings(text);
}

const MARK_WORDS = [
  'none',
  'register',
  'sides',
  'corners',
  'three',
  'square',
  'centre',
  'crop',
  'wedge',
] as const;

function readMarks(options: Options, marks: JobSheet['film']['marks']): JobSheet['film']['marks'] {
  const words = readList(options, 'marks', MARK_WORDS);
  if (!words) return marks;
  const has = (word: (typeof MARK_WORDS)[number]) => words.includes(word);
  const place = (['sides', 'corners', 'three'] as const).find(has);
  return {
    ...marks,
    register: has('register') || place !== undefined || has('square'),
    place: place ?? 'auto',
    design: has('square') ? 'square' : 'ring',
    centre: has('centre'),
    crop: has('crop'),
    wedge: has('wedge'),
  };
}

function readStretch(options: Options): { x: number; y: number } | null {
  const text = options.stretch;
  if (text === undefined) return null;
  const match = /^(-?[\d.]+)x(-?[\d.]+)$/.exec(text.trim());
  const [x, y] = [Number(match?.[1]), Number(match?.[2])];
  if (!match || !(Math.abs(x) <= 20 && Math.abs(y) <= 20)) {
    throw bad('stretch', `--stretch "${text}" is not two numbers from -20 to 20.`, 'Write it like 1.5x-2.');
  }
  return { x, y };
}

/** The plates' dots set to each other as `--geometry` says; a base keeps its own where the others interlock. */
function withGeometry(sheet: JobSheet, geometry: Arrangement | null): JobSheet {
  if (geometry === null) return sheet;
  const plates =
    geometry === 'interlocked' ? sheet.plates.filter((plate) => plate.role !== 'underbase') : sheet.plates;
  // Without a survey every plate may overlap every other one.
  return arrangeDots(
    sheet,
    plates.map((plate) => plate.id),
    geometry,
    () => 1,
  );
}

/** A job sheet with what the options say. Throws KerameusError `argument` and what `parseJobSheet` throws. */
export async function withOptions(options: Options, sheet: JobSheet): Promise<JobSheet> {
  const limits = { minMm: 0, maxMm: LIMITS.maxChokeMm };
  const choke = options.choke ? parseLengthMm(options.choke, { parameter: 'choke', ...limits }) : null;
  const spread = options.spread ? parseLengthMm(options.spread, { parameter: 'spread', ...limits }) : null;
  const film = options.sheet ? parseSheetSizeMm(options.sheet) : null;
  const dpi = readNumber(options, 'dpi', LIMITS.minDpi, LIMITS.maxDpi);
  if (dpi !== null && !Number.isInteger(dpi))
    throw bad('dpi', `--dpi ${dpi} is not a whole number.`, 'Correct it.');
  const mesh = readNumber(options, 'mesh', 30, 500);
  const measured = await readWedge(options.wedge);
  const gain = readPercent(options, 'gain', 0, 50);
  const angleDeg = readNumber(options, 'angle', -360, 360);
  const geometry = readChoice(options, 'geometry', ARRANGEMENTS);
  const given: Partial<Record<keyof ScreenSetting, unknown>> = {
    lpi: readNumber(options, 'lpi', 10, 150),
    angleDeg: geometry === 'rotated' ? null : angleDeg,
    shape: readChoice(options, 'shape', DOT_SHAPES),
    ratio: readNumber(options, 'ratio', 1, 2),
    dotUm: readNumber(options, 'dot', 20, 1000),
    gain,
    largest: readPercent(options, 'largest', 50, 100),
  };
  const screen = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== null));
  // A gain that is given takes the place of one that was measured, and the other way round.
  const curve = measured ? { measured } : gain !== null ? { measured: null } : {};
  if (options.names !== undefined) checkNamePattern(options.names);
  const polarity = readChoice(options, 'polarity', ['positive', 'negative']);
  const changed = parseJobSheet({
    ...sheet,
    plates: sheet.plates.map((plate) => ({
      ...plate,
      mesh: mesh ?? plate.mesh,
      screen: { ...plate.screen, ...screen, ...curve },
    })),
    fit: { ...sheet.fit, chokeMm: choke ?? sheet.fit.chokeMm, spreadMm: spread ?? sheet.fit.spreadMm },
    film: {
      ...sheet.film,
      dpi: dpi ?? sheet.film.dpi,
      sheetWidthMm: film?.widthMm ?? sheet.film.sheetWidthMm,
      sheetHeightMm: film?.heightMm ?? sheet.film.sheetHeightMm,
      marks: readMarks(options, sheet.film.marks),
      negative: polarity === null ? sheet.film.negative : polarity === 'negative',
      emulsion: readChoice(options, 'emulsion', ['up', 'down']) ?? sheet.film.emulsion,
      stretch: readStretch(options) ?? sheet.film.stretch,
      formats: readList(options, 'formats', FILM_FORMATS) ?? sheet.film.formats,
      names: options.names ?? sheet.film.names,
    },
  });
  return withGeometry(changed, geometry);
}
