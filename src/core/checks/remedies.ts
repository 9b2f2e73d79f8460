import { insertStation, moveStation } from '../press';
import { NARROW_GAP_MM, changePlates, mergePlates, setBaseUnderInk, toSupplied } from '../separation';
import { type JobSheet, LIMITS, effectiveChokeMm, isSimulated, printsTones, withPairSetting } from '../sheet';
import { trimNumber } from '../units';
import type { Finding } from './findings';

/** What one press does against a finding. */
export interface Remedy {
  /** As it stands on its button. */
  readonly label: string;
  readonly change: (sheet: JobSheet) => JobSheet;
}

type Make = (sheet: JobSheet, finding: Finding) => Remedy | null;

const mm = (length: number) => `${trimNumber(length, 2)} mm`;

const withFit =
  (fit: Partial<JobSheet['fit']>) =>
  (sheet: JobSheet): JobSheet => ({
    ...sheet,
    fit: { ...sheet.fit, ...fit },
  });

/** The base drawn back by as much as the press wanders; what the colours are spread counts towards it. */
const choke: Make = (sheet) => {
  const chokeMm = Math.max(0, sheet.press.toleranceMm - sheet.fit.spreadMm);
  if (effectiveChokeMm(sheet) >= chokeMm) return null;
  return { label: `Choke the base by ${mm(chokeMm)}`, change: withFit({ chokeMm }) };
};

/** Colours run into each other by as much as the press wanders. */
const trap: Make = (sheet) => {
  const trapMm = Math.min(LIMITS.maxChokeMm, sheet.press.toleranceMm);
  if (isSimulated(sheet) || sheet.fit.trapMm >= trapMm) return null;
  return { label: `Trap by ${mm(trapMm)}`, change: withFit({ trapMm }) };
};

const placeOf = (sheet: JobSheet, plateId: string | undefined) =>
  sheet.run.findIndex((station) => station.kind === 'screen' && station.plateId === plateId);

const withTexture =
  (change: Partial<NonNullable<JobSheet['texture']>>) =>
  (sheet: JobSheet): JobSheet =>
    sheet.texture ? { ...sheet, texture: { ...sheet.texture, ...change } } : sheet;

/** Dots this far apart beat in patterns that are too small to be seen. Common practice, no source. */
const APART_DEG = 30;

const MAKERS: Readonly<Record<string, Make>> = {
  'base-wider-than-tolerance': choke,
  'shift-shows-white': (sheet, finding) => (finding.act === 'choke' ? choke : trap)(sheet, finding),
  'shift-shows-garment': (sheet, finding) => (finding.act === 'trap' ? trap(sheet, finding) : null),
  'overprint-suits': (_, { plateId, otherId }) => ({
    label: 'Overprint it',
    change: (sheet) =>
      withPairSetting(sheet, { plateIds: [otherId!, plateId!], grows: 'over', mm: null, clearMm: 0 }),
  }),
  'plates-named': (_, { named }) =>
    named ? { label: 'Take its plates', change: (sheet) => toSupplied(sheet, named) } : null,
  'narrow-gaps': () => ({
    label: `Close gaps below ${mm(NARROW_GAP_MM)}`,
    change: withFit({ closeGapsMm: NARROW_GAP_MM }),
  }),
  // By lightness alone what an ink wants changes nothing.
  'base-missing': ({ fit }, { plateId }) =>
    fit.lightBase?.over === 'alone'
      ? null
      : { label: 'Give it a base', change: (sheet) => setBaseUnderInk(sheet, plateId!, 1) },
  'base-unneeded': (_, { plateId }) => ({
    label: 'Take its base away',
    change: (sheet) => setBaseUnderInk(sheet, plateId!, 0),
  }),
  'base-not-first': (_, { plateId }) => ({
    label: 'Print it first',
    change: (sheet) => moveStation(sheet, placeOf(sheet, plateId), 0),
  }),
  'base-not-flashed': (_, { plateId }) => ({
    label: 'Flash it',
    change: (sheet) => insertStation(sheet, placeOf(sheet, plateId), { kind: 'flash' }),
  }),
  'inks-nearly-equal': (sheet, { plateId, otherId }) => {
    if (printsTones(sheet) || plateId === undefined || otherId === undefined) return null;
    return { label: 'Merge them', change: (now) => mergePlates(now, plateId, otherId) };
  },
  'same-angle': (_, { plateId, otherId }) => ({
    label: `Set them ${APART_DEG}° apart`,
    change: (sheet) => {
      const other = sheet.plates.find(({ id }) => id === otherId);
      if (!other || plateId === undefined) return sheet;
      const angleDeg = (((other.screen.angleDeg + APART_DEG) % 90) + 90) % 90;
      return changePlates(sheet, [plateId], ({ screen }) => ({ screen: { ...screen, angleDeg } }));
    },
  }),
  'opening-fills': (sheet) => {
    const { openingMm } = sheet.limits;
    const grows = sheet.fit.trapMm > 0 || sheet.fit.spreadMm > 0;
    if (!grows || sheet.fit.guardMm >= openingMm || isSimulated(sheet)) return null;
    return { label: `Guard openings below ${mm(openingMm)}`, change: withFit({ guardMm: openingMm }) };
  },
  'tones-lost': (_, { plateId }) => ({
    label: 'Hold the smallest dot',
    change: (sheet) =>
      changePlates(sheet, [plateId!], ({ screen }) => ({ screen: { ...screen, holdSmallest: true } })),
  }),
  'tones-plug': ({ limits }, { plateId }) => ({
    label: `Keep openings open from ${trimNumber(limits.plugging * 100, 0)} %`,
    change: (sheet) =>
      changePlates(sheet, [plateId!], ({ screen }) => ({
        screen: { ...screen, largest: sheet.limits.plugging },
      })),
  }),
  'texture-nowhere': () => ({
    label: 'Take the texture away',
    change: (sheet) => ({ ...sheet, texture: null }),
  }),
  'texture-shows-base': () => ({ label: 'Wear all plates', change: withTexture({ spared: [] }) }),
  'texture-takes-base': () => ({ label: 'Wear all plates', change: withTexture({ spared: [] }) }),
  'texture-fills': ({ texture }) => {
    const scale = Math.min(LIMITS.maxTextureScale, (texture?.scale ?? 1) * 1.5);
    return { label: 'Make it half as large again', change: withTexture({ scale }) };
  },
};

/** What one press would do against a finding; null where somebody must choose. */
export function remedyOf(sheet: JobSheet, finding: Finding): Remedy | null {
  return Object.hasOwn(MAKERS, finding.code) ? MAKERS[finding.code]!(sheet, finding) : null;
}
