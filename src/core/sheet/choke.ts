import type { JobSheet } from './jobSheet';

/** The choke in force: a value of the job's own, or the press's registration tolerance. */
export function effectiveChokeMm(sheet: Pick<JobSheet, 'fit' | 'press'>): number {
  return sheet.fit.chokeMm ?? sheet.press.toleranceMm;
}
