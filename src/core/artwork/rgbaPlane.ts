import type { Rect } from '../geometry';

/**
 * A rectangle of decoded artwork: sRGB codes with straight alpha, four bytes a pixel, row after row.
 * `rect` says where it lies in the pixel grid of its pyramid level.
 */
export interface RgbaPlane {
  readonly rect: Rect;
  readonly data: Uint8Array;
  /** Plates that the artwork's file names, as far as they were asked for: coverage of each pixel, 0..255, 255 solid. */
  readonly channels?: ReadonlyMap<string, Uint8Array>;
}

/** Something that artwork can be read from, band by band; a level of the pyramid as a whole. */
export interface ArtworkReader {
  readonly width: number;
  readonly height: number;
  /** The rectangle must lie inside the level. */
  read(rect: Rect): RgbaPlane;
}

/** From this alpha up a pixel is opaque, below its counterpart it is empty: decoders round by a few codes. */
export const OPAQUE_ALPHA = 250;
export const EMPTY_ALPHA = 5;
