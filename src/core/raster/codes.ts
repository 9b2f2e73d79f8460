/* Values that the kernels share with the core. Their build writes them into `src/kernels/assembly/shared.ts`: each is a line of its own, a plain number. */

/** Label of a place whose plates take their tones from the artwork's pixels round it. */
export const TONED = 253;
/** Label of a place without ink that no palette colour claims: transparent, or outside the artwork. */
export const BARE = 254;
/** Label of a pixel that is no single colour. */
export const MIXED = 255;

/** A tone below this prints nothing that anybody could see or hold. */
export const LEAST_TONE = 128;
/** From this share on a dark ink is what is seen of a place. */
export const MOSTLY = 32768;

/** Binary digits of the number of answers that are kept by colour: pictures that are all transitions have tens of thousands of colours. */
export const KNOWN_BITS = 16;

/** What is known of an artwork's pixel. Something prints on it. */
export const INKED = 1;
/** So little that a place near it may be bare. */
export const THIN = 2;
/** Dark ink without base prints. */
export const DARK = 4;
/** So little base is wanted that a place near it may have none. */
export const UNBASED = 8;
/** The highlight prints. */
export const LIT = 16;
/** The highlight does not, or hardly. */
export const UNLIT = 32;
/** Less prints than all that can. */
export const PARTLY = 64;
