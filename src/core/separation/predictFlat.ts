import {
  type InkOptics,
  type LinearRgb,
  ciede2000,
  labFromLinear,
  labFromRgb8,
  linearFromRgb8,
  parseHexColour,
  printOver,
} from '../colour';
import { stagedTone } from '../stages';
import { baseUnder } from './baseUnder';
import {
  BASE_WHITE,
  type Ink,
  type JobSheet,
  type PaletteColour,
  type Plate,
  garmentOf,
  halftoneWhite,
  stagesOf,
  isInk,
} from '../sheet';

/** An ink as the print model sees it. */
export function opticsOf(ink: Ink): InkOptics {
  return { colour: linearFromRgb8(parseHexColour(ink.colour)), opacity: ink.opacity };
}

/**
 * A flat area as the print model has it: garment, base, ink, in linear light.
 *
 * @param base the base's ink and how much of the place it covers, 0..1.
 * @param tint coverage of the ink, 0..1.
 */
export function printFlat(
  garmentColour: string,
  base: { readonly ink: Ink; readonly strength: number } | null,
  ink: Ink,
  tint: number,
): LinearRgb {
  const garment = linearFromRgb8(parseHexColour(garmentColour));
  const backing = base && base.strength > 0 ? printOver(garment, opticsOf(base.ink), base.strength) : garment;
  return printOver(backing, opticsOf(ink), tint);
}

/** How a colour of the artwork prints. */
export interface FlatPrint {
  /** Linear light of the print. */
  readonly print: LinearRgb;
  /** CIEDE2000 between the artwork's colour and the print. */
  readonly difference: number;
}

/** Whether the predicted print shows a plate: of special plates those that are white ink, and none whose effect the print model does not know. */
export function isPredicted({ role, ink }: Pick<Plate, 'role' | 'ink'>): boolean {
  return role !== 'special' || ink.opacity > 0;
}

/** All that prints where a colour is flat, in print order: its ink, its base, and whites that lie at either. */
function printStack(sheet: JobSheet, entry: PaletteColour, own: Plate, garment: LinearRgb): LinearRgb {
  const wanted = baseUnder(sheet, entry);
  // A colour that the base prints itself is as much of it; what of it is less than solid prints on a white of its own, where the job has one.
  const laid = own.role === 'underbase' ? entry.tint : wanted;
  const white = halftoneWhite(sheet);
  const isDots = white !== null && laid < 1;
  const shareOf = (plate: Plate): number => {
    if (plate === white || plate.role === 'underbase')
      return (plate === white) === isDots ? stagedTone(stagesOf(plate), laid) : 0;
    if (plate === own) return stagedTone(stagesOf(plate), entry.tint);
    if (!plate.special || plate.special.kind === 'halftone' || !isPredicted(plate)) return 0;
    const { over } = plate.special;
    const isAt = ({ id, role }: Plate) =>
      over === null || over.includes(id) ? id === own.id || (role === 'underbase' && wanted > 0) : false;
    return sheet.plates.some(isAt) ? 1 : 0;
  };
  return sheet.plates.reduce((below, plate) => {
    const share = shareOf(plate);
    return share > 0 ? printOver(below, opticsOf(plate.ink), share) : below;
  }, garment);
}

/** What the print model says of each palette colour where it is flat: its ink at its tint, over its base, on the garment. */
export function predictFlat(sheet: JobSheet, entry: PaletteColour): FlatPrint {
  const plate = sheet.plates.find((each) => each.id === entry.plateId);
  const garment = linearFromRgb8(parseHexColour(garmentOf(sheet).colour));
  const print = plate ? printStack(sheet, entry, plate, garment) : garment;
  const difference = ciede2000(labFromRgb8(parseHexColour(entry.colour)), labFromLinear(print));
  return { print, difference };
}

/** A colour as a tint of an ink. */
export interface FoundTint {
  /** 0.01..1, in whole percent. */
  readonly tint: number;
  /** CIEDE2000 from the colour. */
  readonly difference: number;
}

/** The tint at which an ink, over the base that it wants, prints nearest to a colour. */
export function findTint(
  garmentColour: string,
  baseInk: Ink,
  plate: Pick<Plate, 'ink' | 'baseStrength' | 'stages' | 'screen'>,
  colour: string,
): FoundTint {
  const target = labFromRgb8(parseHexColour(colour));
  const at = (percent: number): FoundTint => {
    const tint = percent / 100;
    const base = { ink: baseInk, strength: plate.baseStrength };
    const print = printFlat(garmentColour, base, plate.ink, stagedTone(stagesOf(plate), tint));
    return { tint, difference: ciede2000(target, labFromLinear(print)) };
  };
  let best = at(100);
  for (let percent = 99; percent >= 1; percent--) {
    const next = at(percent);
    // A solid is worth more than a trifle of difference.
    if (next.difference < best.difference - (best.tint === 1 ? 0.5 : 0)) best = next;
  }
  return best;
}

/** A tint is offered where it prints within this of its colour. */
export const GOOD_TINT = 3;

/** The plate whose tint would print a colour that has an ink to itself; null where none comes near enough. */
export function offerTint(
  sheet: JobSheet,
  entry: PaletteColour,
): (FoundTint & { readonly plate: Plate }) | null {
  const base = sheet.plates.find((each) => each.role === 'underbase')?.ink ?? BASE_WHITE;
  let best: (FoundTint & { readonly plate: Plate }) | null = null;
  for (const plate of sheet.plates) {
    if (!isInk(plate) || plate.id === entry.plateId) continue;
    const found = findTint(garmentOf(sheet).colour, base, plate, entry.colour);
    if (found.difference <= GOOD_TINT && (!best || found.difference < best.difference))
      best = { ...found, plate };
  }
  return best;
}

/** The base is offered in the place of a white's own screen where that changes its print by no more, in CIEDE2000. */
const GOOD_BASE = 5;

/** How far a white would print from what it prints now if the base alone printed it, which saves a screen; null where that is no choice. */
export function offerBase(sheet: JobSheet, entry: PaletteColour): { readonly difference: number } | null {
  const base = sheet.plates.find(({ role }) => role === 'underbase');
  const plate = sheet.plates.find(({ id }) => id === entry.plateId);
  if (!base || plate?.role !== 'highlight' || entry.tint < 1) return null;
  const [now, then] = [entry, { ...entry, plateId: base.id }].map((each) =>
    labFromLinear(predictFlat(sheet, each).print),
  );
  const difference = ciede2000(now!, then!);
  return difference <= GOOD_BASE ? { difference } : null;
}
