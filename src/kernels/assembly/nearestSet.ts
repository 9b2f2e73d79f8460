/** One pixel of the plane: the best of the columns within reach. */
function nearestOf(x: i32, i: i32, width: i32, reach: i32, rowsAt: usize): i32 {
  let at = -1;
  let best = reach * reach + 1;
  for (let dx: i32 = 0; dx <= reach && dx * dx < best; dx++) {
    if (x >= dx) {
      const dy = <i32>load<i16>(rowsAt + ((<usize>(i - dx)) << 1));
      const distance = dx * dx + dy * dy;
      if (distance < best) {
        best = distance;
        at = i - dx + dy * width;
      }
    }
    if (dx > 0 && x + dx < width) {
      const dy = <i32>load<i16>(rowsAt + ((<usize>(i + dx)) << 1));
      const distance = dx * dx + dy * dy;
      if (distance < best) {
        best = distance;
        at = i + dx + dy * width;
      }
    }
  }
  return at;
}

/** Rows to the nearest set pixel of each column, negative when it lies above. */
function nearestInColumns(
  set: usize,
  width: i32,
  height: i32,
  far: i32,
  rowsAt: usize,
  downAt: usize,
): void {
  const zero = v128.splat<u8>(0);
  const most = v128.splat<i16>(<i16>far);
  const least = v128.splat<i16>(<i16>-far);
  const one = v128.splat<i16>(1);
  for (let x: i32 = 0; x < width; x++) {
    store<i16>(rowsAt + ((<usize>x) << 1), load<u8>(set + <usize>x) != 0 ? 0 : <i16>-far);
    store<i16>(downAt + ((<usize>x) << 1), <i16>far);
  }
  for (let y: i32 = 1; y < height; y++) {
    const from: usize = set + <usize>(y * width);
    const row: usize = rowsAt + ((<usize>(y * width)) << 1);
    const above: usize = row - ((<usize>width) << 1);
    let x: i32 = 0;
    for (; x + 8 <= width; x += 8) {
      const open = i16x8.extend_low_i8x16_s(v128.eq<u8>(v128.load64_zero(from + <usize>x), zero));
      const steps = v128.max<i16>(least, v128.sub<i16>(v128.load(above + ((<usize>x) << 1)), one));
      v128.store(row + ((<usize>x) << 1), v128.and(steps, open));
    }
    for (; x < width; x++) {
      const steps = max<i32>(-far, <i32>load<i16>(above + ((<usize>x) << 1)) - 1);
      store<i16>(row + ((<usize>x) << 1), load<u8>(from + <usize>x) != 0 ? 0 : <i16>steps);
    }
  }
  for (let y = height - 1; y >= 0; y--) {
    const from: usize = set + <usize>(y * width);
    const row: usize = rowsAt + ((<usize>(y * width)) << 1);
    let x: i32 = 0;
    for (; x + 8 <= width; x += 8) {
      const at: usize = row + ((<usize>x) << 1);
      const down: usize = downAt + ((<usize>x) << 1);
      const open = i16x8.extend_low_i8x16_s(v128.eq<u8>(v128.load64_zero(from + <usize>x), zero));
      const steps = v128.and(v128.min<i16>(most, v128.add<i16>(v128.load(down), one)), open);
      v128.store(down, steps);
      const up = v128.load(at);
      v128.store(at, v128.bitselect(steps, up, v128.lt<i16>(steps, v128.neg<i16>(up))));
    }
    for (; x < width; x++) {
      const at: usize = row + ((<usize>x) << 1);
      const down: usize = downAt + ((<usize>x) << 1);
      const steps = load<u8>(from + <usize>x) != 0 ? 0 : min<i32>(far, <i32>load<i16>(down) + 1);
      store<i16>(down, <i16>steps);
      if (steps < -(<i32>load<i16>(at))) store<i16>(at, <i16>steps);
    }
  }
}

/**
 * Twin of core/raster/nearestSet.ts.
 * `rowsAt` holds width * height 16-bit values, `downAt` width of them, `nearest` width * height 32-bit ones.
 */
export function nearestSet(
  set: usize,
  width: i32,
  height: i32,
  reach: i32,
  rowsAt: usize,
  downAt: usize,
  nearest: usize,
): void {
  nearestInColumns(set, width, height, reach + 1, rowsAt, downAt);
  memory.fill(nearest, 255, (<usize>(width * height)) << 2);
  // Set pixels and those whose columns hold nothing within reach have no answer.
  const step = v128.splat<i16>(<i16>reach);
  for (let y: i32 = 0; y < height; y++) {
    let x: i32 = 0;
    while (x < width) {
      if (x >= reach && x + reach + 8 <= width) {
        const line: usize = rowsAt + ((<usize>(y * width + x)) << 1);
        let close = v128.splat<i16>(0);
        for (let dx: i32 = -reach; dx < reach + 8; dx += 8) {
          const rows = v128.load(line + <usize>(min<i32>(dx, reach) * 2));
          close = v128.or(close, v128.le<i16>(v128.abs<i16>(rows), step));
        }
        if (!v128.any_true(close) || v128.all_true<i8>(v128.load64_splat(set + <usize>(y * width + x)))) {
          x += 8;
          continue;
        }
      }
      const end = min<i32>(width, x + 8);
      for (; x < end; x++) {
        const i = y * width + x;
        if (load<u8>(set + <usize>i) == 0) {
          store<i32>(nearest + ((<usize>i) << 2), nearestOf(x, i, width, reach, rowsAt));
        }
      }
    }
  }
}
