import { type Lab, type Rgb8, ciede2000, deltaE76, labFromRgb8 } from '../colour';
import { distanceFromBlend } from './blendDistance';
import { type Damage, forEachBand, BINS, binOf, isFlat, type Histogram, binCentre } from './flatPixels';
import { type ArtworkReader, OPAQUE_ALPHA } from './rgbaPlane';

/** Two shades nearer than this (CIEDE2000) are one colour that damage split: the more damage, the farther. */
const mergeDistance = (noise: number): number => 3.5 + 0.55 * noise;
/** Edges are looked for between so many of the largest colours: all pairs of sixty would take seconds. */
const PAIRED = 24;
/** Shades of thin lines nearer than this (CIEDE2000) are one colour. */
const THIN_MERGE = 7;
/** A colour covers at least this share of the opaque area. */
const MIN_AREA = 2e-4;
/** A colour that stands only in thin lines is unexplained on at least this share of the opaque area. */
const THIN_AREA = 8e-4;
/** From this share of its pixels inside of areas on a colour fills areas; what compression leaves beside edges is narrow. */
const FILLS = 0.25;
/** A colour nearer than this to the line between two others may be their blend. */
const BLEND_DISTANCE = 6;
/** How far a smeared colour may lie from where smearing would put it, in CIELAB: lightness is kept better than chroma. */
const SMEAR_LIGHTNESS = 5;
const SMEAR_CHROMA = 9;

export interface Cluster {
  lab: Lab;
  rgb: Rgb8;
  count: number;
  core: number;
  near: number;
  bins: number[];
}

/**
 * Whether a colour has the lightness of a much larger one and a chroma on the way from it to a third: the mark of a
 * picture whose colour was stored at half its resolution.
 */
function isChromaSmear(cluster: Cluster, clusters: readonly Cluster[]): boolean {
  const [lightness, a, b] = cluster.lab;
  return clusters.some((home) => {
    if (home.count < 8 * cluster.count || Math.abs(home.lab[0] - lightness) > SMEAR_LIGHTNESS) return false;
    return clusters.some((other) => {
      if (other === home || other === cluster || other.count < cluster.count) return false;
      const da = other.lab[1] - home.lab[1];
      const db = other.lab[2] - home.lab[2];
      const length = da * da + db * db;
      const t = length > 0 ? ((a - home.lab[1]) * da + (b - home.lab[2]) * db) / length : 0;
      if (t <= 0 || t >= 0.5) return false;
      return Math.hypot(home.lab[1] + t * da - a, home.lab[2] + t * db - b) < SMEAR_CHROMA;
    });
  });
}

function fillsAreas({ core, count }: Cluster): boolean {
  return core >= FILLS * count;
}

/** A shade this near (CIEDE2000) to a much larger colour may be what compression left of it beside edges. */
const RING = 7;

/** Whether a colour may be a much larger one that rings beside edges. */
function isRing(cluster: Cluster, clusters: readonly Cluster[]): boolean {
  return clusters.some((home) => home.count >= 8 * cluster.count && ciede2000(home.lab, cluster.lab) < RING);
}

/** Gathers bins round the fullest ones, greedily; then joins clusters that came to lie close. */
function clusterBins(histogram: Histogram, noise: number): Cluster[] {
  const bins: number[] = [];
  for (let bin = 0; bin < BINS; bin++) if (histogram.flat[bin]! > 0) bins.push(bin);
  bins.sort((p, q) => histogram.flat[q]! - histogram.flat[p]! || p - q);
  const clusters: Cluster[] = [];
  const merge = mergeDistance(noise);
  const floor = Math.max(2, histogram.opaque * 1e-6);
  for (const bin of bins) {
    const count = histogram.flat[bin]!;
    if (count < floor) break;
    const rgb = binCentre(bin);
    const lab = labFromRgb8(rgb);
    let best: Cluster | undefined;
    let bestDistance = merge;
    for (const cluster of clusters) {
      if (deltaE76(cluster.lab, lab) > 40) continue;
      const distance = ciede2000(cluster.lab, lab);
      if (distance < bestDistance) {
        best = cluster;
        bestDistance = distance;
      }
    }
    const target: Cluster = best ?? { lab, rgb, count: 0, core: 0, near: 0, bins: [] };
    if (!best) clusters.push(target);
    target.count += count;
    target.core += histogram.core[bin]!;
    if (deltaE76(target.lab, lab) <= 3.5 + noise) target.near += count;
    target.bins.push(bin);
  }
  return clusters;
}

