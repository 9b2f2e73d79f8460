import { type G4Encoder, PlainG4Encoder } from '../formats';
import { PLAIN_RASTER_KERNELS, type RasterKernels } from '../raster';
import {
  type ByteStripArguments,
  type LaidTone,
  type LayerArguments,
  type PlaneStripArguments,
  type ScreenArguments,
  screenBytes,
  screenLayers,
  screenPlane,
  screenStrip,
} from '../screening';

/** Every hot loop that a host may hand in compiled. */
export interface Kernels extends RasterKernels {
  screenStrip(args: ScreenArguments): void;
  screenPlane(args: PlaneStripArguments): void;
  screenBytes(args: ByteStripArguments): void;
  screenLayers(args: LayerArguments): LaidTone[];
  /** An encoder for a bilevel image `width` pixels wide. */
  createG4Encoder(width: number): G4Encoder;
}

/** The plain twins: the definition of the compiled ones, and what runs where WebAssembly is not to be had. */
export const PLAIN_KERNELS: Kernels = {
  ...PLAIN_RASTER_KERNELS,
  screenStrip,
  screenPlane,
  screenBytes,
  screenLayers,
  createG4Encoder: (width) => new PlainG4Encoder(width),
};
