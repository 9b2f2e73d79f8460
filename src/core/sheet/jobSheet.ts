import { z } from 'zod';
import { curveSchema, toneStageSchema } from '../stages';
import { KerameusError } from '../units';
import { upgradeJobSheet } from './upgradeJobSheet';
import { faultsOf } from './faults';
import { trapPairSchema } from './trapPairSchema';
import { specialSchema } from './specialSchema';
import { textureSchema } from './textureSchema';
import { checkLimitsSchema } from './checkLimits';
import { DEFAULT_LIMITS } from './presets';
import { artworkSchema, hexColour, id, layerSchema, name, plateSourceSchema, share } from './layerSchema';
import {
  DOT_SHAPES,
  FILM_FORMATS,
  LABEL_FIELDS,
  LIMITS,
  MARK_DESIGNS,
  MARK_PLACES,
  SCREENINGS,
  SHEET_VERSION,
} from './vocabulary';

/** An ink by value: its colour as printed solid over white, and how much of the backing it hides. */
export const inkSchema = z.strictObject({
  name,
  colour: hexColour,
  opacity: share,
});

/** Pairs of coverage on film and coverage in print, 0..1, both rising. */
export const measuredTonesSchema = z
  .array(z.tuple([share, share]))
  .min(3)
  .max(60)
  .refine((pairs) => pairs.every(([film], k) => k === 0 || film > pairs[k - 1]![0]), {
    message: 'must go up from one film tone to the next',
  });

export const screenSchema = z.strictObject({
  screening: z.enum(SCREENINGS),
  lpi: z.number().min(10).max(150),
  /** Counter-clockwise as seen on the print. */
  angleDeg: z.number().min(-360).max(360),
  /** Plates with one number share frequency and angle, and their dots lie beside each other in each cell; null: dots of its own. */
  interlock: z.number().int().min(1).max(LIMITS.maxGroups).nullable(),
  shape: z.enum(DOT_SHAPES),
  /** Of small elliptical dots: the longer axis over the shorter one. */
  ratio: z.number().min(1).max(2),
  /** Side of a dispersed dot; null: the smallest that the mesh holds. */
  dotUm: z.number().min(20).max(1000).nullable(),
  /** Dot gain at the middle tone that the film makes up for; 0 for none. */
  gain: z.number().min(0).max(0.5),
  /** What a step wedge printed as through this screen; takes the place of `gain`. */
  measured: measuredTonesSchema.nullable(),
  /** Whether tones below the smallest dot that the mesh holds have fewer dots of that size. */
  holdSmallest: z.boolean(),
  /** Coverage of the largest dot on film that does not plug: darker tones have fewer openings of that size; 1 keeps all. */
  largest: z.number().min(0.5).max(1),
});

export const plateSchema = z.strictObject({
  /** The number that its film carries; it stays when the print order changes. */
  number: z.number().int().min(1).max(99),
  id,
  role: z.enum(['underbase', 'colour', 'highlight', 'special']),
  /** Set for special plates, and for these alone. */
  special: specialSchema.nullable().default(null),
  ink: inkSchema,
  /** How much underbase this ink wants under it; 0 for none. */
  baseStrength: share,
  /** Threads per inch of the screen. */
  mesh: z.number().int().min(30).max(500),
  /** Whether marks and label stand on its film, as far as the job has them. */
  withMarks: z.boolean(),
  screen: screenSchema,
  /** What of the layers it prints, of a layer of tones also flat colours that are kept solid; a base under flat colours has none, it is made of the plates that want it. */
  sources: z.array(plateSourceSchema).max(2 * LIMITS.maxLayers),
  /** What is done to its tones before they are dots, each kind once. */
  stages: z
    .array(toneStageSchema)
    .refine((stages) => new Set(stages.map(({ kind }) => kind)).size === stages.length, {
      message: 'has one kind of stage twice',
    }),
});

/**
 * One place on the press, in the order in which the garment meets them: a screen, a flash, a head that cools the garment, an
 * empty head, or the beginning of another turn. A screen may stand here more than once: it prints again.
 */
export const stationSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('screen'), plateId: z.string() }),
  z.strictObject({ kind: z.enum(['flash', 'cool', 'empty', 'turn']) }),
]);

