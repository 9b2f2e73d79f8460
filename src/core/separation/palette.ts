import { type Lab, type Rgb8, deltaE76, labFromRgb8, parseHexColour } from '../colour';
import { KNOWN_COUNT, type KnownLabels, type KnownMixtures, MIXED, knownPlace } from '../raster';
import { PairMixer } from './pairMixer';
import { onFade } from './fades';
import { type PairWays, onWay } from './pairWays';

/** How a pixel that is no pure colour is made of two, 0..65535 of each; in a wide transition they may sum to more. */
export interface Mixture {
  first: number;
  second: number;
  share: number;
  rest: number;
}

/** What a palette is looked up by. */
export interface LookedUp {
  /** Each with the CIELAB distance within which a pixel is that colour; null: no pixel ever is. */
  readonly colours: readonly { readonly colour: string; readonly purity: number | null }[];
  /** Colours that wide transitions lie between; null: any two. */
  readonly transitions: readonly (readonly [string, string])[] | null;
  /** How the inks of each transition print what lies between; null: by their shares. */
  readonly ways: readonly (PairWays | null)[];
  /** How inks fade out into the garment, by their colour; others by the artwork's opacity. */
  readonly fades: ReadonlyMap<string, Float64Array>;
  /** Whether the artwork's edges are smooth: a pixel that is no palette colour may then be one of an edge. */
  readonly edges: boolean;
}

interface Pair {
  readonly i: number;
  readonly j: number;
  readonly ways: PairWays | null;
}

/** Mixtures of edges: few colours, each with few candidates. */
const CACHE_BITS = 14;

/**
 * A pixel on a known transition lies this near to it (in sRGB codes); what lies farther is a flat colour without a row of its own, or
 * belongs to no transition that is known, and is the nearest colour.
 */
const ON_TRANSITION = 14;

/**
 * The palette made ready for millions of look-ups: nearest colour of a pixel, and the mixture of two that
 * explains it best. Answers are cached by colour; a cache never changes an answer.
 */
export class PaletteLookup {
  readonly count: number;
  private readonly hexes: readonly string[];
  private readonly active: readonly number[];
  private readonly labs: readonly Lab[];
  private readonly lightness: Float64Array;
  private readonly purities: Float64Array;
  private readonly mixer: PairMixer;
  /** Indexes of the colours of each transition that is known; null: any two. */
  private readonly pairs: readonly Pair[] | null;
  private readonly edges: boolean;
  private readonly fades: readonly (Float64Array | null)[];
  /** What opaque pixels are, by their colour. */
  readonly names: KnownLabels = {
    colours: new Int32Array(KNOWN_COUNT).fill(-1),
    labels: new Uint8Array(KNOWN_COUNT),
    learn: (colour) => this.learnName(colour),
  };
  /** What opaque pixels are made of in a wide transition, by their colour. */
  readonly mixtures: KnownMixtures = {
    colours: new Int32Array(KNOWN_COUNT).fill(-1),
    first: new Uint8Array(KNOWN_COUNT),
    second: new Uint8Array(KNOWN_COUNT),
    shares: new Uint16Array(KNOWN_COUNT),
    rests: new Uint16Array(KNOWN_COUNT),
    learn: (colour) => this.learnMixture(colour),
  };
  private readonly learning: Mixture = { first: 0, second: 0, share: 0, rest: 0 };
  private readonly mixKey = new Float64Array(1 << CACHE_BITS).fill(-1);
  private readonly mixLow = new Uint32Array(1 << CACHE_BITS);
  private readonly mixHigh = new Uint32Array(1 << CACHE_BITS);
  private readonly mixFirst = new Uint8Array(1 << CACHE_BITS);
  private readonly mixSecond = new Uint8Array(1 << CACHE_BITS);
  private readonly mixShare = new Uint16Array(1 << CACHE_BITS);
  private readonly mixRest = new Uint16Array(1 << CACHE_BITS);

