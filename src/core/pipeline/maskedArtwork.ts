import { type RgbaPlane, maskPlane } from '../artwork';
import { layerOf } from '../sheet';
import { type ArtworkNeed, type PrintSource, isDrawnAtPrint, levelSize } from './printGrid';

/** The artwork that counts: all of it, or what lies inside of the layer's mask. The plane that is given is left as it is. */
export function maskedArtwork(source: PrintSource, need: ArtworkNeed, art: RgbaPlane): RgbaPlane {
  const { mask } = layerOf(source);
  if (!mask) return art;
  const { levelWidth, levelHeight } = levelSize(source, need);
  const outline = mask.map(([x, y]) => [x * levelWidth, y * levelHeight] as const);
  return maskPlane(art, outline, !isDrawnAtPrint(source));
}
