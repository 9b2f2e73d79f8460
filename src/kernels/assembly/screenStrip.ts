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

/** As `screenStrip` for plates that divide each cell; `taken` is read and advanced. */
export function screenStack(
  shape: usize,
  tone: usize,
  taken: usize,
  thresholds: usize,
  width: i32,
  out: usize,
): void {
  const zero = v128.splat<i8>(0);
  const full = v128.splat<i16>(-1);
  for (let x: i32 = 0; x < width; x += 8) {
    let bits: i32 = 0;
    if (load<u64>(shape + <usize>x) != 0) {
      const at: usize = (<usize>x) << 1;
      const outside = v128.eq<i8>(v128.load64_zero(shape + <usize>x), zero);
      const own = v128.andnot(v128.load(tone + at), v128.extend_low<i8>(outside));
      const start = v128.load(taken + at);
      const steps = v128.load(thresholds + at);
      // Up to the last threshold, and how far beyond it.
      const end = v128.add_sat<u16>(start, own);
      const beyond = v128.sub_sat<u16>(start, v128.not(own));
      const inked = v128.or(
        v128.andnot(v128.ge<u16>(end, steps), v128.ge<u16>(start, steps)),
        v128.ge<u16>(beyond, steps),
      );
      bits = v128.bitmask<i16>(inked);
      v128.store(taken + at, v128.bitselect(beyond, end, v128.eq<i16>(end, full)));
    }
    store<u8>(out + ((<usize>x) >> 3), <u8>reversed(bits));
  }
}
