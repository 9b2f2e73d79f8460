export { type ArtworkTile, PixelTile } from './artworkTile';
export { componentOutline, type OutlinePoint } from './componentOutline';
export { distanceFromBlend } from './blendDistance';
export { findPalette, type FoundColour, type FoundPalette, type PaletteSearch } from './findPalette';
export { findFaintness, inFull, type Faintness } from './faintArtwork';
export { flatAreas } from './flatAreas';
export { flatShare } from './flatShare';
export {
  compareArtworks,
  coloursBefore,
  sampleArtwork,
  type ArtworkChanges,
  type ArtworkSamples,
  type ChangedPlace,
} from './compareArtworks';
export { forEachBand } from './flatPixels';
export { isLossy } from './lossy';
export {
  ENCLOSED,
  FADING,
  OUTER,
  buildOuterMap,
  enclosedShare,
  findBackground,
  isOuter,
  isParted,
  type BorderColour,
  type OuterMap,
} from './outerMap';
export { reducePalette } from './reducePalette';
export { adjustColour, adjustPlane, type LumaMap } from './adjustPlane';
export { outlineWeights, type SoftOutline } from './outlineWeights';
export { maskPlane } from './maskPlane';
export { EMPTY_ALPHA, OPAQUE_ALPHA, type ArtworkReader, type RgbaPlane } from './rgbaPlane';
