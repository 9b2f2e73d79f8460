import { z } from 'zod';
import { LIMITS } from './vocabulary';

/** What is set by hand for two plates whose colours touch. */
export const trapPairSchema = z.strictObject({
  /** The two plates, in any order. */
  plateIds: z.tuple([z.string(), z.string()]),
  /** Which of them runs into the other; `model`: the one that the print model finds; `none`: they meet; `gap`: neither does, and bare garment stays between them. */
  grows: z.union([z.enum(['model', 'none', 'gap']), z.strictObject({ plateId: z.string() })]),
  /** How far, or how wide the gap is; null: as far as the job's trap, or 0.02 in. */
  mm: z.number().min(0).max(LIMITS.maxOutlineMm).nullable(),
});

export type TrapPairSetting = z.infer<typeof trapPairSchema>;
