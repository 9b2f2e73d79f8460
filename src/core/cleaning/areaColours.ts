import { EMPTY_ALPHA, OPAQUE_ALPHA } from '../artwork';
import { type Rgb8, formatHexColour } from '../colour';
import { BARE, namePixels } from '../raster';
import { PaletteLookup, markEdgePixels, removeDust } from '../separation';

/** Pieces of so many pixels are no areas that others are told by. */
const NOISE_PX = 2;
/** Mixtures of two colours that explain a colour this much better (sRGB codes) than one of them alone are taken. */
const WORTH_MIXING = 3;
/** What no colours that are near explain within so many sRGB codes is the nearest of all colours: a line too thin to have a pure pixel. */
const EXPLAINED = 45;

/** The colours that areas may have. */
export class AreaColours {
  private readonly palette: PaletteLookup;

  /** @param purity CIELAB distance within which a pixel is one of the colours. */
  constructor(
    readonly colours: readonly Rgb8[],
    purity: number,
  ) {
    this.palette = new PaletteLookup({
      colours: colours.map((rgb) => ({ colour: formatHexColour(rgb), purity })),
      transitions: [],
      ways: [],
      fades: new Map(),
      edges: true,
    });
  }

  /** Which colour each pixel of a plane surely is, BARE where it is transparent, MIXED where it is an edge or damaged. */
  surely(data: Uint8Array, width: number, height: number): Uint8Array {
    const pixels = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
    const label = new Uint8Array(width * height);
    const known = this.palette.names;
    namePixels({ pixels, empty: EMPTY_ALPHA, opaque: OPAQUE_ALPHA, known, label });
    // The colour of an edge, or of compression's noise, may be that of an area elsewhere.
    markEdgePixels(label, pixels, width, height, this.palette);
    removeDust(label, width, height, NOISE_PX);
    return label;
  }

  /**
   * Which colour a place of an upsampled picture belongs to: the larger part of the mixture of two colours near it that explains it, else the nearest of all.
   * Parts are taken in sRGB codes, in which smooth edges are drawn.
   *
   * @param near indexes of colours that stand near the place.
   */
  largest(r: number, g: number, b: number, near: readonly number[]): number {
    const { colours } = this;
    let best = BARE;
    let least = Infinity;
    for (const k of near) {
      const [x, y, z] = colours[k]!;
      const distance = Math.hypot(r - x, g - y, b - z);
      if (distance < least) [least, best] = [distance, k];
    }
    for (let i = 0; i < near.length && least > WORTH_MIXING; i++) {
      const one = colours[near[i]!]!;
      for (let j = i + 1; j < near.length; j++) {
        const other = colours[near[j]!]!;
        const [u, v, w] = [other[0] - one[0], other[1] - one[1], other[2] - one[2]];
        const [x, y, z] = [r - one[0], g - one[1], b - one[2]];
        const share = Math.min(1, Math.max(0, (x * u + y * v + z * w) / (u * u + v * v + w * w)));
        const distance = Math.hypot(x - share * u, y - share * v, z - share * w);
        if (distance < least - WORTH_MIXING) [least, best] = [distance, share < 0.5 ? near[i]! : near[j]!];
      }
    }
    if (least <= EXPLAINED) return best;
    least = Infinity;
    for (let k = 0; k < colours.length; k++) {
      const [x, y, z] = colours[k]!;
      const distance = Math.hypot(r - x, g - y, b - z);
      if (distance < least) [least, best] = [distance, k];
    }
    return best;
  }
}
