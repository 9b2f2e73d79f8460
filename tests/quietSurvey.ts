import type { PrintSurvey } from '@/core/checks';
import { type JobSheet, paletteOf } from '@/core/sheet';

/** A survey that found nothing to be told, beside what is said. */
export function quietSurvey(sheet: JobSheet, change: Partial<PrintSurvey> = {}): PrintSurvey {
  const place = { xMm: 10, yMm: 20 };
  return {
    plates: sheet.plates.map(() => ({ coverage: 0.3, toned: 0, place })),
    overlaps: Array.from({ length: sheet.plates.length ** 2 }, () => ({ share: 0, place: null })),
    colours: paletteOf(sheet).map(() => ({ share: 0.3, place })),
    gaps: null,
    edges: null,
    holds: sheet.plates.map(() => ({ lost: 0, lostBelow: 0, plugged: 0 })),
    thin: null,
    pieces: null,
    wear: null,
    difference: null,
    ...change,
  };
}
