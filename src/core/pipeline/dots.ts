import type { PlatePlanes } from '../fit';
import type { Kernels } from '../kernels';
import type { ThresholdTiles } from '../screening';
import type { JobSheet, Plate } from '../sheet';
import type { FilmTones } from './filmTones';
import { platesBits } from './plateBits';

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
  const padded = padPlanes(planes, sheet);
  const request = {
    sheet,
    planes: padded,
    tiles,
    kernels,
    toneOf: (plate: Plate, tone: Uint16Array) =>
      of === 'film' ? tones.onFilm(sheet, plate, tone) : tones.inPrint(plate, tone),
  };
  const dotted = padded.planes.filter(({ tone }) => tone).map(({ plate }) => plate);
  const bits = platesBits(request, dotted);
  return {
    rect,
    planes: padded.planes.map(({ plate }, k) => {
      const plane = planes.planes[k]!;
      if (!plane.tone) return { ...plane, plate };
      return { plate, shape: unpack(bits[dotted.indexOf(plate)]!, padded.rect.width, rect), tone: null };
    }),
  };
}

/** The same planes in rows of whole bytes, as screening takes them, and with their plates as they are now. */
function padPlanes({ rect, planes }: PlatePlanes, sheet: JobSheet): PlatePlanes {
  const width = (rect.width + 7) & ~7;
  const copyRows = <T extends Uint8Array | Uint16Array>(from: T, to: T): T => {
    for (let row = 0; row < rect.height; row++) {
      to.set(from.subarray(row * rect.width, (row + 1) * rect.width), row * width);
    }
    return to;
  };
  const count = width * rect.height;
  return {
    rect: { ...rect, width },
    planes: planes.map((plane) => ({
      plate: sheet.plates.find((each) => each.id === plane.plate.id) ?? plane.plate,
      shape: copyRows(plane.shape, new Uint8Array(count)),
      tone: plane.tone && copyRows(plane.tone, new Uint16Array(count)),
    })),
  };
}

function unpack(bits: Uint8Array, padded: number, rect: PlatePlanes['rect']): Uint8Array {
  const out = new Uint8Array(rect.width * rect.height);
  for (let row = 0; row < rect.height; row++) {
    for (let x = 0; x < rect.width; x++) {
      const at = row * padded + x;
      if ((bits[at >> 3]! & (128 >> (at & 7))) !== 0) out[row * rect.width + x] = 255;
    }
  }
  return out;
}
