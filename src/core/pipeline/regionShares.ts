import type { RgbaPlane } from '../artwork';
import {
  BARE,
  type CellKinds,
  type LabelMap,
  type LocalColour,
  type ToneSource,
  adoptLabels,
  cellKinds,
  copyShares,
  cutGround,
  dustPixels,
  expandLabels,
  pixelShares,
  relabelShares,
  relabelWithin,
  silhouetteShares,
} from '../separation';
import { parseHexColour } from '../colour';
import type { Rect } from '../geometry';
import { TONED } from '../raster';
import { type JobSheet, dropsBackground, isSimulated } from '../sheet';
import type { PlateJob } from './evaluatePlates';
import { plateFields } from './fullTone';
import {
  type ArtworkNeed,
  type PrintGrid,
  edgeRadiusPx,
  gapPx,
  isDrawnAtPrint,
  planeMapping,
} from './printGrid';

/** What the artwork's pixels are made of, at the level and in the part of it that a region needs. */
export interface RegionShares extends ToneSource {
  readonly need: ArtworkNeed;
}

/** @param art the plane that was needed; it is done with afterwards. */
export function evaluateShares(
  { sheet, memory, kernels, lookup, outerMap }: PlateJob,
  grid: PrintGrid,
  need: ArtworkNeed,
  art: RgbaPlane,
): RegionShares {
  const mapping = planeMapping(sheet, grid, need);
  const { background } = sheet;
  const label = dropsBackground(sheet) ? lookup.indexOf(background!.colour) : -1;
  const everywhere = background?.drop === 'everywhere';
  const map = everywhere ? null : outerMap;
  const isCut = label >= 0 && (everywhere || outerMap !== null);
  if (isSimulated(sheet)) {
    const rgb = isCut ? parseHexColour(background!.colour) : null;
    const ground = rgb && { ground: lookup, rgb, map, ...levelSize(sheet, need), kernels, memory };
    const design = ground ? cutGround(art, ground) : art;
    const shares = silhouetteShares(design, edgeRadiusPx(sheet, grid, need.level), kernels, memory);
    return { need, shares, mapping, fields: plateFields(sheet, design, shares, kernels, memory) };
  }
  const vector = isDrawnAtPrint(sheet);
  const shares = pixelShares(art, {
    palette: lookup,
    outside: isCut ? { map, label } : null,
    ...levelSize(sheet, need),
    edgeRadiusPx: edgeRadiusPx(sheet, grid, need.level),
    // Jobs of earlier versions keep theirs.
    dustPx: vector && sheet.transitions !== null ? dustPixels(grid.pxPerMm) : 0,
    gapPx: gapPx(sheet, grid),
    localCandidates: !vector,
    kernels,
    memory,
  });
  return { need, shares, mapping, fields: null };
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
  const vector = isDrawnAtPrint(sheet);
  const { rect } = need;
  const toned = vector
    ? adoptLabels(shares, rect.x, rect.y, map)
    : expandLabels(shares, mapping, map, memory, kinds ?? cellKinds(shares, kernels, memory));
  if (fields) {
    // All that is inside of the artwork prints by its tones.
    for (let i = 0; i < map.label.length; i++) if (map.label[i] !== BARE) map.label[i] = TONED;
    map.tones = { shares, mapping, fields };
    return;
  }
  const colours = localColours(sheet);
  relabelWithin(map.label, map.rect, colours, grid.widthPx, grid.heightPx);
  if (!toned) return;
  let own = shares;
  if (colours.length > 0) {
    const { levelWidth, levelHeight } = levelSize(sheet, need);
    own = copyShares(shares, memory);
    relabelShares(own, rect, colours, levelWidth, levelHeight);
  }
  map.tones = { shares: own, mapping, fields };
}

/** Size of the artwork at a level; pixels at its far borders may be parts. */
function levelSize({ artwork }: JobSheet, need: ArtworkNeed): { levelWidth: number; levelHeight: number } {
  if (artwork.kind === 'vector') return need;
  return { levelWidth: artwork.widthPx / 2 ** need.level, levelHeight: artwork.heightPx / 2 ** need.level };
}

/** The rectangles, in pixels of the print, in which colours of their own count: there labels may be others than the artwork's pixels. */
export function outlineBoxes(sheet: JobSheet, grid: PrintGrid): Rect[] {
  return localColours(sheet).map(({ outline }) => {
    const xs = outline.map(([x]) => x * grid.widthPx);
    const ys = outline.map(([, y]) => y * grid.heightPx);
    const [x, y] = [Math.floor(Math.min(...xs)), Math.floor(Math.min(...ys))];
    return { x, y, width: Math.ceil(Math.max(...xs)) - x, height: Math.ceil(Math.max(...ys)) - y };
  });
}

/** Colours of a sheet that count only inside an outline. */
export function localColours(sheet: JobSheet): LocalColour[] {
  return sheet.palette.flatMap(({ colour, within }, label): LocalColour[] => {
    const from = sheet.palette.findIndex((each) => each.within === null && each.colour === colour);
    return within && from >= 0 ? [{ label, from, outline: within }] : [];
  });
}
