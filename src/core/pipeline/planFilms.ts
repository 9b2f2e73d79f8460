import { baseUnder } from '../separation';
import { type SheetLayout, layoutSheet } from '../film';
import { fitGrowthMm } from '../fit';
import { type Rect, intersectRects } from '../geometry';
import { type JobSheet, type Plate, artworkOf, printsTones, paletteOf } from '../sheet';
import { type PrintGrid, printGrid } from './printGrid';

/** Rows of a film that are made at a time, and pixels: of films wider than usual fewer rows, so that width costs no memory. */
const STRIP_ROWS = 256;
const STRIP_PIXELS = 8e6;
const LEAST_ROWS = 16;

function rowsOfStrip(widthPx: number): number {
  const rows = Math.floor(STRIP_PIXELS / widthPx / LEAST_ROWS) * LEAST_ROWS;
  return Math.min(STRIP_ROWS, Math.max(LEAST_ROWS, rows));
}

/** Everything about a film set that does not depend on the strip. */
export interface FilmPlan {
  readonly sheet: JobSheet;
  readonly layout: SheetLayout;
  readonly grid: PrintGrid;
  /** Plates whose films are made, in print order. */
  readonly plates: readonly Plate[];
  /** Plates that print: films of the whole set. */
  readonly printing: readonly Plate[];
  /** Rows of each strip but the last. */
  readonly stripRows: number;
  readonly stripCount: number;
  /** The part of the sheet, in device pixels, where ink of the print may lie; starts at a whole byte. */
  readonly inked: Rect;
  /** Size of the planes kept for viewing, one pixel for a place of the artwork. */
  readonly planeWidth: number;
  readonly planeHeight: number;
}

/** Kept planes are no larger than this many pixels each. */
const MAX_PLANE_PIXELS = 40e6;
const VECTOR_PLANE_DPI = 300;

/**
 * Lays out a film set. Throws what `layoutSheet` throws.
 *
 * @param only the plates whose films are wanted; they come out as they would with the whole set.
 */
export function planFilms(sheet: JobSheet, only: readonly string[] | null = null): FilmPlan {
  const layout = layoutSheet(sheet);
  const stripRows = rowsOfStrip(layout.widthPx);
  const grid = filmGrid(sheet);
  const margin = Math.ceil(fitGrowthMm(sheet) * grid.pxPerMm) + 1;
  const bitmap: Rect = { x: 0, y: 0, width: layout.widthPx, height: layout.heightPx };
  const left = (layout.printXPx - margin) & ~7;
  const right = (layout.printXPx + grid.widthPx + margin + 7) & ~7;
  const wanted: Rect = {
    x: left,
    y: layout.printYPx - margin,
    width: right - left,
    height: grid.heightPx + 2 * margin,
  };
  const printing = printingPlates(sheet);
  return {
    sheet,
    layout,
    grid,
    plates: only ? printing.filter((plate) => only.includes(plate.id)) : printing,
    printing,
    stripRows,
    stripCount: Math.ceil(layout.heightPx / stripRows),
    inked: intersectRects(wanted, { ...bitmap, width: (bitmap.width + 7) & ~7 }),
    ...planeSize(sheet, grid),
  };
}

/** Plates that can print anything: all of them where they are tones, else those whose inks a colour is on, and the base of any of them. */
function printingPlates(sheet: JobSheet): readonly Plate[] {
  if (printsTones(sheet)) return sheet.plates;
  const used = new Set(
    paletteOf(sheet)
      .filter((entry) => entry.tint > 0)
      .map((entry) => entry.plateId),
  );
  const based = paletteOf(sheet).some((entry) => entry.tint > 0 && baseUnder(sheet, entry) > 0);
  return sheet.plates.filter(({ id, role }) =>
    role === 'underbase' ? based : role === 'special' ? used.size > 0 : used.has(id),
  );
}

/** The print on the film's device pixels, larger or smaller by what film and screens shrink. */
function filmGrid(sheet: JobSheet): PrintGrid {
  const { x, y } = sheet.film.stretch;
  const { pxPerMm, widthPx, heightPx } = printGrid(sheet, sheet.film.dpi);
  if (x === 0 && y === 0) return { pxPerMm, widthPx, heightPx };
  return {
    pxPerMm,
    widthPx: Math.round(sheet.print.widthMm * pxPerMm * (1 + x / 1000)),
    heightPx: Math.round(sheet.print.heightMm * pxPerMm * (1 + y / 1000)),
  };
}

function planeSize(sheet: JobSheet, grid: PrintGrid): { planeWidth: number; planeHeight: number } {
  const artwork = artworkOf(sheet);
  const dpi = sheet.film.dpi;
  const wanted =
    artwork.kind === 'raster' ? artwork.widthPx / grid.widthPx : Math.min(1, VECTOR_PLANE_DPI / dpi);
  const ratio = Math.min(1, wanted, Math.sqrt(MAX_PLANE_PIXELS / (grid.widthPx * grid.heightPx)));
  const exact = artwork.kind === 'raster' && artwork.widthPx <= grid.widthPx && ratio === wanted;
  return {
    planeWidth: exact ? artwork.widthPx : Math.max(1, Math.round(grid.widthPx * ratio)),
    planeHeight: exact ? artwork.heightPx : Math.max(1, Math.round(grid.heightPx * ratio)),
  };
}
