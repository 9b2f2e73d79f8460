import type { JobSheet } from './jobSheet';

/** The choke in force: a value of the job's own, or the press's registration tolerance. */
export function effectiveChokeMm(sheet: Pick<JobSheet, 'fit'>): number {
  return sheet.fit.chokeMm ?? sheet.fit.press.toleranceMm;
}
