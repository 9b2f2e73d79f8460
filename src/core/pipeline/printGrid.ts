import { isLossy } from '../artwork';
import { type Rect, expandRect, intersectRects } from '../geometry';
import { EXPAND_HALO, type PlaneMapping, pixelSharesHalo } from '../separation';
import type { JobSheet } from '../sheet';
import { MM_PER_INCH } from '../units';

/** The print as a raster: its top left corner is (0, 0); ink may be asked for beyond it. */
export interface PrintGrid {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly pxPerMm: number;
}

/** The print on whole device pixels at a resolution. */
export function printGrid(sheet: JobSheet, dpi: number): PrintGrid {
  const pxPerMm = dpi / MM_PER_INCH;
  return {
    widthPx: Math.max(1, Math.round(sheet.print.widthMm * pxPerMm)),
    heightPx: Math.max(1, Math.round(sheet.print.heightMm * pxPerMm)),
    pxPerMm,
  };
}

/** What must be read of the artwork to evaluate a region. */
export interface ArtworkNeed {
  /** Raster artwork: the pyramid level, each half the one before. Vector artwork: 0. */
  readonly level: number;
  /** Size of the whole artwork at that level; vector artwork is rendered at exactly this size. */
  readonly levelWidth: number;
  readonly levelHeight: number;
  /** Inside the level; may be empty. */
  readonly rect: Rect;
}

/** Pyramid levels are made down to this side. */
const SMALLEST_SIDE = 256;

/** Number of levels a raster artwork has; the first is the artwork itself. */
export function levelCount(widthPx: number, heightPx: number): number {
  let count = 1;
  while (Math.max(widthPx, heightPx) / 2 ** count >= SMALLEST_SIDE) count++;
  return count;
}

/** Whole pixels of a side at a level; the last one may be a part of a pixel. */
export function levelSide(side: number, level: number): number {
  return Math.ceil(side / 2 ** level);
}

/** Radius within which a transition counts as an edge: about 1.5 artwork pixels, or that much of 300 dpi in vectors. */
export function edgeRadiusPx(sheet: JobSheet, grid: PrintGrid, level: number): number {
  if (sheet.artwork.kind === 'vector') {
    return Math.max(1, Math.round((2 * grid.pxPerMm * MM_PER_INCH) / 300));
  }
  // Compression with halved colour resolution smears an edge over more pixels.
  const radius = isLossy(sheet.purity) ? 4 : 2;
  return Math.max(1, radius >> level);
}

/** Gaps narrower than so many pixels are closed: those of a drawing, where its job says so. */
export function gapPx({ artwork, fit }: JobSheet, grid: PrintGrid): number {
  return artwork.kind === 'vector' ? fit.closeGapsMm * grid.pxPerMm : 0;
}

/** The level and rectangle of the artwork that a region of the print depends on, halo included. */
export function artworkNeed(sheet: JobSheet, grid: PrintGrid, region: Rect, haloPx: number): ArtworkNeed {
  const wanted = expandRect(region, haloPx);
  if (sheet.artwork.kind === 'vector') {
    const margin = pixelSharesHalo(edgeRadiusPx(sheet, grid, 0), gapPx(sheet, grid));
    const whole = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
    return {
      level: 0,
      levelWidth: grid.widthPx,
      levelHeight: grid.heightPx,
      rect: intersectRects(expandRect(wanted, margin), whole),
    };
  }
  const { widthPx, heightPx } = sheet.artwork;
  const last = levelCount(widthPx, heightPx) - 1;
  const level = Math.min(last, Math.max(0, Math.floor(Math.log2(widthPx / grid.widthPx))));
  const levelWidth = levelSide(widthPx, level);
  const levelHeight = levelSide(heightPx, level);
  const scaleX = widthPx / 2 ** level / grid.widthPx;
  const scaleY = heightPx / 2 ** level / grid.heightPx;
  const margin = pixelSharesHalo(edgeRadiusPx(sheet, grid, level)) + EXPAND_HALO;
  const x0 = Math.floor(wanted.x * scaleX) - margin;
  const y0 = Math.floor(wanted.y * scaleY) - margin;
  const x1 = Math.ceil((wanted.x + wanted.width) * scaleX) + margin;
  const y1 = Math.ceil((wanted.y + wanted.height) * scaleY) + margin;
  const whole = { x: 0, y: 0, width: levelWidth, height: levelHeight };
  const rect = intersectRects({ x: x0, y: y0, width: x1 - x0, height: y1 - y0 }, whole);
  return { level, levelWidth, levelHeight, rect };
}

/** How the print's pixels lie on an artwork plane; those of vector artwork are the print's own. */
export function planeMapping(sheet: JobSheet, grid: PrintGrid, need: ArtworkNeed): PlaneMapping {
  const vector = sheet.artwork.kind === 'vector';
  const factor = 2 ** need.level;
  return {
    scaleX: vector ? 1 : sheet.artwork.widthPx / factor / grid.widthPx,
    scaleY: vector ? 1 : sheet.artwork.heightPx / factor / grid.heightPx,
    offsetX: -need.rect.x,
    offsetY: -need.rect.y,
    printWidth: grid.widthPx,
    printHeight: grid.heightPx,
  };
}
