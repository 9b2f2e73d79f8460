import type { LinearRgb } from './srgb';

/** An ink as the print model sees it. */
export interface InkOptics {
  /** Linear light of a full layer printed over white. */
  readonly colour: LinearRgb;
  /** 0 = a pure filter, 1 = hides what is under it. */
  readonly opacity: number;
}

/**
 * A full layer of an ink of colour C and opacity o over a backing B: o·C + (1 − o)·B·C,
 * in linear light. The opaque part shows the ink, the rest filters the backing.
 */
export function layerOver(backing: LinearRgb, ink: InkOptics): LinearRgb {
  const part = (b: number, c: number) => ink.opacity * c + (1 - ink.opacity) * b * c;
  return [part(backing[0], ink.colour[0]), part(backing[1], ink.colour[1]), part(backing[2], ink.colour[2])];
}

/**
 * An ink that covers a part of a place (0..1): the average of the covered and the bare part.
 * Applied plate after plate in print order this is the model of Demichel (1924) and
 * Neugebauer (1937) for screens that lie independently of each other.
 */
export function printOver(backing: LinearRgb, ink: InkOptics, coverage: number): LinearRgb {
  const full = layerOver(backing, ink);
  const part = (b: number, f: number) => b + coverage * (f - b);
  return [part(backing[0], full[0]), part(backing[1], full[1]), part(backing[2], full[2])];
}
