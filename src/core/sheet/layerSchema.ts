import { z } from 'zod';
import { curveSchema } from '../stages';
import { BACKGROUNDS, KEPT_AS, LIMITS } from './vocabulary';

export const hexColour = z.string().regex(/^#[0-9a-f]{6}$/, 'must be a colour like #16233f');
export const share = z.number().min(0).max(1);
export const name = z.string().trim().min(1).max(80);
export const id = z.string().regex(/^[a-z0-9-]{1,40}$/, 'must be lower-case letters, digits and hyphens');

/** A file that the job prints something of. */
export const artworkSchema = z.strictObject({
  id,
  sha256: z.string().regex(/^[0-9a-f]{64}$/, 'must be a SHA-256 in hexadecimal'),
  /** Without folders. */
  fileName: z
    .string()
    .min(1)
    .max(200)
    .regex(/^(?!\.{1,2}$)[^/\\\0]+$/, 'must be a plain file name'),
  kind: z.enum(['raster', 'vector']),
  widthPx: z.number().positive(),
  heightPx: z.number().positive(),
  /** Which page of a PDF it is, from 1 on; absent for the first page and for other files. */
  page: z.number().int().min(2).max(1_000_000).optional(),
});

/** The most corners of an outline. */
export const MOST_CORNERS = 4000;

/** Corners of a polygon, as fractions of the artwork's width and height from its top left corner. */
const outlineSchema = z
  .array(z.tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)]))
  .min(3)
  .max(MOST_CORNERS);

/** One flat colour of the artwork. Which plate prints it, and how much of it, is said by the plate's sources; without one the garment supplies it. */
export const flatColourSchema = z.strictObject({
  /** Stays whatever is added before it or taken out. */
  id,
  colour: hexColour,
  /** CIELAB distance within which a pixel counts as this colour; null: the layer's purity. */
  closeness: z.number().min(0.5).max(40).nullable(),
  /** Set where a colour counts only inside an outline: there it takes the place of the same colour everywhere else. */
  within: outlineSchema.nullable(),
  /** How much underbase lies under it, 0..1; null: what its ink wants. */
  base: share.nullable().default(null),
});

/**
 * A flat colour of artwork that prints by its tones, which is told from them: solid on the plate whose sources name it, bare garment, or as dots like
 * the rest where no plate does.
 */
export const keptColourSchema = flatColourSchema.extend({
  /** `ink`: solid, on the nearest of the job's inks; `garment`: nothing prints; `dots`: it is one of the tones. */
  as: z.enum(KEPT_AS),
});

const layerParts = {
  id,
  artworkId: id,
  /** What of the artwork counts: what lies inside; null: all of it. */
  mask: outlineSchema.nullable(),
  /** A background of one colour that touches the edge of the artwork. */
  background: z
    .strictObject({
      colour: hexColour,
      drop: z.enum(BACKGROUNDS),
      /** Whether nobody has said yet what is to become of it. */
      open: z.boolean(),
    })
    .nullable(),
  /** CIELAB distance within which pixels of the artwork count as one colour. */
  purity: z.number().min(0.5).max(30),
};

/** Flat colours, each on the plate of an ink. */
export const flatLayerSchema = z.strictObject({
  ...layerParts,
  kind: z.literal('flat'),
  colours: z.array(flatColourSchema).max(LIMITS.maxPaletteColours),
  /**
   * Pairs of colours (those without an outline) between which the artwork has gradients, glows or soft shadows: where it
   * is wide, only these may explain a pixel that is none of the colours, and what they do not explain is the nearest colour. Null:
   * any two colours may, as jobs of earlier versions have it. A colour with itself fades out into nothing.
   */
  transitions: z
    .array(z.tuple([hexColour, hexColour]))
    .max(400)
    .nullable(),
});

/** How colours of the artwork are changed before they are separated, by their luma (ITU-R BT.709, of coded values) and their distance from it. */
export const adjustSchema = z.strictObject({
  /** -1..1; 0 changes nothing. */
  contrast: z.number().min(-1).max(1),
  /** -1 leaves greys, 0 changes nothing, 1 doubles what parts a colour from grey. */
  saturation: z.number().min(-1).max(1),
  /** Luma that comes in and luma that goes on, 0..1. */
  curve: curveSchema.shape.points,
  /** What black and white of the artwork become, and all between them in even steps of light; null: they stay. */
  ends: z.strictObject({ black: hexColour, white: hexColour }).nullable().default(null),
});

