import { z } from 'zod';
import { LIMITS } from './vocabulary';

/** What is set by hand for two plates whose colours touch. */
export const trapPairSchema = z.strictObject({
  /** The two plates, in any order. */
  plateIds: z.tuple([z.string(), z.string()]),
  /** Which of them runs into the other; `model`: the one that the print model finds; `none`: they meet; `gap`: neither does, and bare garment stays between them; `over`: the one that prints first goes on under the other. */
  grows: z.union([z.enum(['model', 'none', 'gap', 'over']), z.strictObject({ plateId: z.string() })]),
  /** How far, or how wide the gap is; null: as far as the job's trap, or 0.02 in. */
  mm: z.number().min(0).max(LIMITS.maxOutlineMm).nullable(),
  /** Beside a gap: parts of either colour that are narrower are left clear as well, such as counters of letters; 0: all of them print. */
  clearMm: z.number().min(0).max(LIMITS.maxOutlineMm).default(0),
});

export type TrapPairSetting = z.infer<typeof trapPairSchema>;
