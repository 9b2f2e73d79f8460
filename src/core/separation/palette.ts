import {
  type Lab,
  LINEAR_OF_CODE8,
  type Rgb8,
  deltaE76,
  encodeSrgb8,
  labFromRgb8,
  parseHexColour,
} from '../colour';
import { KNOWN_COUNT, type KnownLabels, type KnownMixtures, MIXED, knownPlace } from '../raster';

/** How a pixel that is no pure colour is made of two: `share` (0..65535) of `first`, the rest of `second`. */
export interface Mixture {
  first: number;
  second: number;
  share: number;
}

/** Mixtures of edges: few colours, each with few candidates. */
const CACHE_BITS = 14;

/**
 * The palette made ready for millions of look-ups: nearest colour of a pixel, and the mixture of two that
 * explains it best. Answers are cached by colour; a cache never changes an answer.
 */
export class PaletteLookup {
  readonly count: number;
  /** Bit k set: palette colour k takes part. */
  private readonly active: number;
  private readonly labs: readonly Lab[];
  private readonly codes: Float64Array;
  private readonly light: Float64Array;
  private readonly purities: Float64Array;
  /** What opaque pixels are, by their colour. */
  readonly names: KnownLabels = {
    colours: new Int32Array(KNOWN_COUNT).fill(-1),
    labels: new Uint8Array(KNOWN_COUNT),
    learn: (colour) => this.learnName(colour),
  };
  /** What opaque pixels are made of where any colour may take part, by their colour. */
  readonly mixtures: KnownMixtures = {
    colours: new Int32Array(KNOWN_COUNT).fill(-1),
    first: new Uint8Array(KNOWN_COUNT),
    second: new Uint8Array(KNOWN_COUNT),
    shares: new Uint16Array(KNOWN_COUNT),
    learn: (colour) => this.learnMixture(colour),
  };
  private readonly learning: Mixture = { first: 0, second: 0, share: 0 };
  private readonly mixKey = new Float64Array(1 << CACHE_BITS).fill(-1);
  private readonly mixFirst = new Uint8Array(1 << CACHE_BITS);
  private readonly mixSecond = new Uint8Array(1 << CACHE_BITS);
  private readonly mixShare = new Uint16Array(1 << CACHE_BITS);

  /** @param colours each with the CIELAB distance within which a pixel is that colour; null: no pixel ever is. */
  constructor(colours: readonly { readonly colour: string; readonly purity: number | null }[]) {
    const rgbs: Rgb8[] = colours.map((each) => parseHexColour(each.colour));
    this.count = rgbs.length;
    this.labs = rgbs.map((rgb) => labFromRgb8(rgb));
    this.codes = Float64Array.from(rgbs.flat());
    this.light = Float64Array.from(rgbs.flat(), (code) => LINEAR_OF_CODE8[code]!);
    this.purities = Float64Array.from(colours, (each) => each.purity ?? -1);
    this.active = colours.reduce((bits, each, k) => (each.purity === null ? bits : bits | (1 << k)), 0);
  }

  private learnName(colour: number): void {
    const lab = labFromRgb8([colour & 255, (colour >> 8) & 255, colour >> 16]);
    let best = Infinity;
    let label = MIXED;
    for (let k = 0; k < this.count; k++) {
      const distance = deltaE76(lab, this.labs[k]!);
      if (distance <= this.purities[k]! && distance <= best) {
        best = distance;
        label = k;
      }
    }
    const place = knownPlace(colour);
    this.names.colours[place] = colour;
    this.names.labels[place] = label;
  }

  private learnMixture(colour: number): void {
    const { colours, first, second, shares } = this.mixtures;
    const place = knownPlace(colour);
    this.mixture(colour & 255, (colour >> 8) & 255, colour >> 16, 0, 255, this.learning);
    colours[place] = colour;
    first[place] = this.learning.first;
    second[place] = this.learning.second;
    shares[place] = this.learning.share;
  }

