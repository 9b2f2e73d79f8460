import { changePlates, liesOnBase } from '../separation';
import { findAngles } from '../screening';
import { type JobSheet, LIMITS, type Plate, isSimulated } from '../sheet';

/** How the dots of plates stand to each other. */
export const ARRANGEMENTS = ['rotated', 'one-angle', 'interlocked', 'groups', 'dispersed'] as const;

export type Arrangement = (typeof ARRANGEMENTS)[number];

/** The arrangements that so many plates can have: groups want a plate beyond two that divide cells. */
export function arrangementsOf(count: number): readonly Arrangement[] {
  return ARRANGEMENTS.filter((each) => each !== 'groups' || count > 2);
}

/** The arrangement of some plates as they are set now; null where they are set in a way of their own. */
export function arrangementOf(sheet: JobSheet, ids: readonly string[]): Arrangement | null {
  const screens = sheet.plates.filter((plate) => ids.includes(plate.id)).map(({ screen }) => screen);
  const [first] = screens;
  if (!first || screens.length < 2) return null;
  if (screens.every(({ screening }) => screening === 'dispersed')) return 'dispersed';
  if (screens.some(({ screening }) => screening !== 'grid')) return null;
  if (screens.some(({ interlock }) => interlock !== null)) return apartOf(screens);
  return screens.every(({ angleDeg }) => angleDeg === first.angleDeg) ? 'one-angle' : 'rotated';
}

/** Whether screens of which some interlock are one group, or several, and single plates, at angles of their own. */
function apartOf(screens: readonly Plate['screen'][]): Arrangement | null {
  const groups = [...new Set(screens.map(({ interlock }) => interlock))];
  if (groups.length === 1) return 'interlocked';
  const alone = screens.filter(({ interlock }) => interlock === null);
  const angles = new Set(screens.map(({ angleDeg }) => angleDeg));
  return angles.size === groups.length - (alone.length > 0 ? 1 : 0) + alone.length ? 'groups' : null;
}

/**
 * Sets the dots of some plates to each other.
 *
 * - `rotated`: plates that overlap get angles 30 degrees apart, as far as three go round.
 * - `one-angle`: all at the first one's angle, each with its own dots.
 * - `interlocked`: one frequency (the coarsest) and one angle, dots beside each other in each cell; a base with dots on a grid, or of tones,
 *   that one of them wants is set to lie under them.
 * - `groups`: two groups or three, 30 degrees apart; in each the dots of plates that overlap most lie beside each other. A plate that is left has its own angle. Bases
 *   have none of them.
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
  return releaseBases(setDots(sheet, ids, arrangement, overlap));
}

/** A base whose inks have all left its group has its own dots again. */
function releaseBases(sheet: JobSheet): JobSheet {
  const left = sheet.plates.flatMap(({ id, role, screen }) => {
    const alone = (group: number) =>
      !sheet.plates.some((each) => each.role !== 'underbase' && each.screen.interlock === group);
    return role === 'underbase' && screen.interlock !== null && alone(screen.interlock) ? [id] : [];
  });
  if (left.length === 0) return sheet;
  // By tones a base without a group has dots of one size, as it is proposed.
  const screening = isSimulated(sheet) ? ({ screening: 'dispersed' } as const) : {};
  return changePlates(sheet, left, ({ screen }) => ({
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
  if (arrangement === 'groups') {
    // A base that only these plates lie on leaves its group's number to them.
    const parted = releaseBases(
      changePlates(sheet, known, ({ screen }) => ({ screen: { ...screen, interlock: null } })),
    );
    const numbers = freeGroups(parted, known);
    const groups = groupsApart(known, overlap, numbers.length);
    return changePlates(parted, known, ({ id, screen }) => {
      const group = groups.findIndex((each) => each.includes(id));
      const interlock = groups[group]!.length > 1 ? (numbers[group] ?? null) : null;
      return {
        screen: {
          ...screen,
          screening: 'grid',
          interlock,
          lpi,
          angleDeg: (angleDeg + group * APART_DEG) % 90,
        },
      };
    });
  }
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
  const free = freeGroups(sheet, members)[0] ?? 1;
  return changePlates(sheet, members, ({ screen }) => ({
    screen: { ...screen, screening: 'grid', interlock: free, lpi, angleDeg },
  }));
}

const APART_DEG = 30;

/** Numbers for groups of some plates: those that no other plate has. */
function freeGroups(sheet: JobSheet, members: readonly string[]): number[] {
  const others = sheet.plates.filter(({ id }) => !members.includes(id));
  const isTaken = (group: number) => others.some(({ screen }) => screen.interlock === group);
  return Array.from({ length: LIMITS.maxGroups }, (_, k) => k + 1).filter((group) => !isTaken(group));
}

/** Angles that lie 30 degrees apart all round. */
const CLEAR_ANGLES = 3;

/** Plates in two or three groups of about one size, those together that overlap most. @param most groups. */
function groupsApart(
  ids: readonly string[],
  overlap: (one: string, other: string) => number,
  most: number,
): string[][] {
  const count = Math.max(1, Math.min(most, CLEAR_ANGLES, Math.max(2, Math.ceil(ids.length / 3))));
  const left = [...ids];
  return Array.from({ length: count }, (_, k) => {
    const size = Math.ceil(left.length / (count - k));
    const group: string[] = [];
    while (group.length < size) {
      // The first of a group is the one that overlaps most with those that are left.
      const beside = (id: string) => (group.length > 0 ? group : left.filter((each) => each !== id));
      const sums = left.map((id) => beside(id).reduce((sum, other) => sum + overlap(id, other), 0));
      const [taken] = left.splice(sums.indexOf(Math.max(...sums)), 1);
      group.push(taken!);
    }
    return group;
  });
}
