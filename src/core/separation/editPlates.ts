import { ciede2000, formatHexColour, labFromRgb8, nameColour, parseHexColour } from '../colour';
import {
  DEFAULT_SCREEN,
  HIGHLIGHT_WHITE,
  type Ink,
  type JobSheet,
  LIMITS,
  MESH,
  type PaletteColour,
  type Plate,
  alignRun,
  freeColourId,
  freeNumber,
  isSimulated,
} from '../sheet';
import { KerameusError, checkLengthMm } from '../units';
import { isWhite, suggestBaseStrength } from './baseStrength';
import { isGarmentColour } from './droppedGround';
import { proposeSimulated, usualSimulatedInks } from './proposeSimulated';
import { slug, suggestOpacity, underbasePlate, unique } from './proposePlates';

/** Each of these returns a new, consistent sheet; the one that is given is left alone. */

/** Adds an underbase when a plate wants one, first in print order, and removes one that nothing wants. */
function withUnderbase(sheet: JobSheet): JobSheet {
  // Where plates are tones, each is there because it was asked for.
  if (isSimulated(sheet)) return alignRun(sheet);
  const used = new Set(sheet.palette.map((entry) => entry.plateId));
  const others = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const wanted = underbasePlate(others.filter((plate) => used.has(plate.id)));
  const present = sheet.plates.find((plate) => plate.role === 'underbase');
  if (wanted && !present) {
    return alignRun({ ...sheet, plates: [{ ...wanted, number: freeNumber(sheet.plates) }, ...sheet.plates] });
  }
  return alignRun(!wanted && present ? { ...sheet, plates: others } : sheet);
}

function withoutUnusedPlates(sheet: JobSheet): JobSheet {
  if (isSimulated(sheet)) return sheet;
  const used = new Set(sheet.palette.map((entry) => entry.plateId));
  return {
    ...sheet,
    plates: sheet.plates.filter((plate) => plate.role === 'underbase' || used.has(plate.id)),
  };
}

function newPlate(sheet: JobSheet, colour: string): Plate {
  if (sheet.plates.length >= LIMITS.maxPlates) {
    throw new KerameusError({
      code: 'too-many-plates',
      message: `The job has ${sheet.plates.length} plates already.`,
      remedy: 'Merge two inks first.',
    });
  }
  const rgb = parseHexColour(colour);
  const white = isWhite(rgb);
  const plain = white ? HIGHLIGHT_WHITE.name : nameColour(rgb);
  const name = unique(
    plain.charAt(0).toUpperCase() + plain.slice(1),
    new Set(sheet.plates.map((plate) => plate.ink.name)),
    ' ',
  );
  const ink = { name, colour: formatHexColour(rgb), opacity: suggestOpacity(rgb) };
  return {
    id: unique(slug(name), new Set(sheet.plates.map((plate) => plate.id)), '-'),
    number: freeNumber(sheet.plates),
    role: white ? 'highlight' : 'colour',
    ink,
    baseStrength: suggestBaseStrength(ink, sheet.garment.colour),
    withMarks: true,
    stages: [],
    mesh: white ? MESH.highlight : MESH.solidColour,
    screen: DEFAULT_SCREEN,
  };
}

/** A colour of a sheet, by its id. Throws where there is none: whoever names it has seen it. */
export function colourOf({ palette }: Pick<JobSheet, 'palette'>, id: string): PaletteColour {
  const entry = palette.find((each) => each.id === id);
  if (entry) return entry;
  throw new KerameusError({
    code: 'colour-gone',
    message: 'That colour has been taken out.',
    remedy: 'Choose another one.',
  });
}

function withColour(
  sheet: JobSheet,
  id: string,
  change: (entry: PaletteColour) => Partial<PaletteColour>,
): JobSheet {
  const entry = colourOf(sheet, id);
  const palette = sheet.palette.map((each) => (each === entry ? { ...entry, ...change(entry) } : each));
  return { ...sheet, palette };
}

/** Gives a palette colour an ink of its own. */
function withNewPlate(sheet: JobSheet, id: string): JobSheet {
  const plate = newPlate(sheet, colourOf(sheet, id).colour);
  const next = withColour(sheet, id, () => ({ plateId: plate.id, tint: 1 }));
  return alignRun({ ...next, plates: [...sheet.plates, plate] });
}

/**
 * Another garment: colours that it supplies lose their ink, colours that the old one supplied get one, and base strengths that
 * stood as suggested are suggested anew; so are the inks of tones.
 */
