import { type OffReason, type ReasonShares } from '../checks';
import { type Rgb8, labFromRgb8 } from '../colour';
import { PairDifferences, codesOf } from './compare';

/** CIEDE2000 up to which a print is near to its artwork, and up to which it is a little off. */
const NEAR = 2;
const FAR = 5;
/** What inks could print must be so much nearer (CIEDE2000) to be a reason of its own. */
const COULD_BE_NEARER = 1;
/** A lightness (L*) this near to the garment's is the garment's. */
const LIKE_GARMENT = 4;
/** From this part of a colour's distance (CIELAB) on it is a matter of lightness. */
const MOSTLY_LIGHTNESS = 0.6;

/** The colours of the reasons where a print is far off; a little off they are half as strong. */
export const REASON_COLOURS: Readonly<Record<OffReason, Rgb8>> = {
  inks: [214, 132, 20],
  dark: [58, 62, 148],
  light: [0, 148, 148],
  changed: [176, 42, 104],
  dots: [86, 112, 40],
};
/** Where the print is near. */
const NOTHING_OFF: Rgb8 = [244, 244, 242];

/** Pictures of one window, pixels of four bytes. */
export interface ReasonPictures {
  readonly print: Uint8ClampedArray;
  readonly artwork: Uint8ClampedArray;
  /** What the inks could print there. */
  readonly printable: Uint8ClampedArray;
  /** The print without dots that are smaller than their meshes hold; null where there are none. */
  readonly held: Uint8ClampedArray | null;
}

/** Finds why a print of tones is off its artwork, place by place. */
export class ReasonFinder {
  private readonly pairs = new PairDifferences();
  private readonly known = new Map<number, OffReason>();
  private readonly garmentLightness: number;

  /** @param garment that it is printed on, codes of sRGB. */
  constructor(garment: Rgb8) {
    this.garmentLightness = labFromRgb8(garment)[0];
  }

  /** @param tell told of every place that is off, or may be: its first byte, how far off it is (CIEDE2000), and why. */
  private forEach(
    { print, artwork, printable, held }: ReasonPictures,
    tell: (i: number, difference: number, reason: OffReason) => void,
  ): void {
    for (let i = 0; i < print.length; i += 4) {
      const wanted = codesOf(artwork, i);
      const difference = this.pairs.between(codesOf(print, i), wanted);
      const without = held ? this.pairs.between(codesOf(held, i), wanted) : difference;
      if (without >= NEAR && without > difference + COULD_BE_NEARER) {
        tell(i, without, 'dots');
        continue;
      }
      if (difference < NEAR) continue;
      const could = codesOf(printable, i);
      const isChanged = this.pairs.between(could, wanted) < difference - COULD_BE_NEARER;
      tell(i, difference, isChanged ? 'changed' : this.reasonOf(wanted, could));
    }
  }

  /** Why inks come no nearer to a colour than to what they can print. Both are codes in one number. */
  private reasonOf(wanted: number, could: number): OffReason {
    const key = wanted * 0x1000000 + could;
    const known = this.known.get(key);
    if (known) return known;
    const labOf = (codes: number) => labFromRgb8([codes >> 16, (codes >> 8) & 255, codes & 255]);
    const [one, other] = [labOf(wanted), labOf(could)];
    const lighter = one[0] - other[0];
    const all = Math.hypot(lighter, one[1] - other[1], one[2] - other[2]);
    let reason: OffReason = 'inks';
    if (Math.abs(lighter) > MOSTLY_LIGHTNESS * all) {
      if (lighter > 0) reason = 'light';
      else if (one[0] < this.garmentLightness + LIKE_GARMENT) reason = 'dark';
    }
    if (this.known.size > 1 << 17) this.known.clear();
    this.known.set(key, reason);
    return reason;
  }

  /** The reasons as a picture. */
  paint(pictures: ReasonPictures): Uint8ClampedArray<ArrayBuffer> {
    const out = new Uint8ClampedArray(pictures.print.length);
    for (let i = 0; i < out.length; i += 4) {
      out.set(NOTHING_OFF, i);
      out[i + 3] = 255;
    }
    this.forEach(pictures, (i, difference, reason) => {
      const strength = difference < FAR ? 0.5 : 1;
      REASON_COLOURS[reason].forEach((code, c) => {
        out[i + c] = Math.round(NOTHING_OFF[c]! + strength * (code - NOTHING_OFF[c]!));
      });
    });
    return out;
  }

  /** Adds to each reason the pixels that are off by it. */
  count(pictures: ReasonPictures, sums: ReasonShares): void {
    this.forEach(pictures, (_, __, reason) => sums[reason]++);
  }
}
