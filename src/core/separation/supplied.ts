import { formatHexColour, labFromRgb8, parseHexColour } from '../colour';
import {
  DEFAULT_FIT,
  DEFAULT_SCREEN,
  type Ink,
  type JobSheet,
  LIMITS,
  MESH,
  PROCESS_INKS,
  type Plate,
  type SuppliedLayer,
  alignRun,
  channelOf,
  freeNumber,
  garmentOf,
  isInk,
  isSupplied,
  layerOf,
  renumber,
} from '../sheet';
import { KerameusError } from '../units';
import { isWhite, suggestBaseStrength } from './baseStrength';
import { checkRoom } from './checkRoom';
import { slug, suggestOpacity, underbasePlate, unique } from './proposePlates';
import { isLightGarment } from './proposeSimulated';
import type { LayerPlace, SheetParts } from './sheetParts';

/** A plate that the artwork's file names. */
export interface NamedPlate {
  readonly name: string;
  /** Of the ink, as the file shows it solid; null: the ink of process colour of that name. */
  readonly colour: string | null;
}

/** Inks of process colour by the names that files give them. */
const PROCESS_NAMES: Readonly<Record<string, string>> = {
  Cyan: 'Process cyan',
  Magenta: 'Process magenta',
  Yellow: 'Process yellow',
  Black: 'Process black',
};

/** What a white is called that prints below the inks. Common practice, no source. */
const BASE_NAMES = /\b(under|base|flash)/i;

/**
 * Plates as the artwork's file names them, with inks of stock where they bear the same name, else of the colour that the file shows. The file does not say in which
 * order they print, nor what a white is for: a white that is called a base, or else the first, is the underbase on a garment that is not light, and other inks print light
 * to dark.
 *
 * @param taken ids that other plates of the job have.
 */
export function suppliedParts(
  place: LayerPlace,
  named: readonly NamedPlate[],
  garmentColour: string,
  stock: readonly Ink[] = [],
  taken: readonly string[] = [],
): SheetParts {
  if (named.length > LIMITS.maxPlates) {
    throw new KerameusError({
      code: 'too-many-plates',
      parameter: 'artwork',
      message: `The file names ${named.length} plates; a job has ${LIMITS.maxPlates} at most.`,
      remedy: 'Export it with fewer spot colours, or separate it here.',
    });
  }
  const ids = new Set<string>(taken);
  const drafts = named.map(({ name, colour }): Omit<Plate, 'number'> => {
    const process =
      colour === null ? PROCESS_INKS.find(({ ink }) => ink.name === PROCESS_NAMES[name]) : undefined;
    const ink = process?.ink ?? inkOf(name, colour ?? '#000000', stock);
    const id = unique(slug(name), ids, '-');
    ids.add(id);
    return {
      id,
      role: 'colour',
      ink: { ...ink },
      special: null,
      baseStrength: suggestBaseStrength(ink, garmentColour),
      withMarks: true,
      sources: [{ kind: 'channel', layerId: place.id, channel: name, patches: [] }],
      stages: [],
      mesh: process ? MESH.halftoneColour : MESH.solidColour,
      screen: process ? { ...DEFAULT_SCREEN, angleDeg: process.angleDeg } : DEFAULT_SCREEN,
    };
  });
  const whites = drafts.filter(({ ink }) => isWhite(parseHexColour(ink.colour)));
  const base = isLightGarment(garmentColour)
    ? undefined
    : (whites.find(({ ink }) => BASE_NAMES.test(ink.name)) ?? whites[0]);
  const lightness = ({ ink }: Pick<Plate, 'ink'>) => labFromRgb8(parseHexColour(ink.colour))[0];
  const inks = drafts.filter((plate) => !whites.includes(plate)).sort((p, q) => lightness(q) - lightness(p));
  const plates: Omit<Plate, 'number'>[] = [
    ...(base ? [{ ...base, role: 'underbase' as const, baseStrength: 0, mesh: MESH.solidWhite }] : []),
    ...inks,
    ...whites
      .filter((plate) => plate !== base)
      .map((plate) => ({ ...plate, role: 'highlight' as const, mesh: MESH.highlight })),
  ];
  return {
    layers: [placeOf(place)],
    plates: plates.map((plate, k) => ({ ...plate, number: k + 1 })),
  };
}

function placeOf({ id, artworkId, mask, purity }: LayerPlace): SuppliedLayer {
  return { id, artworkId, mask, purity, kind: 'supplied', background: null };
}

function inkOf(name: string, colour: string, stock: readonly Ink[]): Ink {
  const plain = name.trim().slice(0, 80) || 'Ink';
  const known = stock.find((ink) => ink.name.toLowerCase() === plain.toLowerCase());
  if (known) return { name: plain, colour: known.colour, opacity: known.opacity };
  const rgb = parseHexColour(colour);
  return { name: plain, colour: formatHexColour(rgb), opacity: suggestOpacity(rgb) };
}

