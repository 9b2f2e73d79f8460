// @ts-expect-error: decorators are AssemblyScript's
@inline
function reversed(bits: i32): i32 {
  let b = ((bits & 0xf0) >> 4) | ((bits & 0x0f) << 4);
  b = ((b & 0xcc) >> 2) | ((b & 0x33) << 2);
  return ((b & 0xaa) >> 1) | ((b & 0x55) << 1);
}

/**
 * Twin of core/screening/screenStrip.ts for one row. `thresholds` stands at the row's first position and holds
 * `width` values; `tone` 0 means solid.
 */
export function screenStrip(shape: usize, tone: usize, thresholds: usize, width: i32, out: usize): void {
  const zero = v128.splat<i8>(0);
  for (let x: i32 = 0; x < width; x += 8) {
    const eight = load<u64>(shape + <usize>x);
    if (eight == 0) {
      store<u8>(out + ((<usize>x) >> 3), 0);
      continue;
    }
    const inside = ~v128.bitmask<i8>(v128.eq<i8>(v128.load64_zero(shape + <usize>x), zero)) & 255;
    let bits: i32 = inside;
    if (tone != 0) {
      const at: usize = (<usize>x) << 1;
      bits &= v128.bitmask<i16>(v128.ge<u16>(v128.load(tone + at), v128.load(thresholds + at)));
    }
    store<u8>(out + ((<usize>x) >> 3), <u8>reversed(bits));
  }
}