export function changeGarment(sheet: JobSheet, garment: JobSheet['garment']): JobSheet {
  let next: JobSheet = {
    ...sheet,
    garment,
    separation: isSimulated(sheet) ? { ...sheet.separation, solvedFor: garment.colour } : sheet.separation,
    otherGarments: sheet.otherGarments.filter((each) => each.colour !== garment.colour),
    plates: sheet.plates.map((plate) =>
      plate.role !== 'underbase' &&
      plate.baseStrength === suggestBaseStrength(plate.ink, sheet.garment.colour)
        ? { ...plate, baseStrength: suggestBaseStrength(plate.ink, garment.colour) }
        : plate,
    ),
  };
  for (const entry of sheet.palette) {
    const before = isGarmentColour(entry.colour, sheet.garment.colour);
    const now = isGarmentColour(entry.colour, garment.colour);
    if (now && !before) {
      next = withColour(next, entry.id, () => ({ plateId: null }));
    } else if (before && !now && entry.plateId === null) next = withNewPlate(next, entry.id);
  }
  if (isSimulated(sheet) && hasUsualInks(sheet)) return withUsualInks(next);
  return withUnderbase(withoutUnusedPlates(next));
}

/** Whether nobody has changed the inks that tones were proposed with. */
function hasUsualInks({ plates, garment }: JobSheet): boolean {
  const usual = proposeSimulated(usualSimulatedInks(garment.colour), garment.colour);
  const known = (list: readonly Plate[]) => JSON.stringify(list.map(({ role, ink }) => [role, ink]));
  return known(plates) === known(usual);
}

/** Tones of the inks that are usual on the garment; a plate that stays is as it was. */
function withUsualInks(sheet: JobSheet): JobSheet {
  const { colour } = sheet.garment;
  const plates = proposeSimulated(usualSimulatedInks(colour), colour).map(
    (plate) => sheet.plates.find(({ id }) => id === plate.id) ?? plate,
  );
  return alignRun({ ...sheet, plates: plates.map((plate, k) => ({ ...plate, number: k + 1 })) });
}

/** Sends a palette colour to a plate, to the garment (null), or to a new ink of its own. */
export function assignColour(sheet: JobSheet, id: string, target: string | null | 'new'): JobSheet {
  const next =
    target === 'new'
      ? withNewPlate(sheet, id)
      : withColour(sheet, id, ({ tint }) => ({ plateId: target, tint: target === null ? 1 : tint }));
  return withUnderbase(withoutUnusedPlates(next));
}

/**
 * Settles what becomes of the background. A colour that is left to the garment everywhere needs no ink; one that prints again gets one, unless
 * the garment shows it anyway.
 */
export function changeBackground(
  sheet: JobSheet,
  drop: NonNullable<JobSheet['background']>['drop'],
): JobSheet {
  const { background } = sheet;
  if (!background) return sheet;
  const next: JobSheet = { ...sheet, background: { ...background, drop, open: false } };
  const entry = sheet.palette.find((each) => each.colour === background.colour && each.within === null);
  if (!entry) return next;
  if (drop === 'everywhere') return assignColour(next, entry.id, null);
  const isBare = entry.plateId === null && !isGarmentColour(entry.colour, sheet.garment.colour);
  return drop === 'keep' && isBare ? assignColour(next, entry.id, 'new') : next;
}

/** Sets the coverage at which a palette colour prints on its plate, 0..1. */
export function setTint(sheet: JobSheet, id: string, tint: number): JobSheet {
  return withColour(sheet, id, () => ({ tint }));
}

/** Puts everything of one plate onto another. */
export function mergePlates(sheet: JobSheet, from: string, into: string): JobSheet {
  const palette = sheet.palette.map((entry) =>
    entry.plateId === from ? { ...entry, plateId: into } : entry,
  );
  return withUnderbase(withoutUnusedPlates({ ...sheet, palette }));
}

/** Changes one plate; the underbase follows when a base strength changed. */
export function changePlate(
  sheet: JobSheet,
  id: string,
  change: Partial<Omit<Plate, 'id' | 'role' | 'number'>>,
): JobSheet {
  const plates = sheet.plates.map((plate) => (plate.id === id ? { ...plate, ...change } : plate));
  return withUnderbase({ ...sheet, plates });
}

