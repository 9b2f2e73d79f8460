import { tonesAt } from './screenPlane';

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

/** Inks what follows behind what was taken of eight places, and takes it. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function takeNext(own: v128, taken: usize, steps: v128, full: v128): i32 {
  const start = v128.load(taken);
  // Up to the last threshold, and how far beyond it.
  const end = v128.add_sat<u16>(start, own);
  const beyond = v128.sub_sat<u16>(start, v128.not(own));
  const inked = v128.or(
    v128.andnot(v128.ge<u16>(end, steps), v128.ge<u16>(start, steps)),
    v128.ge<u16>(beyond, steps),
  );
  v128.store(taken, v128.bitselect(beyond, end, v128.eq<i16>(end, full)));
  return v128.bitmask<i16>(inked);
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function placeOf(table: usize, tone: i32): usize {
  return table + ((<usize>tone) << 1);
}

/**
 * As `screenStack` for tones between two rows of the artwork, and looked up as they stand on film.
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
  const full = v128.splat<i16>(-1);
  const parts = v128.splat<i32>(part);
  const half = v128.splat<i32>(128);
  for (let x: i32 = 0; x < width; x += 8) {
    const at: usize = (<usize>x) << 1;
    const tones = tonesAt(above + at, below + at, part, parts, half);
    let bits: i32 = 0;
    if (v128.any_true(tones)) {
      let own = v128.splat<u16>(load<u16>(placeOf(table, v128.extract_lane<u16>(tones, 0))));
      own = v128.load_lane<u16>(placeOf(table, v128.extract_lane<u16>(tones, 1)), own, 1);
      own = v128.load_lane<u16>(placeOf(table, v128.extract_lane<u16>(tones, 2)), own, 2);
      own = v128.load_lane<u16>(placeOf(table, v128.extract_lane<u16>(tones, 3)), own, 3);
      own = v128.load_lane<u16>(placeOf(table, v128.extract_lane<u16>(tones, 4)), own, 4);
      own = v128.load_lane<u16>(placeOf(table, v128.extract_lane<u16>(tones, 5)), own, 5);
      own = v128.load_lane<u16>(placeOf(table, v128.extract_lane<u16>(tones, 6)), own, 6);
      own = v128.load_lane<u16>(placeOf(table, v128.extract_lane<u16>(tones, 7)), own, 7);
      bits = takeNext(own, taken + at, v128.load(thresholds + at), full);
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
      bits = takeNext(own, taken + at, v128.load(thresholds + at), full);
    }
    store<u8>(out + ((<usize>x) >> 3), <u8>reversed(bits));
  }
}
