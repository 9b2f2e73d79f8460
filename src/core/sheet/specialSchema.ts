import { z } from 'zod';
import { LIMITS, SPECIALS } from './vocabulary';

const plateId = z.string().regex(/^[a-z0-9-]{1,40}$/, 'must be lower-case letters, digits and hyphens');

/** A plate that prints no colour of the artwork, but something under or over what others print. */
export const specialSchema = z.strictObject({
  kind: z.enum(SPECIALS),
  /** Plates whose shapes it takes; null: everything that prints. */
  over: z.array(plateId).max(LIMITS.maxPlates).nullable(),
  /** How far it reaches beyond them, in mm; negative: how far it stays inside. */
  growMm: z.number().min(-LIMITS.maxChokeMm).max(LIMITS.maxChokeMm),
});

export type Special = z.infer<typeof specialSchema>;
