import { type Lab, ciede2000, encodeSrgb8, labFromRgb8 } from '../colour';
import type { LightPlane } from './predictPrint';

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

  /** Both planes of one size. */
  add(print: LightPlane, artwork: LightPlane): void {
    const count = print.width * print.height;
    for (let i = 0; i < count; i++) {
      const difference = this.difference(print.light, artwork.light, i, count);
      this.sum += difference;
      this.count++;
      this.histogram[Math.min(BINS - 1, Math.floor(difference / STEP))]!++;
    }
  }

  private difference(p: Float32Array, q: Float32Array, i: number, count: number): number {
    const a = codes(p, i, count);
    const b = codes(q, i, count);
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

/** A pixel of linear light as three 8-bit codes in one number. */
function codes(light: Float32Array, i: number, count: number): number {
  return (
    (encodeSrgb8(light[i]!) << 16) |
    (encodeSrgb8(light[i + count]!) << 8) |
    encodeSrgb8(light[i + 2 * count]!)
  );
}

function labOfCodes(packed: number): Lab {
  return labFromRgb8([packed >> 16, (packed >> 8) & 255, packed & 255]);
}
