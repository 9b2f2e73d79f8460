import { BARE, KNOWN_BITS, MIXED } from './codes';

/** How many answers are kept. */
export const KNOWN_COUNT = 1 << KNOWN_BITS;

/** Where the answer for a colour stands, if it is known. A colour's red is its lowest byte. */
export function knownPlace(colour: number): number {
  return Math.imul(colour, 0x9e3779b1) >>> (32 - KNOWN_BITS);
}

/** Answers by colour, KNOWN_COUNT of them at most; each place holds that for one colour at a time. */
export interface KnownColours {
  /** Whose answer stands at a place; -1 for none. */
  readonly colours: Int32Array;
  /** Works a colour's answer out and puts it in its place. */
  learn(colour: number): void;
}

/** The palette colour that a colour is, or MIXED. */
export interface KnownLabels extends KnownColours {
  readonly labels: Uint8Array;
}

/** What a colour is made of: `shares` (0..65535) of `first` and `rests` of `second`; in a transition they may sum to more than 65535. */
export interface KnownMixtures extends KnownColours {
  readonly first: Uint8Array;
  readonly second: Uint8Array;
  readonly shares: Uint16Array;
  readonly rests: Uint16Array;
}

export interface NameArguments {
  /** Red lowest, alpha highest. */
  readonly pixels: Uint32Array;
  /** Alpha up to which a pixel is empty, and from which it is opaque; between it is MIXED. */
  readonly empty: number;
  readonly opaque: number;
  readonly known: KnownLabels;
  /** Gets one label for each pixel. */
  readonly label: Uint8Array;
}

/** Names every pixel of a plane. Returns how many are MIXED. */
export function namePixels({ pixels, empty, opaque, known, label }: NameArguments): number {
  let mixed = 0;
  for (let i = 0; i < pixels.length;) {
    // Flat artwork comes in runs of one colour.
    const pixel = pixels[i]!;
    let end = i + 1;
    while (end < pixels.length && pixels[end] === pixel) end++;
    const alpha = pixel >>> 24;
    let named = alpha <= empty ? BARE : MIXED;
    if (alpha >= opaque) {
      const colour = pixel & 0xffffff;
      const place = knownPlace(colour);
      if (known.colours[place] !== colour) known.learn(colour);
      named = known.labels[place]!;
    }
    label.fill(named, i, end);
    if (named === MIXED) mixed += end - i;
    i = end;
  }
  return mixed;
}

export interface MixArguments {
  readonly pixels: Uint32Array;
  readonly label: Uint8Array;
  /** From this alpha on a pixel's colour is all that counts. */
  readonly opaque: number;
  /** 1 where any colours may explain a pixel. */
  readonly tone: Uint8Array;
  /** Whether pixels with tone 0 are left to the caller. */
  readonly leaveEdges: boolean;
  readonly known: KnownMixtures;
  /** Gets the MIXED pixels, in ascending order; as long as there are. */
  readonly mixed: Int32Array;
  /** For each pixel of the plane: gets the index of those that are MIXED. */
  readonly mixAt: Int32Array;
  /** Three for each mixed pixel, given as BARE and 0; those of the two colours are written. */
  readonly mixLabels: Uint8Array;
  readonly mixShares: Uint16Array;
  /** Gets the indexes of the mixtures that are left to the caller; as long as `mixed`. */
  readonly left: Int32Array;
}

/** Explains the mixed pixels of a plane whose colour is all that counts. Returns how many are left. */
export function mixPixels(args: MixArguments): number {
  const { pixels, label, opaque, tone, leaveEdges, known, mixed, mixAt, mixLabels, mixShares, left } = args;
  let count = 0;
  let rest = 0;
  for (let i = label.indexOf(MIXED); i >= 0; i = label.indexOf(MIXED, i + 1)) {
    const k = count++;
    mixed[k] = i;
    mixAt[i] = k;
    const pixel = pixels[i]!;
    if (pixel >>> 24 < opaque || (leaveEdges && tone[i] === 0)) {
      left[rest++] = k;
      continue;
    }
    const colour = pixel & 0xffffff;
    const place = knownPlace(colour);
    if (known.colours[place] !== colour) known.learn(colour);
    mixLabels[k * 3] = known.first[place]!;
    mixShares[k * 3] = known.shares[place]!;
    mixLabels[k * 3 + 1] = known.second[place]!;
    mixShares[k * 3 + 1] = known.rests[place]!;
  }
  return rest;
}