export const pressSchema = z.strictObject({
  name,
  /** Registration tolerance. */
  toleranceMm: z.number().min(0).max(1),
  /** Places round the press for screens, flashes and empty heads, without the ones for loading and unloading. */
  heads: z.number().int().min(1).max(24),
  /** Flash units that can be placed. */
  flashes: z.number().int().min(0).max(12),
});

export const garmentSchema = z.strictObject({ name, colour: hexColour });

/** A garment that a job prints on. */
export const jobGarmentSchema = garmentSchema.extend({
  id,
  /** Plates that do not run for it, such as a black on a black garment. */
  without: z.array(id).max(LIMITS.maxPlates),
});

const lengthMm = z.number().min(0);

/** An underbase by the lightness of what prints on it. */
export const lightBaseSchema = z.strictObject({
  /** CIELAB lightness of the artwork's colour, 0..1, and how much base lies under it. */
  curve: curveSchema.shape.points,
  /** `alone`: nothing else counts; `least`: no less than the inks want. */
  over: z.enum(['alone', 'least']),
});

export const marksSchema = z.strictObject({
  /** Registration marks. */
  register: z.boolean(),
  design: z.enum(MARK_DESIGNS),
  /** `auto`: at the sides where there is room, else two above the print and one below. */
  place: z.enum(MARK_PLACES),
  /** Length of a mark's cross. */
  sizeMm: z.number().min(4).max(25),
  lineMm: z.number().min(0.1).max(1),
  /** From the sheet's edge to the middle of a mark at a side or a corner. */
  fromEdgeMm: z.number().min(3).max(100),
  /** Lines at the print's own middles. */
  centre: z.boolean(),
  /** Angles at the print's corners. */
  crop: z.boolean(),
  /** Angles as far outside the print's corners as a bleed reaches; 0 for none. */
  bleedMm: z.number().min(0).max(25),
  /** Lines at the middle of the sheet's upper and lower edge, and at the collar where there is one: the pallet's own middle. */
  pallet: z.boolean(),
  /** A step wedge through the plate's own screen, beside the print. */
  wedge: z.boolean(),
});

