/* Shared with the kernels, as `core/raster/codes.ts`. */

/** Entries of a table of tones along each side. */
export const TABLE_SIDE = 33;
