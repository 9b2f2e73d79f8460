/** Twin of core/raster/layTones.ts, a row at a time. */
import { partsOf, tonesAt } from './expandRows';

import { LEAST_TONE, MOSTLY, TONED } from './shared';

/** 255 where the sixteen labels from `x` on are TONED and inside the row. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function tonedAt(label: usize, x: i32, width: i32): v128 {
  const toned = v128.eq<i8>(v128.load(label + <usize>x), v128.splat<u8>(<u8>TONED));
  if (width - x >= 16) return toned;
  const places = v128(0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15);
  return v128.and(toned, v128.lt<i8>(places, v128.splat<i8>(<i8>(width - x))));
}

/** Nothing prints where the row is TONED, until something does. */
export function layBare(label: usize, width: i32, bare: usize): void {
  for (let x: i32 = 0; x < width; x += 16) {
    const at = bare + <usize>x;
    v128.store(at, v128.or(v128.load(at), tonedAt(label, x, width)));
  }
}

/**
 * @param shape 0 where only `bare` is made.
 * @param above tones of the plate in the row's columns, `below` those of the next row of the artwork; sixteen can be read at the last place,
 * as in all rows.
 * @param part 0..255 of `below`.
 */
export function layTone(
  label: usize,
  above: usize,
  below: usize,
  part: i32,
  width: i32,
  shape: usize,
  tone: usize,
  bare: usize,
): void {
  const parts = partsOf(part);
  const least = v128.splat<i16>(<i16>LEAST_TONE);
  for (let x: i32 = 0; x < width; x += 16) {
    const toned = tonedAt(label, x, width);
    if (!v128.any_true(toned)) continue;
    const at: usize = (<usize>x) << 1;
    const low = tonesAt(above + at, below + at, parts);
    const high = tonesAt(above + at + 16, below + at + 16, parts);
    const onLow = v128.and(v128.ge<u16>(low, least), v128.extend_low<i8>(toned));
    const onHigh = v128.and(v128.ge<u16>(high, least), v128.extend_high<i8>(toned));
    const on = v128.narrow<i16>(onLow, onHigh);
    if (!v128.any_true(on)) continue;
    const here = <usize>x;
    v128.store(bare + here, v128.andnot(v128.load(bare + here), on));
    if (shape == 0) continue;
    v128.store(shape + here, v128.or(v128.load(shape + here), on));
    v128.store(tone + at, v128.bitselect(low, v128.load(tone + at), onLow));
    v128.store(tone + at + 16, v128.bitselect(high, v128.load(tone + at + 16), onHigh));
  }
}

/** The base that is wanted, and where dark inks without base are what is seen. */
export function layBase(
  label: usize,
  above: usize,
  below: usize,
  darkAbove: usize,
  darkBelow: usize,
  part: i32,
  width: i32,
  based: usize,
  dark: usize,
  strength: usize,
): void {
  const parts = partsOf(part);
  const least = v128.splat<i16>(<i16>LEAST_TONE);
  const mostly = v128.splat<i16>(<i16>MOSTLY);
  for (let x: i32 = 0; x < width; x += 16) {
    const toned = tonedAt(label, x, width);
    if (!v128.any_true(toned)) continue;
    const at: usize = (<usize>x) << 1;
    const here = <usize>x;
    const low = tonesAt(above + at, below + at, parts);
    const high = tonesAt(above + at + 16, below + at + 16, parts);
    const onLow = v128.and(v128.ge<u16>(low, least), v128.extend_low<i8>(toned));
    const onHigh = v128.and(v128.ge<u16>(high, least), v128.extend_high<i8>(toned));
    const on = v128.narrow<i16>(onLow, onHigh);
    v128.store(based + here, v128.or(v128.load(based + here), on));
    v128.store(strength + at, v128.bitselect(low, v128.load(strength + at), onLow));
    v128.store(strength + at + 16, v128.bitselect(high, v128.load(strength + at + 16), onHigh));
    const darkness = v128.narrow<i16>(
      v128.ge<u16>(tonesAt(darkAbove + at, darkBelow + at, parts), mostly),
      v128.ge<u16>(tonesAt(darkAbove + at + 16, darkBelow + at + 16, parts), mostly),
    );
    v128.store(
      dark + here,
      v128.or(v128.load(dark + here), v128.andnot(v128.and(toned, darkness), on)),
    );
  }
}
