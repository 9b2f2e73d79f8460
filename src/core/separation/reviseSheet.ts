import type { FoundColour } from '../artwork';
import { ciede2000, formatHexColour, labFromRgb8, nameColour, parseHexColour } from '../colour';
import {
  type Artwork,
  type FlatLayer,
  type JobSheet,
  LIMITS,
  type Layer,
  type PaletteColour,
  type Plate,
  artworkOf,
  flatLayer,
  isSupplied,
  freeColourId,
  fullToneLayer,
  garmentOf,
  isInk,
  layerOf,
  paletteOf,
  withLayer,
  withPalette,
} from '../sheet';
import { checkLengthMm } from '../units';
import { isGarmentColour } from './droppedGround';
import { nearestInks, withNewPlate, withUnderbase, withoutUnusedPlates } from './editPlates';
import { titled, unique } from './proposePlates';
import { type FoundBackground, settleBackground } from './sheetParts';

/** What is known of artwork that takes the place of a job's. */
export interface Revision {
  readonly artwork: Omit<Artwork, 'id'>;
  /** Largest first. */
  readonly colours: readonly FoundColour[];
  readonly transitions: FlatLayer['transitions'];
  readonly purity: number;
  readonly background: FoundBackground | null;
  /** For each of its colours, the one of the old artwork's that stood on most of its area (`coloursBefore`), as its place in the old palette; null for none. */
  readonly before: readonly (number | null)[];
}

/** What became of the settings when a job got another artwork. */
export interface CarriedOver {
  /** Colours that go on, from what to what; by their place where they look otherwise. */
  readonly kept: readonly { readonly from: string; readonly to: string; readonly by: 'colour' | 'place' }[];
  /** Colours that the old artwork had not, and the name of the plate that prints them; null: the garment supplies them. */
  readonly added: readonly {
    readonly colour: string;
    readonly plate: string | null;
    readonly isNew: boolean;
  }[];
  /** Colours that are gone. */
  readonly lost: readonly string[];
  /** Names of plates that had nothing left to print. */
  readonly plates: readonly string[];
  /** Height to width of the new artwork over that of the old one; 1 where it has its proportions. */
  readonly stretch: number;
}

/** Colours this near (CIEDE2000) are one that was drawn anew. */
const SAME_COLOUR = 4;
/** An ink within this of a new colour prints it. */
const PRINTS = 10;

/**
 * A job with other artwork in the place of its own, at the same width. Colours that look as before, and colours that stand where another one stood that is gone, keep their
 * plates, tints and settings; an ink that had the old colour gets the new one. Others go to an ink that is near to them, or get one of their own. Throws KerameusError `length-range` where the
 * print would be too high or too low at that width.
 */
export function reviseSheet(
  sheet: JobSheet,
  revision: Revision,
): { readonly sheet: JobSheet; readonly carried: CarriedOver } {
  const { widthPx, heightPx } = revision.artwork;
  const old = artworkOf(sheet);
  const stretch = heightPx / widthPx / (old.heightPx / old.widthPx);
  const heightMm = sheet.print.heightMm * stretch;
  checkLengthMm(heightMm, {
    parameter: 'print height with the revised artwork',
    minMm: LIMITS.minPrintMm,
    maxMm: LIMITS.maxPrintMm,
  });
  const placed: JobSheet = {
    ...sheet,
    artworks: [{ ...revision.artwork, id: old.id }],
    print: { ...sheet.print, heightMm },
  };
  // Its plates are found in the new file by their names.
  if (isSupplied(sheet)) return { sheet: placed, carried: { ...NOTHING, stretch } };
  const background = carriedBackground(sheet, revision);
  const tones = fullToneLayer(sheet);
  if (tones) {
    const next = withLayer(placed, { ...tones, background, purity: revision.purity });
    return { sheet: next, carried: { ...NOTHING, stretch } };
  }
  const layer = flatLayer(sheet)!;
  const { transitions, purity } = revision;
  const based = withLayer(placed, { ...layer, background, transitions, purity });
  return carryColours(based, revision, stretch);
}

const NOTHING: CarriedOver = { kept: [], added: [], lost: [], plates: [], stretch: 1 };

/** What becomes of the background stays as it was chosen, where it is the same. */
function carriedBackground(sheet: JobSheet, { background }: Revision): Layer['background'] {
  const had = layerOf(sheet).background;
  if (!background) return null;
  if (had && difference(had.colour, background.colour) <= SAME_COLOUR) {
    return { ...had, colour: background.colour };
  }
  const method = fullToneLayer(sheet) ? 'simulated' : 'spot';
  return settleBackground({ background, backgroundWish: 'auto', garment: garmentOf(sheet) }, method);
}

function difference(one: string, other: string): number {
  return ciede2000(labFromRgb8(parseHexColour(one)), labFromRgb8(parseHexColour(other)));
}

interface Match {
  readonly from: PaletteColour;
  readonly by: 'colour' | 'place';
}

