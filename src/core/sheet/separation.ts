import type { JobSheet } from './jobSheet';

/** Whether a job's plates are tones that print the artwork together. */
export function isSimulated({ separation }: Pick<JobSheet, 'separation'>): boolean {
  return separation.method === 'simulated';
}
