import { KerameusError } from '../units';
import { freeNumber } from './freeNumber';
import { alignRun } from './run';
import type { JobSheet, Plate } from './jobSheet';
import { BASE_WHITE, DEFAULT_SCREEN, MESH } from './presets';
import type { Special } from './specialSchema';
import { LIMITS, type SpecialKind } from './vocabulary';

/** Whether a plate prints an ink of the artwork: no base below the inks, and no special plate. */
export function isInk({ role }: Pick<Plate, 'role'>): boolean {
  return role !== 'underbase' && role !== 'special';
}

/** Whether a plate is white that lies below inks: the base, or what stands beside it or on it. */
export function isWhiteBelow({ role, special }: Pick<Plate, 'role' | 'special'>): boolean {
  return role === 'underbase' || special?.kind === 'hit' || special?.kind === 'halftone';
}

/** A sheet as its tones are solved for: special plates have no part in that. */
export function withoutSpecials<T extends Pick<JobSheet, 'plates'>>(sheet: T): T {
  const plates = sheet.plates.filter(({ special }) => special === null);
  return plates.length === sheet.plates.length ? sheet : { ...sheet, plates };
}

export const SPECIAL_NAMES: Readonly<Record<SpecialKind, string>> = {
  discharge: 'Discharge base',
  blocker: 'Dye blocker',
  hit: 'Second white',
  halftone: 'Halftone white',
  thin: 'Thin white',
  clear: 'Clear',
  puff: 'Puff',
  adhesive: 'Foil adhesive',
};

/** How a special plate starts: how far it reaches, on which mesh, and what it is drawn as. Common practice, no source. */
export const SPECIAL_DEFAULTS: Readonly<
  Record<
    SpecialKind,
    { readonly growMm: number; readonly mesh: number; readonly colour: string; readonly opacity: number }
  >
> = {
  // What bleaches the garment must not be seen beside the inks; what holds back its dye must not either, and lies below the base.
  discharge: { growMm: -0.1, mesh: 140, colour: '#d9cfae', opacity: 0 },
  blocker: { growMm: 0, mesh: 110, colour: '#8d9194', opacity: 0 },
  // White once more hides what the first layer lets through; a thin one is dried by nothing and veils what is under it.
  hit: { growMm: -0.1, mesh: 140, colour: BASE_WHITE.colour, opacity: BASE_WHITE.opacity },
  thin: { growMm: 0, mesh: 305, colour: BASE_WHITE.colour, opacity: 0.02 },
  // Dots want a finer mesh than solid white.
  halftone: {
    growMm: 0,
    mesh: MESH.halftoneWhite,
    colour: BASE_WHITE.colour,
    opacity: BASE_WHITE.opacity,
  },
  clear: { growMm: 0.2, mesh: 110, colour: '#dfe8ec', opacity: 0 },
  puff: { growMm: -0.2, mesh: 86, colour: '#efe9dc', opacity: 0 },
  adhesive: { growMm: 0, mesh: 86, colour: '#c9b58a', opacity: 0 },
};

/**
 * The job with a special plate: what belongs below the inks prints first and is flashed, what belongs above them last, behind a flash. Throws KerameusError
 * `too-many-plates`.
 */
export function addSpecial(sheet: JobSheet, kind: SpecialKind): JobSheet {
  if (sheet.plates.length >= LIMITS.maxPlates) {
    throw new KerameusError({
      code: 'too-many-plates',
      message: `The job has ${sheet.plates.length} plates already.`,
      remedy: 'Merge two inks first.',
    });
  }
  const { growMm, mesh, colour, opacity } = SPECIAL_DEFAULTS[kind];
  const base = sheet.plates.find(({ role }) => role === 'underbase');
  if (kind === 'halftone') checkHalftone(sheet, base);
  const free = (wanted: string, taken: readonly string[], joint: string): string => {
    for (let k = 1; ; k++) {
      const each = k === 1 ? wanted : `${wanted}${joint}${k}`;
      if (!taken.includes(each)) return each;
    }
  };
  const plate: Plate = {
    id: free(
      kind,
      sheet.plates.map(({ id }) => id),
      '-',
    ),
    number: freeNumber(sheet.plates),
    role: 'special',
    // Of white once more it is the base's shape that counts.
    special: { kind, over: (kind === 'hit' || kind === 'halftone') && base ? [base.id] : null, growMm },
    ink: {
      name: free(
        SPECIAL_NAMES[kind],
        sheet.plates.map(({ ink }) => ink.name),
        ' ',
      ),
      colour,
      opacity,
    },
    baseStrength: 0,
    withMarks: true,
    sources: [],
    stages: [],
    mesh,
    screen: screenOf(kind, base),
  };
  return alignRun({ ...sheet, plates: [...sheet.plates, plate] });
}

/** White in dots has those that the base had; all others are solid. */
function screenOf(kind: SpecialKind, base: Plate | undefined): Plate['screen'] {
  if (kind !== 'halftone') return { ...DEFAULT_SCREEN, screening: 'solid' };
  return base && base.screen.screening !== 'solid' ? { ...base.screen } : DEFAULT_SCREEN;
}

/** Throws KerameusError where nothing of a base can have a screen of its own. */
function checkHalftone(sheet: JobSheet, base: Plate | undefined): void {
  const refuse = (message: string, remedy: string) => {
    throw new KerameusError({ code: 'no-halftone-white', message, remedy });
  };
  if (!base) refuse('The job has no underbase that could be parted in two.', 'Give an ink a base first.');
  else if (base.screen.interlock !== null) {
    refuse(
      'Dots of the base divide cells with those of the inks: all of them must be on one screen.',
      'Arrange the dots otherwise in the Dots step first.',
    );
  } else if (halftoneWhite(sheet)) {
    refuse('The job has a white for dots already.', 'Change its mesh or its dots.');
  }
}

/** The plate that prints what of the base is less than solid; null: the base does. */
export function halftoneWhite({ plates }: Pick<JobSheet, 'plates'>): Plate | null {
  const hasBase = plates.some(({ role }) => role === 'underbase');
  return (hasBase && plates.find(({ special }) => special?.kind === 'halftone')) || null;
}

/** The job with a special plate made of other plates, or reaching farther or less far. */
export function changeSpecial(sheet: JobSheet, id: string, change: Partial<Omit<Special, 'kind'>>): JobSheet {
  return {
    ...sheet,
    plates: sheet.plates.map((plate) =>
      plate.id === id && plate.special ? { ...plate, special: { ...plate.special, ...change } } : plate,
    ),
  };
}

/** The job without a special plate. */
export function removeSpecial(sheet: JobSheet, id: string): JobSheet {
  return alignRun({
    ...sheet,
    plates: sheet.plates.filter((plate) => plate.id !== id || plate.special === null),
  });
}
