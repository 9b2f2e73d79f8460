import { labFromRgb8, nameColour, parseHexColour } from '../colour';
import {
  BASE_WHITE,
  HIGHLIGHT_WHITE,
  type Ink,
  type JobSheet,
  type Plate,
  keptOf,
  tonedGarments,
  withoutSpecials,
} from '../sheet';
import type { InkCandidate } from '../solving';
import { isWhite } from './baseStrength';
import { isGarmentColour } from './droppedGround';
import { suggestOpacity, unique } from './proposePlates';
import { isLightGarment } from './proposeSimulated';
import { cellPlaces, nestPlaces } from './dotPlaces';
import { stackInk, stackInks } from './stackInks';
import { runsOn } from './together';

/** An ink that a plate of tones could have. */
export type PlateInk = Pick<Plate, 'role' | 'ink'>;

export interface NamedCandidate extends InkCandidate, PlateInk {}

/** How the dots of an ink more would lie to those of a job's colours: where all of these divide cells, or lie in each other, it joins them. */
function sharedPlace(plates: readonly Plate[]): Pick<NamedCandidate, 'cell' | 'nest'> {
  const colours = plates.filter(({ role }) => role === 'colour');
  const cells = cellPlaces(plates);
  const nests = nestPlaces(plates);
  const cell = colours[0] && cells.get(colours[0].id);
  if (cell && colours.every(({ id }) => cells.get(id)?.group === cell.group)) return { cell };
  const nest = colours[0] && nests.get(colours[0].id);
  return nest !== undefined && colours.every(({ id }) => nests.get(id) === nest) ? { nest } : {};
}

const lightness = ({ colour }: Ink) => labFromRgb8(parseHexColour(colour))[0];

/** Kept colours that get a candidate of exactly their colour; a search takes longer with each. */
const MOST_KEPT = 16;

/** Inks of exactly the colours that are to be solid and that no ink has yet; of many the first ones, which are the largest where they were found. */
function keptInks(sheet: Pick<JobSheet, 'layers' | 'plates'>, stock: readonly Ink[]): Ink[] {
  const known = [...stock, ...sheet.plates.map(({ ink }) => ink)];
  const names = new Set(known.map(({ name }) => name));
  const colours = keptOf(sheet).flatMap(({ as, colour }) =>
    as === 'ink' && !known.some((ink) => ink.colour === colour) ? [colour] : [],
  );
  return [...new Set(colours)].slice(0, MOST_KEPT).map((colour): Ink => {
    const rgb = parseHexColour(colour);
    const name = unique(nameColour(rgb), names, ' ');
    names.add(name);
    return { name, colour, opacity: suggestOpacity(rgb) };
  });
}

/**
 * The inks that could print a job's tones, in the order in which they would: a white below, inks from light to dark, a white on top. Those of the job keep their
 * order, and stand for inks of stock that have their names. Colours that are to be kept solid are inks, too. Where films are found for several garments, each has what one of them could use. A light garment needs no whites, and nothing prints in its own colour.
 *
 * @param banned names of inks that nobody wants.
 */
export function inkCandidates(
  sheet: Pick<JobSheet, 'garments' | 'layers' | 'plates'>,
  stock: readonly Ink[],
  banned: readonly string[],
): NamedCandidate[] {
  const garments = tonedGarments(sheet).map(({ colour }) => colour);
  const isLight = garments.every(isLightGarment);
  const own = (role: Plate['role']): PlateInk[] => sheet.plates.filter((plate) => plate.role === role);
  const whites = (role: 'underbase' | 'highlight', usual: Ink): PlateInk[] => {
    const present = own(role);
    return present.length > 0 || isLight ? present : [{ role, ink: usual }];
  };
  const inks = own('colour');
  const names = new Set(sheet.plates.map(({ ink }) => ink.name));
  for (const ink of [...stock, ...keptInks(sheet, stock)].sort((p, q) => lightness(q) - lightness(p))) {
    const isNeedless = garments.every((garment) => isGarmentColour(ink.colour, garment));
    if (names.has(ink.name) || isWhite(parseHexColour(ink.colour)) || isNeedless) continue;
    const darker = inks.findIndex((each) => lightness(each.ink) < lightness(ink));
    inks.splice(darker < 0 ? inks.length : darker, 0, { role: 'colour', ink });
  }
  // What does not run for one of several garments prints first, see `withScreensForAll`.
  const forAll = ({ ink }: PlateInk) =>
    garments.length === 1 || garments.every((garment) => runsOn({ role: 'colour', ink }, garment));
  const below = whites('underbase', BASE_WHITE).filter(({ ink }) => !banned.includes(ink.name));
  const ordered = [...inks.filter((each) => !forAll(each)), ...inks.filter(forAll)];
  const all = [...below, ...ordered, ...whites('highlight', HIGHLIGHT_WHITE)];
  // Inks are chosen for what they can print; how much base that is to be is said of the inks that were chosen.
  const known = stackInks(sheet, 0);
  const { plates } = withoutSpecials(sheet);
  const shared = sharedPlace(plates);
  return all
    .filter(({ ink }) => !banned.includes(ink.name))
    .map(({ role, ink }): NamedCandidate => ({
      ...(known[plates.findIndex((each) => each.role === role && each.ink.name === ink.name)] ?? {
        ...stackInk({ role, ink }),
        ...(role === 'colour' ? shared : {}),
      }),
      role,
      ink,
      // Of two whites the first is the one below.
      after: role === 'highlight' && below.length > 0 ? 0 : null,
    }));
}
