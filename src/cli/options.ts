import { ARRANGEMENTS, type Arrangement, arrangeDots } from '@/core/checks';
import {
  DOT_SHAPES,
  FILM_FORMATS,
  type JobSheet,
  LIMITS,
  type ScreenSetting,
  fullToneLayer,
  parseJobSheet,
  withMask,
  isInk,
} from '@/core/sheet';
import { printedEnds, setInkLimit, setLeaveOutLone, wishBase, withAdjustment } from '@/core/separation';
import { type CurvePoints, PLAIN_CURVE, curveSchema, withStage } from '@/core/stages';
import { checkNamePattern } from '@/core/film';
import { withPairs } from './pairs';
import { withSpecials } from './special';
import { readTexture } from './texture';
import { parseLengthMm, parseSheetSizeMm } from '@/core/units';
import { type Options, bad, readChoice, readList, readNumber, readPercent, readReadings } from './arguments';

const MARK_WORDS = [
  'none',
  'register',
  'sides',
  'corners',
  'three',
  'square',
  'centre',
  'crop',
  'pallet',
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
    pallet: has('pallet'),
    wedge: has('wedge'),
  };
}

/** A sheet like `13x19in`, or a roll like `24in`. */
function readMedia(options: Options, name: string): { widthMm: number; heightMm: number | null } | null {
  const text = options[name];
  if (text === undefined) return null;
  if (/x/i.test(text)) return parseSheetSizeMm(text);
  return { widthMm: parseLengthMm(text, { parameter: name, minMm: 25, maxMm: 3000 }), heightMm: null };
}

