import type { JobSheet } from './jobSheet';

/** Whether a job's plates are tones that print the artwork together. */
export function isSimulated<T extends Pick<JobSheet, 'separation'>>(sheet: T): sheet is T & Simulated {
  return sheet.separation.method === 'simulated';
}

export interface Simulated {
  readonly separation: Extract<JobSheet['separation'], { method: 'simulated' }>;
}
