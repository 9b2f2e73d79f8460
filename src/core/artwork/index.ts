export { type ArtworkTile, PixelTile } from './artworkTile';
export { componentOutline, type OutlinePoint } from './componentOutline';
export { distanceFromBlend, findPalette, type FoundColour, type FoundPalette } from './findPalette';
export { OUTER, buildOuterMap, findBackground, isOuter, type OuterMap } from './outerMap';
export { reducePalette } from './reducePalette';
export { EMPTY_ALPHA, OPAQUE_ALPHA, type ArtworkReader, type RgbaPlane } from './rgbaPlane';