function median(histogram: Uint32Array, total: number): number {
  let sum = 0;
  for (let code = 0; code < 256; code++) {
    sum += histogram[code]!;
    if (sum * 2 >= total) return code;
  }
  return 255;
}

/** Replaces each cluster's colour by the median of its flat pixels near the peak. */
function refineColours(art: ArtworkReader, clusters: Cluster[], codes: number, noise: number): void {
  const owner = new Int16Array(BINS).fill(-1);
  clusters.forEach((cluster, index) => {
    for (const bin of cluster.bins) {
      if (deltaE76(cluster.lab, labFromRgb8(binCentre(bin))) <= 3.5 + noise) owner[bin] = index;
    }
  });
  const counts = clusters.map(() => [new Uint32Array(256), new Uint32Array(256), new Uint32Array(256)]);
  const totals = new Uint32Array(clusters.length);
  forEachBand(art, (data, width, _top, first, last) => {
    const rowBytes = width * 4;
    const rows = data.length / rowBytes;
    for (let y = first; y <= last; y++) {
      if (y + 1 >= rows) continue;
      for (let x = 0; x + 1 < width; x++) {
        const i = y * rowBytes + x * 4;
        const index = owner[binOf(data, i)]!;
        if (index < 0 || !isFlat(data, i, rowBytes, codes)) continue;
        const three = counts[index]!;
        three[0]![data[i]!]!++;
        three[1]![data[i + 1]!]!++;
        three[2]![data[i + 2]!]!++;
        totals[index]!++;
      }
    }
  });
  clusters.forEach((cluster, index) => {
    const total = totals[index]!;
    if (total === 0) return;
    const three = counts[index]!;
    cluster.rgb = [median(three[0]!, total), median(three[1]!, total), median(three[2]!, total)];
    cluster.lab = labFromRgb8(cluster.rgb);
  });
}

function joinClose(clusters: Cluster[], noise: number): Cluster[] {
  const kept: Cluster[] = [];
  for (const cluster of [...clusters].sort((p, q) => q.count - p.count)) {
    const twin = kept.find((other) => ciede2000(other.lab, cluster.lab) < mergeDistance(noise));
    if (!twin) {
      kept.push(cluster);
      continue;
    }
    twin.count += cluster.count;
    twin.core += cluster.core;
    twin.near += cluster.near;
    twin.bins.push(...cluster.bins);
  }
  return kept;
}

/** Leaves out colours that are the soft edge or the gradient between two others. */
function dropBlends(clusters: Cluster[]): Cluster[] {
  const kept = [...clusters];
  for (const cluster of [...clusters].sort((p, q) => p.near - q.near)) {
    const sharp = cluster.near / cluster.count >= 0.5;
    const solid = cluster.core / cluster.count >= 0.08;
    if (sharp && solid) continue;
    const others = kept.filter((other) => other !== cluster && (!sharp || other.count > cluster.count));
    if (isBetweenTwo(cluster, others)) kept.splice(kept.indexOf(cluster), 1);
  }
  return kept;
}

function isBetweenTwo(cluster: Cluster, others: Cluster[]): boolean {
  for (let i = 0; i < others.length; i++) {
    for (let j = i + 1; j < others.length; j++) {
      const span = deltaE76(others[i]!.lab, others[j]!.lab);
      if (
        deltaE76(cluster.lab, others[i]!.lab) < span &&
        deltaE76(cluster.lab, others[j]!.lab) < span &&
        distanceFromBlend(cluster.lab, cluster.rgb, others[i]!.rgb, others[j]!.rgb) < BLEND_DISTANCE
      ) {
        return true;
      }
    }
  }
  return false;
}

/**
 * Colours that only stand in lines too thin to hold a flat block: pixels that no pair of the
 * colours found so far can explain, gathered until too few are left.
 */
