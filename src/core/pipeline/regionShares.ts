import { type RgbaPlane, adjustPlane } from '../artwork';
import {
  type CellKinds,
  type LabelMap,
  type ToneSource,
  adoptLabels,
  cellKinds,
  copyShares,
  cutGround,
  dustPixels,
  expandLabels,
  keptShares,
  lumaMapOf,
  pixelShares,
  relabelShares,
  relabelWithin,
  silhouetteColours,
  silhouetteShares,
} from '../separation';
import type { Rect } from '../geometry';
import { type JobSheet } from '../sheet';
import type { PlateJob } from './evaluatePlates';
import { plateFields } from './fullTone';
import {
  type ArtworkNeed,
  type PrintGrid,
  edgeRadiusPx,
  gapPx,
  levelSize,
  isDrawnAtPrint,
  planeMapping,
} from './printGrid';
import { maskedArtwork } from './maskedArtwork';
import { sourceSetting } from './sourceSetting';
import { suppliedFields } from './suppliedPlates';

/** What the artwork's pixels are made of, at the level and in the part of it that a region needs. */
export interface RegionShares extends ToneSource {
  readonly need: ArtworkNeed;
}

/** @param whole the plane that was needed; it is done with afterwards. */
export function evaluateShares(
  job: PlateJob,
  grid: PrintGrid,
  need: ArtworkNeed,
  whole: RgbaPlane,
): RegionShares {
  const { sheet, memory, kernels, lookup, outerMap } = job;
  const { source, dropped, dust, tones, supplied } = sourceSetting(sheet);
  const mapping = planeMapping(source, grid, need);
  if (tones) {
    const { art, shares } = toneDesign(job, grid, need, whole);
    const { levelWidth, levelHeight } = levelSize(source, need);
    const place = { levelWidth, levelHeight, pxPerMm: levelWidth / source.print.widthMm };
    const fields = plateFields(tones, art, shares, place, kernels, memory);
    return { need, shares, mapping, fields };
  }
  const art = maskedArtwork(source, need, whole);
  if (supplied) {
    const { levelWidth, levelHeight } = levelSize(source, need);
    const place = { levelWidth, levelHeight, pxPerMm: levelWidth / source.print.widthMm };
    return { need, mapping, ...suppliedFields(supplied, whole, art, place, memory) };
  }
  const label = dropped ? lookup.indexOf(dropped.colour) : -1;
  const everywhere = dropped?.everywhere === true;
  const map = everywhere ? null : outerMap;
  const isCut = label >= 0 && (everywhere || outerMap !== null);
  const shares = pixelShares(art, {
    palette: lookup,
    outside: isCut ? { map, label } : null,
    ...levelSize(source, need),
    edgeRadiusPx: edgeRadiusPx(source, grid, need.level),
    dustPx: dust ? dustPixels(grid.pxPerMm) : 0,
    gapPx: gapPx(source, grid),
    localCandidates: !isDrawnAtPrint(source),
    kernels,
    memory,
  });
  return { need, shares, mapping, fields: null };
}

/** The colours that full-tone artwork prints at its pixels, see `silhouetteColours`. */
export interface RegionColours {
  readonly colours: Uint32Array;
  /** 1 where a pixel prints, else 0. */
  readonly printing: Uint8Array;
}

/** @param whole the plane that was needed. */
export function evaluateColours(
  job: PlateJob,
  grid: PrintGrid,
  need: ArtworkNeed,
  whole: RgbaPlane,
): RegionColours {
  // What is kept solid is to be printed, too: an ink that does is missed where it is gone.
  const design = toneDesign({ ...job, kept: null }, grid, need, whole);
  const printing = job.memory.bytes(design.shares.label.length, 'any');
  const garment = sourceSetting(job.sheet).tones!.garment;
  const colours = silhouetteColours(design.art, design.shares, garment, printing, job.memory);
  return { colours, printing };
}

/** Full-tone artwork without what is left to the garment, and where it is. */
function toneDesign(job: PlateJob, grid: PrintGrid, need: ArtworkNeed, whole: RgbaPlane) {
  const { memory, kernels, lookup, outerMap } = job;
  const { source, dropped, kept } = sourceSetting(job.sheet);
  const masked = maskedArtwork(source, need, whole);
  const map = dropped?.everywhere === true ? null : outerMap;
  const isCut = dropped !== null && (dropped.everywhere || outerMap !== null);
  const design = isCut
    ? cutGround(masked, {
        ground: lookup,
        rgb: dropped.rgb,
        map,
        ...levelSize(source, need),
        kernels,
        memory,
      })
    : masked;
  // The ground is told by the artwork's own colours.
  const luma = lumaMapOf(source);
  const art = luma ? adjustPlane(design, luma) : design;
  const radius = edgeRadiusPx(source, grid, need.level);
  const shares = silhouetteShares(art, radius, kernels, memory);
  if (!job.kept || !kept) return { art, shares };
  // So are kept colours.
  const context = { ...levelSize(source, need), edgeRadiusPx: radius, kernels, memory };
  return { art, shares: keptShares(design, shares, { lookup: job.kept, colours: kept.colours }, context) };
}

/**
 * Fills a bare map of a region from the artwork's pixels; its tones may come from the same memory.
 *
 * @param kinds of the cells of raster artwork, where they are known.
 */
export function fillLabels(
  { sheet, memory, kernels }: PlateJob,
  grid: PrintGrid,
  { need, shares, mapping, fields }: RegionShares,
  map: LabelMap,
  kinds?: CellKinds,
): void {
  const { source, local: colours } = sourceSetting(sheet);
  const { rect } = need;
  const toned = isDrawnAtPrint(source)
    ? adoptLabels(shares, rect.x, rect.y, map)
    : expandLabels(shares, mapping, map, memory, kinds ?? cellKinds(shares, kernels, memory));
  if (fields) {
    map.tones = { shares, mapping, fields };
    return;
  }
  relabelWithin(map.label, map.rect, colours, grid.widthPx, grid.heightPx);
  if (!toned) return;
  let own = shares;
  if (colours.length > 0) {
    const { levelWidth, levelHeight } = levelSize(source, need);
    own = copyShares(shares, memory);
    relabelShares(own, rect, colours, levelWidth, levelHeight);
  }
  map.tones = { shares: own, mapping, fields };
}

/** The rectangles, in pixels of the print, in which colours of their own count: there labels may be others than the artwork's pixels. */
export function outlineBoxes(sheet: JobSheet, grid: PrintGrid): Rect[] {
  return sourceSetting(sheet).local.map(({ outline }) => {
    const xs = outline.map(([x]) => x * grid.widthPx);
    const ys = outline.map(([, y]) => y * grid.heightPx);
    const [x, y] = [Math.floor(Math.min(...xs)), Math.floor(Math.min(...ys))];
    return { x, y, width: Math.ceil(Math.max(...xs)) - x, height: Math.ceil(Math.max(...ys)) - y };
  });
}
