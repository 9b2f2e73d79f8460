import { z } from 'zod';

/** From where on something about a print is told. Each has one meaning in every check that uses it. */
export const checkLimitsSchema = z.strictObject({
  /** Artwork pixels per inch of print that are right, and that are still soft rather than too few. */
  rightDpi: z.number().min(50).max(1200),
  softDpi: z.number().min(30).max(1200),
  /** CIEDE2000 below which two inks look like one. */
  likeInks: z.number().min(0).max(50),
  /** CIEDE2000 from which on a colour prints visibly off itself. */
  visiblyOff: z.number().min(0.5).max(50),
  /** CIEDE2000 below which a printed colour is hardly seen on the garment. */
  vanishing: z.number().min(0).max(50),
  /** Share of the print from which on a plate deserves its screen, 0..1. */
  emptyShare: z.number().min(0).max(0.1),
  /** Openings narrower than this fill. */
  openingMm: z.number().min(0).max(1),
  /** Lines thinner than this do not hold; null: what the mesh of each plate holds. */
  lineMm: z.number().min(0).max(1).nullable(),
  /** Coverage on film from which on dots plug, 0..1. */
  plugging: z.number().min(0.5).max(1),
  /** Pieces of one plate that are smaller than a screen holds and may be there without being told. */
  pieces: z.number().int().min(0).max(1_000_000),
});

export type CheckLimits = z.infer<typeof checkLimitsSchema>;
