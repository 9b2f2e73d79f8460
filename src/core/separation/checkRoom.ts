import { type JobSheet, LIMITS } from '../sheet';
import { KerameusError } from '../units';

/** Throws KerameusError `too-many-plates` where a job has no room for one more. */
export function checkRoom({ plates }: Pick<JobSheet, 'plates'>): void {
  if (plates.length < LIMITS.maxPlates) return;
  throw new KerameusError({
    code: 'too-many-plates',
    message: `The job has ${plates.length} plates already.`,
    remedy: 'Merge two inks, or leave one out, first.',
  });
}
