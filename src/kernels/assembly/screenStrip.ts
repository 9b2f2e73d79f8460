import { between, partsOf, tonesAt } from './expandRows';

// @ts-expect-error: decorators are AssemblyScript's
@inline
function reversed(bits: i32): i32 {
  let b = ((bits & 0xf0) >> 4) | ((bits & 0x0f) << 4);
  b = ((b & 0xcc) >> 2) | ((b & 0x33) << 2);
  return ((b & 0xaa) >> 1) | ((b & 0x55) << 1);
}

/**
 * Twin of the inner loop of screenLayers for a row of a plane by itself. `thresholds` stands at the row's first position and holds
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

/** Takes what follows behind what was taken of eight places; 255 in both bytes of those that are inked. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function takeNext(own: v128, taken: usize, steps: v128): v128 {
  const full = v128.splat<i16>(-1);
  const start = v128.load(taken);
  const end = v128.add_sat<u16>(start, own);
  const inked = v128.andnot(v128.ge<u16>(end, steps), v128.ge<u16>(start, steps));
  const filled = v128.eq<i16>(end, full);
  if (!v128.any_true(filled)) {
    v128.store(taken, end);
    return inked;
  }
  // Up to the last threshold, and how far beyond it.
  const beyond = v128.sub_sat<u16>(start, v128.not(own));
  v128.store(taken, v128.bitselect(beyond, end, filled));
  return v128.or(inked, v128.ge<u16>(beyond, steps));
}

/** Bits of sixteen places, the leftmost pixel the most significant bit of its byte. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function bitsOf(first: v128, second: v128): i32 {
  const inked = v128.narrow<i16>(first, second);
  return v128.bitmask<i8>(
    v128.shuffle<i8>(inked, inked, 7, 6, 5, 4, 3, 2, 1, 0, 15, 14, 13, 12, 11, 10, 9, 8),
  );
}

/** What four words are in a table. Taken apart and put together as whole numbers, which costs half of what lanes do. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function lookUp(table: usize, four: u64): u64 {
  const first = <u64>load<u16>(table + <usize>((four << 1) & 0x1fffe));
  const second = <u64>load<u16>(table + <usize>((four >> 15) & 0x1fffe));
  const third = <u64>load<u16>(table + <usize>((four >> 31) & 0x1fffe));
  const last = <u64>load<u16>(table + <usize>((four >> 47) & 0x1fffe));
  return first | (second << 16) | (third << 32) | (last << 48);
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function lookUpEach(table: usize, tones: v128): v128 {
  const low = lookUp(table, v128.extract_lane<u64>(tones, 0));
  const high = lookUp(table, v128.extract_lane<u64>(tones, 1));
  return v128.replace_lane<u64>(v128.splat<u64>(low), 1, high);
}

/**
 * As `screenStack` for tones between two rows of the artwork, and looked up as they stand on film; sixteen values can be read at the last
 * place, and two bytes be written.
 *
 * @param table 65536 film tones.
 */
export function stackTones(
  above: usize,
  below: usize,
  part: i32,
  table: usize,
  taken: usize,
  thresholds: usize,
  width: i32,
  out: usize,
): void {
  const parts = partsOf(part);
  for (let x: i32 = 0; x < width; x += 16) {
    const at: usize = (<usize>x) << 1;
    const a0 = v128.load(above + at);
    const a1 = v128.load(above + at, 16);
    const b0 = v128.load(below + at);
    const b1 = v128.load(below + at, 16);
    let bits: i32 = 0;
    if (v128.any_true(v128.or(v128.or(a0, a1), v128.or(b0, b1)))) {
      const first = lookUpEach(table, between(a0, b0, parts));
      const second = lookUpEach(table, between(a1, b1, parts));
      bits = bitsOf(
        takeNext(first, taken + at, v128.load(thresholds + at)),
        takeNext(second, taken + at + 16, v128.load(thresholds + at, 16)),
      );
    }
    store<u16>(out + ((<usize>x) >> 3), <u16>bits);
  }
}

/** As `screenStrip` for layers that divide each cell; `taken` is read and advanced. */
export function screenStack(
  shape: usize,
  tone: usize,
  taken: usize,
  thresholds: usize,
  width: i32,
  out: usize,
): void {
  const zero = v128.splat<i8>(0);
  for (let x: i32 = 0; x < width; x += 8) {
    let bits: i32 = 0;
    if (load<u64>(shape + <usize>x) != 0) {
      const at: usize = (<usize>x) << 1;
      const outside = v128.eq<i8>(v128.load64_zero(shape + <usize>x), zero);
      const own = v128.andnot(v128.load(tone + at), v128.extend_low<i8>(outside));
      bits = v128.bitmask<i16>(takeNext(own, taken + at, v128.load(thresholds + at)));
    }
    store<u8>(out + ((<usize>x) >> 3), <u8>reversed(bits));
  }
}

/**
 * Twin of the inner loop of screenLayers for a tone by itself: one device row between two rows of expanded tones, 16 pixels at a time.
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
  const parts = partsOf(part);
  for (let x: i32 = 0; x < width; x += 16) {
    const at: usize = (<usize>x) << 1;
    const first = tonesAt(above + at, below + at, parts);
    const second = tonesAt(above + at + 16, below + at + 16, parts);
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
