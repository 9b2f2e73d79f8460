import { type JobSheet, effectiveChokeMm } from '../sheet';

/** The distances of fit in pixels of the region's resolution. */
export interface FitRadii {
  readonly spread: number;
  readonly highlightChoke: number;
  readonly underDark: number;
  /** From the edge of the ink on bare garment to the edge of the base. */
  readonly baseChoke: number;
  readonly keep: number;
}

export function fitRadii(sheet: JobSheet, pxPerMm: number): FitRadii {
  return {
    spread: sheet.fit.spreadMm * pxPerMm,
    highlightChoke: sheet.fit.highlightChokeMm * pxPerMm,
    underDark: sheet.fit.underDarkMm * pxPerMm,
    // The choke counts from the artwork's edge, so a spread adds to the difference between base and colour.
    baseChoke: (effectiveChokeMm(sheet) + sheet.fit.spreadMm) * pxPerMm,
    keep: sheet.fit.keepMm * pxPerMm,
  };
}
