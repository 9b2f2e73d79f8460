import { type Rgb8, labFromRgb8 } from '../colour';
import { type Cluster, clusterColours, findThinColours, withoutSmears } from './clusterColours';
import { type ExactColour, type ExactColours, exactColours } from './exactColours';
import { type Damage, type Histogram, histogramFlat, measureDamage } from './flatPixels';
import type { ArtworkReader } from './rgbaPlane';

export interface FoundColour {
  readonly rgb: Rgb8;
  /** Share of the artwork's opaque area, 0..1. */
  readonly area: number;
}

export interface FoundPalette {
  /** Largest first. */
  readonly colours: readonly FoundColour[];
  /** CIELAB distance within which a pixel counts as one of the colours; grows with the damage. */
  readonly purity: number;
  /** Pixels that are not quite opaque, as a share of all. */
  readonly transparentShare: number;
}

export interface PaletteSearch {
  /** Whether the artwork is a drawing: drawn without smoothing, so that every colour is exact. */
  readonly drawing: boolean;
  /** Whether the file's format is known to damage flat areas (JPEG). */
  readonly lossy: boolean;
  /** Colours that a drawing paints flat, red lowest. */
  readonly paints?: ReadonlySet<number>;
  /** Whether lines that are too thin for a block of their colour are looked for; in full-tone artwork they are of no use and take long. */
  readonly thinLines: boolean;
  /** Pixels of a piece that is large enough to be a colour of its own, however small its share is. */
  readonly piece: number;
}

/** From this share of the artwork on a colour counts. */
const LEAST_SHARE = 2e-4;
/** Flat areas of a clean picture are flat to the code, and its gradients come in bands that are; where fewer are, it has noise. */
const EXACT_SHARE = 0.5;

/** Finds the flat colours of artwork: what stands in areas or lines of one colour. Soft edges, gradients and compression noise are none. */
export function findPalette(art: ArtworkReader, search: PaletteSearch): FoundPalette {
  const damage = search.drawing ? { flatCodes: 0, purity: 2.5 } : measureDamage(art, search.lossy);
  const histogram = histogramFlat(art, damage.flatCodes);
  const opaque = Math.max(1, histogram.opaque);
  const enough = Math.max(4, Math.min(LEAST_SHARE * art.width * art.height, search.piece));
  const exact =
    search.drawing || damage.flatCodes <= 2
      ? exactColours(art, !search.drawing, enough, search.paints)
      : null;
  const found =
    exact && (search.drawing || covered(exact) >= EXACT_SHARE * histogram.flatTotal)
      ? withThin(art, exact.colours, histogram, damage, search.thinLines)
      : withThinLines(art, histogram, damage, search);
  return {
    colours: [...found]
      .sort((p, q) => q.count - p.count)
      .map(({ rgb, count }) => ({ rgb, area: Math.min(1, count / opaque) })),
    purity: damage.purity,
    transparentShare: histogram.empty / Math.max(1, histogram.empty + histogram.opaque),
  };
}

function withThinLines(
  art: ArtworkReader,
  histogram: Histogram,
  damage: Damage,
  { lossy, thinLines }: PaletteSearch,
): readonly Cluster[] {
  const wide = clusterColours(art, histogram, damage, lossy);
  const all = thinLines ? findThinColours(art, wide, damage, histogram.opaque) : wide;
  return lossy ? withoutSmears(all) : all;
}

function covered({ colours, banded }: ExactColours): number {
  return colours.reduce((sum, { count }) => sum + count, banded);
}

/** In a picture, lines may be too thin to hold a block of their colour. */
function withThin(
  art: ArtworkReader,
  exact: readonly ExactColour[],
  histogram: Histogram,
  damage: Damage,
  thinLines: boolean,
): readonly ExactColour[] {
  if (!thinLines) return exact;
  const clusters = exact.map(({ rgb, count }) => ({
    rgb,
    lab: labFromRgb8(rgb),
    count,
    core: count,
    near: count,
    bins: [],
  }));
  return findThinColours(art, clusters, damage, histogram.opaque);
}
