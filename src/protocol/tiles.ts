/** Size of the square tiles of raster artwork, in pixels. */
export const RASTER_TILE = 512;
/** Tiles of vector artwork; the server renders them on this grid. */
export const VECTOR_TILE_WIDTH = 2048;
export const VECTOR_TILE_HEIGHT = 256;
