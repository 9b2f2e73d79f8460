import { type FlatLayer } from '../sheet';

/** Artwork of which flat colours explain less than this, with gradients between more pairs than these, is full tone. */
export const FULL_TONE = 0.6;
const FEW_TRANSITIONS = 5;

/**
 * Whether artwork is full tone, such as a photograph or a painting.
 *
 * @param flatShare of the places without an edge that have one of the flat colours, 0..1; 0 where something prints and none of it is flat.
 * @param transitions pairs of colours that gradients lie between; null: not known.
 */
export function isFullTone(flatShare: number, transitions: FlatLayer['transitions']): boolean {
  if (flatShare >= FULL_TONE || !transitions) return false;
  // What has neither flat colours nor gradients between a few, such as an icon of sixteen pixels, would be no plates at all.
  return transitions.length > FEW_TRANSITIONS || (flatShare === 0 && transitions.length === 0);
}
