import { labFromRgb8, linearFromRgb8, parseHexColour } from '../colour';
import type { InkStack, StackInk } from '../solving';
import { type JobSheet, type Plate, fullToneLayer, isInk, printsTones, withoutSpecials } from '../sheet';
import { baseUnderPlate } from './baseUnder';
import { cellPlaces, nestPlaces } from './dotPlaces';

/** From this lightness (L*) down dots of an ink are seen in light tones. */
const DARK_LIGHTNESS = 40;

/** What a full base costs where it is wished for as little as possible, as a square of a colour difference. */
const BASE_BIAS = 60;

/** The limit of a job's inks, where it prints process colours, and whether its tones are a draft. */
export function stackLimit(sheet: Pick<JobSheet, 'layers'>): Pick<InkStack, 'inkLimit' | 'draft'> {
  const layer = fullToneLayer(sheet);
  return {
    ...(layer?.process ? { inkLimit: layer.process.inkLimit } : {}),
    ...(layer?.draft ? { draft: true } : {}),
  };
}

/**
 * A job's inks as its tones are solved for, one for each plate that is not special.
 *
 * @param baseWish how much the base is wished for; the job's own where it is left out.
 */
export function stackInks(
  sheet: Pick<JobSheet, 'layers' | 'plates'>,
  baseWish = fullToneLayer(sheet)?.baseWish ?? 0,
): StackInk[] {
  const layer = fullToneLayer(sheet);
  const { plates } = withoutSpecials(sheet);
  const cells = cellPlaces(plates);
  const nests = nestPlaces(plates);
  const black = layer?.process ? processBlack(plates) : undefined;
  return plates.map((plate) => {
    const cell = cells.get(plate.id);
    const nest = nests.get(plate.id);
    const isBase = plate.role === 'underbase';
    return {
      ...stackInk(plate),
      ...(isBase && baseWish !== 0 ? { bias: -baseWish * BASE_BIAS } : {}),
      ...(layer?.process && plate.role === 'colour' ? { counted: true as const } : {}),
      ...(plate === black ? { isBlack: true as const } : {}),
      ...(cell && { cell }),
      ...(nest === undefined ? {} : { nest }),
    };
  });
}

/** The darkest of the inks, where it is dark at all. */
function processBlack(plates: readonly Plate[]): Plate | undefined {
  const lightness = ({ ink }: Plate) => labFromRgb8(parseHexColour(ink.colour))[0];
  const [darkest] = plates
    .filter(({ role }) => role === 'colour')
    .sort((p, q) => lightness(p) - lightness(q));
  return darkest && lightness(darkest) < DARK_LIGHTNESS ? darkest : undefined;
}

/** An ink as tones are solved for. */
export function stackInk({ role, ink }: Pick<Plate, 'role' | 'ink'>): StackInk {
  const rgb = parseHexColour(ink.colour);
  const dark = labFromRgb8(rgb)[0] < DARK_LIGHTNESS ? 'dark' : 'none';
  return {
    colour: linearFromRgb8(rgb),
    opacity: ink.opacity,
    cost: role === 'highlight' ? 'spare' : dark,
  };
}

/** Whether an ink lies on the base: by tones each does, as far as the base reaches. */
export function liesOnBase(sheet: Pick<JobSheet, 'layers' | 'plates' | 'fit'>, plate: Plate): boolean {
  return isInk(plate) && (printsTones(sheet) || baseUnderPlate(sheet, plate) > 0);
}
