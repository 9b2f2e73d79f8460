/** Size of the square tiles of raster artwork, in pixels. */
export const RASTER_TILE = 512;

/** What is gzipped. Not a content encoding: the framework keeps that for itself. */
export const PACKED_TYPE = 'application/gzip';
