import { ciede2000, formatHexColour, labFromRgb8, nameColour, parseHexColour } from '../colour';
import {
  DEFAULT_SCREEN,
  type Garment,
  HIGHLIGHT_WHITE,
  type Ink,
  type JobSheet,
  LIMITS,
  type Layer,
  MESH,
  type PaletteColour,
  type Plate,
  alignRun,
  artworkOf,
  backgroundOf,
  freeColourId,
  freeNumber,
  fullToneLayer,
  garmentOf,
  isInk,
  isSupplied,
  printsTones,
  layerOf,
  paletteOf,
  withBackground,
  withGarment,
  withLayer,
  withPalette,
} from '../sheet';
import { KerameusError, checkLengthMm } from '../units';
import { isWhite, suggestBaseStrength } from './baseStrength';
import { baseUnder } from './baseUnder';
import { checkRoom } from './checkRoom';
import { isGarmentColour } from './droppedGround';
import { setWhite } from './editTones';
import { withScreensForAll } from './together';
import { isLightGarment, proposeSimulated, usualSimulatedInks } from './proposeSimulated';
import { slug, suggestOpacity, titled, underbasePlate, unique } from './proposePlates';

/** Each of these returns a new, consistent sheet; the one that is given is left alone. */

/** Adds an underbase when a plate wants one, first in print order, and removes one that nothing wants. */
export function withUnderbase(sheet: JobSheet): JobSheet {
  // Where plates are tones, each is there because it was asked for.
  if (printsTones(sheet)) return alignRun(sheet);
  const others = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const wanted = paletteOf(sheet).some((entry) => baseUnder(sheet, entry) > 0);
  const present = sheet.plates.find((plate) => plate.role === 'underbase');
  if (wanted && !present) {
    return alignRun({
      ...sheet,
      plates: [{ ...underbasePlate(), number: freeNumber(sheet.plates) }, ...sheet.plates],
    });
  }
  return alignRun(!wanted && present ? { ...sheet, plates: others } : sheet);
}

/** Takes out plates that no colour is on; those of tones stay. */
export function withoutUnusedPlates(sheet: JobSheet): JobSheet {
  if (printsTones(sheet)) return sheet;
  const used = new Set(paletteOf(sheet).map((entry) => entry.plateId));
  return {
    ...sheet,
    plates: sheet.plates.filter((plate) => !isInk(plate) || used.has(plate.id)),
  };
}

function newPlate(sheet: JobSheet, colour: string): Plate {
  checkRoom(sheet);
  const rgb = parseHexColour(colour);
  const white = isWhite(rgb);
  const plain = white ? HIGHLIGHT_WHITE.name : nameColour(rgb);
  const name = unique(titled(plain), new Set(sheet.plates.map((plate) => plate.ink.name)), ' ');
  const ink = { name, colour: formatHexColour(rgb), opacity: suggestOpacity(rgb) };
  return {
    id: unique(slug(name), new Set(sheet.plates.map((plate) => plate.id)), '-'),
    number: freeNumber(sheet.plates),
    role: white ? 'highlight' : 'colour',
    ink,
    special: null,
    baseStrength: suggestBaseStrength(ink, garmentOf(sheet).colour),
    withMarks: true,
    sources: [],
    stages: [],
    mesh: white ? MESH.highlight : MESH.solidColour,
    screen: DEFAULT_SCREEN,
  };
}

/** A colour of a sheet, by its id. Throws where there is none: whoever names it has seen it. */
export function colourOf(sheet: Pick<JobSheet, 'layers' | 'plates'>, id: string): PaletteColour {
  const entry = paletteOf(sheet).find((each) => each.id === id);
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
  const palette = paletteOf(sheet).map((each) => (each === entry ? { ...entry, ...change(entry) } : each));
  return withPalette(sheet, palette);
}

/** Gives a palette colour an ink of its own. */
export function withNewPlate(sheet: JobSheet, id: string): JobSheet {
  const plate = newPlate(sheet, colourOf(sheet, id).colour);
  const next = alignRun({ ...sheet, plates: [...sheet.plates, plate] });
  return withColour(next, id, () => ({ plateId: plate.id, tint: 1 }));
}

/**
 * Another garment: colours that it supplies lose their ink, colours that the old one supplied get one, and base strengths that
 * stood as suggested are suggested anew; so are the inks of tones.
 */
