import { changePlates, liesOnBase } from '../separation';
import { findAngles } from '../screening';
import { type JobSheet, LIMITS, isSimulated } from '../sheet';

/** How the dots of plates stand to each other. */
export const ARRANGEMENTS = ['rotated', 'one-angle', 'interlocked', 'dispersed'] as const;

export type Arrangement = (typeof ARRANGEMENTS)[number];

/** The arrangement of some plates as they are set now; null where they are set in a way of their own. */
export function arrangementOf(sheet: JobSheet, ids: readonly string[]): Arrangement | null {
  const screens = sheet.plates.filter((plate) => ids.includes(plate.id)).map(({ screen }) => screen);
  const [first] = screens;
  if (!first || screens.length < 2) return null;
  if (screens.every(({ screening }) => screening === 'dispersed')) return 'dispersed';
  if (screens.some(({ screening }) => screening !== 'grid')) return null;
  if (first.interlock !== null)
    return screens.every(({ interlock }) => interlock === first.interlock) ? 'interlocked' : null;
  if (screens.some(({ interlock }) => interlock !== null)) return null;
  return screens.every(({ angleDeg }) => angleDeg === first.angleDeg) ? 'one-angle' : 'rotated';
}

/**
 * Sets the dots of some plates to each other.
 *
 * - `rotated`: plates that overlap get angles 30 degrees apart, as far as three go round.
 * - `one-angle`: all at the first one's angle, each with its own dots.
 * - `interlocked`: one frequency (the coarsest) and one angle, dots beside each other in each cell; a base with dots on a grid, or of tones,
 *   that one of them wants is set to lie under them.
 * - `dispersed`: dots of one size without a grid.
 *
 * @param overlap share of the print where two plates both have dots, by their ids.
 */
export function arrangeDots(
  sheet: JobSheet,
  ids: readonly string[],
  arrangement: Arrangement,
  overlap: (one: string, other: string) => number,
): JobSheet {
  const arranged = setDots(sheet, ids, arrangement, overlap);
  // A base whose inks have all left its group has its own dots again.
  const left = arranged.plates.flatMap(({ id, role, screen }) => {
    const alone = (group: number) =>
      !arranged.plates.some((each) => each.role !== 'underbase' && each.screen.interlock === group);
    return role === 'underbase' && screen.interlock !== null && alone(screen.interlock) ? [id] : [];
  });
  if (left.length === 0) return arranged;
  // By tones a base without a group has dots of one size, as it is proposed.
  const screening = isSimulated(sheet) ? ({ screening: 'dispersed' } as const) : {};
  return changePlates(arranged, left, ({ screen }) => ({
    screen: { ...screen, ...screening, interlock: null },
  }));
}

function setDots(
  sheet: JobSheet,
  ids: readonly string[],
  arrangement: Arrangement,
  overlap: (one: string, other: string) => number,
): JobSheet {
  const plates = sheet.plates.filter((plate) => ids.includes(plate.id));
  const [first] = plates;
  if (!first) return sheet;
  const known = plates.map((plate) => plate.id);
  if (arrangement === 'dispersed') {
    return changePlates(sheet, known, ({ screen }) => ({
      screen: { ...screen, screening: 'dispersed', interlock: null },
    }));
  }
  const { angleDeg } = first.screen;
  if (arrangement === 'one-angle') {
    return changePlates(sheet, known, ({ screen }) => ({
      screen: { ...screen, screening: 'grid', interlock: null, angleDeg },
    }));
  }
  if (arrangement === 'rotated') {
    const angles = findAngles(plates.length, (p, q) => overlap(known[p]!, known[q]!));
    return changePlates(sheet, known, ({ id, screen }) => ({
      screen: { ...screen, screening: 'grid', interlock: null, angleDeg: angles[known.indexOf(id)]! },
    }));
  }
  const lpi = Math.min(...plates.map(({ screen }) => screen.lpi));
  const wantBase = plates.some((plate) => liesOnBase(sheet, plate));
  const others = sheet.plates.filter(({ id, role }) => role !== 'underbase' && !known.includes(id));
  // A base that lies under others stays there.
  const isBound = (group: number | null) =>
    group !== null && others.some((each) => each.screen.interlock === group);
  const bases = sheet.plates.filter(
    ({ role, screen }) =>
      wantBase &&
      role === 'underbase' &&
      (screen.screening === 'grid' || isSimulated(sheet)) &&
      !isBound(screen.interlock),
  );
  const members = [...new Set([...known, ...bases.map(({ id }) => id)])];
  const taken = sheet.plates
    .filter((plate) => !members.includes(plate.id))
    .map(({ screen }) => screen.interlock);
  const groups = Array.from({ length: LIMITS.maxGroups }, (_, k) => k + 1);
  const free = groups.find((group) => !taken.includes(group)) ?? 1;
  return changePlates(sheet, members, ({ screen }) => ({
    screen: { ...screen, screening: 'grid', interlock: free, lpi, angleDeg },
  }));
}
