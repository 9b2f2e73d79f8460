/**
 * Marks every pixel whose centre lies within a disc.
 *
 * @param discs triples x, y, radius in pixels; (0, 0) is the centre of the top left pixel; sub-pixel
 *   positions and radii count in full.
 * @param out width * height, row after row; marked pixels are set to 255, others are left alone.
 */
export function stampDiscs(discs: Float64Array, width: number, height: number, out: Uint8Array): void {
  for (let i = 0; i + 2 < discs.length; i += 3) {
    const cx = discs[i]!;
    const cy = discs[i + 1]!;
    const r = discs[i + 2]!;
    const r2 = r * r;
    const y0 = Math.max(0, Math.ceil(cy - r));
    const y1 = Math.min(height - 1, Math.floor(cy + r));
    for (let y = y0; y <= y1; y++) {
      const dy = y - cy;
      const rest = r2 - dy * dy;
      if (rest < 0) continue;
      const half = Math.sqrt(rest);
      const x0 = Math.max(0, Math.ceil(cx - half));
      const x1 = Math.min(width - 1, Math.floor(cx + half));
      if (x1 >= x0) out.fill(255, y * width + x0, y * width + x1 + 1);
    }
  }
}