/** Tones: every plate gets at each place what the print model finds for the artwork's colour there, so that all of them together print it. */
export const fullToneLayerSchema = z.strictObject({
  ...layerParts,
  kind: z.literal('full-tone'),
  /** Colour of the garment that the tones are found for; the same films may print on others. */
  solvedFor: hexColour,
  /** Whether the tones are found for all of the job's garments together, so that the same films print on each; else for `solvedFor` alone. */
  together: z.boolean(),
  /** Null: colours are separated as the artwork has them. */
  adjust: adjustSchema.nullable(),
  /** How much the underbase is wished for where colours can be printed with more of it or less: -1 as little as possible, and the garment as an ink; 1 as much. */
  baseWish: z.number().min(-1).max(1).default(0),
  /** Set where its inks are the transparent ones of process colour: black is led by the artwork's own darkness, and all inks together cover this much at most, 1 for each full layer. */
  process: z
    .strictObject({ inkLimit: z.number().min(1).max(4) })
    .nullable()
    .default(null),
  /** Whether inks are left out where their dots would stand alone and be seen, as far as the others can make up for them. */
  leaveOutLone: z.boolean().default(false),
  /** Flat colours that are told from the tones, such as lettering. */
  kept: z.array(keptColourSchema).max(LIMITS.maxPaletteColours).default([]),
  /** Names of inks that every proposal of inks has, and of those that none has. */
  pinned: z.array(name).max(40),
  banned: z.array(name).max(300),
});

/** Plates that the artwork's file names, as they are in it: nothing is solved for, and no colour is looked for. */
export const suppliedLayerSchema = z.strictObject({
  ...layerParts,
  kind: z.literal('supplied'),
  /** The file says itself where it prints. */
  background: z.null(),
});

export const layerSchema = z.discriminatedUnion('kind', [
  flatLayerSchema,
  fullToneLayerSchema,
  suppliedLayerSchema,
]);

export const PATCH_ACTS = ['lift', 'lighten', 'clear', 'fill'] as const;

/** A change of a plate's tones inside of an outline. */
export const patchSchema = z.strictObject({
  id,
  /** Corners as fractions of the artwork. */
  outline: outlineSchema,
  /** Width in which the change fades in, half of it on either side of the outline. */
  featherMm: z.number().min(0).max(100),
  /** Lift: fuller, none stays none. Lighten: less of everything. Clear: none. Fill: solid wherever the artwork prints. */
  act: z.enum(PATCH_ACTS),
  /** How much of it, 0..1; `clear` and `fill` with 1 are complete. */
  amount: share,
  /** Whether it counts; one that does not is kept to be compared. */
  on: z.boolean(),
});

/** The most patches of a plate. */
export const MOST_PATCHES = 40;

/**
 * What a plate prints of a layer: some of its flat colours, each with the coverage intended in print (1 is solid), its part of the tones, or a plate of the
 * artwork's file.
 */
export const plateSourceSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('colours'),
    layerId: id,
    colours: z.array(z.strictObject({ colourId: id, tint: share })).max(LIMITS.maxPaletteColours),
  }),
  z.strictObject({
    kind: z.literal('tones'),
    layerId: id,
    /** In the order in which they are made. */
    patches: z.array(patchSchema).max(MOST_PATCHES),
    /** What is added to it of other plates' tones as they are solved, before its patches, or taken away where it is negative; left out: nothing. A plate that is gone counts nothing. */
    shares: z
      .array(z.strictObject({ plateId: id, share: z.number().min(-1).max(1) }))
      .max(LIMITS.maxPlates)
      .optional(),
  }),
  z.strictObject({
    kind: z.literal('channel'),
    layerId: id,
    /** The name of the plate in the file. */
    channel: z.string().min(1).max(127),
    /** In the order in which they are made. */
    patches: z.array(patchSchema).max(MOST_PATCHES),
  }),
]);

export type Artwork = z.infer<typeof artworkSchema>;
export type Adjustment = z.infer<typeof adjustSchema>;
export type FlatColour = z.infer<typeof flatColourSchema>;
export type KeptColour = z.infer<typeof keptColourSchema>;
export type FlatLayer = z.infer<typeof flatLayerSchema>;
/** `draft`: only while a hand drags, its tones are found coarsely and at once; never stored. */
export type FullToneLayer = z.infer<typeof fullToneLayerSchema> & { readonly draft?: true };
export type SuppliedLayer = z.infer<typeof suppliedLayerSchema>;
export type Layer = FlatLayer | FullToneLayer | SuppliedLayer;
/** A share of another plate's tones. */
export interface PlateShare {
  readonly plateId: string;
  /** -1..1 */
  readonly share: number;
}

export type Patch = z.infer<typeof patchSchema>;
export type PlateSource = z.infer<typeof plateSourceSchema>;
