import { labFromRgb8, parseHexColour } from '../colour';
import { BASE_WHITE, HIGHLIGHT_WHITE, type Ink, type JobSheet, type Plate, garmentOf } from '../sheet';
import type { InkCandidate } from '../solving';
import { isWhite } from './baseStrength';
import { isGarmentColour } from './droppedGround';
import { isLightGarment } from './proposeSimulated';
import { stackInk } from './stackInks';

/** An ink that a plate of tones could have. */
export type PlateInk = Pick<Plate, 'role' | 'ink'>;

export interface NamedCandidate extends InkCandidate, PlateInk {}

const lightness = ({ colour }: Ink) => labFromRgb8(parseHexColour(colour))[0];

/**
 * The inks that could print a job's tones, in the order in which they would: a white below, inks from light to dark, a white on top. Those of the job keep their
 * order, and stand for inks of stock that have their names. A light garment needs no whites, and nothing prints in its own colour.
 *
 * @param banned names of inks that nobody wants.
 */
export function inkCandidates(
  sheet: Pick<JobSheet, 'garments' | 'plates'>,
  stock: readonly Ink[],
  banned: readonly string[],
): NamedCandidate[] {
  const garment = garmentOf(sheet).colour;
  const isLight = isLightGarment(garment);
  const own = (role: Plate['role']): PlateInk[] => sheet.plates.filter((plate) => plate.role === role);
  const whites = (role: 'underbase' | 'highlight', usual: Ink): PlateInk[] => {
    const present = own(role);
    return present.length > 0 || isLight ? present : [{ role, ink: usual }];
  };
  const inks = own('colour');
  const names = new Set(sheet.plates.map(({ ink }) => ink.name));
  for (const ink of [...stock].sort((p, q) => lightness(q) - lightness(p))) {
    if (names.has(ink.name) || isWhite(parseHexColour(ink.colour)) || isGarmentColour(ink.colour, garment))
      continue;
    const darker = inks.findIndex((each) => lightness(each.ink) < lightness(ink));
    inks.splice(darker < 0 ? inks.length : darker, 0, { role: 'colour', ink });
  }
  const below = whites('underbase', BASE_WHITE).filter(({ ink }) => !banned.includes(ink.name));
  const all = [...below, ...inks, ...whites('highlight', HIGHLIGHT_WHITE)];
  return all
    .filter(({ ink }) => !banned.includes(ink.name))
    .map(({ role, ink }) => ({
      ...stackInk({ role, ink }),
      role,
      ink,
      // Of two whites the first is the one below.
      after: role === 'highlight' && below.length > 0 ? 0 : null,
    }));
}
