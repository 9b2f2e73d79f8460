import { ciede2000, labFromRgb8, type Rgb8 } from '../colour';
import type { PlatePlanes } from '../fit';
import type { Rect } from '../geometry';
import { MM_PER_INCH } from '../units';
import type { JobSheet } from '../sheet';
import { printGrid } from './printGrid';
import type { View, ViewLevel } from './view';

/** What stands at one place of a print. */
export interface Reading {
  /** Coverage of each plate as it is intended in print, 0..1, by its id. */
  readonly plates: Readonly<Record<string, number>>;
  readonly predicted: Rgb8;
  readonly artwork: Rgb8;
  /** CIEDE2000 of the two. */
  readonly difference: number;
}

/** Readings are averaged over a square of this side, or over a cell of the coarsest screen where that is larger. */
const LEAST_SIDE_MM = 1;

/** Side of the square that a reading averages over, in millimetres. */
export function readingSideMm(sheet: JobSheet): number {
  return Math.max(LEAST_SIDE_MM, ...sheet.plates.map((plate) => MM_PER_INCH / plate.screen.lpi));
}

/** The window of one pixel that a reading looks through, and its region at the film's resolution. */
export function readingView(sheet: JobSheet, xMm: number, yMm: number): { view: View; level: ViewLevel } {
  const side = readingSideMm(sheet);
  const grid = printGrid(sheet, sheet.film.dpi);
  const view = { xMm: xMm - side / 2, yMm: yMm - side / 2, scale: 1 / side, width: 1, height: 1 };
  const from = (mm: number) => Math.floor(mm * grid.pxPerMm);
  const region: Rect = {
    x: from(view.xMm),
    y: from(view.yMm),
    width: from(view.xMm + side) - from(view.xMm) + 1,
    height: from(view.yMm + side) - from(view.yMm) + 1,
  };
  return { view, level: { grid, region, atFilm: true } };
}

/** @param predicted, artwork the one pixel of the view, four bytes. */
export function makeReading(
  planes: PlatePlanes,
  predicted: Uint8ClampedArray,
  artwork: Uint8ClampedArray,
): Reading {
  const area = planes.rect.width * planes.rect.height;
  const plates = planes.planes.map(({ plate, shape, tone }) => {
    let sum = 0;
    for (let i = 0; i < shape.length; i++) if (shape[i] !== 0) sum += tone ? tone[i]! / 65535 : 1;
    return [plate.id, sum / area] as const;
  });
  const rgb = (pixel: Uint8ClampedArray): Rgb8 => [pixel[0]!, pixel[1]!, pixel[2]!];
  const [p, a] = [rgb(predicted), rgb(artwork)];
  return {
    plates: Object.fromEntries(plates),
    predicted: p,
    artwork: a,
    difference: ciede2000(labFromRgb8(p), labFromRgb8(a)),
  };
}
