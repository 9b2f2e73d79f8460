import { type Lab, ciede2000, labFromRgb8 } from '../colour';

/** Differences of a print from its artwork, CIEDE2000. */
export interface Difference {
  readonly mean: number;
  readonly p95: number;
}

const STEP = 0.05;
const BINS = 4000;

/** Gathers differences region by region. */
export class DifferenceCounter {
  private readonly histogram = new Float64Array(BINS);
  private sum = 0;
  private count = 0;
  private readonly cache = new Map<number, number>();

  /** Both are pixels of four bytes, of the same window. */
  add(print: Uint8ClampedArray, artwork: Uint8ClampedArray): void {
    for (let i = 0; i < print.length; i += 4) {
      const difference = this.difference(codes(print, i), codes(artwork, i));
      this.sum += difference;
      this.count++;
      this.histogram[Math.min(BINS - 1, Math.floor(difference / STEP))]!++;
    }
  }

  private difference(a: number, b: number): number {
    // Flat artwork has few pairs of colours. 48 bits: an exact key.
    const key = a * 0x1000000 + b;
    let known = this.cache.get(key);
    if (known === undefined) {
      known = ciede2000(labOfCodes(a), labOfCodes(b));
      if (this.cache.size < 1 << 18) this.cache.set(key, known);
    }
    return known;
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
function codes(pixels: Uint8ClampedArray, i: number): number {
  return (pixels[i]! << 16) | (pixels[i + 1]! << 8) | pixels[i + 2]!;
}

function labOfCodes(packed: number): Lab {
  return labFromRgb8([packed >> 16, (packed >> 8) & 255, packed & 255]);
}
