import type { JobSheet } from './jobSheet';

/** A sheet whose background is left to the garment, outside of the design or everywhere. */
export function dropsBackground(
  sheet: JobSheet,
): sheet is JobSheet & { background: NonNullable<JobSheet['background']> } {
  return sheet.background !== null && sheet.background.drop !== 'keep';
}
