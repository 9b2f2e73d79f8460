import { labFromRgb8, parseHexColour } from '../colour';
import { type JobSheet, type PaletteColour, type Plate, paletteOf } from '../sheet';
import { CURVE } from '../stages';

type Based = Pick<JobSheet, 'fit' | 'plates'>;

/**
 * How much underbase is wanted under a flat colour, 0..1: its own setting; else by its lightness where the job says so; else what its ink wants. A colour that
 * the base itself prints has as much of it as its tint. 0 where nothing prints the colour.
 */
export function baseUnder(
  { fit, plates }: Based,
  { colour, base, plateId, tint }: Pick<PaletteColour, 'colour' | 'base' | 'plateId' | 'tint'>,
): number {
  const plate = plates.find(({ id }) => id === plateId);
  if (!plate) return 0;
  if (plate.role === 'underbase') return tint;
  if (base !== null) return base;
  if (!fit.lightBase) return plate.baseStrength;
  const light = baseByLightness(fit.lightBase, colour);
  return fit.lightBase.over === 'alone' ? light : Math.max(light, plate.baseStrength);
}

/** What a curve of lightness asks for under a colour, 0..1. */
function baseByLightness({ curve }: NonNullable<JobSheet['fit']['lightBase']>, colour: string) {
  const lightness = Math.min(1, Math.max(0, labFromRgb8(parseHexColour(colour))[0] / 100));
  return Math.min(1, Math.max(0, CURVE.toneOf({ kind: 'curve', points: curve })(lightness)));
}

/** The strongest base that any of a plate's colours wants; of a plate without flat colours what its ink wants. */
export function baseUnderPlate(sheet: Based & Pick<JobSheet, 'layers'>, plate: Plate): number {
  const strengths = paletteOf(sheet)
    .filter(({ plateId }) => plateId === plate.id)
    .map((entry) => baseUnder(sheet, entry));
  return strengths.length > 0 ? Math.max(...strengths) : plate.baseStrength;
}

/** The flat colours that the underbase prints itself, such as white that needs no screen of its own. */
export function coloursOnBase(sheet: Pick<JobSheet, 'layers' | 'plates'>): readonly PaletteColour[] {
  const base = sheet.plates.find(({ role }) => role === 'underbase');
  return base ? paletteOf(sheet).filter(({ plateId }) => plateId === base.id) : [];
}
