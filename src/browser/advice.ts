import { type Arrangement, arrangeDots, arrangementsOf, suggestScreens } from '@/core/checks';
import type { Kernels } from '@/core/kernels';
import { type ShiftCost, shiftCost } from '@/core/pipeline';
import type { Grating, ThresholdTiles } from '@/core/screening';
import type { JobSheet, Plate } from '@/core/sheet';

/** The share of the print where two of some things both have dots, from a table by `one * count + other`. */
export function shareOf<T>(all: readonly T[], meet: readonly number[]): (one: T, other: T) => number {
  return (one, other) => {
    const [p, q] = [all.indexOf(one), all.indexOf(other)];
    return meet[Math.min(p, q) * all.length + Math.max(p, q)] ?? 0;
  };
}

/** Screens for plates with dots. */
export function suggestedScreens(
  plates: readonly Plate[],
  dpi: number,
  meet: readonly number[],
): [string, Grating][] {
  return [...suggestScreens(plates, dpi, shareOf(plates, meet))];
}

/** Plates that share a tone; more hardly ever do. */
const MOST_TOGETHER = 4;

/** What each arrangement of some plates' dots costs when one of them lies off. */
export function costsOfShift(sheet: JobSheet, ids: readonly string[], meet: readonly number[]) {
  return (tiles: ThresholdTiles, kernels: Kernels): [Arrangement, ShiftCost][] =>
    arrangementsOf(ids.length).map((each) => {
      const arranged = arrangeDots(sheet, ids, each, shareOf(ids, meet));
      const plates = arranged.plates.filter((plate) => ids.includes(plate.id)).slice(0, MOST_TOGETHER);
      return [each, shiftCost(arranged, plates, tiles, kernels)];
    });
}