  constructor({ colours, transitions, ways, fades, edges }: LookedUp) {
    const rgbs: Rgb8[] = colours.map((each) => parseHexColour(each.colour));
    this.count = rgbs.length;
    this.hexes = colours.map((each) => each.colour);
    this.labs = rgbs.map((rgb) => labFromRgb8(rgb));
    this.lightness = Float64Array.from(this.labs, ([lightness]) => lightness);
    this.mixer = new PairMixer(rgbs);
    this.purities = Float64Array.from(colours, (each) => each.purity ?? -1);
    this.active = colours.flatMap((each, k) => (each.purity === null ? [] : [k]));
    this.edges = edges;
    this.fades = colours.map((each) => (each.purity === null ? null : (fades.get(each.colour) ?? null)));
    this.pairs =
      transitions &&
      transitions.flatMap(([one, other], k): Pair[] => {
        const [i, j] = [this.indexOf(one), this.indexOf(other)];
        return i >= 0 && j >= 0 ? [{ i, j, ways: ways[k] ?? null }] : [];
      });
  }

  /** Where a colour without an outline stands; -1: nowhere. */
  indexOf(colour: string): number {
    return this.hexes.findIndex((each, k) => each === colour && this.purities[k]! >= 0);
  }

  /** Whether names may stand on smooth edges as slivers, which jobs of earlier versions print. */
  get hasSmoothEdges(): boolean {
    return this.edges && this.pairs !== null;
  }

  /** The share of a colour's ink, 0..65535, where the artwork has it at an opacity of 0..255 in a wide transition. */
  fade(label: number, alpha: number): number {
    const shares = this.fades[label];
    return shares ? onFade(shares, alpha / 255) : Math.round((alpha / 255) * 65535);
  }

  /** Whether a pixel, red lowest, is a mixture of two colours. */
  isMixture(pixel: number, first: number, second: number): boolean {
    const { mixer } = this;
    mixer.begin(pixel & 255, (pixel >>> 8) & 255, (pixel >>> 16) & 255);
    mixer.tryPair(first, second);
    return mixer.best <= ON_TRANSITION * ON_TRANSITION;
  }

  private learnName(colour: number): void {
    const rgb: Rgb8 = [colour & 255, (colour >> 8) & 255, colour >> 16];
    let label = this.pure(labFromRgb8(rgb));
    if (label === MIXED && !this.edges && this.pairs) {
      this.onTransition(...rgb, 1, this.learning);
      if (this.learning.first === this.learning.second) label = this.learning.first;
    }
    const place = knownPlace(colour);
    this.names.colours[place] = colour;
    this.names.labels[place] = label;
  }

  private pure(lab: Lab): number {
    let best = Infinity;
    let label = MIXED;
    const [lightness] = lab;
    for (let k = 0; k < this.count; k++) {
      const purity = this.purities[k]!;
      // Most colours are told apart by their lightness alone, which a picture with noise asks millions of times.
      if (Math.abs(lightness - this.lightness[k]!) > purity) continue;
      const distance = deltaE76(lab, this.labs[k]!);
      if (distance <= purity && distance <= best) {
        best = distance;
        label = k;
      }
    }
    return label;
  }

  private learnMixture(colour: number): void {
    const { colours, first, second, shares, rests } = this.mixtures;
    const place = knownPlace(colour);
    this.mixture(colour & 255, (colour >> 8) & 255, colour >> 16, null, 255, this.learning);
    colours[place] = colour;
    first[place] = this.learning.first;
    second[place] = this.learning.second;
    shares[place] = this.learning.share;
    rests[place] = this.learning.rest;
  }

