import type { Plate } from './jobSheet';

/** A number that no plate of the sheet has. */
export function freeNumber(plates: readonly Pick<Plate, 'number'>[]): number {
  return Math.max(0, ...plates.map((plate) => plate.number)) + 1;
}
