/** Starts a row of the plane with the ground: four values a pixel. */
export function groundRow(row: usize, width: i32, at: usize): void {
  const ground = v128.load(at);
  for (let x: i32 = 0; x < width; x++) v128.store(row + ((<usize>x) << 4), ground);
}

/**
 * Twin of one layer of core/raster/printView.ts on one row. `tone` 0 means solid; at `ink` stand the two parts of the ink, opacity times
 * its light by channel and what it lets through, four values each.
 */
export function printLayer(
  row: usize,
  width: i32,
  shape: usize,
  tone: usize,
  ink: usize,
): void {
  const scale: f32 = <f32>(1.0 / (255.0 * 65535.0));
  const scales = v128.splat<f32>(scale);
  const opaque = v128.load(ink);
  const filter = v128.load(ink, 16);
  let x: i32 = 0;
  // Four pixels at a time; where one of them is bare its area is 0, which changes nothing.
  while (x + 4 <= width) {
    // Most of a row is bare of any one ink.
    if (x + 8 <= width && load<u64>(shape + <usize>x) == 0) {
      x += 8;
      continue;
    }
    const shapes = i32x4.extend_low_i16x8_u(
      i16x8.extend_low_i8x16_u(v128.load_zero<u32>(shape + <usize>x)),
    );
    const tones =
      tone == 0 ? v128.splat<i32>(65535) : v128.load_ext<u16>(tone + ((<usize>x) << 1));
    // At most 255 * 65535: exact in single precision.
    const areas = v128.mul<f32>(f32x4.convert_i32x4_u(v128.mul<i32>(shapes, tones)), scales);
    const at: usize = row + ((<usize>x) << 4);
    printPixel(at, v128.shuffle<f32>(areas, areas, 0, 0, 0, 0), opaque, filter);
    printPixel(at + 16, v128.shuffle<f32>(areas, areas, 1, 1, 1, 1), opaque, filter);
    printPixel(at + 32, v128.shuffle<f32>(areas, areas, 2, 2, 2, 2), opaque, filter);
    printPixel(at + 48, v128.shuffle<f32>(areas, areas, 3, 3, 3, 3), opaque, filter);
    x += 4;
  }
  for (; x < width; x++) {
    const s: u32 = load<u8>(shape + <usize>x);
    if (s == 0) continue;
    const t: u32 = tone == 0 ? 65535 : load<u16>(tone + ((<usize>x) << 1));
    printPixel(row + ((<usize>x) << 4), v128.splat<f32>(<f32>(s * t) * scale), opaque, filter);
  }
}

// @ts-ignore: decorator
@inline
function printPixel(at: usize, area: v128, opaque: v128, filter: v128): void {
  const before = v128.load(at);
  const full = v128.add<f32>(opaque, v128.mul<f32>(filter, before));
  v128.store(at, v128.add<f32>(before, v128.mul<f32>(area, v128.sub<f32>(full, before))));
}

/** Twin of one row of a base under a group, core/raster/printView.ts: `based` is a copy of the row, `floor` is 0. */
export function printBase(
  row: usize,
  based: usize,
  floor: usize,
  width: i32,
  shape: usize,
  tone: usize,
  ink: usize,
): void {
  const scale: f32 = <f32>(1.0 / (255.0 * 65535.0));
  const opaque = v128.load(ink);
  const filter = v128.load(ink, 16);
  for (let x: i32 = 0; x < width; x++) {
    const s: u32 = load<u8>(shape + <usize>x);
    if (s == 0) continue;
    const t: u32 = tone == 0 ? 65535 : load<u16>(tone + ((<usize>x) << 1));
    const a: f32 = <f32>(s * t) * scale;
    store<f32>(floor + ((<usize>x) << 2), a);
    const at: usize = (<usize>x) << 4;
    const before = v128.load(row + at);
    const full = v128.add<f32>(opaque, v128.mul<f32>(filter, before));
    v128.store(based + at, full);
    const part = v128.mul<f32>(v128.splat<f32>(a), v128.sub<f32>(full, before));
    v128.store(row + at, v128.add<f32>(before, part));
  }
}

/**
 * Twin of one row of a layer beside others, core/raster/printView.ts: `backing` is the row before the first of them, `used` the sum of
 * their areas so far. For layers on a base `based` is the row with that in full, `floor` its area, `usedOn` the sum of the areas on it;
 * `based` is 0 for others.
 */
