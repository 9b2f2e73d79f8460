import {
  type Rgb8,
  ciede2000,
  labFromLinear,
  labFromRgb8,
  layerOver,
  linearFromRgb8,
  parseHexColour,
} from '../colour';
import type { Ink } from '../sheet';

/** How much base an ink wants under it, and why. */
export interface BaseAdvice {
  readonly strength: 0 | 1;
  readonly reason: string;
}

/** Garments below this lightness are dark: nothing but dark inks shows on them without base. */
const DARK_GARMENT = 50;
/** Inks below this lightness are black to the eye. */
const BLACK_INK = 16;
/** Garments below this lightness are black or nearly: their colour hardly shows in an ink. */
const BLACK_GARMENT = 20;
/** An ink no more than this much lighter than a dark garment is nearly as dark. */
const NEARLY_AS_DARK = 6;
/** On a light garment an ink whose colour changes by less than this (CIEDE2000) needs no base. */
const UNCHANGED = 4;

export function isWhite(rgb: Rgb8): boolean {
  const [lightness, a, b] = labFromRgb8(rgb);
  return lightness > 92 && Math.hypot(a, b) < 8;
}

/**
 * Whether an ink wants an underbase on a garment: a full one or none. On a dark garment every ink gets it that is not itself nearly as dark,
 * whatever its opacity promises, since that was not measured; on a light one those that the garment would change. Common practice, no
 * source.
 */
export function adviseBase(ink: Ink, garmentColour: string): BaseAdvice {
  const rgb = parseHexColour(ink.colour);
  const garment = parseHexColour(garmentColour);
  const [lightness] = labFromRgb8(rgb);
  const [garmentLightness] = labFromRgb8(garment);
  const none = (reason: string): BaseAdvice => ({ strength: 0, reason });
  const full = (reason: string): BaseAdvice => ({ strength: 1, reason });
  if (garmentLightness < DARK_GARMENT) {
    if (lightness < BLACK_INK) return none('black hides what is under it');
    const isAsDark = lightness < garmentLightness + NEARLY_AS_DARK;
    // A garment with a colour of its own shows in an ink of the same lightness.
    if (isAsDark && (garmentLightness < BLACK_GARMENT || changeBy(rgb, ink.opacity, garment) < 2))
      return none('the ink is nearly as dark as the garment');
    return full('a dark garment would show through');
  }
  if (isWhite(rgb)) {
    const change = changeBy(rgb, ink.opacity, garment);
    return change < 1 ? none('the garment is as light as the ink') : full('white on white hides the garment');
  }
  const change = changeBy(rgb, ink.opacity, garment);
  return change < UNCHANGED
    ? none(`the garment changes the ink by ${change.toFixed(0)} only`)
    : full(`the garment would change the ink by ${change.toFixed(0)}`);
}

/** CIEDE2000 between an ink on a garment and on white. */
function changeBy(rgb: Rgb8, opacity: number, garment: Rgb8): number {
  const optics = { colour: linearFromRgb8(rgb), opacity };
  const onGarment = labFromLinear(layerOver(linearFromRgb8(garment), optics));
  return ciede2000(onGarment, labFromLinear(layerOver([1, 1, 1], optics)));
}

/** The strength that `adviseBase` gives. */
export function suggestBaseStrength(ink: Ink, garmentColour: string): number {
  return adviseBase(ink, garmentColour).strength;
}
