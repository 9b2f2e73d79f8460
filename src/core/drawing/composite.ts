import type { BlendMode } from './drawing';

/** Colours are words: sRGB codes with straight alpha, red in the lowest byte. */

/**
 * A colour laid over another (Porter and Duff 1984), both with straight alpha.
 *
 * @param under the word below.
 * @param r, g, b codes 0..255 of the colour above, which may be fractions.
 * @param alpha its opacity, 0..1.
 */
export function over(under: number, r: number, g: number, b: number, alpha: number): number {
  if (alpha >= 1) return opaque(r, g, b);
  if (!(alpha > 0)) return under;
  if (under >>> 24 === 255) {
    const rest = 1 - alpha;
    return (
      (0xff000000 |
        (((b * alpha + ((under >>> 16) & 255) * rest + 0.5) | 0) << 16) |
        (((g * alpha + ((under >>> 8) & 255) * rest + 0.5) | 0) << 8) |
        ((r * alpha + (under & 255) * rest + 0.5) | 0)) >>>
      0
    );
  }
  const below = (under >>> 24) / 255;
  const kept = below * (1 - alpha);
  const sum = alpha + kept;
  const code = (sum * 255 + 0.5) | 0;
  if (code === 0) return under;
  const [p, q] = [alpha / sum, kept / sum];
  return (
    ((code << 24) |
      (((b * p + ((under >>> 16) & 255) * q + 0.5) | 0) << 16) |
      (((g * p + ((under >>> 8) & 255) * q + 0.5) | 0) << 8) |
      ((r * p + (under & 255) * q + 0.5) | 0)) >>>
    0
  );
}

function opaque(r: number, g: number, b: number): number {
  return ((255 << 24) | (((b + 0.5) | 0) << 16) | (((g + 0.5) | 0) << 8) | ((r + 0.5) | 0)) >>> 0;
}

type Separable = (below: number, above: number) => number;

/** Compositing and Blending Level 1 (W3C), section 9.1; colours 0..1. */
const SEPARABLE: Partial<Record<BlendMode, Separable>> = {
  multiply: (b, s) => b * s,
  screen: (b, s) => b + s - b * s,
  overlay: (b, s) => hardLight(s, b),
  darken: (b, s) => Math.min(b, s),
  lighten: (b, s) => Math.max(b, s),
  'color-dodge': (b, s) => (b === 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s))),
  'color-burn': (b, s) => (b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  'hard-light': (b, s) => hardLight(b, s),
  'soft-light': (b, s) => {
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
    const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
    return b + (2 * s - 1) * (d - b);
  },
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
};

function hardLight(b: number, s: number): number {
  return s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1);
}

type Rgb = [r: number, g: number, b: number];

const lum = ([r, g, b]: Rgb): number => 0.3 * r + 0.59 * g + 0.11 * b;
const sat = (c: Rgb): number => Math.max(...c) - Math.min(...c);

function clipColour(c: Rgb): Rgb {
  const l = lum(c);
  const low = Math.min(...c);
  const high = Math.max(...c);
  let out = c;
  if (low < 0) out = out.map((v) => l + ((v - l) * l) / (l - low)) as Rgb;
  if (high > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (high - l)) as Rgb;
  return out;
}

function setLum(c: Rgb, l: number): Rgb {
  const d = l - lum(c);
  return clipColour([c[0] + d, c[1] + d, c[2] + d]);
}

function setSat(c: Rgb, s: number): Rgb {
  const low = Math.min(...c);
  const range = Math.max(...c) - low;
  if (range === 0) return [0, 0, 0];
  return c.map((v) => ((v - low) * s) / range) as Rgb;
}

/** Section 10.2 of the same. */
function mixed(mode: BlendMode, below: Rgb, above: Rgb): Rgb {
  if (mode === 'hue') return setLum(setSat(above, sat(below)), lum(below));
  if (mode === 'saturation') return setLum(setSat(below, sat(above)), lum(below));
  if (mode === 'color') return setLum(above, lum(below));
  if (mode === 'luminosity') return setLum(below, lum(above));
  const each = SEPARABLE[mode]!;
  return [each(below[0], above[0]), each(below[1], above[1]), each(below[2], above[2])];
}

/** As `over`, in a blend mode: where there is nothing below, the colour is as it is. */
export function blendOver(
  mode: BlendMode,
  under: number,
  r: number,
  g: number,
  b: number,
  alpha: number,
): number {
  const below = (under >>> 24) / 255;
  if (mode === 'normal' || below === 0) return over(under, r, g, b, alpha);
  const backdrop: Rgb = [(under & 255) / 255, ((under >>> 8) & 255) / 255, ((under >>> 16) & 255) / 255];
  const blended = mixed(mode, backdrop, [r / 255, g / 255, b / 255]);
  const part = (own: number, k: 0 | 1 | 2) =>
    Math.min(255, Math.max(0, (1 - below) * own + below * blended[k] * 255));
  return over(under, part(r, 0), part(g, 1), part(b, 2), alpha);
}