export const jobSheetSchema = z
  .strictObject({
    format: z.literal('kerameus-job'),
    version: z.literal(SHEET_VERSION),
    name,
    artworks: z.array(artworkSchema).length(1, 'must be one: jobs of several artworks are not printed yet'),
    print: z.strictObject({
      widthMm: z.number().min(LIMITS.minPrintMm).max(LIMITS.maxPrintMm),
      heightMm: z.number().min(LIMITS.minPrintMm).max(LIMITS.maxPrintMm),
      /** Whether the size was chosen by the application, since the file states none that can be believed. */
      chosen: z.boolean(),
    }),
    /** The first is the one that the plates are made for; the same screens print on the others. */
    garments: z.array(jobGarmentSchema).min(1).max(LIMITS.maxGarments),
    /** What of the artworks prints, and how plates are made of it. */
    layers: z.array(layerSchema).length(1, 'must be one: jobs of several layers are not printed yet'),
    /** In print order: the order in which the run first comes to them. */
    plates: z.array(plateSchema).max(LIMITS.maxPlates),
    run: z.array(stationSchema).max(60),
    press: pressSchema,
    fit: z.strictObject({
      /** Null: the press's tolerance. */
      chokeMm: lengthMm.max(LIMITS.maxChokeMm).nullable(),
      highlightChokeMm: lengthMm.max(LIMITS.maxChokeMm),
      spreadMm: lengthMm.max(LIMITS.maxChokeMm),
      /** How far colours that touch run into each other; 0: they meet. */
      trapMm: lengthMm.max(LIMITS.maxChokeMm).default(0),
      /** Pairs of plates that are trapped otherwise, each once. */
      pairs: z.array(trapPairSchema).max(LIMITS.maxPairs).default([]),
      /** Openings that are narrower stay open at their size where plates grow; 0: they may fill. */
      guardMm: lengthMm.max(LIMITS.maxGuardMm).default(0),
      underDarkMm: lengthMm.max(LIMITS.maxChokeMm),
      keepMm: lengthMm.max(LIMITS.maxChokeMm),
      /** Lines of colours that are thinner grow to this width into bare garment; 0: they stay as they are. */
      thickenMm: lengthMm.max(LIMITS.maxChokeMm).default(0),
      /** Set: the underbase follows the lightness of the artwork's colours. */
      lightBase: lightBaseSchema.nullable().default(null),
      /** Gaps of a drawing narrower than this are closed; 0: none are. */
      closeGapsMm: lengthMm.max(LIMITS.maxGapMm),
    }),
    /** What makes the print look worn; null: nothing does. */
    texture: textureSchema.nullable().default(null),
    /** From where on the check of the print tells something; nothing of the print depends on it. */
    limits: checkLimitsSchema.default(DEFAULT_LIMITS),
    film: z.strictObject({
      /** Name of the film printer in stock that resolution and curve were taken from; null: typed. */
      printer: name.nullable(),
      dpi: z.number().int().min(LIMITS.minDpi).max(LIMITS.maxDpi),
      sheetWidthMm: z.number().min(25).max(3000),
      /** Null: a roll, cut where the film ends. */
      sheetHeightMm: z.number().min(25).max(3000).nullable(),
      /** Whether everything on the film is turned a quarter, clockwise. */
      turned: z.boolean(),
      /** What films that are ganged are laid out on; without a height a roll. */
      gang: z.strictObject({
        widthMm: z.number().min(25).max(3000),
        heightMm: z.number().min(25).max(3000).nullable(),
      }),
      /** Null: centred. Otherwise the print's top left corner from the sheet's. */
      printAtMm: z.strictObject({ x: z.number(), y: z.number() }).nullable(),
      /** Set: the print hangs from the line where the collar is laid. Goes before `printAtMm`. */
      collar: z.strictObject({ lineMm: lengthMm.max(3000), belowMm: lengthMm.max(1000) }).nullable(),
      /** Clear where ink prints, and black elsewhere. */
      negative: z.boolean(),
      /** Side of the film that was printed on when it is looked at right-reading; `down` mirrors the bitmap. */
      emulsion: z.enum(['up', 'down']),
      /** Parts in a thousand that the film is made larger, for films or screens that shrink. */
      stretch: z.strictObject({ x: z.number().min(-20).max(20), y: z.number().min(-20).max(20) }),
      marks: marksSchema,
      /** Density that the film's black must reach to hold back the light, told on the label; null: it says nothing of it. */
      density: z.number().min(1).max(6).nullable(),
      label: z.boolean(),
      labelFields: z.array(z.enum(LABEL_FIELDS)).max(LABEL_FIELDS.length),
      /** What the film printer makes of tones, by its own wedge: asked for and measured on film. */
      printerTones: measuredTonesSchema.nullable(),
      formats: z.array(z.enum(FILM_FORMATS)).min(1),
      /** Pattern of the films' file names; {n}, {ink}, {job}, {lpi} and so on are filled in. */
      names: z.string().trim().min(1).max(120),
      /** The date on the labels, ISO 8601. */
      date: z.string().regex(/^\d{4}-\d{2}-\d{2}$/, 'must be a date like 2026-03-14'),
    }),
  })
  .superRefine((sheet, context) => {
    for (const { path, message } of faultsOf(sheet)) context.addIssue({ code: 'custom', path, message });
  });

export type JobSheet = z.infer<typeof jobSheetSchema>;
export type Plate = z.infer<typeof plateSchema>;
export type Ink = z.infer<typeof inkSchema>;
export type Station = z.infer<typeof stationSchema>;
export type Press = z.infer<typeof pressSchema>;
export type Garment = z.infer<typeof garmentSchema>;
export type JobGarment = z.infer<typeof jobGarmentSchema>;
export type ScreenSetting = z.infer<typeof screenSchema>;

/**
 * Checks a parsed JSON document, brought to the newest version first. Throws KerameusError `job-sheet` naming the
 * first field that is wrong.
 */
export function parseJobSheet(document: unknown): JobSheet {
  const result = jobSheetSchema.safeParse(upgradeJobSheet(document));
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const field = issue.path.length > 0 ? issue.path.join('.') : 'the document';
  throw new KerameusError({
    code: 'job-sheet',
    parameter: field,
    message: `The job sheet is not valid: ${field}: ${issue.message}.`,
    remedy: 'Correct that field, or export the job again.',
  });
}
