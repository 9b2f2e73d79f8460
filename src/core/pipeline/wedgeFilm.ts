import { type LabelFont, describeScreen, fillOutlines } from '../film';
import type { Kernels } from '../kernels';
import { type ThresholdTiles, planeAlone } from '../screening';
import type { JobSheet, Plate } from '../sheet';
import { mmToPx, trimNumber } from '../units';
import { type FilmTones, plateTile } from './filmTones';

/** Film tones of a wedge for measuring, finer at both ends, 0..1. */
export const MEASURING_STEPS: readonly number[] = [
  0, 0.01, 0.02, 0.03, 0.04, 0.05, 0.07, 0.1, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.7, 0.75, 0.8, 0.85, 0.9,
  0.93, 0.95, 0.97, 0.98, 0.99, 1,
];

const COLUMNS = 13;
const PATCH_MM = 12;
const LABEL_MM = 5;
const MARGIN_MM = 8;
const TITLE_MM = 4;

/** A bilevel picture; rows * ceil(width / 8) bytes, 1 = black. */
export interface WedgeFilm {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly dpi: number;
  readonly bits: Uint8Array;
}

/**
 * A film of steps through a plate's own screen, each with its film tone in figures: print it, read what each step printed as, and the
 * gain is known. The tones are those on film; only the film printer's own gain is made up for.
 */
export function makeWedgeFilm(
  sheet: JobSheet,
  plate: Plate,
  font: LabelFont,
  tiles: ThresholdTiles,
  tones: FilmTones,
  kernels: Kernels,
): WedgeFilm {
  const { dpi } = sheet.film;
  const rowsOfSteps = Math.ceil(MEASURING_STEPS.length / COLUMNS);
  const widthMm = COLUMNS * PATCH_MM + 2 * MARGIN_MM;
  const heightMm = rowsOfSteps * (PATCH_MM + LABEL_MM) + 2 * MARGIN_MM + TITLE_MM;
  const widthPx = Math.floor(mmToPx(widthMm, dpi)) & ~7;
  const heightPx = Math.floor(mmToPx(heightMm, dpi));
  const rowBytes = widthPx / 8;
  const bits = new Uint8Array(rowBytes * heightPx);
  const patch = Math.round(mmToPx(PATCH_MM, dpi));
  const film = tones.asAsked(
    sheet,
    plate,
    Uint16Array.from(MEASURING_STEPS, (step) => Math.round(step * 65535)),
  );
  const tile = plateTile(tiles, dpi, plate);
  const put = (text: string, sizeMm: number, xMm: number, yMm: number): void => {
    const { outlines } = font.outline(text, mmToPx(sizeMm, dpi), mmToPx(xMm, dpi), mmToPx(yMm, dpi));
    fillOutlines(outlines, 0, heightPx, widthPx, bits);
  };
  put(
    `Step wedge · ${plate.ink.name} · mesh ${plate.mesh} · ${describeScreen(plate)} · film % below each step`,
    3,
    MARGIN_MM,
    MARGIN_MM,
  );
  for (let row = 0; row < rowsOfSteps; row++) {
    const steps = film.subarray(row * COLUMNS, (row + 1) * COLUMNS);
    const topMm = MARGIN_MM + TITLE_MM + row * (PATCH_MM + LABEL_MM);
    const top = Math.round(mmToPx(topMm, dpi));
    const left = Math.round(mmToPx(MARGIN_MM, dpi)) & ~7;
    const width = (patch * steps.length + 7) & ~7;
    const tone = new Uint16Array(width * patch);
    for (let x = 0; x < patch * steps.length; x++) tone[x] = steps[Math.floor(x / patch)]!;
    for (let y = 1; y < patch; y++) tone.copyWithin(y * width, 0, width);
    const { region, bits: packed } = planeAlone({
      tone,
      width,
      rows: patch,
      originX: left,
      originY: top,
      tile,
    });
    kernels.screenLayers(region);
    for (let y = 0; y < patch; y++) {
      const part = packed.subarray((y * width) / 8, ((y + 1) * width) / 8);
      bits.set(part.subarray(0, rowBytes - left / 8), (top + y) * rowBytes + left / 8);
    }
    steps.forEach((_, k) => {
      const text = trimNumber(MEASURING_STEPS[row * COLUMNS + k]! * 100, 0);
      put(text, 3, MARGIN_MM + k * PATCH_MM + PATCH_MM / 2 - text.length, topMm + PATCH_MM + 3.5);
    });
  }
  return { widthMm, heightMm, widthPx, heightPx, dpi, bits };
}
