import { type Lab, type Rgb8, ciede2000, labFromRgb8 } from '../colour';

/** Differences of a print from its artwork, CIEDE2000. */
export interface Difference {
  readonly mean: number;
  readonly p95: number;
}

const STEP = 0.05;
const BINS = 4000;

/** CIEDE2000 of pairs of sRGB pixels; flat artwork has few pairs, so answers are kept. */
export class PairDifferences {
  private readonly cache = new Map<number, number>();

  /** Of two pixels as their three codes in one number each. */
  between(a: number, b: number): number {
    if (a === b) return 0;
    // 48 bits: an exact key.
    const key = a * 0x1000000 + b;
    let known = this.cache.get(key);
    if (known === undefined) {
      known = ciede2000(labOfCodes(a), labOfCodes(b));
      if (this.cache.size >= 1 << 18) this.cache.clear();
      this.cache.set(key, known);
    }
    return known;
  }
}

/** Gathers differences region by region. */
export class DifferenceCounter {
  private readonly histogram = new Float64Array(BINS);
  private sum = 0;
  private count = 0;
  private readonly pairs = new PairDifferences();

  /** Both are pixels of four bytes, of the same window. */
  add(print: Uint8ClampedArray, artwork: Uint8ClampedArray): void {
    for (let i = 0; i < print.length; i += 4) {
      const difference = this.pairs.between(codesOf(print, i), codesOf(artwork, i));
      this.sum += difference;
      this.count++;
      this.histogram[Math.min(BINS - 1, Math.floor(difference / STEP))]!++;
    }
  }

  result(): Difference {
    let seen = 0;
    let p95 = 0;
    for (let bin = 0; bin < BINS; bin++) {
      seen += this.histogram[bin]!;
      if (seen >= 0.95 * this.count) {
        p95 = (bin + 0.5) * STEP;
        break;
      }
    }
    return { mean: this.count > 0 ? this.sum / this.count : 0, p95: this.count > 0 ? p95 : 0 };
  }
}

/** The three codes of a pixel in one number. */
export function codesOf(pixels: ArrayLike<number>, i: number): number {
  return (pixels[i]! << 16) | (pixels[i + 1]! << 8) | pixels[i + 2]!;
}

function labOfCodes(packed: number): Lab {
  return labFromRgb8([packed >> 16, (packed >> 8) & 255, packed & 255]);
}

/** The scale on which differences are drawn: CIEDE2000 and the colour that stands for it; between them it is even. */
export const DIFFERENCE_SCALE: readonly (readonly [
  difference: number,
  rgb: readonly [number, number, number],
])[] = [
  [0, [244, 244, 242]],
  [2, [222, 219, 214]],
  [5, [203, 178, 160]],
  [10, [180, 104, 74]],
  [20, [108, 38, 18]],
  [40, [28, 10, 6]],
];

/** Draws differences of a print from its artwork on the scale. */
export class DifferencePainter {
  private readonly pairs = new PairDifferences();

  /** Pixels of four bytes each, of one window. */
  paint(print: Uint8ClampedArray, artwork: Uint8ClampedArray): Uint8ClampedArray<ArrayBuffer> {
    const out = new Uint8ClampedArray(print.length);
    for (let i = 0; i < print.length; i += 4) {
      const difference = this.pairs.between(codesOf(print, i), codesOf(artwork, i));
      out.set(scaleColour(difference), i);
      out[i + 3] = 255;
    }
    return out;
  }
}

function scaleColour(difference: number): [number, number, number] {
  const last = DIFFERENCE_SCALE[DIFFERENCE_SCALE.length - 1]!;
  const k = DIFFERENCE_SCALE.findIndex(([limit]) => limit > difference);
  if (k < 0) return [...last[1]];
  const [low, from] = DIFFERENCE_SCALE[k - 1]!;
  const [high, to] = DIFFERENCE_SCALE[k]!;
  const t = (difference - low) / (high - low);
  const mix = (c: 0 | 1 | 2) => Math.round(from[c] + (to[c] - from[c]) * t);
  return [mix(0), mix(1), mix(2)];
}

/** A colour this near (CIEDE2000) to the background is it: compression scatters it. */
const IS_DROPPED = 6;

/**
 * Where a dropped background leaves the garment bare, as was wanted: nothing prints, and the artwork shows the background's colour there or one pixel
 * beside it, where an edge is smooth. Places where another colour of the artwork is missing are none of them.
 *
 * Both are pixels of four bytes, of one window.
 *
 * @returns for each pixel 1 or 0.
 */
export function leftBare(
  print: Uint8ClampedArray,
  artwork: Uint8ClampedArray,
  width: number,
  garment: Rgb8,
  dropped: Rgb8,
): Uint8Array {
  const [bare, colour] = [codesOf(garment, 0), codesOf(dropped, 0)];
  const pairs = new PairDifferences();
  const count = print.length / 4;
  const isGround = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    if (pairs.between(codesOf(artwork, i * 4), colour) < IS_DROPPED) isGround[i] = 1;
  }
  const found = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    if (codesOf(print, i * 4) !== bare) continue;
    found[i] = isGround[i] || hasBeside(isGround, width, i) ? 1 : 0;
  }
  return found;
}

function hasBeside(mask: Uint8Array, width: number, i: number): boolean {
  const x = i % width;
  const [first, last] = [x > 0 ? -1 : 0, x < width - 1 ? 1 : 0];
  for (const row of [i - width, i, i + width]) {
    for (let dx = first; dx <= last; dx++) if (mask[row + dx]) return true;
  }
  return false;
}

/** Where the garment was wanted, the artwork takes its colour. */
export function wantGarment(artwork: Uint8ClampedArray, wanted: Uint8Array, garment: Rgb8): void {
  wanted.forEach((is, i) => is && artwork.set(garment, i * 4));
}
