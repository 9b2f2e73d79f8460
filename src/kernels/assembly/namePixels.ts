/** Twins of core/raster/namePixels.ts, markTone.ts and uniformCells.ts; what each value means stands there. */

import { BARE as BARE_LABEL, KNOWN_BITS, MIXED as MIXED_LABEL } from './shared';

const BARE: u32 = <u32>BARE_LABEL;
const MIXED: u32 = <u32>MIXED_LABEL;
const KNOWN_SHIFT: u32 = <u32>(32 - KNOWN_BITS);

// @ts-expect-error: decorators are AssemblyScript's
@inline
function knownPlace(colour: u32): usize {
  return <usize>((colour * 0x9e3779b1) >> KNOWN_SHIFT);
}

/**
 * Names pixels until one of a colour that is not known.
 *
 * @param colours, labels the answers that are known.
 * @returns how many were named.
 */
export function namePixels(
  pixels: usize,
  from: i32,
  count: i32,
  empty: u32,
  opaque: u32,
  colours: usize,
  labels: usize,
  out: usize,
): i32 {
  let i = from;
  while (i < count) {
    const pixel = load<u32>(pixels + ((<usize>i) << 2));
    const alpha = pixel >> 24;
    let named: u32 = alpha <= empty ? BARE : MIXED;
    if (alpha >= opaque) {
      const colour = pixel & 0xffffff;
      const place = knownPlace(colour);
      if (load<u32>(colours + (place << 2)) != colour) return i;
      named = load<u8>(labels + place);
    }
    store<u8>(out + <usize>i, <u8>named);
    i++;
    if (i >= count || load<u32>(pixels + ((<usize>i) << 2)) != pixel) continue;
    // Flat artwork comes in runs of one colour.
    const same = v128.splat<u32>(pixel);
    const four = named * 0x01010101;
    while (i + 4 <= count && i32x4.all_true(v128.eq<u32>(same, v128.load(pixels + ((<usize>i) << 2))))) {
      store<u32>(out + <usize>i, four);
      i += 4;
    }
    while (i < count && load<u32>(pixels + ((<usize>i) << 2)) == pixel) {
      store<u8>(out + <usize>i, <u8>named);
      i++;
    }
  }
  return i;
}

/** How many of some labels are MIXED; sixteen are read at a time, what stands behind them must not be MIXED. */
export function countMixed(label: usize, count: i32): i32 {
  const mixed = v128.splat<u8>(255);
  let sum: i32 = 0;
  for (let i: i32 = 0; i < count; i += 16) {
    sum += popcnt(i8x16.bitmask(v128.eq<u8>(mixed, v128.load(label + <usize>i))));
  }
  return sum;
}

/**
 * Explains mixed pixels until one of a colour that is not known. The arrays of mixtures begin with the first one of these pixels.
 *
 * @param first the plane's number of the first of these pixels, `from` where among them to go on.
 * @param counts the number of mixtures so far, and of those that are left, two words; both go on.
 * @param base the number of mixtures before these pixels.
 * @param known colours, first, second and shares, one behind the other.
 * @returns the pixel that was come to; `count` at the end.
 */
export function mixPixels(
  pixels: usize,
  label: usize,
  tone: usize,
  from: i32,
  count: i32,
  first: i32,
  base: i32,
  opaque: u32,
  leaveEdges: i32,
  known: usize,
  mixed: usize,
  mixAt: usize,
  mixLabels: usize,
  mixShares: usize,
  left: usize,
  counts: usize,
): i32 {
  const firsts = known + 65536 * 4;
  const seconds = firsts + 65536;
  const shares = seconds + 65536;
  const rests = shares + 65536 * 2;
  let done = load<i32>(counts);
  let rest = load<i32>(counts, 4);
  let i = from;
  for (; i < count; i++) {
    if (load<u8>(label + <usize>i) != MIXED) continue;
    const pixel = load<u32>(pixels + ((<usize>i) << 2));
    const at: usize = (<usize>done) << 2;
    if (pixel >> 24 < opaque || (leaveEdges != 0 && load<u8>(tone + <usize>i) == 0)) {
      store<i32>(left + ((<usize>rest) << 2), base + done);
      rest++;
    } else {
      const colour = pixel & 0xffffff;
      const place = knownPlace(colour);
      if (load<u32>(known + (place << 2)) != colour) break;
      const three = <usize>(done * 3);
      store<u8>(mixLabels + three, load<u8>(firsts + place));
      store<u8>(mixLabels + three, load<u8>(seconds + place), 1);
      store<u16>(mixShares + (three << 1), load<u16>(shares + (place << 1)));
      store<u16>(mixShares + (three << 1), load<u16>(rests + (place << 1)), 2);
    }
    store<i32>(mixed + at, first + i);
    store<i32>(mixAt + ((<usize>i) << 2), base + done);
    done++;
  }
  store<i32>(counts, done);
  store<i32>(counts, rest, 4);
  return i;
}

// Rows of the planes below have this much room before and behind them.
const SIDE: usize = 16;

/** Whether any byte of a row is not 0; whole words of sixteen. */
function anyIn(row: usize, bytes: i32): bool {
  let all = v128.splat<u8>(0);
  for (let x: i32 = 0; x < bytes; x += 16) all = v128.or(all, v128.load(row + <usize>x));
  return v128.any_true(all);
}

/**
 * The beginning of tone: planes of `height` rows, `stride` bytes from each to the next, each row with 16 bytes of its own before and
 * behind it and its width rounded up to 16.
 *
 * @param plane labels, with 255 in what is beside them; is left as 255 where a pixel is mixed and 0 elsewhere.
 * @param tone gets 255 where nothing but mixed pixels is within the radius.
 * @param across room for a plane.
 * @param any gets for each row of the tone whether it has any; `anyAcross` is room for as much.
 */
