import type { FoundColour } from '../artwork';
import { ciede2000, formatHexColour, labFromRgb8, parseHexColour } from '../colour';
import {
  type JobSheet,
  type KeptColour,
  type KeptPrint,
  LIMITS,
  type Plate,
  droppedBackground,
  freeColourId,
  fullToneLayer,
  garmentOf,
  keptOf,
  withKept,
  withLayer,
  isInk,
} from '../sheet';
import { KerameusError } from '../units';
import { isGarmentColour } from './droppedGround';

/** A flat colour of which no ink is nearer than this (CIEDE2000) is made of dots: they come nearer. */
const SNAP_DISTANCE = 5;

/** A plate that could print a colour solid, and how far from it that would be, CIEDE2000. */
export interface SolidPlate {
  readonly plate: Plate;
  readonly difference: number;
}

/** The plates that could print a colour solid, the nearest first. The base is none: what it prints lies below the others. */
export function solidPlates({ plates }: Pick<JobSheet, 'plates'>, colour: string): SolidPlate[] {
  const wanted = labFromRgb8(parseHexColour(colour));
  return plates
    .filter(isInk)
    .map((plate) => ({
      plate,
      difference: ciede2000(labFromRgb8(parseHexColour(plate.ink.colour)), wanted),
    }))
    .sort((p, q) => p.difference - q.difference);
}

/** Kept colours whose plate is gone get the nearest of those that are there; where none is near they are made of dots until one is. */
export function settleKept(sheet: JobSheet): JobSheet {
  const kept = keptOf(sheet);
  if (!kept.some(({ as, plateId }) => as === 'ink' && plateId === null)) return sheet;
  return withKept(
    sheet,
    kept.map((each) =>
      each.as === 'ink' && each.plateId === null ? { ...each, plateId: nearest(sheet, each.colour) } : each,
    ),
  );
}

function nearest(sheet: JobSheet, colour: string): string | null {
  const [best] = solidPlates(sheet, colour);
  return best && best.difference <= SNAP_DISTANCE ? best.plate.id : null;
}

/** How a colour is to be kept: solid on a plate (null: the nearest), left to the garment, or made of dots. */
export type KeepWish =
  { readonly as: 'ink'; readonly plateId: string | null } | { readonly as: 'garment' | 'dots' };

/**
 * The job with a flat colour kept out of its tones.
 *
 * An ink that is named for it is in every proposal of inks from then on.
 *
 * @param colour as the artwork has it; where it is kept already it is kept otherwise, inside of the same outline.
 *
 * Throws KerameusError `too-many-colours`.
 */
export function keepColour(sheet: JobSheet, colour: string, wish: KeepWish): JobSheet {
  const kept = keptOf(sheet);
  const known = kept.find((each) => each.colour === colour);
  if (!known && kept.length >= LIMITS.maxPaletteColours) {
    throw new KerameusError({
      code: 'too-many-colours',
      message: `${LIMITS.maxPaletteColours} colours are kept already.`,
      remedy: 'Leave one to the tones first.',
    });
  }
  const plateId = wish.as === 'ink' ? (wish.plateId ?? nearest(sheet, colour)) : null;
  const next: KeptPrint = {
    ...(known ?? { id: freeColourId(kept), colour, closeness: null, within: null, base: null, tint: 1 }),
    as: wish.as,
    plateId,
  };
  const made = withKept(sheet, known ? kept.map((each) => (each === known ? next : each)) : [...kept, next]);
  return wish.as === 'ink' && wish.plateId !== null ? withPinned(made, wish.plateId) : made;
}

/** An ink that a colour was put on by hand is in every proposal. */
function withPinned(sheet: JobSheet, plateId: string): JobSheet {
  const layer = fullToneLayer(sheet);
  const name = sheet.plates.find(({ id }) => id === plateId)?.ink.name;
  if (!layer || name === undefined || layer.pinned.includes(name)) return sheet;
  return withLayer(sheet, {
    ...layer,
    pinned: [...layer.pinned, name],
    banned: layer.banned.filter((each) => each !== name),
  });
}

/** The job with other settings of a kept colour. */
export function changeKept(
  sheet: JobSheet,
  id: string,
  change: Partial<Pick<KeptColour, 'closeness' | 'within'>>,
): JobSheet {
  return withKept(
    sheet,
    keptOf(sheet).map((each) => (each.id === id ? { ...each, ...change } : each)),
  );
}

/** The job with a colour that is one of its tones again. */
export function leaveToTones(sheet: JobSheet, id: string): JobSheet {
  return withKept(
    sheet,
    keptOf(sheet).filter((each) => each.id !== id),
  );
}

/** Flat colours nearer than this (CIEDE2000) are one for the eye: of these the larger is offered. */
const ONE_COLOUR = 1;

/** The artwork's flat colours that are not kept yet, without a background that is dropped. */
export function keptOffers(sheet: JobSheet, found: readonly FoundColour[]): FoundColour[] {
  const kept = keptOf(sheet).map(({ colour }) => labFromRgb8(parseHexColour(colour)));
  const dropped = droppedBackground(sheet);
  const known = [...kept, ...(dropped ? [labFromRgb8(parseHexColour(dropped.colour))] : [])];
  return found.filter(({ rgb }) => {
    const lab = labFromRgb8(rgb);
    return known.every((each) => ciede2000(each, lab) >= ONE_COLOUR);
  });
}

/** The job with all of some flat colours kept: on the inks that are near to them, or left to a garment that has them. */
export function keepFlat(sheet: JobSheet, found: readonly FoundColour[]): JobSheet {
  const garment = garmentOf(sheet).colour;
  const room = LIMITS.maxPaletteColours - keptOf(sheet).length;
  return keptOffers(sheet, found)
    .slice(0, room)
    .reduce((next, { rgb }) => {
      const colour = formatHexColour(rgb);
      const wish: KeepWish = isGarmentColour(colour, garment)
        ? { as: 'garment' }
        : { as: 'ink', plateId: null };
      return keepColour(next, colour, wish);
    }, sheet);
}
