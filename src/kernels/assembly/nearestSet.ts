/**
 * Twin of core/raster/nearestSet.ts.
 * `rowsAt` holds width * height 16-bit values, `downAt` width of them, `nearest` width * height 32-bit ones.
 */
export function nearestSet(
  set: usize,
  band: usize,
  width: i32,
  height: i32,
  reach: i32,
  rowsAt: usize,
  downAt: usize,
  nearest: usize,
): void {
  const far = reach + 1;
  const count = width * height;
  for (let x: i32 = 0; x < width; x++) {
    store<i16>(rowsAt + ((<usize>x) << 1), load<u8>(set + <usize>x) != 0 ? 0 : <i16>-far);
    store<i16>(downAt + ((<usize>x) << 1), <i16>far);
  }
  for (let i = width; i < count; i++) {
    const above = <i32>load<i16>(rowsAt + ((<usize>(i - width)) << 1)) - 1;
    store<i16>(rowsAt + ((<usize>i) << 1), load<u8>(set + <usize>i) != 0 ? 0 : <i16>max<i32>(-far, above));
  }
  for (let y = height - 1; y >= 0; y--) {
    for (let x: i32 = 0; x < width; x++) {
      const i = y * width + x;
      const at: usize = rowsAt + ((<usize>i) << 1);
      const down: usize = downAt + ((<usize>x) << 1);
      const steps = load<u8>(set + <usize>i) != 0 ? 0 : min<i32>(far, <i32>load<i16>(down) + 1);
      store<i16>(down, <i16>steps);
      if (steps < -(<i32>load<i16>(at))) store<i16>(at, <i16>steps);
    }
  }
  for (let y: i32 = 0; y < height; y++) {
    for (let x: i32 = 0; x < width; x++) {
      const i = y * width + x;
      let at = -1;
      if (load<u8>(band + <usize>i) != 0) {
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
      }
      store<i32>(nearest + ((<usize>i) << 2), at);
    }
  }
}
