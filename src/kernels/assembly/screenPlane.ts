/**
 * Twin of expandRow in core/screening/screenPlane.ts for bytes where every pixel is its nearest one: sixteen device pixels at a time pick
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

/** `spreadWords` where pixels are interpolated: `parts` (0..256) of the next pixel. */
export function blendWords(
  row: usize,
  bases: usize,
  picks: usize,
  parts: usize,
  times: i32,
  out: usize,
): void {
  const half = v128.splat<i32>(128);
  const two = v128.splat<i8>(2);
  for (let k: i32 = 0; k < times; k++) {
    const at: usize = (<usize>k) << 4;
    const pixels = v128.load(row + ((<usize>load<i32>(bases + ((<usize>k) << 2))) << 1));
    const pick = v128.load(picks + at);
    const a = v128.swizzle(pixels, pick);
    const b = v128.swizzle(pixels, v128.add<i8>(pick, two));
    if (!v128.any_true(v128.xor(a, b))) {
      v128.store(out + at, a);
      continue;
    }
    const part = v128.load(parts + at);
    const low = blend(
      v128.extend_low<u16>(a),
      v128.extend_low<u16>(b),
      v128.extend_low<u16>(part),
      half,
    );
    const high = blend(
      v128.extend_high<u16>(a),
      v128.extend_high<u16>(b),
      v128.extend_high<u16>(part),
      half,
    );
    v128.store(out + at, v128.narrow<u32>(low, high));
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
function blend(a: v128, b: v128, part: v128, half: v128): v128 {
  return v128.add<i32>(
    a,
    v128.shr<i32>(v128.add<i32>(v128.mul<i32>(v128.sub<i32>(b, a), part), half), 8),
  );
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
export function tonesAt(above: usize, below: usize, part: i32, parts: v128, half: v128): v128 {
  const a = v128.load(above);
  if (part == 0) return a;
  const b = v128.load(below);
  if (!v128.any_true(v128.xor(a, b))) return a;
  const low = blend(v128.extend_low<u16>(a), v128.extend_low<u16>(b), parts, half);
  const high = blend(v128.extend_high<u16>(a), v128.extend_high<u16>(b), parts, half);
  return v128.narrow<u32>(low, high);
}

/**
 * Twin of the inner loop of screenPlane: one device row between two rows of expanded tones, 16 pixels at a time.
 * @param width a multiple of 8; sixteen values can be read at the last place, and two bytes be written.
 */
export function screenTones(
  above: usize,
  below: usize,
  part: i32,
  thresholds: usize,
  width: i32,
  out: usize,
): void {
  const parts = v128.splat<i32>(part);
  const half = v128.splat<i32>(128);
  for (let x: i32 = 0; x < width; x += 16) {
    const at: usize = (<usize>x) << 1;
    const first = tonesAt(above + at, below + at, part, parts, half);
    const second = tonesAt(above + at + 16, below + at + 16, part, parts, half);
    let bits: i32 = 0;
    if (v128.any_true(v128.or(first, second))) {
      const inked = v128.narrow<i16>(
        v128.ge<u16>(first, v128.load(thresholds + at)),
        v128.ge<u16>(second, v128.load(thresholds + at + 16)),
      );
      // The leftmost pixel is the most significant bit of its byte.
      bits = v128.bitmask<i8>(
        v128.shuffle<i8>(inked, inked, 7, 6, 5, 4, 3, 2, 1, 0, 15, 14, 13, 12, 11, 10, 9, 8),
      );
    }
    store<u16>(out + ((<usize>x) >> 3), <u16>bits);
  }
}

/** Twin of the inner loop of screenBytes, 16 pixels at a time; what may be read and written beyond is as for `screenTones`. */
export function screenByteRow(bytes: usize, thresholds: usize, width: i32, out: usize): void {
  for (let x: i32 = 0; x < width; x += 16) {
    const row = v128.load(bytes + <usize>x);
    let bits: i32 = 0;
    if (v128.any_true(row)) {
      const inked = v128.ge<u8>(row, v128.load(thresholds + <usize>x));
      bits = v128.bitmask<i8>(
        v128.shuffle<i8>(inked, inked, 7, 6, 5, 4, 3, 2, 1, 0, 15, 14, 13, 12, 11, 10, 9, 8),
      );
    }
    store<u16>(out + ((<usize>x) >> 3), <u16>bits);
  }
}
