import { z } from 'zod';
import { garmentSchema, inkSchema, measuredTonesSchema, pressSchema } from './jobSheet';
import { checkLimitsSchema } from './checkLimits';
import { DEFAULT_LIMITS } from './presets';
import { DOT_SHAPES, LIMITS } from './vocabulary';

const name = z.string().trim().min(1).max(80);

export const meshSchema = z.strictObject({
  /** Threads per inch. */
  count: z.number().int().min(30).max(500),
  /** Diameter of a thread. */
  threadUm: z.number().min(20).max(200),
  use: z.string().trim().max(80),
});

export const printerSchema = z.strictObject({
  name,
  dpi: z.number().int().min(LIMITS.minDpi).max(LIMITS.maxDpi),
  /** Width of the widest sheet or roll that it takes. */
  widthMm: z.number().min(100).max(2000),
  /** Where it listens, ipp or ipps; empty for one that films are carried to. */
  uri: z
    .string()
    .trim()
    .max(200)
    .regex(/^$|^ipps?:\/\/[^\s]+$/, 'must be an address like ipp://printer.local:631/ipp/print')
    .default(''),
  /** What it makes of the tones that it is asked for, 0..1 each; null: not measured. */
  tones: measuredTonesSchema.nullable().default(null),
});

/** What a wedge printed as through a screen, for jobs to come with the same ink, mesh and dots. */
export const curveSchema = z.strictObject({
  ink: name,
  mesh: z.number().int().min(30).max(500),
  lpi: z.number().min(10).max(150),
  shape: z.enum(DOT_SHAPES),
  tones: measuredTonesSchema,
});

export const filmSheetSchema = z.strictObject({
  name,
  widthMm: z.number().min(25).max(3000),
  /** Null: a roll. */
  heightMm: z.number().min(25).max(3000).nullable(),
});

/** What a shop has on its shelves. A job takes things from it by value: changing stock changes no job. */
export const stockSchema = z.strictObject({
  inks: z.array(inkSchema).max(300),
  garments: z.array(garmentSchema).max(200),
  meshes: z.array(meshSchema).max(60),
  presses: z.array(pressSchema).min(1).max(30),
  printers: z.array(printerSchema).max(30),
  sheets: z.array(filmSheetSchema).max(60),
  curves: z.array(curveSchema).max(500).default([]),
  /** From where on checks of new jobs tell something. */
  limits: checkLimitsSchema.default(DEFAULT_LIMITS),
});

export type Stock = z.infer<typeof stockSchema>;
export type Mesh = z.infer<typeof meshSchema>;
export type GainCurve = z.infer<typeof curveSchema>;
export type FilmPrinter = z.infer<typeof printerSchema>;
