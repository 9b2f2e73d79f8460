import { adviseBase, baseUnderPlate } from '../separation';
import { type JobSheet, garmentOf, printsTones, isInk } from '../sheet';
import type { Finding } from './findings';

/** Inks that lie on the garment though they want a base, and black inks that have one; of tones the base is solved for. */
export function checkBases(sheet: JobSheet): Finding[] {
  if (printsTones(sheet)) return [];
  const garment = garmentOf(sheet);
  return sheet.plates.flatMap((plate): Finding[] => {
    if (!isInk(plate)) return [];
    const { strength, reason } = adviseBase(plate.ink, garment.colour);
    const { name } = plate.ink;
    const common = { severity: 'notice', step: 'fit', plateId: plate.id } as const;
    const wanted = baseUnderPlate(sheet, plate);
    if (strength === 1 && wanted === 0) {
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
    // By lightness it is as the separator wants it.
    if (strength === 0 && wanted > 0 && sheet.fit.lightBase === null) {
      return [
        {
          ...common,
          code: 'base-unneeded',
          message: `${name} has a base: ${reason}.`,
          remedy: 'Leave it out: white peeks out beside it when a screen lies off.',
          measured: wanted,
          limit: 0,
        },
      ];
    }
    return [];
  });
}
