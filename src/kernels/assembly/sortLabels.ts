/** Twin of core/raster/sortLabels.ts where labels come in mixtures. */

const LEAST_TONE: i32 = 128;
// The tables, one behind the other.
const DARK: usize = 256;
const TINT: usize = 512;
const STRENGTH: usize = 1024;

let planes: usize = 0;

// @ts-expect-error: decorators are AssemblyScript's
@inline
function rounded(value: f64): i32 {
  return <i32>Math.floor(value + 0.5);
}

function addTone(index: i32, i: usize, tone: i32): bool {
  if (index < 0) return false;
  const shape: usize = <usize>load<u32>(planes + ((<usize>index) << 3)) + i;
  const plane: usize = <usize>load<u32>(planes + ((<usize>index) << 3), 4) + (i << 1);
  const sum = min<i32>(65535, (load<u8>(shape) == 0 ? 0 : <i32>load<u16>(plane)) + tone);
  if (sum < LEAST_TONE) return false;
  store<u8>(shape, 255);
  store<u16>(plane, <u16>sum);
  return true;
}

/**
 * @param tables plateOf (i8) and darkOf (u8), then tintOf and strengthOf (u16), 256 of each.
 * @param planesAt for each plate the addresses of its shape and its tone, the latter 0 where it has none.
 */
export function sortLabels(
  first: usize,
  second: usize,
  share: usize,
  count: i32,
  tables: usize,
  planesAt: usize,
  bare: usize,
  based: usize,
  dark: usize,
  baseStrength: usize,
): void {
  planes = planesAt;
  for (let k: i32 = 0; k < count; k++) {
    const i = <usize>k;
    const part = <i32>load<u16>(share + (i << 1));
    const label = <usize>load<u8>(first + i);
    const index = <i32>load<i8>(tables + label);
    const tint = <i32>load<u16>(tables + TINT + (label << 1));
    const strength = <i32>load<u16>(tables + STRENGTH + (label << 1));
    let wanted = strength;
    if (part == 65535) {
      if (index < 0) {
        store<u8>(bare + i, 255);
        continue;
      }
      store<u8>(<usize>load<u32>(planes + ((<usize>index) << 3)) + i, 255);
      const plane = <usize>load<u32>(planes + ((<usize>index) << 3), 4);
      if (plane != 0) store<u16>(plane + (i << 1), <u16>tint);
    } else {
      const other = <usize>load<u8>(second + i);
      const otherIndex = <i32>load<i8>(tables + other);
      const otherTint = <i32>load<u16>(tables + TINT + (other << 1));
      const one = addTone(index, i, rounded(<f64>(<i64>tint * part) / 65535));
      const two = addTone(otherIndex, i, rounded(<f64>(<i64>otherTint * (65535 - part)) / 65535));
      if (!one && !two) store<u8>(bare + i, 255);
      // As the plain twin's fadingBase.
      const otherStrength = <i32>load<u16>(tables + STRENGTH + (other << 1));
      const s = <f64>part / 65535;
      if (strength > 0 && otherStrength > 0) {
        wanted = rounded(s * <f64>strength + (1 - s) * <f64>otherStrength);
      } else {
        wanted = rounded(strength > 0 ? s * s * <f64>strength : (1 - s) * (1 - s) * <f64>otherStrength);
      }
    }
    store<u16>(baseStrength + (i << 1), <u16>wanted);
    if (wanted > 0) store<u8>(based + i, 255);
    else if (load<u8>(tables + DARK + label) != 0) store<u8>(dark + i, 255);
  }
}
