import type { Texture } from '../sheet';
import { PICTURE_SIDE, pictureOf } from './pictureTiles';
import { OWN_TEXTURES, TILE_SIDE, grainOf } from './ownTextures';

/** A periodic picture of wear: what is lowest wears first. */
export interface TextureTile {
  readonly side: number;
  /** Height of what it shows over its width. */
  readonly aspect: number;
  /** How far its corner lies before the middle of its first value, in values. */
  readonly corner: number;
  /** `side` * `side` values, 0 up to 65535. */
  readonly values: Uint16Array;
  /** Below this value lies a share of the tile, 0..1. */
  limitOf(share: number): number;
}

/** Of values that are ranks, all equally frequent. */
const limitOfRanks = (share: number): number => share * 65536;

type TileSetting = Pick<Texture, 'kind' | 'contrast' | 'picture'>;

/** Which part of what decides the order of wear is grain, where there is no contrast at all. */
const MOST_GRAIN = 0.6;
const SEED = 20_260_301;

/** Makes the tile of a texture, or a smaller one of the same wear: up to a second's work for a whole one, so ask `tileOf`. */
export function makeTile({ kind, contrast, picture }: TileSetting, side = TILE_SIDE): TextureTile {
  if (kind === 'picture') return pictureTile(picture!, contrast);
  const own = keptIn(`${kind} ${side}`, () => rank(OWN_TEXTURES[kind](side, SEED).values));
  const grain = (1 - contrast) * MOST_GRAIN;
  if (grain === 0) return { side, aspect: 1, corner: 0, values: own, limitOf: limitOfRanks };
  const grains = keptIn(`grain ${side}`, () => rank(grainOf(side, SEED).values));
  const values = rank(Float32Array.from(own, (each, k) => each * (1 - grain) + grains[k]! * grain));
  return { side, aspect: 1, corner: 0, values, limitOf: limitOfRanks };
}

/** Grain between equal values of a picture, in steps of 255: so that of a plain area any share can be worn. */
const LEAST_GRAIN = 0.5;

/**
 * A picture with its mirror images beside it and below it: so it goes on at its borders. Dark wears first, or light. Its values are its tones and not their ranks: between
 * two samples a hole then ends where the picture has its edge.
 */
function pictureTile(
  { sha256, aspect, light }: NonNullable<TileSetting['picture']>,
  contrast: number,
): TextureTile {
  const half = PICTURE_SIDE;
  const side = 2 * half;
  const grey = pictureOf(sha256);
  const grain = Math.max(LEAST_GRAIN / 255, (1 - contrast) * MOST_GRAIN);
  const grains = keptIn(`grain ${half}`, () => rank(grainOf(half, SEED).values));
  const quarter = Uint16Array.from(grey, (value, k) => {
    const tone = (light ? 255 - value : value) / 255;
    return Math.round((tone * (1 - grain) + (grains[k]! / 65535) * grain) * 65535);
  });
  const values = new Uint16Array(side * side);
  for (let y = 0; y < side; y++) {
    const from = (y < half ? y : side - 1 - y) * half;
    for (let x = 0; x < side; x++) values[y * side + x] = quarter[from + (x < half ? x : side - 1 - x)]!;
  }
  const counts = new Uint32Array(65536);
  for (const value of quarter) counts[value]!++;
  const limitOf = (share: number): number => {
    let below = 0;
    for (let value = 0; value < 65536; value++) {
      if (below >= share * quarter.length) {
        // Of a gap between values the middle: edges between plain areas stay where they are.
        const next = counts.findIndex((count, k) => k >= value && count > 0);
        return next < 0 ? value : (value + next) / 2;
      }
      below += counts[value]!;
    }
    return 65536;
  };
  return { side, aspect, corner: 0.5, values, limitOf };
}

/** Steps in which values are told apart before they are ranked. */
const STEPS = 1 << 18;

/** Each value as its place in the order of all, 0..65535; equal ones share the middle of theirs. */
function rank(values: Float32Array): Uint16Array {
  let [least, most] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  const scale = (STEPS - 1) / (most - least || 1);
  const counts = new Float64Array(STEPS);
  for (const value of values) counts[((value - least) * scale) | 0]!++;
  let before = 0;
  const place = counts.map((count) => {
    const middle = before + count / 2;
    before += count;
    return Math.min(65535, Math.floor((middle / values.length) * 65536));
  });
  const out = new Uint16Array(values.length);
  for (let k = 0; k < values.length; k++) out[k] = place[((values[k]! - least) * scale) | 0]!;
  return out;
}

/** What was made last: 2 MB each. */
const kept = new Map<string, Uint16Array>();
const MOST_KEPT = 6;

function keptIn(key: string, make: () => Uint16Array): Uint16Array {
  const value = kept.get(key) ?? make();
  kept.delete(key);
  kept.set(key, value);
  const [oldest] = kept.keys();
  if (kept.size > MOST_KEPT) kept.delete(oldest!);
  return value;
}

let last: { readonly key: string; readonly tile: TextureTile } | null = null;

/** The tile of a texture; asked again for the same, it is the same one. */
export function tileOf({ kind, contrast, picture }: TileSetting): TextureTile {
  const key = JSON.stringify([kind, contrast, picture?.sha256, picture?.aspect, picture?.light]);
  if (last?.key !== key) last = { key, tile: makeTile({ kind, contrast, picture }) };
  return last.tile;
}
