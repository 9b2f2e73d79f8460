import { type ArtworkReader, isLossy } from '../artwork';
import { type Rgb8, deltaE76, labFromRgb8 } from '../colour';
import { BARE } from '../raster';
import { KerameusError } from '../units';
import { sideOfEdge } from './areaColours';
import { type PaintedArea, areasOf } from './areasSvg';
import { type EdgeSide, type Frame, type Specks, dropSpecks, findFrame, removeFrame } from './pieces';
import { traceAreas } from './traceAreas';
import { type WorkMap, makeWorkMap } from './workMap';

export interface CleaningRequest {
  /** What areas may have; at least one. */
  readonly colours: readonly Rgb8[];
  /** CIELAB distance within which a pixel is one of the colours. */
  readonly purity: number;
  /** Area from which on a piece stays, in pixels of the artwork. */
  readonly leastPx: number;
  /** Whether a frame round the design is taken away. */
  readonly withoutFrame: boolean;
}

export interface CleanedArtwork {
  /** In the order in which they are painted. */
  readonly areas: readonly PaintedArea[];
  /** Share of the artwork that each colour has, in the order of the request. */
  readonly shares: readonly number[];
  readonly specks: Specks;
  /** A frame that was found, whether or not it was taken away. */
  readonly frame: Frame | null;
  /** Points and curves of all outlines together, each line counted once. */
  readonly segments: number;
}

/** Finer artwork needs no cleaning, and a screen's dots cannot show more. */
export const MOST_CLEANED_PX = 16e6;

/**
 * Cleans flat artwork that is too coarse, or damaged by compression, into smooth areas of given colours.
 *
 * @param heard told how much is done, 0..1.
 * @throws KerameusError `cleaning-size` for artwork of more than MOST_CLEANED_PX pixels, `cleaning-pieces` where it falls into millions of pieces,
 * `cleaning-empty` where nothing is left.
 */
export function cleanArtwork(
  art: ArtworkReader,
  request: CleaningRequest,
  heard: (done: number) => void = () => undefined,
): CleanedArtwork {
  if (art.width * art.height > MOST_CLEANED_PX) {
    throw new KerameusError({
      code: 'cleaning-size',
      parameter: 'artwork',
      message: `The artwork has ${Math.round((art.width * art.height) / 1e6)} million pixels; up to ${MOST_CLEANED_PX / 1e6} million are cleaned.`,
      remedy: 'It is fine enough to print as it is.',
    });
  }
  const map = makeWorkMap(art, request.colours, request.purity, (done) => heard(0.7 * done));
  const frame = findFrame(map);
  if (frame && request.withoutFrame) removeFrame(map, frame);
  const specks = dropSpecks(map, request.leastPx, noiseOf(request), edgeNoiseOf(request));
  heard(0.8);
  const { shares, colours } = byArea(map, request.colours);
  const traced = traceAreas(map);
  heard(0.9);
  const areas = areasOf(traced, colours, map.scale);
  if (areas.length === 0) {
    throw new KerameusError({
      code: 'cleaning-empty',
      parameter: 'artwork',
      message:
        'Nothing of the artwork is left: all of it is transparent, or smaller than the pieces that stay.',
      remedy: 'Keep smaller pieces.',
    });
  }
  const segments = areas.reduce(
    (sum, { outlines }) => sum + outlines.reduce((all, outline) => all + outline.segments.length, 0),
    0,
  );
  return { areas, shares, specks, frame, segments };
}

/** Colours that compression may have made of each other. */
function noiseOf({ colours, purity }: CleaningRequest): (label: number, around: number) => boolean {
  if (!isLossy(purity)) return () => false;
  const labs = colours.map((rgb) => labFromRgb8(rgb));
  return (label, around) => {
    const [one, other] = [labs[label], labs[around]];
    return one !== undefined && other !== undefined && deltaE76(one, other) <= 2 * purity;
  };
}

/** For a colour that compression may have made of the edge between two others, the one of them that it is nearer to; else null. */
function edgeNoiseOf({ colours, purity }: CleaningRequest): EdgeSide {
  if (!isLossy(purity)) return () => null;
  return (label, one, other) => {
    const [own, a, b] = [colours[label], colours[one], colours[other]];
    const side = own && a && b ? sideOfEdge(own, a, b) : null;
    return side === null ? null : side === 0 ? one : other;
  };
}

/** Puts a map's labels in the order of their area, the largest first, which is painted first. */
function byArea(
  map: WorkMap,
  colours: readonly Rgb8[],
): { readonly shares: number[]; readonly colours: readonly Rgb8[] } {
  const counts = new Float64Array(256);
  for (const each of map.label) counts[each]!++;
  const order = colours
    .map((_, k) => k)
    .filter((k) => counts[k]! > 0)
    .sort((p, q) => counts[q]! - counts[p]! || p - q);
  const rankOf = new Uint8Array(256).fill(BARE);
  order.forEach((label, rank) => (rankOf[label] = rank));
  for (let i = 0; i < map.label.length; i++) map.label[i] = rankOf[map.label[i]!]!;
  return {
    shares: colours.map((_, k) => counts[k]! / map.label.length),
    colours: order.map((k) => colours[k]!),
  };
}
