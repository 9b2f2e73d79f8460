/** Size of the square tiles of raster artwork, in pixels. */
export const RASTER_TILE = 512;
/** Tiles of vector artwork; the server renders them on this grid. */
export const VECTOR_TILE_WIDTH = 2048;
export const VECTOR_TILE_HEIGHT = 256;

/** Pixels, gzipped. Not a content encoding: the framework keeps that for itself. */
export const PACKED_TYPE = 'application/gzip';
/** A tile as runs. */
export const RUN_TILE_TYPE = 'application/vnd.kerameus.runs';