function withBleed(marks: JobSheet['film']['marks'], bleedMm: number | null): JobSheet['film']['marks'] {
  return bleedMm === null ? marks : { ...marks, bleedMm };
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

/** Null where dots stay as they are, or where the best arrangement is looked for later. */
function readGeometry(options: Options): Arrangement | null {
  const geometry = readChoice(options, 'geometry', [...ARRANGEMENTS, 'auto']);
  return geometry === 'auto' ? null : geometry;
}

/** The plates' dots set to each other as `--geometry` says; where they interlock, a base is set to lie under them. */
function withGeometry(sheet: JobSheet, geometry: Arrangement | null): JobSheet {
  if (geometry === null) return sheet;
  const plates =
    geometry === 'interlocked' || geometry === 'groups' ? sheet.plates.filter(isInk) : sheet.plates;
  // Without a survey every plate may overlap every other one.
  return arrangeDots(
    sheet,
    plates.map((plate) => plate.id),
    geometry,
    () => 1,
  );
}

/** Curves like `gold: 0=0 50=35 100=100`, with plates by their ink's name or their id. */
function withCurves(sheet: JobSheet, text: string | undefined): JobSheet['plates'] {
  if (text === undefined) return sheet.plates;
  const wrong = (message: string) =>
    bad('curve', `--curve ${message}`, 'Write it like "gold: 0=0 50=35 100=100", with the name of an ink.');
  const curves = new Map<string, CurvePoints>();
  for (const part of text.split(';').filter((each) => each.trim() !== '')) {
    const [name = '', list = ''] = part.split(/:(?=[^:]*$)/).map((each) => each.trim());
    const plate = sheet.plates.find(
      ({ id, ink }) => id === name || ink.name.toLowerCase() === name.toLowerCase(),
    );
    const named = sheet.plates.map(({ ink }) => ink.name).join(', ');
    if (!plate) throw wrong(`names "${name}", which is no plate of this job: ${named}.`);
    const points = list.split(/[\s,]+/).map((pair): [number, number] => {
      const match = /^([\d.]+)=([\d.]+)$/.exec(pair);
      if (!match) throw wrong(`"${pair}" is not a pair of percentages.`);
      return [Number(match[1]) / 100, Number(match[2]) / 100];
    });
    const checked = curveSchema.safeParse({ kind: 'curve', points });
    if (!checked.success) throw wrong(`of ${plate.ink.name}: ${checked.error.issues[0]!.message}.`);
    curves.set(plate.id, points);
  }
  return sheet.plates.map((plate) => {
    const points = curves.get(plate.id);
    return points ? { ...plate, stages: withStage(plate.stages, 'curve', { kind: 'curve', points }) } : plate;
  });
}

/** An outline like `10,10 60,10 60,80`, in percent of the artwork, as fractions. */
function readPart(options: Options): [number, number][] | null {
  const text = options.part;
  if (text === undefined) return null;
  const how = 'Write three corners or more in percent of the artwork, like "10,10 60,10 60,80".';
  const corners = text
    .trim()
    .split(/\s+/)
    .map((corner): [number, number] => {
      const match = /^(-?[\d.]+),(-?[\d.]+)$/.exec(corner);
      const [x, y] = [Number(match?.[1]) / 100, Number(match?.[2]) / 100];
      if (!match || !(x >= -1 && x <= 2 && y >= -1 && y <= 2)) {
        throw bad('part', `--part "${corner}" is no corner.`, how);
      }
      return [x, y];
    });
  if (corners.length < 3) throw bad('part', `--part has ${corners.length} of at least three corners.`, how);
  return corners;
}

/** More or less base, and the limit of process inks. */
function withInkWishes(options: Options, sheet: JobSheet): JobSheet {
  const base = readPercent(options, 'base-wish', -100, 100);
  const limit = readPercent(options, 'ink-limit', 100, 400);
  if (base !== null && !fullToneLayer(sheet)) {
    throw bad('base-wish', '--base-wish is for tones.', 'Give --method simulated, or leave it out.');
  }
  if (limit !== null && !fullToneLayer(sheet)?.process) {
    throw bad('ink-limit', '--ink-limit is for process colours.', 'Give --inks process, or leave it out.');
  }
  const lone = readChoice(options, 'lone-dots', ['leave-out', 'keep']);
  if (lone !== null && !fullToneLayer(sheet)) {
    throw bad('lone-dots', '--lone-dots is for tones.', 'Give --method simulated, or leave it out.');
  }
  const calm = lone === null ? sheet : setLeaveOutLone(sheet, lone === 'leave-out');
  const wished = base === null ? calm : wishBase(calm, base);
  return limit === null ? wished : setInkLimit(wished, limit);
}

/** The artwork's colours changed before they are separated by tones. */
function withChanges(options: Options, sheet: JobSheet): JobSheet {
  const contrast = readPercent(options, 'contrast', -100, 100);
  const saturation = readPercent(options, 'saturation', -100, 100);
  const fitted = readChoice(options, 'fit-ends', ['yes', 'no']);
  if (contrast === null && saturation === null && fitted === null) return sheet;
  const layer = fullToneLayer(sheet);
  if (!layer) {
    throw bad(
      contrast !== null ? 'contrast' : saturation !== null ? 'saturation' : 'fit-ends',
      'The artwork is changed where it is separated by tones.',
      'Give --method simulated, or leave them out.',
    );
  }
  const now = layer.adjust ?? { contrast: 0, saturation: 0, curve: PLAIN_CURVE, ends: null };
  return withAdjustment(sheet, {
    ...now,
    contrast: contrast ?? now.contrast,
    saturation: saturation ?? now.saturation,
    ends: fitted === null ? now.ends : fitted === 'yes' ? printedEnds(sheet) : null,
  });
}

/** A job sheet with what the options say. Throws KerameusError `argument` and what `parseJobSheet` throws. */
export async function withOptions(options: Options, sheet: JobSheet): Promise<JobSheet> {
  const length = (
    parameter: 'choke' | 'spread' | 'trap' | 'guard' | 'thicken' | 'close-gaps',
    maxMm: number,
  ) => {
    const given = options[parameter];
    return given ? parseLengthMm(given, { parameter, minMm: 0, maxMm }) : null;
  };
  const { fit } = sheet;
  const film = readMedia(options, 'sheet');
  const gang = readMedia(options, 'gang');
  const bleed = options.bleed
    ? parseLengthMm(options.bleed, { parameter: 'bleed', minMm: 0, maxMm: 25 })
    : null;
  const dpi = readNumber(options, 'dpi', LIMITS.minDpi, LIMITS.maxDpi);
  if (dpi !== null && !Number.isInteger(dpi))
    throw bad('dpi', `--dpi ${dpi} is not a whole number.`, 'Correct it.');
  const mesh = readNumber(options, 'mesh', 30, 500);
  const measured = await readReadings(options, 'wedge');
  const printerTones = await readReadings(options, 'printer-curve');
  const gain = readPercent(options, 'gain', 0, 50);
  const angleDeg = readNumber(options, 'angle', -360, 360);
  const geometry = readGeometry(options);
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
  const part = readPart(options);
  const paired = await withPairs(options, sheet);
  const changed = parseJobSheet({
    ...withInkWishes(options, withChanges(options, part ? withMask(sheet, part) : sheet)),
    plates: withCurves(sheet, options.curve).map((plate) => ({
      ...plate,
      mesh: mesh ?? plate.mesh,
      screen: { ...plate.screen, ...screen, ...curve },
    })),
    fit: {
      ...fit,
      chokeMm: length('choke', LIMITS.maxChokeMm) ?? fit.chokeMm,
      spreadMm: length('spread', LIMITS.maxChokeMm) ?? fit.spreadMm,
      trapMm: length('trap', LIMITS.maxChokeMm) ?? fit.trapMm,
      pairs: paired.fit.pairs,
      guardMm: length('guard', LIMITS.maxGuardMm) ?? fit.guardMm,
      thickenMm: length('thicken', LIMITS.maxChokeMm) ?? fit.thickenMm,
      closeGapsMm: length('close-gaps', LIMITS.maxGapMm) ?? fit.closeGapsMm,
    },
    texture: readTexture(options, sheet),
    film: {
      ...sheet.film,
      dpi: dpi ?? sheet.film.dpi,
      sheetWidthMm: film?.widthMm ?? sheet.film.sheetWidthMm,
      sheetHeightMm: film ? film.heightMm : sheet.film.sheetHeightMm,
      turned:
        readChoice(options, 'turned', ['yes', 'no']) === null ? sheet.film.turned : options.turned === 'yes',
      gang: gang ?? sheet.film.gang,
      printerTones: printerTones ?? sheet.film.printerTones,
      density: readNumber(options, 'density', 1, 6) ?? sheet.film.density,
      marks: withBleed(readMarks(options, sheet.film.marks), bleed),
      negative: polarity === null ? sheet.film.negative : polarity === 'negative',
      emulsion: readChoice(options, 'emulsion', ['up', 'down']) ?? sheet.film.emulsion,
      stretch: readStretch(options) ?? sheet.film.stretch,
      formats: readList(options, 'formats', FILM_FORMATS) ?? sheet.film.formats,
      names: options.names ?? sheet.film.names,
    },
  });
  return withSpecials(options, withGeometry(changed, geometry));
}
