/** Twin of core/raster/stampDiscs.ts. */
export function stampDiscs(discs: usize, count: i32, width: i32, height: i32, out: usize): void {
  for (let k: i32 = 0; k < count; k++) {
    const at: usize = discs + (<usize>k) * 24;
    const cx = load<f64>(at);
    const cy = load<f64>(at, 8);
    const r = load<f64>(at, 16);
    const r2 = r * r;
    const y0 = max<i32>(0, <i32>Math.ceil(cy - r));
    const y1 = min<i32>(height - 1, <i32>Math.floor(cy + r));
    for (let y = y0; y <= y1; y++) {
      const dy = <f64>y - cy;
      const rest = r2 - dy * dy;
      if (rest < 0) continue;
      const half = Math.sqrt(rest);
      const x0 = max<i32>(0, <i32>Math.ceil(cx - half));
      const x1 = min<i32>(width - 1, <i32>Math.floor(cx + half));
      if (x1 >= x0) memory.fill(out + <usize>(y * width + x0), 255, <usize>(x1 - x0 + 1));
    }
  }
}
