import { z } from 'zod';
import { LIMITS } from './vocabulary';

/** What is set by hand for two plates whose colours touch. */
export const trapPairSchema = z.strictObject({
  /** The two plates, in any order. */
  plateIds: z.tuple([z.string(), z.string()]),
  /** Which of them runs into the other; `model`: the one that the print model finds; `none`: they meet. */
  grows: z.union([z.literal('model'), z.literal('none'), z.strictObject({ plateId: z.string() })]),
  /** How far; null: as far as the job's trap. */
  mm: z.number().min(0).max(LIMITS.maxChokeMm).nullable(),
});

export type TrapPairSetting = z.infer<typeof trapPairSchema>;
