import { type FlatLayer } from '../sheet';

/** Artwork of which flat colours explain less than this, with gradients between more pairs than these, is full tone. */
export const FULL_TONE = 0.6;
const FEW_TRANSITIONS = 5;

/**
 * Whether artwork is full tone, such as a photograph or a painting.
 *
 * @param flatShare of the places without an edge that have one of the flat colours, 0..1.
 * @param transitions pairs of colours that gradients lie between; null: not known.
 */
export function isFullTone(flatShare: number, transitions: FlatLayer['transitions']): boolean {
  return flatShare < FULL_TONE && (transitions?.length ?? 0) > FEW_TRANSITIONS;
}