export function changeGarment(sheet: JobSheet, garment: Garment): JobSheet {
  const tones = fullToneLayer(sheet);
  const worn = withGarment(sheet, garment);
  const solved = tones ? withLayer(worn, { ...tones, solvedFor: garment.colour }) : worn;
  let next: JobSheet = {
    ...solved,
    plates: sheet.plates.map((plate) =>
      isInk(plate) && plate.baseStrength === suggestBaseStrength(plate.ink, garmentOf(sheet).colour)
        ? { ...plate, baseStrength: suggestBaseStrength(plate.ink, garment.colour) }
        : plate,
    ),
  };
  for (const entry of paletteOf(sheet)) {
    const before = isGarmentColour(entry.colour, garmentOf(sheet).colour);
    const now = isGarmentColour(entry.colour, garment.colour);
    if (now && !before) {
      next = withColour(next, entry.id, () => ({ plateId: null }));
    } else if (before && !now && entry.plateId === null) next = withNewPlate(next, entry.id);
  }
  if (printsTones(sheet)) {
    if (isSupplied(sheet)) return alignRun(next);
    if (tones?.together) return withScreensForAll(alignRun(next));
    return hasUsualInks(sheet) ? withUsualInks(next) : withWhitesFor(alignRun(next), garmentOf(sheet).colour);
  }
  return withUnderbase(withoutUnusedPlates(next));
}

/** The whites that tones want on a garment that is dark and was light before; on a light one that was dark they have nothing to print. */
function withWhitesFor(sheet: JobSheet, before: string): JobSheet {
  const now = garmentOf(sheet).colour;
  if (isLightGarment(now) === isLightGarment(before)) return sheet;
  const wanted = !isLightGarment(now);
  return setWhite(setWhite(sheet, 'underbase', wanted), 'highlight', wanted);
}

/** Whether nobody has changed the inks that tones were proposed with. */
function hasUsualInks(sheet: JobSheet): boolean {
  const usual = usualPlates(sheet);
  const known = (list: readonly Plate[]) => JSON.stringify(list.map(({ role, ink }) => [role, ink]));
  return known(sheet.plates) === known(usual);
}

/** The plates that tones are proposed with on a job's garment. */
function usualPlates(sheet: JobSheet): Plate[] {
  const { colour } = garmentOf(sheet);
  return proposeSimulated(usualSimulatedInks(colour), colour, layerOf(sheet).id);
}

