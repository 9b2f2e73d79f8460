import { type ArtworkReader, EMPTY_ALPHA, OPAQUE_ALPHA, forEachBand } from '../artwork';
import { type Lab, type Rgb8, deltaE76, formatHexColour, labFromRgb8 } from '../colour';
import { MIXED, knownPlace } from '../raster';
import { PaletteLookup } from './palette';
import { PairMixer } from './pairMixer';

/** What lies between the flat colours of artwork. */
export interface FoundTransitions {
  /** Colours at the ends of gradients, and colours that are nowhere opaque, with their share of the artwork's area. */
  readonly ends: readonly { readonly rgb: Rgb8; readonly area: number }[];
  /** Pairs of colours that gradients lie between; a colour with itself fades out into nothing. */
  readonly pairs: readonly (readonly [string, string])[];
}

/** Colours are gathered by six bits of each channel. */
const BITS = 6;
/** Bins that are looked at where nothing else is said; a long tail of single pixels is noise. */
const MOST_BINS = 3000;
/** Pixels nearer than this to a transition (sRGB codes) lie on it. */
const EXPLAINED = 14;
/** Pairs that pass this near (sRGB codes) are chosen first: of two ways the one that a gradient was drawn along, not one that passes beside it. */
const CLOSELY = 4;
/** Ends that are added at most: artwork with more of them is full tone. */
const MOST_ENDS = 12;
/** From this share of the area on a colour that fades out counts. */
const LEAST_FADE = 1e-4;
/** From this share of the artwork's area on what is between the colours counts. */
const LEAST_SHARE = 3e-4;
/** Below this opacity a pixel's colour is mostly rounding: it is not looked at. */
const LEAST_ALPHA = 48;

interface Bin {
  readonly rgb: Rgb8;
  readonly lab: Lab;
  readonly count: number;
}

/**
 * Finds what lies between the flat colours of artwork: the ends of its gradients, and the pairs of colours that they run between.
 *
 * @param edgePx how far a smooth edge reaches: what is no wider is none of what lies between; 0 for drawings, whose edges are sharp.
 * @param purity CIELAB distance within which a pixel is one of the colours.
 * @param mostBins of colours that are looked at, the fullest first.
 */
export function findTransitions(
  art: ArtworkReader,
  colours: readonly Rgb8[],
  purity: number,
  edgePx: number,
  mostBins = MOST_BINS,
): FoundTransitions {
  const { bins, covered, count, fading } = gather(art, colours, purity, edgePx, mostBins);
  const known = [...colours];
  const ends: { rgb: Rgb8; area: number }[] = [];
  const enough = Math.max(1, LEAST_SHARE * covered);
  let open = count < enough ? [] : bins;
  while (ends.length < MOST_ENDS) {
    const mixer = new PairMixer(known);
    open = open.filter((bin) => !isExplained(bin, known, mixer));
    if (open.reduce((sum, bin) => sum + bin.count, 0) < enough) break;
    const end = farthest(open, known);
    const near = bins.filter((bin) => deltaE76(bin.lab, end.lab) < 2 * purity);
    known.push(end.rgb);
    ends.push({ rgb: end.rgb, area: near.reduce((sum, bin) => sum + bin.count, 0) / covered });
  }
  const endLabs = ends.map((end) => labFromRgb8(end.rgb));
  // An end is a colour by now: it needs no pair to lie on.
  const mixed = bins.filter(({ lab }) => !endLabs.some((end) => deltaE76(lab, end) <= purity));
  const between = count < enough ? [] : pairsOf(mixed, known);
  return { ends, pairs: [...between, ...fadesOf(fading, known, LEAST_FADE * covered)] };
}

/** The colours that fade out into nothing, each as a pair with itself. */
function fadesOf(fading: readonly Bin[], known: readonly Rgb8[], enough: number): [string, string][] {
  const labs = known.map((rgb) => labFromRgb8(rgb));
  const counts = known.map(() => 0);
  for (const { lab, count } of fading) {
    const nearest = nearestOf(lab, labs);
    if (nearest >= 0) counts[nearest]! += count;
  }
  return known.flatMap((rgb, k): [string, string][] =>
    counts[k]! >= enough && counts[k]! > 0 ? [[formatHexColour(rgb), formatHexColour(rgb)]] : [],
  );
}

