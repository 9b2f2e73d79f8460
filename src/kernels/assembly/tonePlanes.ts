/** Twin of core/raster/tonePlanes.ts; what each value means stands there. */

const MIXED: i32 = 255;
const LEAST_TONE: i32 = 128;
// The tables, one behind the other.
const DARK_OF: usize = 256;
const TINT_OF: usize = 512;
const STRENGTH_OF: usize = 1024;

// @ts-expect-error: decorators are AssemblyScript's
@inline
function rounded(value: f64): i32 {
  return <i32>Math.floor(value + 0.5);
}

/**
 * @param tables plateOf (i8) and darkOf (u8), then tintOf and strengthOf (u16), 256 of each.
 * @param planes one behind the other, `planeBytes` from each to the next; given as 0.
 * @param pixels labels of the pixels, `mixAt` theirs.
 */
export function tonePlanes(
  pixels: usize,
  mixAt: usize,
  mixLabels: usize,
  mixShares: usize,
  tables: usize,
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
      let weighted: f64 = 0;
      let based: i32 = 0;
      const k = load<i32>(mixAt + (at << 1)) * 3;
      for (let each = k; each < k + 3; each++) {
        const share = <i32>load<u16>(mixShares + ((<usize>each) << 1));
        if (share == 0) continue;
        const own = <usize>load<u8>(mixLabels + <usize>each);
        const plate = <i32>load<i8>(tables + own);
        if (plate < 0) continue;
        const tint = <i32>load<u16>(tables + TINT_OF + (own << 1));
        const tone = tint == 65535 ? share : rounded(<f64>(<i64>tint * share) / 65535);
        const plane = planes + <usize>(plate * planeBytes) + at;
        store<u16>(plane, <u16>min<i32>(65535, <i32>load<u16>(plane) + tone));
        seen |= 1 << plate;
        printed += tone;
        if (plate == highlight) lit += tone;
        const wanted = <i32>load<u16>(tables + STRENGTH_OF + (own << 1));
        if (wanted > 0) {
          weighted += <f64>(<i64>share * wanted);
          based += share;
        }
        if (load<u8>(tables + DARK_OF + own) != 0) darkness += share;
      }
      if (weighted > 0) {
        strength = rounded((weighted / 65535) * (<f64>min<i32>(65535, based) / 65535));
      }
      darkness = min<i32>(65535, darkness);
    } else {
      const own = <usize>label;
      const plate = <i32>load<i8>(tables + own);
      if (plate >= 0) {
        printed = <i32>load<u16>(tables + TINT_OF + (own << 1));
        store<u16>(planes + <usize>(plate * planeBytes) + at, <u16>printed);
        if (plate == highlight) lit = printed;
        strength = <i32>load<u16>(tables + STRENGTH_OF + (own << 1));
        darkness = load<u8>(tables + DARK_OF + own) == 0 ? 0 : 65535;
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
      (i32(lit < LEAST_TONE) << 5);
    store<u8>(about + <usize>x, <u8>flags);
  }
  return seen;
}

/**
 * A row of tones, each times its weight.
 *
 * @param found one byte: gets 1 where any of them is 0, 2 where any is neither 0 nor 65535, 4 where any is 65535, each where its weight is not 0.
 */
export function weighRow(row: usize, weights: usize, count: i32, found: usize): f64 {
  let sum: i64 = 0;
  let bits: i32 = 0;
  for (let k: i32 = 0; k < count; k++) {
    const weight = load<i32>(weights + ((<usize>k) << 2));
    if (weight == 0) continue;
    const tone = <i32>load<u16>(row + ((<usize>k) << 1));
    sum += <i64>weight * tone;
    bits |= tone == 0 ? 1 : tone == 65535 ? 4 : 2;
  }
  store<u8>(found, <u8>bits);
  return <f64>sum;
}
