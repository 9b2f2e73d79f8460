import { nameColour, parseHexColour } from '../colour';
import {
  BASE_WHITE,
  type Ink,
  type JobSheet,
  LIMITS,
  PROCESS_INKS,
  PROCESS_INK_LIMIT,
  type Plate,
  alignRun,
  freeNumber,
  fullToneLayer,
  garmentOf,
  layerOf,
  proposeRun,
  renumber,
  withLayer,
  isInk,
} from '../sheet';
import { KerameusError } from '../units';
import type { PlateInk } from './inkCandidates';
import { keepColour, settleKept } from './keepSolid';
import { suggestOpacity, unique } from './proposePlates';
import { type NamedPlate, ownFit, suppliedFit, suppliedParts } from './supplied';
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
  const next = { ...sheet, ...parts, garments, run: proposeRun(parts.plates) };
  const specials = specialsOf(sheet);
  return specials.length > 0 ? alignRun({ ...next, plates: [...parts.plates, ...specials] }) : next;
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
  return {
    ...next,
    fit: { ...ownFit(sheet), spreadMm: 0, trapMm: 0, thickenMm: 0, lightBase: null, pairs: [] },
  };
}

/** The job printed by flat colours, as it would have come in. */
export function toSpot(
  sheet: JobSheet,
  found: Pick<SpotInput, 'colours' | 'transitions' | 'background'>,
): JobSheet {
  const wishes = { garment: garmentOf(sheet), backgroundWish: 'auto', inks: 'auto' } as const;
  return {
    ...withParts(sheet, spotParts({ ...layerOf(sheet), ...found, ...wishes })),
    fit: ownFit(sheet),
  };
}

/** The job printed by the plates that its artwork's file names, as they are. */
export function toSupplied(
  sheet: JobSheet,
  named: readonly NamedPlate[],
  stock: readonly Ink[] = [],
): JobSheet {
  // Special plates stay.
  const taken = specialsOf(sheet).map(({ id }) => id);
  const parts = suppliedParts(layerOf(sheet), named, garmentOf(sheet).colour, stock, taken);
  // The layer's place alone: of what was found before nothing counts.
  return { ...withParts(sheet, parts), fit: suppliedFit(sheet.fit) };
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
  return withScreensForAll(settleKept(alignRun({ ...sheet, plates: [...numbered, ...specialsOf(sheet)] })));
}

const isProcessInk = ({ name }: Ink) => PROCESS_INKS.some(({ ink }) => ink.name === name);

/** A new plate with dots that lie as those of the job's colours do, where they all lie alike: dispersed, or in cells that they divide. */
function withDotsOf<T extends Pick<Plate, 'role' | 'screen'>>({ plates }: JobSheet, plate: T): T {
  const screens = plates.flatMap(({ role, screen }) => (role === 'colour' ? [screen] : []));
  const [first] = screens;
  const isShared =
    first?.interlock !== null && screens.every(({ interlock }) => interlock === first?.interlock);
  if (!first || plate.role !== 'colour' || !isShared) return plate;
  return { ...plate, screen: { ...first, gain: plate.screen.gain, measured: plate.screen.measured } };
}

const specialsOf = ({ plates }: Pick<JobSheet, 'plates'>) => plates.filter(({ special }) => special !== null);

/** The inks that a job's tones are printed with. */
export function inksOf({ plates }: Pick<JobSheet, 'plates'>): SimulatedInks {
  const base = plates.find(({ role }) => role === 'underbase');
  return {
    inks: plates.filter(isInk).map(({ ink }) => ink),
    base: base?.ink ?? null,
    highlight: plates.some(({ role }) => role === 'highlight'),
  };
}

/**
 * The job printed by process colours: transparent yellow, magenta, cyan and black, on grids 30 and 15 degrees apart, over a white base where the garment is not light.
 */
export function toProcess(sheet: JobSheet): JobSheet {
  const layer = fullToneLayer(sheet);
  if (!layer) return sheet;
  const present = sheet.plates.find(({ role }) => role === 'underbase');
  const base = present?.ink ?? usualSimulatedInks(garmentOf(sheet).colour).base;
  const chosen = chooseInkSet(sheet, [
    ...(base ? [{ role: 'underbase' as const, ink: { ...BASE_WHITE, ...base } }] : []),
    ...PROCESS_INKS.map(({ ink }) => ({ role: 'colour' as const, ink })),
  ]);
  const plates = chosen.plates.map((plate): Plate => {
    const process = PROCESS_INKS.find(({ ink }) => plate.role === 'colour' && ink.name === plate.ink.name);
    if (!process) return plate;
    const screen = { ...plate.screen, interlock: null, angleDeg: process.angleDeg };
    return { ...plate, screen: { ...screen, screening: 'grid' } };
  });
  const limit = layer.process?.inkLimit ?? PROCESS_INK_LIMIT;
  return withLayer({ ...chosen, plates }, { ...fullToneLayer(chosen)!, process: { inkLimit: limit } });
}

/** What process inks cover together at most, 1 for each full layer. Any other job stays as it is. */
export function setInkLimit(sheet: JobSheet, inkLimit: number): JobSheet {
  const layer = fullToneLayer(sheet);
  return layer?.process ? withLayer(sheet, { ...layer, process: { inkLimit } }) : sheet;
}

/** How much the base is wished for, -1 to 1. A job of flat colours stays as it is. */
export function wishBase(sheet: JobSheet, baseWish: number): JobSheet {
  const layer = fullToneLayer(sheet);
  return layer ? withLayer(sheet, { ...layer, baseWish }) : sheet;
}

/** Whether inks are left out where their dots would stand alone and be seen. A job of flat colours stays as it is. */
export function setLeaveOutLone(sheet: JobSheet, leaveOutLone: boolean): JobSheet {
  const layer = fullToneLayer(sheet);
  return layer ? withLayer(sheet, { ...layer, leaveOutLone }) : sheet;
}

/** The job with the inks of a proposal, in their usual run; plates whose inks stay keep what was set for them, and films are numbered anew. */
export function chooseInkSet(given: JobSheet, inks: readonly PlateInk[]): JobSheet {
  // A limit of process inks is none of others'.
  const layer = fullToneLayer(given);
  const isProcess = inks.every(({ role, ink }) => role !== 'colour' || isProcessInk(ink));
  const sheet = layer?.process && !isProcess ? withLayer(given, { ...layer, process: null }) : given;
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
  const run = proposeRun(plates);
  const all = [...plates, ...specialsOf(sheet)];
  return withScreensForAll(settleKept(renumber(alignRun({ ...sheet, plates: all, run }))));
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

/** The job with a flat colour kept solid on an ink of exactly that colour, which it gets for it. Throws KerameusError `too-many-plates`. */
export function keepOnOwnInk(sheet: JobSheet, colour: string): JobSheet {
  const rgb = parseHexColour(colour);
  const names = new Set(sheet.plates.map(({ ink }) => ink.name));
  const name = unique(nameColour(rgb), names, ' ');
  const inked = addInk(sheet, { name, colour, opacity: suggestOpacity(rgb) });
  const plate = inked.plates.find(({ ink }) => ink.name === name)!;
  return keepColour(inked, colour, { as: 'ink', plateId: plate.id });
}

/** The job without one of its plates; the others take over what it printed, as far as they can. */
export function leaveOut(sheet: JobSheet, plateId: string): JobSheet {
  return settleKept(alignRun({ ...sheet, plates: sheet.plates.filter(({ id }) => id !== plateId) }));
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
