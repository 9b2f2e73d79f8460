import { type LinearRgb, linearFromRgb8, parseHexColour } from '../colour';
import type { PlatePlanes } from '../fit';
import type { RasterKernels } from '../raster';
import type { JobSheet } from '../sheet';

/** A region in linear light: three planes one after another, each width * height long. */
export interface LightPlane {
  readonly width: number;
  readonly height: number;
  readonly light: Float32Array;
}

/** The garment with the plates printed on it in print order; lifted plates are left out. */
export function predictPrint(
  planes: PlatePlanes,
  sheet: JobSheet,
  kernels: RasterKernels,
  lifted: ReadonlySet<string> = new Set(),
): LightPlane {
  const { width, height } = planes.rect;
  const count = width * height;
  const light = new Float32Array(count * 3);
  const garment = linearFromRgb8(parseHexColour(sheet.garment.colour));
  garment.forEach((part, channel) => light.fill(part, channel * count, (channel + 1) * count));
  for (const { plate, shape, tone } of planes.planes) {
    if (lifted.has(plate.id)) continue;
    kernels.compositeInk({
      light,
      count,
      shape,
      tone,
      colour: linearFromRgb8(parseHexColour(plate.ink.colour)),
      opacity: plate.ink.opacity,
    });
  }
  return { width, height, light };
}

/** One plate as film on a light table: black where it is opaque, in linear light. */
export function filmLight(planes: PlatePlanes, plateId: string): LightPlane {
  const { width, height } = planes.rect;
  const count = width * height;
  const light = new Float32Array(count * 3).fill(FILM_CLEAR);
  const plane = planes.planes.find((each) => each.plate.id === plateId);
  if (plane) {
    for (let i = 0; i < count; i++) {
      if (plane.shape[i] === 0) continue;
      const covered = plane.tone ? plane.tone[i]! / 65535 : 1;
      light[i] = FILM_CLEAR + covered * (FILM_BLACK - FILM_CLEAR);
    }
    light.copyWithin(count, 0, count);
    light.copyWithin(2 * count, 0, count);
  }
  return { width, height, light };
}

// Clear and exposed film on a lit table, as shares of the table's light.
const FILM_CLEAR = 0.94;
const FILM_BLACK = 0.006;

/** Clear film, in linear light. */
export const FILM_GROUND: LinearRgb = [FILM_CLEAR, FILM_CLEAR, FILM_CLEAR];
