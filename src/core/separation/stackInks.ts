import { labFromRgb8, linearFromRgb8, parseHexColour } from '../colour';
import type { CellPlace, StackInk } from '../solving';
import { type JobSheet, type Plate, isSimulated } from '../sheet';

/** From this lightness (L*) down dots of an ink are seen in light tones. */
const DARK_LIGHTNESS = 40;

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
export function liesOnBase(
  sheet: Pick<JobSheet, 'layers'>,
  { role, baseStrength }: Pick<Plate, 'role' | 'baseStrength'>,
): boolean {
  return role !== 'underbase' && (baseStrength > 0 || isSimulated(sheet));
}

/**
 * How plates of tones lie in the cells that they divide, by their ids: those whose dots interlock. A base that prints after others of its group lies under none, and is not of it.
 *
 * @param plates in print order.
 */
export function cellPlaces(plates: readonly Plate[]): ReadonlyMap<string, CellPlace> {
  const grids = plates.filter(({ screen }) => screen.screening === 'grid' && screen.interlock !== null);
  const places = new Map<string, CellPlace>();
  for (const { id, role, screen } of grids) {
    const group = screen.interlock!;
    const others = grids.filter((each) => each.screen.interlock === group);
    const under = role === 'underbase';
    if (others.length < 2 || (under && others[0]!.id !== id)) continue;
    places.set(id, { group, under });
  }
  return places;
}
