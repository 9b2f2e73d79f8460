import { over } from './composite';
import type { GradientColour } from './gradientColour';

/**
 * Lays a gradient over a run of a row.
 *
 * @param words sRGB codes with straight alpha, red in the lowest byte; `from` to `to` are painted.
 * @param x, y device pixel of the first.
 * @param opacity multiplies the gradient's own, 0..1.
 */
export function paintGradient(
  words: Uint32Array,
  from: number,
  to: number,
  x: number,
  y: number,
  colour: GradientColour,
  opacity: number,
): void {
  const { out } = colour;
  for (let k = from; k < to; k++) {
    colour.at(x + k - from, y);
    words[k] = over(words[k]!, out[0]!, out[1]!, out[2]!, out[3]! * opacity);
  }
}

/** Loops of the drawing that a host may hand in compiled. */
export interface DrawingKernels {
  readonly paintGradient: typeof paintGradient;
}

export const PLAIN_DRAWING_KERNELS: DrawingKernels = { paintGradient };
