import { freeGarmentId } from './ids';
import type { Garment, JobGarment, JobSheet } from './jobSheet';

type Worn = Pick<JobSheet, 'garments'>;

/** The garment that the plates are made for. */
export function garmentOf({ garments }: Worn): JobGarment {
  return garments[0]!;
}

/** Others that the same screens print on. */
export function otherGarments({ garments }: Worn): readonly JobGarment[] {
  return garments.slice(1);
}

/** The sheet with another garment that its plates are made for; the one that was there is gone, and so is one of the others that has the same colour. */
export function withGarment<T extends Worn>(sheet: T, { name, colour }: Garment): T {
  const known = sheet.garments.find((each) => each.name === name && each.colour === colour);
  const others = otherGarments(sheet).filter((each) => each.colour !== colour);
  const id = known?.id ?? freeGarmentId(sheet.garments);
  return { ...sheet, garments: [{ id, name, colour, without: [] }, ...others] };
}

/** The sheet with one garment more to print on. */
export function withOtherGarment<T extends Worn>(sheet: T, { name, colour }: Garment): T {
  return {
    ...sheet,
    garments: [...sheet.garments, { id: freeGarmentId(sheet.garments), name, colour, without: [] }],
  };
}

/** The sheet without one of the other garments. */
export function withoutGarment<T extends Worn>(sheet: T, id: string): T {
  return { ...sheet, garments: sheet.garments.filter((each, k) => k === 0 || each.id !== id) };
}

/** The sheet with a plate running for one of the other garments, or not. */
export function setRuns<T extends Worn>(sheet: T, garmentId: string, plateId: string, runs: boolean): T {
  const change = (garment: JobGarment): JobGarment => {
    const others = garment.without.filter((id) => id !== plateId);
    return { ...garment, without: runs ? others : [...others, plateId] };
  };
  return {
    ...sheet,
    garments: sheet.garments.map((each, k) => (k > 0 && each.id === garmentId ? change(each) : each)),
  };
}
