import {
  type Ink,
  type JobSheet,
  LIMITS,
  type Plate,
  alignRun,
  freeNumber,
  fullToneLayer,
  garmentOf,
  layerOf,
  proposeRun,
  renumber,
  withLayer,
} from '../sheet';
import { KerameusError } from '../units';
import type { PlateInk } from './inkCandidates';
import { unique } from './proposePlates';
import { withScreensForAll } from './together';
import { type SimulatedInks, proposeSimulated, usualSimulatedInks } from './proposeSimulated';
import { type SheetParts, type SpotInput, simulatedParts, spotParts } from './sheetParts';

/* Each of these returns a new, consistent sheet; the one that is given is left alone. */

function withParts(sheet: JobSheet, parts: SheetParts): JobSheet {
  const known = new Set(parts.plates.map(({ id }) => id));
  // Plates of one kind of separation are none of the other, whatever their ids; the first garment runs them all.
  const garments = sheet.garments.map((garment, k) => ({
    ...garment,
    without: k === 0 ? [] : garment.without.filter((id) => known.has(id)),
  }));
  return { ...sheet, ...parts, garments, run: proposeRun(parts.plates) };
}

/** The job printed by the tones of the usual inks. */
export function toSimulated(sheet: JobSheet, found: Pick<SpotInput, 'background'>): JobSheet {
  const garment = garmentOf(sheet);
  const parts = simulatedParts(
    { ...layerOf(sheet), ...found, garment, backgroundWish: 'auto' },
    usualSimulatedInks(garment.colour),
  );
  const next = withParts(sheet, parts);
  // Tones are not spread: where they end is the artwork's own edge.
  return { ...next, fit: { ...sheet.fit, spreadMm: 0 } };
}

/** The job printed by flat colours, as it would have come in. */
export function toSpot(
  sheet: JobSheet,
  found: Pick<SpotInput, 'colours' | 'transitions' | 'background'>,
): JobSheet {
  const wishes = { garment: garmentOf(sheet), backgroundWish: 'auto', inks: 'auto' } as const;
  return withParts(sheet, spotParts({ ...layerOf(sheet), ...found, ...wishes }));
}

/** The plates' inks as they are asked for anew, each plate as it was where its ink stays. */
function withInks(sheet: JobSheet, inks: SimulatedInks): JobSheet {
  const proposed = proposeSimulated(inks, garmentOf(sheet).colour, layerOf(sheet).id);
  if (proposed.length > LIMITS.maxPlates) {
    throw new KerameusError({
      code: 'too-many-plates',
      message: `The job has ${sheet.plates.length} plates already.`,
      remedy: 'Leave an ink out first.',
    });
  }
  const numbered: Plate[] = [];
  for (const plate of proposed) {
    const known = sheet.plates.find(({ role, ink }) => role === plate.role && ink.name === plate.ink.name);
    const joined = { ...withDotsOf(sheet, plate), number: freeNumber([...sheet.plates, ...numbered]) };
    numbered.push(known ?? joined);
  }
  return withScreensForAll(alignRun({ ...sheet, plates: numbered }));
}

/** A new plate with dots that lie as those of the job's colours do, where they all lie alike: dispersed, or in cells that they divide. */
function withDotsOf<T extends Pick<Plate, 'role' | 'screen'>>({ plates }: JobSheet, plate: T): T {
  const screens = plates.flatMap(({ role, screen }) => (role === 'colour' ? [screen] : []));
  const [first] = screens;
  const isShared =
    first?.interlock !== null && screens.every(({ interlock }) => interlock === first?.interlock);
  if (!first || plate.role !== 'colour' || !isShared) return plate;
  return { ...plate, screen: { ...first, gain: plate.screen.gain, measured: plate.screen.measured } };
}

/** The inks that a job's tones are printed with. */
export function inksOf({ plates }: Pick<JobSheet, 'plates'>): SimulatedInks {
  const base = plates.find(({ role }) => role === 'underbase');
  return {
    inks: plates.flatMap(({ role, ink }) => (role === 'underbase' ? [] : [ink])),
    base: base?.ink ?? null,
    highlight: plates.some(({ role }) => role === 'highlight'),
  };
}

/** The job with the inks of a proposal, in their usual run; plates whose inks stay keep what was set for them, and films are numbered anew. */
export function chooseInkSet(sheet: JobSheet, inks: readonly PlateInk[]): JobSheet {
  const base = inks.find(({ role }) => role === 'underbase');
  const wanted = proposeSimulated(
    {
      inks: inks.flatMap(({ role, ink }) => (role === 'underbase' ? [] : [ink])),
      base: base?.ink ?? null,
      highlight: false,
    },
    garmentOf(sheet).colour,
    layerOf(sheet).id,
  );
  const plates = wanted.map((plate) => {
    const known = sheet.plates.find(({ role, ink }) => role === plate.role && ink.name === plate.ink.name);
    return known ?? withDotsOf(sheet, plate);
  });
  const kept = new Set(plates.filter((plate) => sheet.plates.includes(plate)).map(({ id }) => id));
  for (const [k, plate] of plates.entries()) {
    if (sheet.plates.includes(plate)) continue;
    plates[k] = { ...plate, id: unique(plate.id, kept, '-') };
    kept.add(plates[k].id);
  }
  return withScreensForAll(renumber(alignRun({ ...sheet, plates, run: proposeRun(plates) })));
}

/** The job with a wish for the proposals of inks: an ink that each of them has (`pin`), that none has (`ban`), or one that is free. */
export function wishInk(sheet: JobSheet, inkName: string, wish: 'pin' | 'ban' | 'free'): JobSheet {
  const layer = fullToneLayer(sheet);
  if (!layer) return sheet;
  const others = (names: readonly string[]) => names.filter((each) => each !== inkName);
  return withLayer(sheet, {
    ...layer,
    pinned: [...others(layer.pinned), ...(wish === 'pin' ? [inkName] : [])],
    banned: [...others(layer.banned), ...(wish === 'ban' ? [inkName] : [])],
  });
}

/** One ink more; all tones are solved for again. Throws KerameusError `too-many-plates`. */
export function addInk(sheet: JobSheet, ink: Ink): JobSheet {
  const { inks, ...whites } = inksOf(sheet);
  return withInks(sheet, { ...whites, inks: [...inks, ink] });
}

/** The job without one of its plates; the others take over what it printed, as far as they can. */
export function leaveOut(sheet: JobSheet, plateId: string): JobSheet {
  return alignRun({ ...sheet, plates: sheet.plates.filter(({ id }) => id !== plateId) });
}

/** With or without a white under the inks, or on top of them. */
export function setWhite(sheet: JobSheet, role: 'underbase' | 'highlight', wanted: boolean): JobSheet {
  const inks = inksOf(sheet);
  const present = sheet.plates.filter((plate) => plate.role === role);
  if (!wanted) return present.reduce((next, { id }) => leaveOut(next, id), sheet);
  if (present.length > 0) return sheet;
  const usual = usualSimulatedInks('#000000');
  return withInks(sheet, role === 'underbase' ? { ...inks, base: usual.base } : { ...inks, highlight: true });
}