/** The pixels that are none of the colours, by their own; and those that are not quite opaque. */
function gather(
  art: ArtworkReader,
  colours: readonly Rgb8[],
  purity: number,
  edgePx: number,
  mostBins: number,
): { bins: Bin[]; covered: number; count: number; fading: Bin[] } {
  const lookup = new PaletteLookup({
    colours: colours.map((rgb) => ({ colour: formatHexColour(rgb), purity })),
    transitions: null,
    ways: [],
    fades: new Map(),
    edges: true,
  });
  const names = lookup.names;
  const between = new Bins();
  const fading = new Bins();
  let covered = 0;
  forEachBand(art, (data, width, _top, first, last) => {
    const words = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
    const rows = words.length / width;
    const label = nameAll(words, names);
    for (let y = first; y <= last; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        const word = words[i]!;
        const alpha = word >>> 24;
        if (alpha >= OPAQUE_ALPHA) {
          covered++;
          if (label[i] === MIXED && isWide(label, width, rows, x, y, edgePx)) between.add(word);
        } else if (alpha > EMPTY_ALPHA && isWide(label, width, rows, x, y, edgePx, NOT_OPAQUE)) {
          covered++;
          fading.add(word);
          if (alpha >= LEAST_ALPHA && nameOf(word & 0xffffff, names) === MIXED) between.add(word);
        }
      }
    }
  });
  return { bins: between.fullest(mostBins), covered, count: between.total, fading: fading.fullest(mostBins) };
}

/** Pixels gathered by their colour, each bin with the mean of its own. */
class Bins {
  total = 0;
  private readonly counts = new Float64Array(1 << (3 * BITS));
  private readonly sums = [0, 1, 2].map(() => new Float64Array(1 << (3 * BITS))) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];

  add(word: number): void {
    const [r, g, b] = [word & 255, (word >>> 8) & 255, (word >>> 16) & 255];
    const bin = ((r >> 2) << 12) | ((g >> 2) << 6) | (b >> 2);
    this.total++;
    this.counts[bin]!++;
    this.sums[0][bin]! += r;
    this.sums[1][bin]! += g;
    this.sums[2][bin]! += b;
  }

  /** The fullest first, as many as are looked at. */
  fullest(most: number): Bin[] {
    const bins: Bin[] = [];
    this.counts.forEach((count, bin) => {
      if (count === 0) return;
      const rgb = this.sums.map((sum) => Math.round(sum[bin]! / count)) as unknown as Rgb8;
      bins.push({ rgb, lab: labFromRgb8(rgb), count });
    });
    return bins.sort((p, q) => q.count - p.count).slice(0, most);
  }
}

function nameAll(words: Uint32Array, names: PaletteLookup['names']): Uint8Array {
  const label = new Uint8Array(words.length);
  let before = -1;
  let named = MIXED;
  for (let i = 0; i < words.length; i++) {
    const word = words[i]!;
    if (word !== before) {
      before = word;
      const alpha = word >>> 24;
      named =
        alpha >= OPAQUE_ALPHA ? nameOf(word & 0xffffff, names) : alpha > EMPTY_ALPHA ? NOT_OPAQUE : EMPTY;
    }
    label[i] = named;
  }
  return label;
}

function nameOf(colour: number, names: PaletteLookup['names']): number {
  const place = knownPlace(colour);
  if (names.colours[place] !== colour) names.learn(colour);
  return names.labels[place]!;
}

const NOT_OPAQUE = 254;
const EMPTY = 253;

function nearestOf(lab: Lab, labs: readonly Lab[]): number {
  let best = -1;
  let least = Infinity;
  labs.forEach((each, k) => {
    const distance = deltaE76(lab, each);
    if (distance < least) [best, least] = [k, distance];
  });
  return best;
}

