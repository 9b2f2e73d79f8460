/** Twin of core/solving/toneFields.ts; what each value means stands there. */

import { TABLE_SIDE } from './shared';

const SIDE: usize = <usize>TABLE_SIDE;
const STEPS: i32 = TABLE_SIDE - 1;

/** Where a code lies in the table: the entry before it. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function entryOf(code: i32): i32 {
  const entry = (code * STEPS) / 255;
  return entry < STEPS ? entry : STEPS - 1;
}

/** How far behind that entry, in 256ths of a step. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function behind(code: i32, entry: i32): i32 {
  return ((code * STEPS - entry * 255) * 512 + 255) / 510;
}

/** Eight tones between four corners of the table. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function between(
  first: usize,
  second: usize,
  third: usize,
  last: usize,
  ofFirst: i32,
  ofSecond: i32,
  ofThird: i32,
  ofLast: i32,
): v128 {
  const half = i32x4.splat(128);
  const a = v128.load(first);
  const b = v128.load(second);
  const c = v128.load(third);
  const d = v128.load(last);
  const wa = i16x8.splat(<i16>ofFirst);
  const wb = i16x8.splat(<i16>ofSecond);
  const wc = i16x8.splat(<i16>ofThird);
  const wd = i16x8.splat(<i16>ofLast);
  let low = i32x4.add(half, i32x4.extmul_low_i16x8_u(a, wa));
  low = i32x4.add(low, i32x4.extmul_low_i16x8_u(b, wb));
  low = i32x4.add(low, i32x4.extmul_low_i16x8_u(c, wc));
  low = i32x4.add(low, i32x4.extmul_low_i16x8_u(d, wd));
  let high = i32x4.add(half, i32x4.extmul_high_i16x8_u(a, wa));
  high = i32x4.add(high, i32x4.extmul_high_i16x8_u(b, wb));
  high = i32x4.add(high, i32x4.extmul_high_i16x8_u(c, wc));
  high = i32x4.add(high, i32x4.extmul_high_i16x8_u(d, wd));
  return i16x8.narrow_i32x4_u(i32x4.shr_u(low, 8), i32x4.shr_u(high, 8));
}

/** The tones of eight inks for eight pixels as a row for each ink. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function turn(from: usize, to: usize, stride: usize): void {
  const a = v128.load(from);
  const b = v128.load(from, 16);
  const c = v128.load(from, 32);
  const d = v128.load(from, 48);
  const e = v128.load(from, 64);
  const f = v128.load(from, 80);
  const g = v128.load(from, 96);
  const h = v128.load(from, 112);
  const ab = v128.shuffle<u16>(a, b, 0, 8, 1, 9, 2, 10, 3, 11);
  const cd = v128.shuffle<u16>(c, d, 0, 8, 1, 9, 2, 10, 3, 11);
  const ef = v128.shuffle<u16>(e, f, 0, 8, 1, 9, 2, 10, 3, 11);
  const gh = v128.shuffle<u16>(g, h, 0, 8, 1, 9, 2, 10, 3, 11);
  const AB = v128.shuffle<u16>(a, b, 4, 12, 5, 13, 6, 14, 7, 15);
  const CD = v128.shuffle<u16>(c, d, 4, 12, 5, 13, 6, 14, 7, 15);
  const EF = v128.shuffle<u16>(e, f, 4, 12, 5, 13, 6, 14, 7, 15);
  const GH = v128.shuffle<u16>(g, h, 4, 12, 5, 13, 6, 14, 7, 15);
  const p = v128.shuffle<u32>(ab, cd, 0, 4, 1, 5);
  const q = v128.shuffle<u32>(ef, gh, 0, 4, 1, 5);
  const r = v128.shuffle<u32>(ab, cd, 2, 6, 3, 7);
  const s = v128.shuffle<u32>(ef, gh, 2, 6, 3, 7);
  const P = v128.shuffle<u32>(AB, CD, 0, 4, 1, 5);
  const Q = v128.shuffle<u32>(EF, GH, 0, 4, 1, 5);
  const R = v128.shuffle<u32>(AB, CD, 2, 6, 3, 7);
  const S = v128.shuffle<u32>(EF, GH, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<u64>(p, q, 0, 2));
  v128.store(to + stride, v128.shuffle<u64>(p, q, 1, 3));
  v128.store(to + 2 * stride, v128.shuffle<u64>(r, s, 0, 2));
  v128.store(to + 3 * stride, v128.shuffle<u64>(r, s, 1, 3));
  v128.store(to + 4 * stride, v128.shuffle<u64>(P, Q, 0, 2));
  v128.store(to + 5 * stride, v128.shuffle<u64>(P, Q, 1, 3));
  v128.store(to + 6 * stride, v128.shuffle<u64>(R, S, 0, 2));
  v128.store(to + 7 * stride, v128.shuffle<u64>(R, S, 1, 3));
}

/**
 * @param entries lanes of the table, eight or sixteen tones for each of its colours.
 * @param wanted 0 for pixels that print nothing; a multiple of eight pixels, as `colours`.
 * @param line room for eight pixels of eight tones.
 * @param planes eight, or sixteen, one behind the other, `planeBytes` from each to the next.
 */
export function toneFields(
  entries: usize,
  lanes: i32,
  colours: usize,
  wanted: usize,
  count: i32,
  line: usize,
  planes: usize,
  planeBytes: usize,
): void {
  const blue = (<usize>lanes) << 1;
  const green = SIDE * blue;
  const red = SIDE * green;
  for (let part: usize = 0; part < blue; part += 16) {
    const table = entries + part;
    const to = planes + (part >> 1) * planeBytes;
    let known: i32 = -1;
    let tones = i64x2.splat(0);
    for (let x: i32 = 0; x < count; x += 8) {
      for (let k: i32 = 0; k < 8; k++) {
        const at = <usize>(x + k);
        const colour = <i32>(load<u32>(colours + (at << 2)) & 0xffffff);
        if (colour !== known) {
          known = colour;
          const r = colour & 255;
          const g = (colour >> 8) & 255;
          const b = colour >> 16;
          const rEntry = entryOf(r);
          const gEntry = entryOf(g);
          const bEntry = entryOf(b);
          const rPart = behind(r, rEntry);
          const gPart = behind(g, gEntry);
          const bPart = behind(b, bEntry);
          const first = table + <usize>rEntry * red + <usize>gEntry * green + <usize>bEntry * blue;
          const last = first + red + green + blue;
          let second = first + blue;
          let third = second;
          let most = bPart;
          let least = bPart;
          if (rPart >= gPart && rPart >= bPart) {
            second = first + red;
            most = rPart;
          } else if (gPart >= bPart) {
            second = first + green;
            most = gPart;
          }
          if (bPart <= rPart && bPart <= gPart) third = first + red + green;
          else if (gPart <= rPart) {
            third = first + red + blue;
            least = gPart;
          } else {
            third = first + green + blue;
            least = rPart;
          }
          const middle = rPart + gPart + bPart - most - least;
          tones = between(first, second, third, last, 256 - most, most - middle, middle - least, least);
        }
        v128.store(line + ((<usize>k) << 4), load<u8>(wanted + at) === 0 ? i64x2.splat(0) : tones);
      }
      turn(line, to + ((<usize>x) << 1), planeBytes);
    }
  }
}
