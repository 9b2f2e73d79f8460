import type { Subject } from '@/browser';

export const SUBJECT_NAMES: Readonly<Record<Subject, string>> = {
  artwork: 'Artwork',
  print: 'Print',
  film: 'Film',
  dots: 'Dots',
  difference: 'Difference',
};