/** Whether all within so many pixels is of one kind. */
function isWide(
  label: Uint8Array,
  width: number,
  rows: number,
  x: number,
  y: number,
  reach: number,
  kind: number = MIXED,
): boolean {
  for (let row = Math.max(0, y - reach); row <= Math.min(rows - 1, y + reach); row++) {
    for (let column = Math.max(0, x - reach); column <= Math.min(width - 1, x + reach); column++) {
      if (label[row * width + column] !== kind) return false;
    }
  }
  return true;
}

function isExplained({ rgb }: Bin, known: readonly Rgb8[], mixer: PairMixer): boolean {
  mixer.begin(...rgb);
  for (let i = 0; i < known.length; i++) mixer.tryAlone(i);
  for (let i = 0; i < known.length && mixer.best > EXPLAINED ** 2; i++) {
    for (let j = i + 1; j < known.length; j++) mixer.tryPair(i, j);
  }
  return mixer.best <= EXPLAINED ** 2;
}

/** The bin that is both far from all that is known and full. */
function farthest(open: readonly Bin[], known: readonly Rgb8[]): Bin {
  const labs = known.map((rgb) => labFromRgb8(rgb));
  let best = open[0]!;
  let most = -1;
  for (const bin of open) {
    const far = labs.reduce((least, lab) => Math.min(least, deltaE76(lab, bin.lab)), 100);
    const score = Math.sqrt(bin.count) * far * far;
    if (score > most) {
      most = score;
      best = bin;
    }
  }
  return best;
}

/**
 * As few pairs as explain what lies between: each time the one that explains the most, of equals the one whose ends are nearer; first of those that
 * explain closely, then for what is left.
 */
function pairsOf(bins: readonly Bin[], known: readonly Rgb8[]): (readonly [string, string])[] {
  const mixer = new PairMixer(known);
  const labs = known.map((rgb) => labFromRgb8(rgb));
  const candidates: Candidate[] = [];
  for (let i = 0; i < known.length; i++) {
    for (let j = i + 1; j < known.length; j++) {
      const closely: number[] = [];
      const explains: number[] = [];
      bins.forEach(({ rgb }, k) => {
        mixer.begin(...rgb);
        mixer.tryPair(i, j);
        if (mixer.best <= EXPLAINED ** 2) explains.push(k);
        if (mixer.best <= CLOSELY ** 2) closely.push(k);
      });
      if (explains.length === 0) continue;
      candidates.push({ pair: [i, j], closely, explains, span: deltaE76(labs[i]!, labs[j]!) });
    }
  }
  const open = new Set(bins.keys());
  const total = bins.reduce((sum, bin) => sum + bin.count, 0);
  const enough = 0.002 * total;
  const chosen = new Set<Candidate>();
  for (const how of ['closely', 'explains'] as const) {
    while (chosen.size < MOST_PAIRS) {
      const best = bestOf(candidates, how, bins, open, enough);
      if (!best) break;
      for (const k of best[how]) open.delete(k);
      chosen.add(best);
    }
    // What passes a chosen pair less closely needs no other.
    for (const { explains } of how === 'closely' ? chosen : []) for (const k of explains) open.delete(k);
  }
  return [...chosen].map(({ pair: [i, j] }) => [formatHexColour(known[i]!), formatHexColour(known[j]!)]);
}

/** Pairs that are chosen at most. */
const MOST_PAIRS = 60;

/** A pair of colours, and the bins that it explains, by their place in the list. */
interface Candidate {
  readonly pair: readonly [number, number];
  readonly closely: readonly number[];
  readonly explains: readonly number[];
  /** CIELAB distance of the two. */
  readonly span: number;
}

/** The candidate that explains the most of the open bins, null where none explains more than is enough. */
function bestOf(
  candidates: readonly Candidate[],
  how: 'closely' | 'explains',
  bins: readonly Bin[],
  open: ReadonlySet<number>,
  enough: number,
): Candidate | null {
  let best: Candidate | null = null;
  let most = 0;
  for (const candidate of candidates) {
    let weight = 0;
    for (const k of candidate[how]) if (open.has(k)) weight += bins[k]!.count;
    const score = weight / (1 + candidate.span / 150);
    if (score > most) [most, best] = [score, candidate];
  }
  return most < enough ? null : best;
}
