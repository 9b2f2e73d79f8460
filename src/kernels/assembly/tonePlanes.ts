/** Twin of core/raster/tonePlanes.ts; what each value means stands there. */

import { INKED, LEAST_TONE, MIXED, UNBASED, UNLIT } from './shared';

const NO_PLATE: i32 = 65535;
// Parts of what stands in the table for each label: tint, strength, what it is, and its plate.
const TINT: u64 = 0xffff;
const STRENGTH: u64 = 16;
const DARK: u64 = 32;
const PLATE: u64 = 48;
// What it is: dark; or in full on a plate like any other, with all of the base or none.
const FULL_BASED: u64 = 2 << 32;
const FULL_UNBASED: u64 = 4 << 32;

/** a * b / 65535, rounded, of two values up to 65535: exact, and never a half. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function shareOf(a: i32, b: i32): i32 {
  const sum: u32 = <u32>a * <u32>b + 32768;
  return <i32>((sum + (sum >> 16)) >> 16);
}

/**
 * @param table for each of 256 labels four words: tintOf, strengthOf, what it is (1 dark, 2 and 4 as above) and plateOf, 65535 for none.
 * @param planes one behind the other, `planeBytes` from each to the next; given as 0.
 * @param pixels labels of the pixels, `mixAt` theirs.
 */
export function tonePlanes(
  pixels: usize,
  mixAt: usize,
  mixLabels: usize,
  mixShares: usize,
  table: usize,
  plates: i32,
  highlight: i32,
  count: i32,
  planes: usize,
  planeBytes: i32,
  about: usize,
): i32 {
  const base = planes + <usize>(plates * planeBytes);
  const dark = base + <usize>planeBytes;
  const enough = (LEAST_TONE + 2) * plates;
  let seen: i32 = 0;
  for (let x: i32 = 0; x < count; x++) {
    const at: usize = (<usize>x) << 1;
    const label = <i32>load<u8>(pixels + <usize>x);
    let printed: i32 = 0;
    let lit: i32 = 0;
    let strength: i32 = 0;
    let darkness: i32 = 0;
    if (label == MIXED) {
      let based: i32 = 0;
      const k = load<i32>(mixAt + (at << 1)) * 3;
      const labels: usize = mixLabels + <usize>k;
      const shares: usize = mixShares + ((<usize>k) << 1);
      const one = load<u64>(table + ((<usize>load<u8>(labels)) << 3));
      const other = load<u64>(table + ((<usize>load<u8>(labels, 1)) << 3));
      const alike = one & other & (FULL_BASED | FULL_UNBASED);
      const share = <i32>load<u16>(shares);
      const rest = <i32>load<u16>(shares, 2);
      if (alike != 0 && share != 0 && rest != 0 && share + rest == 65535) {
        // Most pixels of a transition: two colours that print in full.
        const first = planes + <usize>(<i32>(one >> PLATE) * planeBytes) + at;
        const second = planes + <usize>(<i32>(other >> PLATE) * planeBytes) + at;
        store<u16>(first, <u16>share);
        store<u16>(second, <u16>(first == second ? 65535 : rest));
        seen |= (1 << <i32>(one >> PLATE)) | (1 << <i32>(other >> PLATE));
        let known: i32 = INKED | UNLIT;
        if (alike == FULL_BASED) {
          store<u16>(base + at, 65535);
          seen |= 1 << plates;
        } else known |= UNBASED;
        store<u8>(about + <usize>x, <u8>known);
        continue;
      }
      for (let each = k; each < k + 3; each++) {
        const share = <i32>load<u16>(mixShares + ((<usize>each) << 1));
        if (share == 0) continue;
        const own = load<u64>(table + ((<usize>load<u8>(mixLabels + <usize>each)) << 3));
        const plate = <i32>(own >> PLATE);
        if (plate == NO_PLATE) continue;
        const tint = <i32>(own & TINT);
        const tone = shareOf(tint, share);
        const plane = planes + <usize>(plate * planeBytes) + at;
        store<u16>(plane, <u16>min<i32>(65535, <i32>load<u16>(plane) + tone));
        seen |= 1 << plate;
        printed += tone;
        if (plate == highlight) lit += tone;
        const wanted = <i32>((own >> STRENGTH) & 0xffff);
        if (wanted > 0) {
          strength += shareOf(share, wanted);
          based += share;
        }
        if (((own >> DARK) & 1) != 0) darkness += share;
      }
      if (strength > 0) strength = shareOf(min<i32>(65535, strength), min<i32>(65535, based));
      darkness = min<i32>(65535, darkness);
    } else {
      const own = load<u64>(table + ((<usize>label) << 3));
      const plate = <i32>(own >> PLATE);
      if (plate != NO_PLATE) {
        printed = <i32>(own & TINT);
        store<u16>(planes + <usize>(plate * planeBytes) + at, <u16>printed);
        if (plate == highlight) lit = printed;
        strength = <i32>((own >> STRENGTH) & 0xffff);
        darkness = ((own >> DARK) & 1) == 0 ? 0 : 65535;
        seen |= 1 << plate;
      }
    }
    if (strength > 0) {
      store<u16>(base + at, <u16>strength);
      seen |= 1 << plates;
    }
    if (darkness > 0) {
      store<u16>(dark + at, <u16>darkness);
      seen |= 2 << plates;
    }
    const flags =
      i32(printed > 0) |
      (i32(printed < enough) << 1) |
      (i32(darkness > 0) << 2) |
      (i32(strength < LEAST_TONE) << 3) |
      (i32(lit > 0) << 4) |
      (i32(lit < LEAST_TONE) << 5) |
      (i32(printed < 65535) << 6);
    store<u8>(about + <usize>x, <u8>flags);
  }
  return seen;
}

