import { labFromRgb8, linearFromRgb8, parseHexColour } from '../colour';
import type { StackInk } from '../solving';
import type { Plate } from '../sheet';

/** From this lightness (L*) down dots of an ink are seen in light tones. */
const DARK_LIGHTNESS = 40;

/** An ink as tones are solved for. */
export function stackInk({ role, ink }: Pick<Plate, 'role' | 'ink'>): StackInk {
  const rgb = parseHexColour(ink.colour);
  const dark = labFromRgb8(rgb)[0] < DARK_LIGHTNESS ? 'dark' : 'none';
  return {
    colour: linearFromRgb8(rgb),
    opacity: ink.opacity,
    cost: role === 'highlight' ? 'spare' : dark,
  };
}
