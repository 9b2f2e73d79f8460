import type { PlatePlanes } from '../fit';
import type { Kernels } from '../kernels';
import type { ThresholdTile, ThresholdTiles } from '../screening';
import type { JobSheet } from '../sheet';
import { type FilmTones, plateTile } from './filmTones';

/** The plates of a region with the tones that they really print: a plate without dots has solids only. */
export function printedPlanes(planes: PlatePlanes, sheet: JobSheet, tones: FilmTones): PlatePlanes {
  return {
    rect: planes.rect,
    planes: planes.planes.map((plane) => {
      const plate = sheet.plates.find((each) => each.id === plane.plate.id) ?? plane.plate;
      return plane.tone ? { ...plane, plate, tone: tones.inPrint(plate, plane.tone) } : plane;
    }),
  };
}

/** Dots as they stand on film, or as they have grown in print. */
export type DotsOf = 'film' | 'print';

/**
 * The plates of a region as dots: each tone is turned into the dots that its film has there, or into what they print as. Dots that
 * grow keep their places, since the screen inks its pixels in one order.
 *
 * @param planes evaluated at the film's resolution; their shapes are left alone.
 */
export function dotPlanes(
  planes: PlatePlanes,
  sheet: JobSheet,
  tiles: ThresholdTiles,
  tones: FilmTones,
  kernels: Kernels,
  of: DotsOf,
): PlatePlanes {
  const { rect } = planes;
  return {
    rect,
    planes: planes.planes.map((plane) => {
      const plate = sheet.plates.find((each) => each.id === plane.plate.id) ?? plane.plate;
      if (!plane.tone) return { ...plane, plate };
      const tile = plateTile(tiles, sheet.film.dpi, plate);
      const tone = of === 'film' ? tones.onFilm(sheet, plate, plane.tone) : tones.inPrint(plate, plane.tone);
      return { plate, shape: screened(plane.shape, tone, rect, tile, kernels), tone: null };
    }),
  };
}

function screened(
  shape: Uint8Array,
  tone: Uint16Array,
  rect: PlatePlanes['rect'],
  tile: ThresholdTile,
  kernels: Kernels,
): Uint8Array {
  // Screening takes whole bytes of a row.
  const padded = (rect.width + 7) & ~7;
  const wideShape = new Uint8Array(padded * rect.height);
  const wideTone = new Uint16Array(padded * rect.height);
  for (let row = 0; row < rect.height; row++) {
    wideShape.set(shape.subarray(row * rect.width, (row + 1) * rect.width), row * padded);
    wideTone.set(tone.subarray(row * rect.width, (row + 1) * rect.width), row * padded);
  }
  const bits = new Uint8Array((padded * rect.height) / 8);
  kernels.screenStrip({
    shape: wideShape,
    tone: wideTone,
    width: padded,
    rows: rect.height,
    originX: rect.x,
    originY: rect.y,
    tile,
    out: bits,
  });
  const out = new Uint8Array(rect.width * rect.height);
  for (let row = 0; row < rect.height; row++) {
    for (let x = 0; x < rect.width; x++) {
      const at = row * padded + x;
      if ((bits[at >> 3]! & (128 >> (at & 7))) !== 0) out[row * rect.width + x] = 255;
    }
  }
  return out;
}
