import { outlineWeights } from '../artwork';
import type { Rect } from '../geometry';
import type { Patch } from '../sheet';

/** Where a plane of tones lies in its artwork. */
export interface TonePlace {
  readonly rect: Rect;
  readonly levelWidth: number;
  readonly levelHeight: number;
  /** Pixels of the level to a millimetre of the print. */
  readonly pxPerMm: number;
}

/** The exponent of the fullest lift: a hundredth becomes a half, as 0.01 ** 0.15 is. */
const MOST_LIFTED = 0.15;

/** What a patch makes of a tone inside of it, 0..1 both. */
function actOf({ act, amount }: Patch): (tone: number) => number {
  switch (act) {
    case 'lift':
      return (tone) => tone ** (1 - amount * (1 - MOST_LIFTED));
    case 'lighten':
    case 'clear':
      return (tone) => tone * (1 - amount);
    case 'fill':
      return (tone) => tone + amount * (1 - tone);
  }
}

/**
 * Changes a plate's tones, 0..65535, inside of its patches, one after another.
 *
 * @param printing 0 for pixels that print nothing: they stay so.
 */
export function applyPatches(
  plane: Uint16Array,
  patches: readonly Patch[],
  printing: Uint8Array,
  { rect, levelWidth, levelHeight, pxPerMm }: TonePlace,
): void {
  for (const patch of patches) {
    if (!patch.on || patch.amount === 0) continue;
    const corners = patch.outline.map(([x, y]) => [x * levelWidth, y * levelHeight] as const);
    const change = actOf(patch);
    outlineWeights({ corners, feather: patch.featherMm * pxPerMm }, rect, (i, weight) => {
      if (printing[i] === 0) return;
      const tone = plane[i]! / 65535;
      plane[i] = Math.round(65535 * (tone + weight * (change(tone) - tone)));
    });
  }
}
