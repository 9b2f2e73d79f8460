import { labFromRgb8, parseHexColour } from '../colour';
import {
  type Garment,
  type JobSheet,
  alignRun,
  fullToneLayer,
  garmentOf,
  isWhiteBelow,
  proposeRun,
  renumber,
  withLayer,
  withOtherGarment,
  withoutSpecials,
} from '../sheet';
import { isGarmentColour } from './droppedGround';
import type { PlateInk } from './inkCandidates';
import { isLightGarment } from './proposeSimulated';

/** Inks below this lightness (L*) are black to the eye, and garments below that one black or nearly. */
const BLACK_INK = 16;
const BLACK_GARMENT = 20;

const lightness = (colour: string) => labFromRgb8(parseHexColour(colour))[0];

/**
 * Whether an ink's screen runs for a garment where films are found for several together: no whites on white, no black on black, and nothing in the garment's own
 * colour. Common practice, no source.
 */
export function runsOn({ role, ink }: PlateInk, garmentColour: string): boolean {
  if (role === 'special') return true;
  if (role !== 'colour') return !isLightGarment(garmentColour);
  if (isGarmentColour(ink.colour, garmentColour)) return false;
  return lightness(ink.colour) >= BLACK_INK || lightness(garmentColour) >= BLACK_GARMENT;
}

/**
 * The screens that run for each of a job's garments, where its films are found for all of them; any other job as it is. What does not run for one of them prints before the
 * other inks, right on the base: their dots then lie on black as they would on a black garment, and the same dots serve both.
 */
export function withScreensForAll(sheet: JobSheet): JobSheet {
  if (!fullToneLayer(sheet)?.together) return sheet;
  const garments = sheet.garments.map((garment) => ({
    ...garment,
    without: sheet.plates
      .filter((plate) =>
        isWhiteBelow(plate) ? isLightGarment(garment.colour) : !runsOn(plate, garment.colour),
      )
      .map(({ id }) => id),
  }));
  const runsOnAll = (id: string) => garments.every(({ without }) => !without.includes(id));
  const order = (plate: JobSheet['plates'][number]) =>
    plate.role === 'underbase' ? 0 : plate.role === 'highlight' ? 3 : runsOnAll(plate.id) ? 2 : 1;
  const inks = withoutSpecials(sheet).plates;
  const plates = [...inks].sort((p, q) => order(p) - order(q));
  const same = plates.every((plate, k) => plate === inks[k]);
  const next = { ...sheet, garments };
  if (same) return next;
  const specials = sheet.plates.filter(({ special }) => special !== null);
  return renumber(alignRun({ ...next, plates: [...plates, ...specials], run: proposeRun(plates) }));
}

/** Finds the films for all garments of a job of tones together, or for its first one alone; plates that do not run for that one go then. */
export function setTogether(sheet: JobSheet, together: boolean): JobSheet {
  const layer = fullToneLayer(sheet);
  if (!layer || layer.together === together) return sheet;
  const next = withLayer(sheet, { ...layer, together });
  if (together) return withScreensForAll(next);
  const { without } = garmentOf(sheet);
  const garments = next.garments.map((garment, k) => (k === 0 ? { ...garment, without: [] } : garment));
  const plates = next.plates.filter(({ id }) => !without.includes(id));
  return alignRun({ ...next, garments, plates });
}

/** The job with one garment more to print on. */
export function addGarment(sheet: JobSheet, garment: Garment): JobSheet {
  return withScreensForAll(withOtherGarment(sheet, garment));
}
