import { isLossy } from '../artwork';
import { type Rect, expandRect, intersectRects } from '../geometry';
import {
  CUT_GROUND_HALO,
  EXPAND_HALO,
  type PlaneMapping,
  keptSharesHalo,
  pixelSharesHalo,
} from '../separation';
import { type JobSheet, artworkOf, droppedBackground, fullToneLayer, printsTones, layerOf } from '../sheet';
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
  /** Plates that the artwork's file names and that are wanted beside its colours; left out: none. */
  readonly channels?: readonly string[];
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

/** What of a job sheet decides which pixels of the artwork a part of the print is made from. */
export type PrintSource = Pick<JobSheet, 'artworks' | 'layers' | 'print'> & {
  readonly fit: Pick<JobSheet['fit'], 'closeGapsMm'>;
};

/** Whether the artwork's pixels are the print's own: a drawing whose flat colours are told apart, or one whose plates are its file's. */
export function isDrawnAtPrint(sheet: Pick<JobSheet, 'artworks' | 'layers'>): boolean {
  return artworkOf(sheet).kind === 'vector' && layerOf(sheet).kind !== 'full-tone';
}

/** A drawing that prints by its tones is drawn with at most this many pixels an inch: dots of no screen show more, and a film at 720 dpi has two pixels to each. */
const TONE_DPI = 360;
/** The same where colours of it are kept solid: their edges are as sharp as films are. */
const KEPT_DPI = 720;

const hasKept = (sheet: Pick<JobSheet, 'layers'>) =>
  fullToneLayer(sheet)?.kept.some(({ as }) => as !== 'dots') === true;

/** Radius within which a transition counts as an edge: about 1.5 artwork pixels, or that much of 300 dpi in drawings of flat colours. */
export function edgeRadiusPx(sheet: PrintSource, grid: PrintGrid, level: number): number {
  if (isDrawnAtPrint(sheet)) {
    return Math.max(1, Math.round((2 * grid.pxPerMm * MM_PER_INCH) / 300));
  }
  // Compression with halved colour resolution smears an edge over more pixels.
  const radius = isLossy(layerOf(sheet).purity) ? 4 : 2;
  return Math.max(1, radius >> level);
}

/** Gaps narrower than so many pixels are closed: those of a drawing of flat colours, where its job says so. */
export function gapPx(sheet: PrintSource, grid: PrintGrid): number {
  return isDrawnAtPrint(sheet) ? sheet.fit.closeGapsMm * grid.pxPerMm : 0;
}

/** The artwork's own pixels that a grid is made from: of a picture a level of its pyramid, of a drawing those that it is drawn with. */
interface SourceGrid {
  readonly level: number;
  /** Whole pixels; the last of a picture's may be parts. */
  readonly width: number;
  readonly height: number;
  /** Source pixels to a pixel of the print. */
  readonly scaleX: number;
  readonly scaleY: number;
}

function sourceGrid(sheet: PrintSource, grid: PrintGrid): SourceGrid {
  const artwork = artworkOf(sheet);
  if (artwork.kind === 'vector') {
    const most = hasKept(sheet) ? KEPT_DPI : TONE_DPI;
    const scale = Math.min(1, most / (grid.pxPerMm * MM_PER_INCH));
    const width = Math.max(1, Math.round(grid.widthPx * scale));
    const height = Math.max(1, Math.round(grid.heightPx * scale));
    return { level: 0, width, height, scaleX: width / grid.widthPx, scaleY: height / grid.heightPx };
  }
  const { widthPx, heightPx } = artwork;
  const last = levelCount(widthPx, heightPx) - 1;
  const level = Math.min(last, Math.max(0, Math.floor(Math.log2(widthPx / grid.widthPx))));
  return {
    level,
    width: levelSide(widthPx, level),
    height: levelSide(heightPx, level),
    scaleX: widthPx / 2 ** level / grid.widthPx,
    scaleY: heightPx / 2 ** level / grid.heightPx,
  };
}

/** The level and rectangle of the artwork that a region of the print depends on, halo included. */
export function artworkNeed(sheet: PrintSource, grid: PrintGrid, region: Rect, haloPx: number): ArtworkNeed {
  const wanted = expandRect(region, haloPx);
  if (isDrawnAtPrint(sheet)) {
    const margin = pixelSharesHalo(edgeRadiusPx(sheet, grid, 0), gapPx(sheet, grid));
    const whole = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
    return {
      level: 0,
      levelWidth: grid.widthPx,
      levelHeight: grid.heightPx,
      rect: intersectRects(expandRect(wanted, margin), whole),
    };
  }
  const { level, width, height, scaleX, scaleY } = sourceGrid(sheet, grid);
  const cut = printsTones(sheet) && droppedBackground(sheet) ? CUT_GROUND_HALO : 0;
  const radius = edgeRadiusPx(sheet, grid, level);
  const kept = hasKept(sheet) ? keptSharesHalo(radius) : 0;
  const margin = pixelSharesHalo(radius) + EXPAND_HALO + cut + kept;
  const x0 = Math.floor(wanted.x * scaleX) - margin;
  const y0 = Math.floor(wanted.y * scaleY) - margin;
  const x1 = Math.ceil((wanted.x + wanted.width) * scaleX) + margin;
  const y1 = Math.ceil((wanted.y + wanted.height) * scaleY) + margin;
  const whole = { x: 0, y: 0, width, height };
  const rect = intersectRects({ x: x0, y: y0, width: x1 - x0, height: y1 - y0 }, whole);
  return { level, levelWidth: width, levelHeight: height, rect };
}

/** How the print's pixels lie on an artwork plane; those of a drawing of flat colours are the print's own. */
export function planeMapping(sheet: PrintSource, grid: PrintGrid, need: ArtworkNeed): PlaneMapping {
  const { scaleX, scaleY } = isDrawnAtPrint(sheet) ? { scaleX: 1, scaleY: 1 } : sourceGrid(sheet, grid);
  return {
    scaleX,
    scaleY,
    offsetX: -need.rect.x,
    offsetY: -need.rect.y,
    printWidth: grid.widthPx,
    printHeight: grid.heightPx,
  };
}

/** The pixel of an artwork plane that a pixel of the print lies on, by its place in the plane. @param need what the plane was asked by. */
export function artworkPixel(
  sheet: PrintSource,
  grid: PrintGrid,
  need: ArtworkNeed,
  { x, y }: Pick<Rect, 'x' | 'y'>,
): number {
  const { scaleX, scaleY, offsetX, offsetY } = planeMapping(sheet, grid, need);
  const { width, height } = need.rect;
  const on = (at: number, scale: number, offset: number, count: number) =>
    Math.min(count - 1, Math.max(0, Math.floor((at + 0.5) * scale + offset)));
  return on(y, scaleY, offsetY, height) * width + on(x, scaleX, offsetX, width);
}

/** Size of the artwork at a level; pixels at its far borders may be parts. */
export function levelSize(
  sheet: PrintSource,
  need: ArtworkNeed,
): { levelWidth: number; levelHeight: number } {
  const artwork = artworkOf(sheet);
  if (artwork.kind === 'vector') return need;
  return { levelWidth: artwork.widthPx / 2 ** need.level, levelHeight: artwork.heightPx / 2 ** need.level };
}
