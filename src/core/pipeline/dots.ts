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

/**
 * The plates of a region as they print where their meshes lose the dots that are too small for them; null where none has such dots.
 *
 * @param planes as `printedPlanes` gives them.
 */
export function heldPlanes(planes: PlatePlanes, sheet: JobSheet, tones: FilmTones): PlatePlanes | null {
  let loses = false;
  const held = planes.planes.map((plane) => {
    const tone = plane.tone && tones.withoutUnheld(sheet, plane.plate, plane.tone);
    if (!tone) return plane;
    loses = true;
    return { ...plane, tone };
  });
  return loses ? { rect: planes.rect, planes: held } : null;
}

/** Dots as they stand on film, or as they have grown in print. */
export type DotsOf = 'film' | 'print';

/**
 * The plates of a region as dots: each tone is turned into the dots that its film has there, or into what they print as. Dots that
 * grow keep their places, since the screen inks its pixels in one order.
 *
 * @param planes evaluated at the film's resolution; their shapes are left alone. Screening takes rows of whole bytes: where their
 * width is no multiple of 8, they are copied.
 * @param plateId the only plate whose dots are wanted; the others are left as they are.
 * @returns planes whose width is a multiple of 8.
 */
export function dotPlanes(
  planes: PlatePlanes,
  sheet: JobSheet,
  tiles: ThresholdTiles,
  tones: FilmTones,
  kernels: Kernels,
  of: DotsOf,
  plateId: string | null = null,
): PlatePlanes {
  const padded = padPlanes(planes, sheet);
  const request = {
    sheet,
    tiles,
    tones,
    kernels,
    toneOf: (plate: Plate, tone: Uint16Array) =>
      of === 'film' ? tones.onFilm(sheet, plate, tone) : tones.inPrint(plate, tone),
  };
  const dotted = padded.planes.flatMap(({ plate, tone }) =>
    tone && (plateId === null || plate.id === plateId) ? [plate] : [],
  );
  const bits = platesBits(request, padded, dotted);
  return {
    rect: padded.rect,
    planes: padded.planes.map((plane) => {
      const at = dotted.indexOf(plane.plate);
      return at < 0 ? plane : { plate: plane.plate, shape: unpackBits(bits[at]!), tone: null };
    }),
  };
}

/** The same planes in rows of whole bytes, as screening takes them, and with their plates as they are now. */
function padPlanes({ rect, planes }: PlatePlanes, sheet: JobSheet): PlatePlanes {
  const width = (rect.width + 7) & ~7;
  const plateOf = (plane: PlatePlanes['planes'][number]) =>
    sheet.plates.find((each) => each.id === plane.plate.id) ?? plane.plate;
  if (width === rect.width) {
    return { rect, planes: planes.map((plane) => ({ ...plane, plate: plateOf(plane) })) };
  }
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
      plate: plateOf(plane),
      shape: copyRows(plane.shape, new Uint8Array(count)),
      tone: plane.tone && copyRows(plane.tone, new Uint16Array(count)),
    })),
  };
}

/** For each byte the eight pixels that its bits stand for, as two words of four. */
const WORDS_OF_BYTE = (() => {
  const words = new Uint32Array(512);
  const bytes = new Uint8Array(words.buffer);
  for (let byte = 0; byte < 256; byte++) {
    for (let bit = 0; bit < 8; bit++) bytes[byte * 8 + bit] = (byte & (128 >> bit)) !== 0 ? 255 : 0;
  }
  return words;
})();

/** Bits as pixels of a byte, 0 or 255. */
function unpackBits(bits: Uint8Array): Uint8Array {
  const words = new Uint32Array(bits.length * 2);
  for (let k = 0; k < bits.length; k++) {
    const byte = bits[k]!;
    if (byte === 0) continue;
    words[2 * k] = WORDS_OF_BYTE[2 * byte]!;
    words[2 * k + 1] = WORDS_OF_BYTE[2 * byte + 1]!;
  }
  return new Uint8Array(words.buffer);
}
