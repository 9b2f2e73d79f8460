import { type DrawingKernels, PLAIN_DRAWING_KERNELS } from '../drawing';
import { type G4Encoder, PlainG4Encoder } from '../formats';
import { PLAIN_RASTER_KERNELS, type RasterKernels } from '../raster';
import { toneFields } from '../solving';
import {
  type LaidTone,
  type ScreenRegion,
  type ScreenedPlate,
  screenLayers,
  screenPlate,
} from '../screening';

/** Screens a plate's rows, one after another, and encodes them as one G4 stream. */
export interface PlateEncoder {
  /** Encodes the next rows; returns the bytes that are complete now. */
  encode(rows: number): Uint8Array;
  /** Writes the end of the stream and returns the last bytes. */
  finish(): Uint8Array;
}

/** Every hot loop that a host may hand in compiled. */
export interface Kernels extends RasterKernels, DrawingKernels {
  readonly toneFields: typeof toneFields;
  screenLayers(region: ScreenRegion): (LaidTone | null)[];
  /** An encoder for a bilevel image `width` pixels wide. */
  createG4Encoder(width: number): G4Encoder;
  createPlateEncoder(plate: ScreenedPlate): PlateEncoder;
}

function createPlainPlateEncoder(plate: ScreenedPlate): PlateEncoder {
  const encoder = new PlainG4Encoder(plate.width);
  let next = 0;
  return {
    encode: (rows) => {
      const bits = screenPlate(plate, next, rows);
      next += rows;
      return encoder.encode(bits, rows);
    },
    finish: () => encoder.finish(),
  };
}

/** The plain twins: the definition of the compiled ones, and what runs where WebAssembly is not to be had. */
export const PLAIN_KERNELS: Kernels = {
  ...PLAIN_RASTER_KERNELS,
  ...PLAIN_DRAWING_KERNELS,
  toneFields,
  screenLayers,
  createG4Encoder: (width) => new PlainG4Encoder(width),
  createPlateEncoder: createPlainPlateEncoder,
};