/** A new print width; the height follows. Throws KerameusError `length-range`. */
export function changePrintWidth(sheet: JobSheet, widthMm: number): JobSheet {
  const rule = { minMm: LIMITS.minPrintMm, maxMm: LIMITS.maxPrintMm };
  checkLengthMm(widthMm, { parameter: 'Print width', ...rule });
  const heightMm = (widthMm * sheet.artwork.heightPx) / sheet.artwork.widthPx;
  checkLengthMm(heightMm, { parameter: 'The print height that follows', ...rule });
  return { ...sheet, print: { widthMm, heightMm, chosen: false } };
}

/** Adds a colour to the palette with an ink of its own; a colour that is there already is left alone. */
export function addColour(sheet: JobSheet, colour: string): JobSheet {
  if (sheet.palette.some((entry) => entry.colour === colour && entry.within === null)) return sheet;
  if (sheet.palette.length >= LIMITS.maxPaletteColours) {
    throw new KerameusError({
      code: 'too-many-colours',
      message: `The job has ${sheet.palette.length} colours already.`,
      remedy: 'Take one out first.',
    });
  }
  const id = freeColourId(sheet.palette);
  const entry = { id, colour, plateId: null, tint: 1, closeness: null, within: null };
  return assignColour({ ...sheet, palette: [...sheet.palette, entry] }, id, 'new');
}

/** Gives a colour an ink of its own inside an outline only; everywhere else it stays as it is. */
export function splitColour(
  sheet: JobSheet,
  id: string,
  within: NonNullable<JobSheet['palette'][number]['within']>,
): JobSheet {
  if (sheet.palette.length >= LIMITS.maxPaletteColours) {
    throw new KerameusError({
      code: 'too-many-colours',
      message: `The job has ${sheet.palette.length} colours already.`,
      remedy: 'Take one out first.',
    });
  }
  const own = freeColourId(sheet.palette);
  const entry = { ...colourOf(sheet, id), id: own, within };
  return assignColour({ ...sheet, palette: [...sheet.palette, entry] }, own, 'new');
}

/** Takes a colour out of the palette: its pixels go to whatever colour is nearest. */
export function removeColour(sheet: JobSheet, id: string): JobSheet {
  const gone = colourOf(sheet, id);
  // Parts that were split from a colour go with it.
  const palette = sheet.palette.filter(
    (each) => each !== gone && !(gone.within === null && each.within !== null && each.colour === gone.colour),
  );
  return withUnderbase(withoutUnusedPlates({ ...sheet, palette }));
}

/** How near a pixel must come to a colour to count as it, in CIELAB; null: as found for the whole artwork. */
export function setCloseness(sheet: JobSheet, id: string, closeness: number | null): JobSheet {
  return withColour(sheet, id, () => ({ closeness }));
}

/** Changes several plates alike; the underbase follows. */
export function changePlates(
  sheet: JobSheet,
  ids: readonly string[],
  change: (plate: Plate) => Partial<Omit<Plate, 'id' | 'role' | 'number'>>,
): JobSheet {
  const plates = sheet.plates.map((plate) =>
    ids.includes(plate.id) ? { ...plate, ...change(plate) } : plate,
  );
  return withUnderbase({ ...sheet, plates: alignGroups(plates, ids) });
}

/** Plates whose dots interlock follow the one of them that was changed in frequency and angle. */
function alignGroups(plates: readonly Plate[], changed: readonly string[]): Plate[] {
  return plates.map((plate) => {
    const { interlock } = plate.screen;
    if (interlock === null) return plate;
    const group = plates.filter((each) => each.screen.interlock === interlock);
    const { lpi, angleDeg } = (group.find((each) => changed.includes(each.id)) ?? group[0]!).screen;
    return lpi === plate.screen.lpi && angleDeg === plate.screen.angleDeg
      ? plate
      : { ...plate, screen: { ...plate.screen, lpi, angleDeg } };
  });
}

/** Makes a colour plate a highlight white or the other way; a highlight is choked and is not spread. */
export function changeRole(sheet: JobSheet, id: string, role: 'colour' | 'highlight'): JobSheet {
  const plates = sheet.plates.map((plate) =>
    plate.id === id && plate.role !== 'underbase' ? { ...plate, role } : plate,
  );
  return { ...sheet, plates };
}

/** Inks by how near they come to a colour, CIEDE2000, the nearest first. */
export function nearestInks(inks: readonly Ink[], colour: string): { ink: Ink; difference: number }[] {
  const target = labFromRgb8(parseHexColour(colour));
  return inks
    .map((ink) => ({ ink, difference: ciede2000(labFromRgb8(parseHexColour(ink.colour)), target) }))
    .sort((p, q) => p.difference - q.difference);
}