  /**
   * The two candidates whose mixture, in coded or in linear light, lies nearest to a pixel; one candidate
   * alone when there is no second.
   *
   * @param candidates colours that may take part, as 64 bits, the low ones first; null: the pixel lies in a wide transition.
   * @param alpha 0..255: the colour of a nearly transparent pixel is known only roughly (a code of rounding before
   *   it was divided by alpha), and a single colour within that is preferred.
   */
  mixture(
    r: number,
    g: number,
    b: number,
    candidates: Uint32Array | null,
    alpha: number,
    out: Mixture,
  ): void {
    const doubt = alpha >= 250 ? 0 : 32 - Math.clz32(Math.ceil(255 / Math.max(1, alpha)));
    const low = candidates?.[0] ?? 0;
    const high = candidates?.[1] ?? 0;
    const key = ((r << 16) | (g << 8) | b) + doubt * 0x1000000;
    const slot =
      (Math.imul((r << 16) | (g << 8) | b, 0x9e3779b1) ^
        Math.imul(low, 0x85ebca6b) ^
        Math.imul(high, 0xc2b2ae35)) >>>
      (32 - CACHE_BITS);
    if (this.mixKey[slot] !== key || this.mixLow[slot] !== low || this.mixHigh[slot] !== high) {
      const tolerance = doubt === 0 ? 1 : (4 * 2 ** doubt) ** 2;
      if (low === 0 && high === 0 && this.pairs) this.onTransition(r, g, b, tolerance, out);
      else this.solve(r, g, b, low, high, tolerance, out);
      this.mixKey[slot] = key;
      this.mixLow[slot] = low;
      this.mixHigh[slot] = high;
      this.mixFirst[slot] = out.first;
      this.mixSecond[slot] = out.second;
      this.mixShare[slot] = out.share;
      this.mixRest[slot] = out.rest;
      return;
    }
    out.first = this.mixFirst[slot]!;
    out.second = this.mixSecond[slot]!;
    out.share = this.mixShare[slot]!;
    out.rest = this.mixRest[slot]!;
  }

  private solve(
    r: number,
    g: number,
    b: number,
    low: number,
    high: number,
    tolerance: number,
    out: Mixture,
  ): void {
    const all = low === 0 && high === 0;
    const isCandidate = (k: number) => all || ((k < 32 ? low >>> k : high >>> (k - 32)) & 1) === 1;
    const candidates = this.active.filter(isCandidate);
    const { mixer } = this;
    mixer.begin(r, g, b);
    for (const k of candidates) mixer.tryAlone(k);
    if (mixer.best > tolerance) {
      for (let i = 0; i < candidates.length; i++) {
        for (let j = i + 1; j < candidates.length; j++) mixer.tryPair(candidates[i]!, candidates[j]!);
      }
    }
    mixer.result(out);
  }

  private alongWay(pair: Pair | null, out: Mixture): void {
    const { mixer } = this;
    mixer.result(out, true);
    if (!pair?.ways || out.first === out.second) return;
    const way = mixer.isLinear ? pair.ways.linear : pair.ways.coded;
    [out.share, out.rest] = onWay(way, mixer.shareOfFirst);
  }

  /** The transition that a colour lies on; one colour alone, the nearest one, where it lies on none. */
  private onTransition(r: number, g: number, b: number, tolerance: number, out: Mixture): void {
    const { mixer } = this;
    mixer.begin(r, g, b);
    if (tolerance > 1) {
      for (const k of this.active) mixer.tryAlone(k);
      if (mixer.best <= tolerance) return mixer.result(out);
    }
    let best: Pair | null = null;
    for (const pair of this.pairs!) if (mixer.tryPair(pair.i, pair.j)) best = pair;
    if (mixer.best <= ON_TRANSITION * ON_TRANSITION) return this.alongWay(best, out);
    const lab = labFromRgb8([r, g, b]);
    let nearest = Infinity;
    out.share = 65535;
    out.rest = 0;
    for (const k of this.active) {
      const distance = deltaE76(lab, this.labs[k]!);
      if (distance < nearest) {
        nearest = distance;
        out.first = k;
        out.second = k;
      }
    }
  }
}
