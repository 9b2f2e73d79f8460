import type { JobSheet } from './jobSheet';
import type { Layer } from './layerSchema';
import { layerOf } from './layers';

/** A background of one colour that touches the edge of the artwork; null: it has none. */
export function backgroundOf(sheet: Pick<JobSheet, 'layers'>): Layer['background'] {
  return layerOf(sheet).background;
}

/** The background, where it is left to the garment, outside of the design or everywhere; null where it prints or there is none. */
export function droppedBackground(sheet: Pick<JobSheet, 'layers'>): Layer['background'] {
  const background = backgroundOf(sheet);
  return background?.drop === 'keep' ? null : background;
}