/** For each new colour the old one whose settings it gets. */
function matchColours(
  palette: readonly PaletteColour[],
  colours: readonly string[],
  before: Revision['before'],
) {
  const matches = new Map<number, Match>();
  const taken = new Set<PaletteColour>();
  const everywhere = palette.filter(({ within }) => within === null);
  const pairs = colours
    .flatMap((colour, k) => everywhere.map((from) => ({ k, from, off: difference(colour, from.colour) })))
    .filter(({ off }) => off <= SAME_COLOUR)
    .sort((p, q) => p.off - q.off);
  for (const { k, from } of pairs) {
    if (matches.has(k) || taken.has(from)) continue;
    matches.set(k, { from, by: 'colour' });
    taken.add(from);
  }
  before.forEach((place, k) => {
    const from = place === null ? undefined : palette[place];
    // A colour that is still there has only given room to another one.
    if (!from || matches.has(k) || taken.has(from) || k >= colours.length) return;
    matches.set(k, { from, by: 'place' });
    taken.add(from);
  });
  return { matches, taken };
}

/** A plate whose ink has another colour, and the name of that where it had the name of its colour. */
function withInkColour(plate: Plate, colour: string, { plates }: JobSheet): Plate {
  const { ink } = plate;
  const usual = titled(nameColour(parseHexColour(ink.colour)));
  if (!new RegExp(`^${usual}( \\d+)?$`).test(ink.name)) return { ...plate, ink: { ...ink, colour } };
  const taken = new Set(plates.filter(({ id }) => id !== plate.id).map((each) => each.ink.name));
  const name = unique(titled(nameColour(parseHexColour(colour))), taken, ' ');
  return { ...plate, ink: { ...ink, colour, name } };
}

function carryColours(sheet: JobSheet, revision: Revision, stretch: number) {
  const palette = paletteOf(sheet);
  const colours = revision.colours.slice(0, LIMITS.maxPaletteColours).map(({ rgb }) => formatHexColour(rgb));
  const { matches, taken } = matchColours(palette, colours, revision.before);
  const next: PaletteColour[] = [];
  const recoloured = new Map<string, string>();
  const open: string[] = [];
  const dropped = layerOf(sheet).background;
  colours.forEach((colour, k) => {
    const match = matches.get(k);
    if (match) {
      next.push({ ...match.from, colour });
      if (match.by === 'place' && match.from.plateId && match.from.tint === 1)
        recoloured.set(`${match.from.plateId} ${match.from.colour}`, colour);
      return;
    }
    const entry = {
      id: freeColourId([...palette, ...next]),
      colour,
      plateId: null,
      tint: 1,
      closeness: null,
      within: null,
      base: null,
    };
    next.push(entry);
    const isLeft = dropped !== null && dropped.drop !== 'keep' && colour === dropped.colour;
    if (!isLeft && !isGarmentColour(colour, garmentOf(sheet).colour)) open.push(entry.id);
  });
  // What counts only inside of an outline goes on where its colour does.
  for (const entry of palette) {
    const now = next.find(({ id }) => palette.some((each) => each.id === id && each.colour === entry.colour));
    if (entry.within !== null && now) next.push({ ...entry, colour: now.colour });
  }
  let revised: JobSheet = {
    ...sheet,
    plates: sheet.plates.map((plate) => {
      const colour = recoloured.get(`${plate.id} ${plate.ink.colour}`);
      return colour ? withInkColour(plate, colour, sheet) : plate;
    }),
  };
  revised = withPalette(revised, next);
  const added = new Map<string, boolean>();
  for (const id of open) {
    const colour = next.find((each) => each.id === id)!.colour;
    const inks = revised.plates.filter(isInk);
    const [near] = nearestInks(
      inks.map(({ ink }) => ink),
      colour,
    );
    const isFull = revised.plates.length >= LIMITS.maxPlates;
    if (near && (near.difference <= PRINTS || isFull)) {
      const plateId = inks.find(({ ink }) => ink === near.ink)!.id;
      revised = withPalette(
        revised,
        paletteOf(revised).map((each) => (each.id === id ? { ...each, plateId } : each)),
      );
      added.set(id, false);
    } else {
      revised = withNewPlate(revised, id);
      added.set(id, true);
    }
  }
  const done = withUnderbase(withoutUnusedPlates(revised));
  const printed = paletteOf(done);
  const nameOf = (plateId: string | null) => done.plates.find(({ id }) => id === plateId)?.ink.name ?? null;
  const carried: CarriedOver = {
    kept: [...matches].map(([k, { from, by }]) => ({ from: from.colour, to: colours[k]!, by })),
    added: printed
      .filter(({ id }) => !palette.some((each) => each.id === id))
      .map(({ id, colour, plateId }) => ({ colour, plate: nameOf(plateId), isNew: added.get(id) ?? false })),
    lost: palette.filter((each) => each.within === null && !taken.has(each)).map(({ colour }) => colour),
    plates: sheet.plates
      .filter(({ id }) => !done.plates.some((each) => each.id === id))
      .map(({ ink }) => ink.name),
    stretch,
  };
  return { sheet: done, carried };
}
