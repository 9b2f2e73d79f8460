/** Twins of core/raster/markNearBoundary.ts: lines row by row, counters of what lies near lines, marks from counters. */

let mask: usize = 0;
let width: i32 = 0;
let height: i32 = 0;
let radius: f64 = 0;
let radius2: f64 = 0;
let runs: usize = 0;
let stride: i32 = 0;

// @ts-expect-error: decorators are AssemblyScript's
@inline
function isIn(x: i32, y: i32): i32 {
  return load<u8>(mask + <usize>(y * width + x)) != 0 ? 1 : 0;
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function tap(at: usize, offset: i32, weight: i32): i32 {
  return load<u8>(at + <usize>offset) != 0 ? weight : 0;
}

/** One line of the filter at the plane's border, where its last pixel goes on. */
function borderLine(x: i32, y: i32): i32 {
  const last = width - 1;
  const base: usize = mask + <usize>(min<i32>(height - 1, max<i32>(0, y)) * width);
  return (
    tap(base, max<i32>(0, x - 4), 1) +
    tap(base, max<i32>(0, x - 3), 8) +
    tap(base, max<i32>(0, x - 2), 28) +
    tap(base, max<i32>(0, x - 1), 56) +
    tap(base, x, 70) +
    tap(base, min<i32>(last, x + 1), 56) +
    tap(base, min<i32>(last, x + 2), 28) +
    tap(base, min<i32>(last, x + 3), 8) +
    tap(base, min<i32>(last, x + 4), 1)
  );
}

/** One line of the filter in eight lanes of two taps each; what stands beyond the nine taps has no weight. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function innerLine(at: usize, weight: i16): v128 {
  const taps = i8x16(1, 8, 28, 56, 70, 56, 28, 8, 1, 0, 0, 0, 0, 0, 0, 0);
  const set = v128.ne<u8>(v128.load(at), v128.splat<u8>(0));
  const pairs = i16x8.extadd_pairwise_i8x16_u(v128.and(set, taps));
  return v128.mul<i16>(pairs, v128.splat<i16>(weight));
}

function smoothed(x: i32, y: i32): f64 {
  let sum: i32 = 0;
  if (x >= 4 && y >= 4 && x + 4 < width && y + 4 < height) {
    const step = <usize>width;
    let at: usize = mask + <usize>((y - 4) * width + x - 4);
    let lanes = innerLine(at, 1);
    lanes = v128.add<i16>(lanes, innerLine((at += step), 8));
    lanes = v128.add<i16>(lanes, innerLine((at += step), 28));
    lanes = v128.add<i16>(lanes, innerLine((at += step), 56));
    lanes = v128.add<i16>(lanes, innerLine((at += step), 70));
    lanes = v128.add<i16>(lanes, innerLine((at += step), 56));
    lanes = v128.add<i16>(lanes, innerLine((at += step), 28));
    lanes = v128.add<i16>(lanes, innerLine((at += step), 8));
    lanes = v128.add<i16>(lanes, innerLine((at += step), 1));
    // A lane holds 126 * 256 at most, so it is read without a sign.
    const four = i32x4.extadd_pairwise_i16x8_u(lanes);
    sum =
      i32x4.extract_lane(four, 0) +
      i32x4.extract_lane(four, 1) +
      i32x4.extract_lane(four, 2) +
      i32x4.extract_lane(four, 3);
  } else {
    sum =
      borderLine(x, y - 4) +
      8 * borderLine(x, y - 3) +
      28 * borderLine(x, y - 2) +
      56 * borderLine(x, y - 1) +
      70 * borderLine(x, y) +
      56 * borderLine(x, y + 1) +
      28 * borderLine(x, y + 2) +
      8 * borderLine(x, y + 3) +
      borderLine(x, y + 4);
  }
  return <f64>sum / 65536;
}

function crossing(from: f64, to: f64, fromIn: bool): f64 {
  const falls = fromIn ? from > 0.5 && to < 0.5 : from < 0.5 && to > 0.5;
  return falls ? (from - 0.5) / (from - to) : 0.5;
}

function stamp(cx: f64, cy: f64): void {
  const y0 = max<i32>(0, <i32>Math.ceil(cy - radius));
  const y1 = min<i32>(height - 1, <i32>Math.floor(cy + radius));
  for (let y = y0; y <= y1; y++) {
    const dy = <f64>y - cy;
    const rest = radius2 - dy * dy;
    if (rest < 0) continue;
    const half = Math.sqrt(rest);
    const x0 = max<i32>(0, <i32>Math.ceil(cx - half));
    const x1 = min<i32>(width - 1, <i32>Math.floor(cx + half));
    if (x1 >= x0) {
      const from: usize = runs + ((<usize>(y * stride + x0)) << 2);
      store<i32>(from, load<i32>(from) + 1);
      const to: usize = runs + ((<usize>(y * stride + x1 + 1)) << 2);
      store<i32>(to, load<i32>(to) - 1);
    }
  }
}

/** @returns where the next line goes. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function line(to: usize, ax: f64, ay: f64, bx: f64, by: f64): usize {
  store<f64>(to, ax);
  store<f64>(to, ay, 8);
  store<f64>(to, bx, 16);
  store<f64>(to, by, 24);
  return to + 32;
}

/** The seventeenth bit, where a pixel is clear. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function clearBit(at: usize): u32 {
  return load<u8>(at) == 0 ? 0x10000 : 0;
}

/**
 * The lines of one row of cells.
 *
 * @param y the row above of the two that it lies between.
 * @param out room for two lines of 32 bytes for each pixel of a row.
 * @returns how many lines there are.
 */
export function boundaryLines(maskAt: usize, w: i32, h: i32, y: i32, out: usize): i32 {
  mask = maskAt;
  width = w;
  height = h;
  let to = out;
  const row: usize = maskAt + <usize>(y * w);
  const below: usize = row + <usize>w;
  let seen: i32 = -1;
  let vb: f64 = 0;
  let vd: f64 = 0;
  for (let first: i32 = 0; first + 1 < w; first += 16) {
    // Which of the next sixteen cells hold a boundary, a bit for each: nearly all rows have few.
    let cells: u32 = 0;
    if (first + 17 <= w) {
      const zero = v128.splat<u8>(0);
      const here: usize = row + <usize>first;
      const under: usize = below + <usize>first;
      const clear = <u32>i8x16.bitmask(v128.eq<u8>(v128.load(here), zero)) | clearBit(here + 16);
      const clearUnder = <u32>i8x16.bitmask(v128.eq<u8>(v128.load(under), zero)) | clearBit(under + 16);
      cells = ((clear ^ (clear >> 1)) | (clear ^ clearUnder) | (clear ^ (clearUnder >> 1))) & 0xffff;
    } else cells = (1 << (w - 1 - first)) - 1;
    for (; cells != 0; cells &= cells - 1) {
      const x = first + <i32>ctz<u32>(cells);
      const a = isIn(x, y) != 0;
      const b = isIn(x + 1, y) != 0;
      const c = isIn(x, y + 1) != 0;
      const d = isIn(x + 1, y + 1) != 0;
      if (a == b && a == c && a == d) continue;
      // Along a lying edge the cell before has seen two of the corners.
      const follows = seen == x;
      const va = follows ? vb : smoothed(x, y);
      const vc = follows ? vd : smoothed(x, y + 1);
      vb = smoothed(x + 1, y);
      vd = smoothed(x + 1, y + 1);
      seen = x + 1;
      const left = <f64>x;
      const top = <f64>y;
      const topX = left + crossing(va, vb, a);
      const bottomX = left + crossing(vc, vd, c);
      const leftY = top + crossing(va, vc, a);
      const rightY = top + crossing(vb, vd, b);
      const onTop = a != b;
      const onBottom = c != d;
      const onLeft = a != c;
      if (onTop && onBottom && onLeft) {
        to = line(to, topX, top, left, leftY);
        to = line(to, bottomX, top + 1, left + 1, rightY);
      } else if (onTop && onBottom) to = line(to, topX, top, bottomX, top + 1);
      else if (onTop && onLeft) to = line(to, topX, top, left, leftY);
      else if (onTop) to = line(to, topX, top, left + 1, rightY);
      else if (onBottom && onLeft) to = line(to, bottomX, top + 1, left, leftY);
      else if (onBottom) to = line(to, bottomX, top + 1, left + 1, rightY);
      else to = line(to, left, leftY, left + 1, rightY);
    }
  }
  return <i32>((to - out) >> 5);
}

/** `runsAt` has (width + 1) * height 32-bit counters, to which these are added. */
export function countNearLines(
  linesAt: usize,
  count: i32,
  w: i32,
  h: i32,
  radiusPx: f64,
  runsAt: usize,
): void {
  width = w;
  height = h;
  radius = radiusPx;
  radius2 = radiusPx * radiusPx;
  runs = runsAt;
  stride = w + 1;
  const step = Math.max(0.25, Math.min(1, radiusPx) * 0.5);
  const end = linesAt + ((<usize>count) << 5);
  for (let at = linesAt; at < end; at += 32) {
    const ax = load<f64>(at);
    const ay = load<f64>(at, 8);
    const dx = load<f64>(at, 16) - ax;
    const dy = load<f64>(at, 24) - ay;
    const pieces = max<i32>(1, <i32>Math.ceil(Math.sqrt(dx * dx + dy * dy) / step));
    for (let k = 0; k < pieces; k++) {
      const t = (<f64>k + 0.5) / <f64>pieces;
      stamp(ax + dx * t, ay + dy * t);
    }
  }
}

/** Marks where counters that run along each row are above nothing. */
export function markCounted(runsAt: usize, w: i32, h: i32, out: usize): void {
  stride = w + 1;
  for (let y = 0; y < h; y++) {
    let depth = 0;
    const counters: usize = runsAt + ((<usize>(y * stride)) << 2);
    const marks: usize = out + <usize>(y * w);
    for (let x = 0; x < w; x++) {
      // Sixteen counters of nothing leave things as they are; nearly all are such.
      while (x + 16 <= w) {
        const four: usize = counters + ((<usize>x) << 2);
        const any = v128.or(
          v128.or(v128.load(four), v128.load(four, 16)),
          v128.or(v128.load(four, 32), v128.load(four, 48)),
        );
        if (v128.any_true(any)) break;
        v128.store(marks + <usize>x, v128.splat<u8>(depth > 0 ? 255 : 0));
        x += 16;
      }
      if (x >= w) break;
      depth += load<i32>(counters + ((<usize>x) << 2));
      store<u8>(marks + <usize>x, depth > 0 ? 255 : 0);
    }
  }
}
