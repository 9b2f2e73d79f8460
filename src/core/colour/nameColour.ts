import { type Lab, labFromRgb8 } from './lab';
import type { Rgb8 } from './srgb';

// Hue ranges in degrees of CIELAB, upper bound first; the ring closes at 360.
const HUES: readonly (readonly [number, string])[] = [
  [15, 'pink red'],
  [48, 'red'],
  [72, 'orange'],
  [98, 'yellow'],
  [125, 'lime'],
  [168, 'green'],
  [212, 'turquoise'],
  [258, 'sky blue'],
  [298, 'blue'],
  [325, 'violet'],
  [347, 'purple'],
  [361, 'pink red'],
];

function greyName(lightness: number): string {
  if (lightness > 93) return 'white';
  if (lightness > 75) return 'light grey';
  if (lightness > 42) return 'grey';
  if (lightness > 20) return 'dark grey';
  return 'black';
}

/** A plain English name for a colour, such as `dark blue`: for inks that have no name yet. */
export function nameColour(rgb: Rgb8): string {
  const lab: Lab = labFromRgb8(rgb);
  const [lightness, a, b] = lab;
  const chroma = Math.hypot(a, b);
  if (chroma < 8) {
    if (lightness > 80 && lightness <= 93 && b > 3) return 'cream';
    return greyName(lightness);
  }
  if (lightness > 86 && chroma < 26) return b > Math.abs(a) * 0.6 ? 'cream' : 'pale ' + hueName(a, b);
  const hue = hueName(a, b);
  if (lightness < 45 && (hue === 'orange' || hue === 'yellow')) return 'brown';
  if (lightness < 28) return 'dark ' + hue;
  if (lightness > 78 && hue !== 'yellow' && hue !== 'lime') return 'light ' + hue;
  return hue;
}

function hueName(a: number, b: number): string {
  const degrees = (Math.atan2(b, a) * 180) / Math.PI;
  const hue = degrees < 0 ? degrees + 360 : degrees;
  return HUES.find(([limit]) => hue < limit)![1];
}