export function printBeside(
  row: usize,
  backing: usize,
  used: usize,
  based: usize,
  floor: usize,
  usedOn: usize,
  width: i32,
  shape: usize,
  tone: usize,
  ink: usize,
): void {
  const scale: f32 = <f32>(1.0 / (255.0 * 65535.0));
  const opaque = v128.load(ink);
  const filter = v128.load(ink, 16);
  for (let x: i32 = 0; x < width; x++) {
    const s: u32 = load<u8>(shape + <usize>x);
    if (s == 0) continue;
    const t: u32 = tone == 0 ? 65535 : load<u16>(tone + ((<usize>x) << 1));
    const a: f32 = <f32>(s * t) * scale;
    const word: usize = (<usize>x) << 2;
    const sum: f32 = load<f32>(used + word);
    const apart: f32 = min<f32>(a, max<f32>(0, <f32>1 - sum));
    store<f32>(used + word, sum + a);
    let on: f32 = 0;
    if (based != 0) {
      const sumOn: f32 = load<f32>(usedOn + word);
      on = min<f32>(apart, max<f32>(0, load<f32>(floor + word) - sumOn));
      store<f32>(usedOn + word, sumOn + a);
    }
    const at: usize = (<usize>x) << 4;
    const bare = v128.load(backing + at);
    const full = v128.add<f32>(opaque, v128.mul<f32>(filter, bare));
    let before = v128.add<f32>(
      v128.load(row + at),
      v128.mul<f32>(v128.splat<f32>(apart - on), v128.sub<f32>(full, bare)),
    );
    if (based != 0) {
      const white = v128.load(based + at);
      const laid = v128.add<f32>(opaque, v128.mul<f32>(filter, white));
      before = v128.add<f32>(before, v128.mul<f32>(v128.splat<f32>(on), v128.sub<f32>(laid, white)));
    }
    const again = v128.add<f32>(opaque, v128.mul<f32>(filter, before));
    const over = v128.splat<f32>(a - apart);
    v128.store(row + at, v128.add<f32>(before, v128.mul<f32>(over, v128.sub<f32>(again, before))));
  }
}

/** sum += weight * row; `width` pixels of four values. */
export function addRow(sum: usize, row: usize, width: i32, weight: f32): void {
  const w = v128.splat<f32>(weight);
  for (let x: i32 = 0; x < width; x++) {
    const at: usize = (<usize>x) << 4;
    v128.store(sum + at, v128.add<f32>(v128.load(sum + at), v128.mul<f32>(w, v128.load(row + at))));
  }
}

/** Twin of a part of a row, core/raster/printView.ts: sum += weight * row, a weight for each pixel. */
export function addPart(sum: usize, row: usize, weights: usize, width: i32): void {
  for (let x: i32 = 0; x < width; x++) {
    const weight: f32 = load<f32>(weights + ((<usize>x) << 2));
    if (weight == 0) continue;
    const at: usize = (<usize>x) << 4;
    const part = v128.mul<f32>(v128.splat<f32>(weight), v128.load(row + at));
    v128.store(sum + at, v128.add<f32>(v128.load(sum + at), part));
  }
}

/** Averages a summed row across and encodes it: `count` pixels of four bytes. */
export function encodeRow(
  sum: usize,
  from: usize,
  weights: usize,
  taps: i32,
  count: i32,
  codes: usize,
  steps: f32,
  out: usize,
): void {
  const scale = v128.splat<f32>(steps);
  const half = v128.splat<f32>(0.5);
  const one = v128.splat<f32>(1);
  const zero = v128.splat<f32>(0);
  for (let x: i32 = 0; x < count; x++) {
    let at: usize = sum + ((<usize>load<i32>(from + ((<usize>x) << 2))) << 4);
    let light = zero;
    for (let t: i32 = 0; t < taps; t++) {
      light = v128.add<f32>(light, v128.mul<f32>(v128.splat<f32>(load<f32>(weights)), v128.load(at)));
      weights += 4;
      at += 16;
    }
    const clipped = v128.min<f32>(one, v128.max<f32>(zero, light));
    const step = i32x4.trunc_sat_f32x4_s(v128.add<f32>(v128.mul<f32>(clipped, scale), half));
    const r: u32 = load<u8>(codes + <usize>i32x4.extract_lane(step, 0));
    const g: u32 = load<u8>(codes + <usize>i32x4.extract_lane(step, 1));
    const b: u32 = load<u8>(codes + <usize>i32x4.extract_lane(step, 2));
    store<u32>(out + ((<usize>x) << 2), r | (g << 8) | (b << 16) | 0xff000000);
  }
}