/**
 * A row of tones, each times its weight; eight at a time, what stands behind them must have a weight of 0.
 *
 * @param found one byte: gets 1 where any of them is 0, 2 where any prints as dots, 4 where any is 65535, 8 where any is too little to print, each
 *   where its weight is not 0.
 */
export function weighRow(row: usize, weights: usize, count: i32, found: usize): f64 {
  const none = v128.splat<i16>(0);
  const full = v128.splat<i16>(-1);
  let sum = v128.splat<i64>(0);
  let blank = none;
  let between = none;
  let solid = none;
  let faint = none;
  const least = v128.splat<i16>(<i16>LEAST_TONE);
  for (let k: i32 = 0; k < count; k += 8) {
    const tones = v128.load(row + ((<usize>k) << 1));
    const at: usize = weights + ((<usize>k) << 2);
    const first = v128.load(at);
    const second = v128.load(at, 16);
    // Weights fit 15 bits.
    const weighed = v128.ne<i16>(v128.narrow<i32>(first, second), none);
    const isNone = v128.eq<i16>(tones, none);
    const isFull = v128.eq<i16>(tones, full);
    blank = v128.or(blank, v128.and(weighed, isNone));
    solid = v128.or(solid, v128.and(weighed, isFull));
    const isFaint = v128.andnot(v128.lt<u16>(tones, least), isNone);
    faint = v128.or(faint, v128.and(weighed, isFaint));
    between = v128.or(between, v128.and(weighed, v128.andnot(v128.ge<u16>(tones, least), isFull)));
    const low = v128.extend_low<u16>(tones);
    const high = v128.extend_high<u16>(tones);
    sum = v128.add<i64>(sum, i64x2.extmul_low_i32x4_u(low, first));
    sum = v128.add<i64>(sum, i64x2.extmul_high_i32x4_u(low, first));
    sum = v128.add<i64>(sum, i64x2.extmul_low_i32x4_u(high, second));
    sum = v128.add<i64>(sum, i64x2.extmul_high_i32x4_u(high, second));
  }
  const bits =
    i32(v128.any_true(blank)) |
    (i32(v128.any_true(between)) << 1) |
    (i32(v128.any_true(solid)) << 2) |
    (i32(v128.any_true(faint)) << 3);
  store<u8>(found, <u8>bits);
  return <f64>(v128.extract_lane<i64>(sum, 0) + v128.extract_lane<i64>(sum, 1));
}