  /**
   * The two candidates whose mixture, in coded or in linear light, lies nearest to a pixel; one candidate
   * alone when there is no second.
   *
   * @param candidates bit k set: palette colour k may take part; 0 means all of them. At most 24 colours.
   * @param alpha 0..255: the colour of a nearly transparent pixel is known only roughly (a code of rounding before
   *   it was divided by alpha), and a single colour within that is preferred.
   */
  mixture(r: number, g: number, b: number, candidates: number, alpha: number, out: Mixture): void {
    const doubt = alpha >= 250 ? 0 : 32 - Math.clz32(Math.ceil(255 / Math.max(1, alpha)));
    const key = ((r << 16) | (g << 8) | b) + (candidates * 16 + doubt) * 0x1000000;
    const slot =
      (Math.imul((r << 16) | (g << 8) | b, 0x9e3779b1) ^ Math.imul(candidates, 0x85ebca6b)) >>>
      (32 - CACHE_BITS);
    if (this.mixKey[slot] !== key) {
      this.solve(
        r,
        g,
        b,
        candidates === 0 ? this.active : candidates & this.active,
        doubt === 0 ? 1 : (4 * 2 ** doubt) ** 2,
        slot,
      );
      this.mixKey[slot] = key;
    }
    out.first = this.mixFirst[slot]!;
    out.second = this.mixSecond[slot]!;
    out.share = this.mixShare[slot]!;
  }

  private solve(r: number, g: number, b: number, candidates: number, tolerance: number, slot: number): void {
    let best = Infinity;
    let first = 0;
    let second = 0;
    let share = 1;
    for (let i = 0; i < this.count; i++) {
      if (((candidates >>> i) & 1) === 0) continue;
      const alone = this.residual(i, i, 1, r, g, b);
      if (alone < best) {
        best = alone;
        first = i;
        second = i;
      }
    }
    if (best > tolerance) {
      for (let i = 0; i < this.count; i++) {
        if (((candidates >>> i) & 1) === 0) continue;
        for (let j = i + 1; j < this.count; j++) {
          if (((candidates >>> j) & 1) === 0) continue;
          // No mixture of two leaves the box between them.
          if (this.beyondBox(i, j, r, g, b) >= best - 1) continue;
          for (let space = 0; space < 2; space++) {
            const linear = space === 1;
            const t = this.project(i, j, r, g, b, linear);
            const rest = linear ? this.residualLight(i, j, t, r, g, b) : this.residual(i, j, t, r, g, b);
            // A mixture must explain clearly more than what was found before it.
            if (rest < best - 1) {
              best = rest;
              first = i;
              second = j;
              share = t;
            }
          }
        }
      }
    }
    this.mixFirst[slot] = first;
    this.mixSecond[slot] = second;
    this.mixShare[slot] = Math.round(share * 65535);
  }

  /** Squared distance in codes from a pixel to the box that two colours span. */
  private beyondBox(i: number, j: number, r: number, g: number, b: number): number {
    const { codes } = this;
    let sum = 0;
    for (let c = 0; c < 3; c++) {
      const code = c === 0 ? r : c === 1 ? g : b;
      const [p, q] = [codes[i * 3 + c]!, codes[j * 3 + c]!];
      const low = p < q ? p : q;
      const high = p < q ? q : p;
      const beyond = code < low ? low - code : code > high ? code - high : 0;
      sum += beyond * beyond;
    }
    return sum;
  }

  /** Share of colour i on the line between i and j, nearest to the pixel; 0..1. */
  private project(i: number, j: number, r: number, g: number, b: number, linear: boolean): number {
    const table = linear ? this.light : this.codes;
    let dot = 0;
    let length = 0;
    for (let c = 0; c < 3; c++) {
      const code = c === 0 ? r : c === 1 ? g : b;
      const part = linear ? LINEAR_OF_CODE8[code]! : code;
      const d = table[i * 3 + c]! - table[j * 3 + c]!;
      dot += (part - table[j * 3 + c]!) * d;
      length += d * d;
    }
    return length > 0 ? Math.min(1, Math.max(0, dot / length)) : 1;
  }

  private residual(i: number, j: number, t: number, r: number, g: number, b: number): number {
    const mix = (c: number) => this.codes[i * 3 + c]! * t + this.codes[j * 3 + c]! * (1 - t);
    return (mix(0) - r) ** 2 + (mix(1) - g) ** 2 + (mix(2) - b) ** 2;
  }

  private residualLight(i: number, j: number, t: number, r: number, g: number, b: number): number {
    const mix = (c: number) => encodeSrgb8(this.light[i * 3 + c]! * t + this.light[j * 3 + c]! * (1 - t));
    return (mix(0) - r) ** 2 + (mix(1) - g) ** 2 + (mix(2) - b) ** 2;
  }
}
