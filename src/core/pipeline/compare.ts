import { type Lab, ciede2000, labFromRgb8 } from '../colour';

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

/**
 * Where a background was dropped and nothing prints, the garment is what was wanted: the artwork takes its colour there.
 *
 * @param take whether it does, or the places are only counted.
 * @returns how many such pixels there are that the artwork shows otherwise.
 */
export function bareAsGarment(
  print: Uint8ClampedArray,
  artwork: Uint8ClampedArray,
  garment: readonly [number, number, number],
  take = true,
): number {
  let count = 0;
  const isGarment = (pixels: Uint8ClampedArray, i: number) =>
    pixels[i] === garment[0] && pixels[i + 1] === garment[1] && pixels[i + 2] === garment[2];
  for (let i = 0; i < print.length; i += 4) {
    if (!isGarment(print, i) || isGarment(artwork, i)) continue;
    count++;
    if (take) artwork.set(garment, i);
  }
  return count;
}