export function findThinColours(
  art: ArtworkReader,
  clusters: readonly Cluster[],
  damage: Damage,
  opaque: number,
): Cluster[] {
  const residual = new Uint32Array(BINS);
  forEachBand(art, (data, width, _top, first, last) => {
    const rowBytes = width * 4;
    const rows = data.length / rowBytes;
    for (let y = first; y <= last; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * rowBytes + x * 4;
        if (data[i + 3]! < OPAQUE_ALPHA) continue;
        if (x + 1 < width && y + 1 < rows && isFlat(data, i, rowBytes, damage.flatCodes)) continue;
        residual[binOf(data, i)]!++;
      }
    }
  });
  const limit = 6 + 2 * damage.purity;
  const enough = Math.max(64, opaque * THIN_AREA);
  let open: { lab: Lab; rgb: Rgb8; count: number }[] = [];
  for (let bin = 0; bin < BINS; bin++) {
    if (residual[bin]! === 0) continue;
    const rgb = binCentre(bin);
    open.push({ lab: labFromRgb8(rgb), rgb, count: residual[bin]! });
  }
  // The fullest bins decide; a long tail of single pixels is noise.
  open = open.sort((p, q) => q.count - p.count).slice(0, 4000);
  const found = [...clusters].sort((p, q) => q.count - p.count);
  for (let round = 0; round < 6; round++) {
    const known = found;
    const newest = known.length - 1;
    open = open.filter(({ lab, rgb }) => {
      for (let i = round === 0 ? 0 : newest; i < known.length; i++) {
        if (deltaE76(lab, known[i]!.lab) < limit) return false;
        if (i >= PAIRED && i !== newest) continue;
        for (let j = 0; j < Math.min(i, PAIRED); j++) {
          if (distanceFromBlend(lab, rgb, known[i]!.rgb, known[j]!.rgb) < limit) return false;
        }
      }
      return true;
    });
    if (open.reduce((sum, each) => sum + each.count, 0) < enough) break;
    let best = open[0]!;
    let bestScore = -1;
    for (const each of open) {
      const far = Math.min(...known.map((cluster) => deltaE76(cluster.lab, each.lab)), 100);
      const score = each.count * far * far;
      if (score > bestScore) {
        best = each;
        bestScore = score;
      }
    }
    const near = open.filter((each) => ciede2000(each.lab, best.lab) < THIN_MERGE);
    const count = near.reduce((sum, each) => sum + each.count, 0);
    // A line has a core of its own colour; edges where three colours meet scatter.
    const around = countWithin(open, best.lab, 12);
    if (count < enough / 2 || countWithin(open, best.lab, 1 + damage.purity) < 0.35 * around) break;
    found.push({ lab: best.lab, rgb: best.rgb, count, core: 0, near: count, bins: [] });
  }
  return found;
}

function countWithin(
  bins: readonly { readonly lab: Lab; readonly count: number }[],
  centre: Lab,
  distance: number,
): number {
  return bins.reduce((sum, each) => (deltaE76(each.lab, centre) <= distance ? sum + each.count : sum), 0);
}

/**
 * The flat colours of artwork that compression or noise has damaged: flat pixels are gathered round the colours that most of them have; soft
 * edges, gradients and smeared colour are left out.
 *
 * @param lossy whether the file's format is known to damage flat areas (JPEG).
 */
export function clusterColours(
  art: ArtworkReader,
  histogram: Histogram,
  damage: Damage,
  lossy: boolean,
): Cluster[] {
  const noise = damage.purity - 2.5;
  let clusters = clusterBins(histogram, noise);
  refineColours(art, clusters, damage.flatCodes, noise);
  clusters = joinClose(clusters, noise);
  const minCount = Math.max(4, histogram.flatTotal * MIN_AREA);
  clusters = dropBlends(clusters.filter((cluster) => cluster.count >= minCount));
  return lossy ? withoutSmears(clusters) : clusters;
}

/** Leaves out what compression made beside edges: colours that fill no areas and could be smeared from others. */
export function withoutSmears(all: readonly Cluster[]): Cluster[] {
  return all.filter(
    (cluster) => fillsAreas(cluster) || (!isChromaSmear(cluster, all) && !isRing(cluster, all)),
  );
}
