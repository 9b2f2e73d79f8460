/* What a job sheet can say, apart from its schema: whoever only works with sheets need not load the checking of them. */

export const SHEET_VERSION = 12;

/** Limits that hold wherever a job comes from. */
export const LIMITS = {
  maxPrintMm: 60 * 25.4,
  minPrintMm: 5,
  minDpi: 300,
  maxDpi: 2880,
  maxChokeMm: 2,
  maxGuardMm: 3,
  maxGapMm: 0.5,
  maxPlates: 16,
  maxGarments: 12,
  maxLayers: 8,
  maxPaletteColours: 64,
  maxGroups: 3,
  maxPairs: 120,
  maxOutlineMm: 4,
  maxWear: 0.9,
  minTextureScale: 0.1,
  maxTextureScale: 10,
} as const;

export const DOT_SHAPES = ['ellipse', 'round', 'square-round', 'diamond', 'line'] as const;

/**
 * What becomes of a background: it prints as any colour, it is left to the garment outside of the design and stays where the design
 * encloses it, or it is left to the garment everywhere.
 */
export const BACKGROUNDS = ['keep', 'outside', 'everywhere'] as const;

/** What becomes of a flat colour in artwork that prints by its tones: solid on an ink, left to the garment, or dots like the rest. */
export const KEPT_AS = ['ink', 'garment', 'dots'] as const;

/** How plates are made of the artwork: flat colours on inks, the tones of all inks that print it together, or the plates that its file names. */
export const METHODS = ['spot', 'simulated', 'supplied'] as const;

/** What prints tones: dots on a grid that grow, dots of one size that become more, or nothing but solids. */
export const SCREENINGS = ['grid', 'dispersed', 'solid'] as const;

/** What is printed under or over the inks and is no ink of the artwork: `hit` is white once more on the base, `thin` white between wet colours. */
export const SPECIALS = [
  'discharge',
  'blocker',
  'hit',
  'halftone',
  'thin',
  'clear',
  'puff',
  'adhesive',
] as const;
export type SpecialKind = (typeof SPECIALS)[number];

/** Worn textures of the application's own, by what wears: along cracks, in patches, in specks, in streaks, along threads, in lines, in dots, from the edges of the print. */
export const TEXTURES = [
  'cracked',
  'washed',
  'speckle',
  'brushed',
  'weave',
  'scratches',
  'dots',
  'edges',
] as const;

export type TextureKind = (typeof TEXTURES)[number];

/** What a film label can tell. */
export const LABEL_FIELDS = ['job', 'role', 'size', 'screen', 'gain', 'mesh', 'date'] as const;
export const MARK_DESIGNS = ['ring', 'square'] as const;
export const MARK_PLACES = ['auto', 'sides', 'corners', 'three'] as const;
export const FILM_FORMATS = [
  'pdf',
  'pdf-each',
  'tiff',
  'png',
  'gang-pdf',
  'gang-tiff',
  'tiff-screen',
  'pdf-inks',
  'pdf-inks-each',
  'tiff-inks',
  'png-print',
] as const;
