import type { Texture } from '../sheet';
import { OWN_TEXTURES, TILE_SIDE, grainOf } from './ownTextures';

/** A periodic picture of wear: `side` * `side` ranks, 0 up to 65535, all equally frequent. What is lowest wears first, so below the rank s * 65536 lies the share s. */
export interface TextureTile {
  readonly side: number;
  readonly ranks: Uint16Array;
}

type TileSetting = Pick<Texture, 'kind' | 'contrast'>;

/** Which part of what decides the order of wear is grain, where there is no contrast at all. */
const MOST_GRAIN = 0.6;
const SEED = 20_260_301;

/** Makes the tile of a texture, or a smaller one of the same wear: up to a second's work for a whole one, so ask `tileOf`. */
export function makeTile({ kind, contrast }: TileSetting, side = TILE_SIDE): TextureTile {
  const own = keptIn(`${kind} ${side}`, () => rank(OWN_TEXTURES[kind](side, SEED).values));
  const grain = (1 - contrast) * MOST_GRAIN;
  if (grain === 0) return { side, ranks: own };
  const grains = keptIn(`grain ${side}`, () => rank(grainOf(side, SEED).values));
  return { side, ranks: rank(Float32Array.from(own, (each, k) => each * (1 - grain) + grains[k]! * grain)) };
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
export function tileOf({ kind, contrast }: TileSetting): TextureTile {
  const key = `${kind} ${contrast}`;
  if (last?.key !== key) last = { key, tile: makeTile({ kind, contrast }) };
  return last.tile;
}
