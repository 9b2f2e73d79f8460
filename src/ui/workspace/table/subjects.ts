import type { Subject } from '@/browser';
import { type JobSheet, isSimulated } from '@/core/sheet';

export const SUBJECT_NAMES: Readonly<Record<Subject, string>> = {
  artwork: 'Artwork',
  print: 'Print',
  film: 'Film',
  dots: 'Dots',
  difference: 'Difference',
  reasons: 'Reasons',
};

/** What is shown of a job where something is asked for. */
export function subjectIn(sheet: JobSheet, wanted: Subject): Subject {
  return wanted === 'reasons' && !isSimulated(sheet) ? 'difference' : wanted;
}

/** What can be shown of a job: why a print is off is known of tones alone. */
export function subjectsOf(sheet: JobSheet): Subject[] {
  const all = Object.keys(SUBJECT_NAMES) as Subject[];
  return all.filter((each) => each !== 'reasons' || isSimulated(sheet));
}
