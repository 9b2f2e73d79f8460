import { encodeSrgb8 } from '../colour';
import { fitGrowthMm } from '../fit';
import type { Rect } from '../geometry';
import { type JobSheet, fullToneLayer } from '../sheet';
import type { Spans } from '../raster';
import { MM_PER_INCH } from '../units';
import type { LightPlane } from './artworkLight';
import { type PrintGrid, printGrid } from './printGrid';

/** A window on the print. */
export interface View {
  /** The window's top left corner from the print's, in millimetres. */
  readonly xMm: number;
  readonly yMm: number;
  /** Window pixels per millimetre. */
  readonly scale: number;
  readonly width: number;
  readonly height: number;
}

/** The level a view is evaluated at, and the region it needs there. */
export interface ViewLevel {
  readonly grid: PrintGrid;
  readonly region: Rect;
  /** Whether the grid is the film's own. */
  readonly atFilm: boolean;
}

/** A view is drawn from at least this many evaluated pixels for one of its own, each way, so that edges are smooth. */
const OVERSAMPLING = 1.6;
/** The same for tones that a hand is dragging: four times sooner there, and smooth again when it lets go. */
const DRAFT_OVERSAMPLING = 0.5;

/**
 * Views are evaluated at the film's resolution, or at 3/4, 1/2, 3/8, 1/4 and so on of it: the lowest that still gives the
 * view's pixels smooth edges.
 *
 * @param dots whether the film's own pixels are wanted at any scale.
 */
export function viewLevel(sheet: JobSheet, view: View, dots = false): ViewLevel {
  const oversampling = fullToneLayer(sheet)?.draft ? DRAFT_OVERSAMPLING : OVERSAMPLING;
  const least = view.scale * oversampling * MM_PER_INCH;
  let dpi = sheet.film.dpi;
  while (!dots && dpi / 2 >= least) dpi /= 2;
  if (!dots && dpi * 0.75 >= least) dpi *= 0.75;
  const grid = printGrid(sheet, dpi);
  const x0 = Math.floor(view.xMm * grid.pxPerMm);
  const y0 = Math.floor(view.yMm * grid.pxPerMm);
  const x1 = Math.ceil((view.xMm + view.width / view.scale) * grid.pxPerMm);
  const y1 = Math.ceil((view.yMm + view.height / view.scale) * grid.pxPerMm);
  const region = { x: x0, y: y0, width: Math.max(1, x1 - x0), height: Math.max(1, y1 - y0) };
  return { grid, region, atFilm: dpi === sheet.film.dpi };
}

/** The part of a window in which anything of the print can show, in whole window pixels. */
export interface ViewPart {
  readonly x: number;
  readonly y: number;
  readonly view: View;
}

/**
 * Cuts a view down to the print and a margin round it; null when the print lies outside the window.
 *
 * @param roomMm how far beyond that ink may lie, as where a screen lies off.
 */
export function clipToPrint(sheet: JobSheet, view: View, roomMm = 0): ViewPart | null {
  const marginMm = fitGrowthMm(sheet) + 2 / view.scale + roomMm;
  const x0 = Math.max(0, Math.floor((-marginMm - view.xMm) * view.scale));
  const y0 = Math.max(0, Math.floor((-marginMm - view.yMm) * view.scale));
  const x1 = Math.min(view.width, Math.ceil((sheet.print.widthMm + marginMm - view.xMm) * view.scale));
  const y1 = Math.min(view.height, Math.ceil((sheet.print.heightMm + marginMm - view.yMm) * view.scale));
  if (x1 <= x0 || y1 <= y0) return null;
  const part = {
    ...view,
    xMm: view.xMm + x0 / view.scale,
    yMm: view.yMm + y0 / view.scale,
    width: x1 - x0,
    height: y1 - y0,
  };
  return { x: x0, y: y0, view: part };
}

/** A plane of the level's region averaged by area to a window, along one side. */
function spans(count: number, originPx: number, pixelsPerStep: number, available: number): Spans {
  // A step of this length touches at most so many pixels, and near its ends perhaps one fewer.
  const taps = Math.max(1, Math.min(available, Math.ceil(pixelsPerStep) + 1));
  const from = new Int32Array(count);
  const weights = new Float32Array(count * taps);
  for (let k = 0; k < count; k++) {
    const a = Math.max(0, originPx + k * pixelsPerStep);
    const b = Math.min(available, originPx + (k + 1) * pixelsPerStep);
    const first = Math.min(available - 1, Math.floor(a));
    const last = Math.min(available - 1, Math.max(first, Math.ceil(b) - 1));
    let sum = 0;
    for (let i = first; i <= last; i++) sum += Math.max(0, Math.min(b, i + 1) - Math.max(a, i));
    from[k] = Math.min(first, available - taps);
    for (let i = first; i <= last; i++) {
      const covered = Math.max(0, Math.min(b, i + 1) - Math.max(a, i));
      weights[k * taps + i - from[k]!] = sum > 0 ? covered / sum : 1;
      if (!(sum > 0)) break;
    }
  }
  return { count, from, taps, weights };
}

/** How a view averages the plane of its level, both ways. */
export function viewSpans(level: ViewLevel, view: View): { across: Spans; down: Spans } {
  const { grid, region } = level;
  const ratio = grid.pxPerMm / view.scale;
  return {
    across: spans(view.width, view.xMm * grid.pxPerMm - region.x, ratio, region.width),
    down: spans(view.height, view.yMm * grid.pxPerMm - region.y, ratio, region.height),
  };
}

/** Averages a plane of a level's region down to a window by area, in linear light. */
export function drawDown(plane: LightPlane, level: ViewLevel, view: View): LightPlane {
  const { across, down } = viewSpans(level, view);
  const light = new Float32Array(view.width * view.height * 3);
  const row = new Float32Array(plane.width);
  for (let channel = 0; channel < 3; channel++) {
    const source = plane.light.subarray(channel * plane.width * plane.height);
    const target = channel * view.width * view.height;
    for (let y = 0; y < view.height; y++) {
      row.fill(0);
      for (let t = 0; t < down.taps; t++) {
        const weight = down.weights[y * down.taps + t]!;
        if (weight === 0) continue;
        const base = (down.from[y]! + t) * plane.width;
        for (let x = 0; x < plane.width; x++) row[x]! += weight * source[base + x]!;
      }
      for (let x = 0; x < view.width; x++) {
        let sum = 0;
        for (let t = 0; t < across.taps; t++)
          sum += across.weights[x * across.taps + t]! * row[across.from[x]! + t]!;
        light[target + y * view.width + x] = sum;
      }
    }
  }
  return { width: view.width, height: view.height, light };
}

/** Linear light to opaque sRGB pixels, four bytes each. */
export function encodeRgba(plane: LightPlane): Uint8ClampedArray<ArrayBuffer> {
  const count = plane.width * plane.height;
  const out = new Uint8ClampedArray(count * 4);
  for (let i = 0; i < count; i++) {
    out[i * 4] = encodeSrgb8(plane.light[i]!);
    out[i * 4 + 1] = encodeSrgb8(plane.light[count + i]!);
    out[i * 4 + 2] = encodeSrgb8(plane.light[2 * count + i]!);
    out[i * 4 + 3] = 255;
  }
  return out;
}
