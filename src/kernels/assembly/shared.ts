// Written by scripts/buildKernels.mjs from src/core/raster/codes.ts and src/core/solving/codes.ts, where each value is explained.
export const TONED: i32 = 253;
export const BARE: i32 = 254;
export const MIXED: i32 = 255;
export const LEAST_TONE: i32 = 128;
export const MOSTLY: i32 = 32768;
export const KNOWN_BITS: i32 = 16;
export const INKED: i32 = 1;
export const THIN: i32 = 2;
export const DARK: i32 = 4;
export const UNBASED: i32 = 8;
export const LIT: i32 = 16;
export const UNLIT: i32 = 32;
export const PARTLY: i32 = 64;
export const TABLE_SIDE: i32 = 33;
