import { adviseBase } from '../separation';
import { type JobSheet, garmentOf, isSimulated, isInk } from '../sheet';
import type { Finding } from './findings';

/** Inks that lie on the garment though they want a base, and black inks that have one; of tones the base is solved for. */
export function checkBases(sheet: JobSheet): Finding[] {
  if (isSimulated(sheet)) return [];
  const garment = garmentOf(sheet);
  return sheet.plates.flatMap((plate): Finding[] => {
    if (!isInk(plate)) return [];
    const { strength, reason } = adviseBase(plate.ink, garment.colour);
    const { name } = plate.ink;
    const common = { severity: 'notice', step: 'fit', plateId: plate.id } as const;
    if (strength === 1 && plate.baseStrength === 0) {
      return [
        {
          ...common,
          code: 'base-missing',
          message: `${name} prints on ${garment.name} without a base: ${reason}.`,
          remedy: 'Give it a base, or leave it if that is how it shall look.',
          measured: 0,
          limit: 1,
        },
      ];
    }
    if (strength === 0 && plate.baseStrength > 0) {
      return [
        {
          ...common,
          code: 'base-unneeded',
          message: `${name} has a base: ${reason}.`,
          remedy: 'Leave it out: white peeks out beside it when a screen lies off.',
          measured: plate.baseStrength,
          limit: 0,
        },
      ];
    }
    return [];
  });
}
