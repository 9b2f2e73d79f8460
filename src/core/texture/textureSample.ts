import { TEXTURES, type TextureKind } from '../sheet';
import { TILE_MM } from './ownTextures';
import { makeTile } from './textureTile';

/** A small picture of a texture as it prints: one byte for each pixel, 255 = worn away. */
export interface TextureSample {
  readonly kind: TextureKind;
  readonly side: number;
  readonly holes: Uint8Array;
}

const SIDE = 256;
/** How wide what a sample shows is on the print, in mm. */
export const SAMPLE_MM = SIDE * TILE_MM;
const STRENGTH = 0.22;
/** Wear of the edges is shown as on a print of this size: a sample has no middle otherwise. */
const EDGE = 0.45;

/** Samples of all textures, one after the other. */
export function textureSamples(): TextureSample[] {
  return TEXTURES.map((kind) => {
    const { side, values } = makeTile({ kind, contrast: 0.9, picture: null }, SIDE);
    const limitAt = (i: number) => {
      if (kind !== 'edges') return STRENGTH;
      const [x, y] = [i % side, Math.floor(i / side)];
      const inwards = Math.min(x, y, side - 1 - x, side - 1 - y) / (side * EDGE);
      return 2.5 * STRENGTH * Math.max(0, 1 - inwards);
    };
    return { kind, side, holes: Uint8Array.from(values, (rank, i) => (rank < limitAt(i) * 65536 ? 255 : 0)) };
  });
}