/** Tones of the inks that are usual on the garment; a plate that stays is as it was. */
function withUsualInks(sheet: JobSheet): JobSheet {
  const plates = usualPlates(sheet).map((plate) => sheet.plates.find(({ id }) => id === plate.id) ?? plate);
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
export function changeBackground(sheet: JobSheet, drop: NonNullable<Layer['background']>['drop']): JobSheet {
  const background = backgroundOf(sheet);
  if (!background) return sheet;
  const next = withBackground(sheet, { ...background, drop, open: false });
  const entry = paletteOf(sheet).find((each) => each.colour === background.colour && each.within === null);
  if (!entry) return next;
  if (drop === 'everywhere') return assignColour(next, entry.id, null);
  const isBare = entry.plateId === null && !isGarmentColour(entry.colour, garmentOf(sheet).colour);
  return drop === 'keep' && isBare ? assignColour(next, entry.id, 'new') : next;
}

/** Sets the coverage at which a palette colour prints on its plate, 0..1. */
export function setTint(sheet: JobSheet, id: string, tint: number): JobSheet {
  return withColour(sheet, id, () => ({ tint }));
}

/** Sets how much underbase lies under a palette colour, 0..1; null: what its ink wants. */
export function setBaseUnder(sheet: JobSheet, id: string, base: number | null): JobSheet {
  return withUnderbase(withColour(sheet, id, () => ({ base })));
}

/** Sets how much underbase lies under all colours of an ink, 0..1, also under those that had a setting of their own. */
export function setBaseUnderInk(sheet: JobSheet, plateId: string, baseStrength: number): JobSheet {
  const palette = paletteOf(sheet).map((entry) =>
    entry.plateId === plateId ? { ...entry, base: null } : entry,
  );
  return changePlate(withPalette(sheet, palette), plateId, { baseStrength });
}

/** The underbase by the lightness of the artwork's colours, or by what the inks want alone (null). */
export function setLightBase(sheet: JobSheet, lightBase: JobSheet['fit']['lightBase']): JobSheet {
  return withUnderbase({ ...sheet, fit: { ...sheet.fit, lightBase } });
}

/**
 * Moves the tints of a plate onto a new one of the same ink, whose finer mesh holds dots: its solids stay as they are. Throws KerameusError `no-tints` where the
 * plate has no tints beside a solid, or `too-many-plates`.
 */
export function splitTints(sheet: JobSheet, plateId: string): JobSheet {
  const { tints, solids } = tintsOf(sheet, plateId);
  const plate = sheet.plates.find(({ id }) => id === plateId);
  if (!plate || tints.length === 0 || solids.length === 0) {
    throw new KerameusError({
      code: 'no-tints',
      message: 'That screen has no tints beside its solids.',
      remedy: 'Print a colour as a tint of it first.',
    });
  }
  checkRoom(sheet);
  const name = unique(`${plate.ink.name} halftone`, new Set(sheet.plates.map(({ ink }) => ink.name)), ' ');
  const own: Plate = {
    ...plate,
    id: unique(slug(name), new Set(sheet.plates.map(({ id }) => id)), '-'),
    number: freeNumber(sheet.plates),
    ink: { ...plate.ink, name },
    mesh: Math.max(plate.mesh, MESH.halftoneColour),
    sources: [],
  };
  const moved = new Set(tints.map(({ id }) => id));
  const palette = paletteOf(sheet).map((entry) =>
    moved.has(entry.id) ? { ...entry, plateId: own.id } : entry,
  );
  return withPalette(alignRun({ ...sheet, plates: [...sheet.plates, own] }), palette);
}

/** The colours of a plate that print as dots, and those that print solid. */
export function tintsOf(sheet: Pick<JobSheet, 'layers' | 'plates'>, plateId: string) {
  const own = paletteOf(sheet).filter((entry) => entry.plateId === plateId);
  return { tints: own.filter(({ tint }) => tint < 1), solids: own.filter(({ tint }) => tint === 1) };
}

/** Puts everything of one plate onto another. */
export function mergePlates(sheet: JobSheet, from: string, into: string): JobSheet {
  const palette = paletteOf(sheet).map((entry) =>
    entry.plateId === from ? { ...entry, plateId: into } : entry,
  );
  return withUnderbase(withoutUnusedPlates(withPalette(sheet, palette)));
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
  const heightMm = (widthMm * artworkOf(sheet).heightPx) / artworkOf(sheet).widthPx;
  checkLengthMm(heightMm, { parameter: 'The print height that follows', ...rule });
  return { ...sheet, print: { widthMm, heightMm, chosen: false } };
}

/** Adds a colour to the palette with an ink of its own; a colour that is there already is left alone. */
export function addColour(sheet: JobSheet, colour: string): JobSheet {
  if (paletteOf(sheet).some((entry) => entry.colour === colour && entry.within === null)) return sheet;
  if (paletteOf(sheet).length >= LIMITS.maxPaletteColours) {
    throw new KerameusError({
      code: 'too-many-colours',
      message: `The job has ${paletteOf(sheet).length} colours already.`,
      remedy: 'Take one out first.',
    });
  }
  const id = freeColourId(paletteOf(sheet));
  const entry = { id, colour, plateId: null, tint: 1, closeness: null, within: null, base: null };
  return assignColour(withPalette(sheet, [...paletteOf(sheet), entry]), id, 'new');
}

/** Gives a colour an ink of its own inside an outline only; everywhere else it stays as it is. */
export function splitColour(
  sheet: JobSheet,
  id: string,
  within: NonNullable<PaletteColour['within']>,
): JobSheet {
  if (paletteOf(sheet).length >= LIMITS.maxPaletteColours) {
    throw new KerameusError({
      code: 'too-many-colours',
      message: `The job has ${paletteOf(sheet).length} colours already.`,
      remedy: 'Take one out first.',
    });
  }
  const own = freeColourId(paletteOf(sheet));
  const entry = { ...colourOf(sheet, id), id: own, within };
  return assignColour(withPalette(sheet, [...paletteOf(sheet), entry]), own, 'new');
}

/** Takes a colour out of the palette: its pixels go to whatever colour is nearest. */
export function removeColour(sheet: JobSheet, id: string): JobSheet {
  const gone = colourOf(sheet, id);
  // Parts that were split from a colour go with it.
  const palette = paletteOf(sheet).filter(
    (each) => each !== gone && !(gone.within === null && each.within !== null && each.colour === gone.colour),
  );
  return withUnderbase(withoutUnusedPlates(withPalette(sheet, palette)));
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
  const plates = sheet.plates.map((plate) => (plate.id === id && isInk(plate) ? { ...plate, role } : plate));
  return { ...sheet, plates };
}

/** Inks by how near they come to a colour, CIEDE2000, the nearest first. */
export function nearestInks(inks: readonly Ink[], colour: string): { ink: Ink; difference: number }[] {
  const target = labFromRgb8(parseHexColour(colour));
  return inks
    .map((ink) => ({ ink, difference: ciede2000(labFromRgb8(parseHexColour(ink.colour)), target) }))
    .sort((p, q) => p.difference - q.difference);
}