export function beginTone(
  plane: usize,
  stride: i32,
  width: i32,
  height: i32,
  radius: i32,
  tone: usize,
  across: usize,
  any: usize,
  anyAcross: usize,
): void {
  const all = v128.splat<u8>(255);
  const words = (width + 15) & ~15;
  for (let y: i32 = 0; y < height; y++) {
    const row: usize = plane + <usize>(y * stride);
    const out: usize = across + <usize>(y * stride);
    for (let x: i32 = -16; x < words + 16; x += 16) {
      const at: usize = row + <usize>x;
      v128.store(at, v128.eq<u8>(all, v128.load(at)));
    }
    for (let x: i32 = 0; x < words; x += 16) {
      let low = v128.load(row + <usize>x);
      for (let d: i32 = 1; d <= radius && v128.any_true(low); d++) {
        low = v128.and(low, v128.and(v128.load(row + <usize>(x - d)), v128.load(row + <usize>(x + d))));
      }
      v128.store(out + <usize>x, low);
    }
    store<u8>(anyAcross + <usize>y, <u8>anyIn(out, words));
    // From here on what is beside a row is not mixed: tone does not grow there.
    memory.fill(row - SIDE, 0, SIDE);
    memory.fill(row + <usize>width, 0, <usize>(words - width) + SIDE);
  }
  for (let y: i32 = 0; y < height; y++) {
    const out: usize = tone + <usize>(y * stride);
    const top = max<i32>(0, y - radius);
    const bottom = min<i32>(height - 1, y + radius);
    let some = true;
    for (let row = top; row <= bottom && some; row++) some = load<u8>(anyAcross + <usize>row) != 0;
    memory.fill(out - SIDE, 0, <usize>words + 2 * SIDE);
    store<u8>(any + <usize>y, 0);
    if (!some) continue;
    const own: usize = plane + <usize>(y * stride);
    for (let x: i32 = 0; x < words; x += 16) {
      let low = v128.load(own + <usize>x);
      for (let row = top; row <= bottom && v128.any_true(low); row++) {
        low = v128.and(low, v128.load(across + <usize>(row * stride + x)));
      }
      v128.store(out + <usize>x, low);
    }
    store<u8>(any + <usize>y, <u8>anyIn(out, words));
  }
}

/**
 * One step of the growth of tone, each way, inside what is mixed; planes as for `beginTone`.
 *
 * @returns whether there is more than before.
 */
export function growTone(
  plane: usize,
  stride: i32,
  width: i32,
  height: i32,
  from: usize,
  anyFrom: usize,
  to: usize,
  anyTo: usize,
): bool {
  const words = (width + 15) & ~15;
  let grown = v128.splat<u8>(0);
  for (let y: i32 = 0; y < height; y++) {
    const top = max<i32>(0, y - 1);
    const bottom = min<i32>(height - 1, y + 1);
    let some = false;
    for (let row = top; row <= bottom; row++) some = some || load<u8>(anyFrom + <usize>row) != 0;
    const out: usize = to + <usize>(y * stride);
    memory.fill(out - SIDE, 0, <usize>words + 2 * SIDE);
    store<u8>(anyTo + <usize>y, 0);
    if (!some) continue;
    const own: usize = plane + <usize>(y * stride);
    for (let x: i32 = 0; x < words; x += 16) {
      const mixed = v128.load(own + <usize>x);
      if (!v128.any_true(mixed)) continue;
      let near = v128.splat<u8>(0);
      for (let row = top; row <= bottom; row++) {
        const at: usize = from + <usize>(row * stride + x);
        near = v128.or(near, v128.or(v128.load(at), v128.or(v128.load(at - 1), v128.load(at + 1))));
      }
      const next = v128.and(near, mixed);
      grown = v128.or(grown, v128.xor(next, v128.load(from + <usize>(y * stride + x))));
      v128.store(out + <usize>x, next);
    }
    store<u8>(anyTo + <usize>y, <u8>anyIn(out, words));
  }
  return v128.any_true(grown);
}

/**
 * Twin of core/raster/uniformCells.ts, a row across: sixteen cells at a time.
 *
 * @param label a row, one byte before it and eighteen behind its width rounded up to 16 with what its border goes on as.
 */
export function uniformAcross(label: usize, width: i32, out: usize): void {
  for (let x: usize = 0; x < <usize>width; x += 16) {
    const own = v128.load(label + x);
    const before = v128.xor(own, v128.load(label + x - 1));
    const behind = v128.or(v128.xor(own, v128.load(label + x, 1)), v128.xor(own, v128.load(label + x, 2)));
    const differs = v128.ne<i8>(v128.or(before, behind), v128.splat<i8>(0));
    v128.store(out + x, v128.or(own, differs));
  }
}

/** The same down: rows of cells, `stride` from each to the next, a multiple of 16. */
export function uniformDown(across: usize, stride: i32, height: i32, out: usize): void {
  for (let y: i32 = 0; y < height; y++) {
    const own: usize = across + <usize>(y * stride);
    const above: usize = across + <usize>(max<i32>(0, y - 1) * stride);
    const below: usize = across + <usize>(min<i32>(height - 1, y + 1) * stride);
    const far: usize = across + <usize>(min<i32>(height - 1, y + 2) * stride);
    const row: usize = out + <usize>(y * stride);
    for (let x: usize = 0; x < <usize>stride; x += 16) {
      const here = v128.load(own + x);
      const differs = v128.or(
        v128.xor(here, v128.load(above + x)),
        v128.or(v128.xor(here, v128.load(below + x)), v128.xor(here, v128.load(far + x))),
      );
      v128.store(row + x, v128.or(here, v128.ne<i8>(differs, v128.splat<i8>(0))));
    }
  }
}
