/**
 * Twin of expandRow in core/raster/expansion.ts for bytes where every pixel is its nearest one: sixteen device pixels at a time pick
 * theirs out of the sixteen from `bases` on. `picks` has sixteen entries for each time.
 */
export function spreadBytes(row: usize, bases: usize, picks: usize, times: i32, out: usize): void {
  for (let k: i32 = 0; k < times; k++) {
    const pixels = v128.load(row + <usize>load<i32>(bases + ((<usize>k) << 2)));
    v128.store(out + ((<usize>k) << 4), v128.swizzle(pixels, v128.load(picks + ((<usize>k) << 4))));
  }
}

/** The same for words, eight at a time. `bases` counts words, `picks` bytes. */
export function spreadWords(row: usize, bases: usize, picks: usize, times: i32, out: usize): void {
  for (let k: i32 = 0; k < times; k++) {
    const pixels = v128.load(row + ((<usize>load<i32>(bases + ((<usize>k) << 2))) << 1));
    v128.store(out + ((<usize>k) << 4), v128.swizzle(pixels, v128.load(picks + ((<usize>k) << 4))));
  }
}

/** `spreadWords` where pixels are interpolated: `parts` (0..255) of the next pixel. */
export function blendWords(
  row: usize,
  bases: usize,
  picks: usize,
  parts: usize,
  times: i32,
  out: usize,
): void {
  const two = v128.splat<i8>(2);
  for (let k: i32 = 0; k < times; k++) {
    const at: usize = (<usize>k) << 4;
    const pixels = v128.load(row + ((<usize>load<i32>(bases + ((<usize>k) << 2))) << 1));
    const pick = v128.load(picks + at);
    const a = v128.swizzle(pixels, pick);
    const b = v128.swizzle(pixels, v128.add<i8>(pick, two));
    v128.store(out + at, between(a, b, v128.shl<i16>(v128.load(parts + at), 7)));
  }
}

/** `blendWords` one at a time, for rows finer than the print: \`from\` and \`parts\` for each of \`count\` places. */
export function blendEach(row: usize, from: usize, parts: usize, count: i32, out: usize): void {
  for (let k: i32 = 0; k < count; k++) {
    const at = <usize>k;
    const pixel = row + ((<usize>load<i32>(from + (at << 2))) << 1);
    const a = <i32>load<u16>(pixel);
    const b = <i32>load<u16>(pixel, 2);
    store<u16>(out + (at << 1), <u16>(a + (((b - a) * <i32>load<u16>(parts + (at << 1)) + 128) >> 8)));
  }
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function blend(a: v128, b: v128, part: v128): v128 {
  const way = v128.mul<i32>(v128.sub<i32>(b, a), part);
  return v128.add<i32>(a, v128.shr<i32>(v128.add<i32>(way, v128.splat<i32>(128)), 8));
}

/** From a to b, eight words: `parts` are 128ths of 256ths, 0..32640. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
export function between(a: v128, b: v128, parts: v128): v128 {
  const apart = v128.sub<i16>(v128.max<u16>(a, b), v128.min<u16>(a, b));
  if (v128.bitmask<i16>(apart) == 0) {
    return v128.add<i16>(a, i16x8.q15mulr_sat_s(v128.sub<i16>(b, a), parts));
  }
  // Half of the whole range from one to the next, or more, does not fit a signed word.
  const part = v128.shr<u16>(parts, 7);
  const low = blend(v128.extend_low<u16>(a), v128.extend_low<u16>(b), v128.extend_low<u16>(part));
  const high = blend(v128.extend_high<u16>(a), v128.extend_high<u16>(b), v128.extend_high<u16>(part));
  return v128.narrow<u32>(low, high);
}

/** Parts (0..255) as `between` takes them. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
export function partsOf(part: i32): v128 {
  return v128.splat<i16>(<i16>(part << 7));
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
export function tonesAt(above: usize, below: usize, parts: v128): v128 {
  return between(v128.load(above), v128.load(below), parts);
}