/** Fit that leaves the plates of a file as they are. */
export function suppliedFit(fit: JobSheet['fit']): JobSheet['fit'] {
  return {
    ...fit,
    chokeMm: 0,
    highlightChokeMm: 0,
    spreadMm: 0,
    trapMm: 0,
    thickenMm: 0,
    guardMm: 0,
    lightBase: null,
    pairs: [],
    underDarkMm: 0,
    keepMm: 0,
    closeGapsMm: 0,
  };
}

/** Fit of a job whose plates are not those of a file any more: as a job begins, since 0 was the file's. */
export function ownFit(sheet: Pick<JobSheet, 'layers' | 'fit'>): JobSheet['fit'] {
  return isSupplied(sheet) ? DEFAULT_FIT : sheet.fit;
}

/** A base that the file does not bring: below everything that wants one, drawn back from bare garment by the press's tolerance. */
export function addOwnBase(sheet: JobSheet): JobSheet {
  if (!isSupplied(sheet) || sheet.plates.some(({ role }) => role === 'underbase')) return sheet;
  checkRoom(sheet);
  const id = unique(underbasePlate().id, new Set(sheet.plates.map((plate) => plate.id)), '-');
  const name = unique(underbasePlate().ink.name, new Set(sheet.plates.map(({ ink }) => ink.name)), ' ');
  const base = { ...underbasePlate(), id, number: freeNumber(sheet.plates) };
  const wanted = sheet.plates.map((plate) =>
    isInk(plate)
      ? { ...plate, baseStrength: suggestBaseStrength(plate.ink, garmentOf(sheet).colour) }
      : plate,
  );
  const next = alignRun({ ...sheet, plates: [{ ...base, ink: { ...base.ink, name } }, ...wanted] });
  const { chokeMm, keepMm } = DEFAULT_FIT;
  return renumber({ ...next, fit: { ...next.fit, chokeMm, keepMm } });
}

/**
 * Makes a plate of the file the underbase, null: none of them is. What was the base before prints as an ink; a base that was made here goes.
 */
export function setSuppliedBase(sheet: JobSheet, plateId: string | null): JobSheet {
  if (!isSupplied(sheet)) return sheet;
  const kept = sheet.plates.filter((plate) => plate.role !== 'underbase' || channelOf(plate) !== null);
  const made = kept.length < sheet.plates.length;
  const plates = kept.map((plate): Plate => {
    if (plate.id === plateId) return { ...plate, role: 'underbase', baseStrength: 0 };
    if (plate.role !== 'underbase') return plate;
    const baseStrength = suggestBaseStrength(plate.ink, garmentOf(sheet).colour);
    return { ...plate, role: 'colour', baseStrength };
  });
  const screens = sheet.run.filter(
    (station) =>
      station.kind !== 'screen' ||
      (station.plateId !== plateId && kept.some(({ id }) => id === station.plateId)),
  );
  // It is set anew, in front of the others and flashed.
  const others = plateId === null ? plates : plates.filter(({ id }) => id !== plateId);
  const without = alignRun({ ...sheet, plates: others, run: screens });
  const next = alignRun({
    ...without,
    plates: [...plates.filter(({ id }) => id === plateId), ...without.plates],
  });
  return renumber({ ...next, fit: made ? suppliedFit(next.fit) : next.fit });
}

/** The plates of the file that no plate of the job prints. */
export function unusedChannels(
  sheet: Pick<JobSheet, 'plates'>,
  named: readonly NamedPlate[],
): readonly NamedPlate[] {
  const used = new Set(sheet.plates.map(channelOf));
  return named.filter(({ name }) => !used.has(name));
}

/** The plates of a job that its artwork's file does not have: they print nothing. */
export function missingChannels(
  sheet: Pick<JobSheet, 'plates'>,
  named: readonly NamedPlate[],
): readonly Plate[] {
  const there = new Set(named.map(({ name }) => name));
  return sheet.plates.filter((plate) => {
    const channel = channelOf(plate);
    return channel !== null && !there.has(channel);
  });
}

/** The job with a plate of the file that it has left out. */
export function addChannel(sheet: JobSheet, named: NamedPlate, stock: readonly Ink[] = []): JobSheet {
  checkRoom(sheet);
  const [plate] = suppliedParts(layerOf(sheet), [named], '#ffffff', stock).plates;
  const id = unique(plate!.id, new Set(sheet.plates.map((each) => each.id)), '-');
  const baseStrength = suggestBaseStrength(plate!.ink, garmentOf(sheet).colour);
  const joined = { ...plate!, id, baseStrength, number: freeNumber(sheet.plates) };
  return alignRun({ ...sheet, plates: [...sheet.plates, joined] });
}
