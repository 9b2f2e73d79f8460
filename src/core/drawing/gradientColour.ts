import { type Affine, type Box, compose, fromShares, invert } from './affine';
import type { Gradient } from './drawing';

/** The colour of a gradient at the centres of device pixels. */
export class GradientColour {
  /** Codes and opacity of the last pixel that was asked for. */
  r = 0;
  g = 0;
  b = 0;
  alpha = 0;
  private readonly gradient: Gradient;
  /** From device pixels to the gradient's own coordinates; null where its space has no area. */
  private readonly back: Affine | null;

  /**
   * @param map from the shape's coordinates to device pixels.
   * @param box the shape's bounds.
   */
  constructor(gradient: Gradient, map: Affine, box: Box) {
    this.gradient = gradient;
    const space = gradient.byBox ? compose(map, fromShares(box)) : map;
    this.back = invert(compose(space, gradient.transform));
  }

  /** Sets the colour of the pixel in a column and a row. */
  at(column: number, row: number): void {
    const { gradient, back } = this;
    const { stops } = gradient;
    if (!back || stops.length === 1) return this.take(stops.length - 1);
    const px = column + 0.5;
    const py = row + 0.5;
    const x = back[0] * px + back[2] * py + back[4];
    const y = back[1] * px + back[3] * py + back[5];
    let t = gradient.kind === 'linear' ? this.linear(x, y) : this.radial(x, y);
    if (t !== t) {
      // Outside the cone of two circles nothing is painted.
      this.alpha = 0;
      return;
    }
    if (gradient.spread === 'repeat') t -= Math.floor(t);
    else if (gradient.spread === 'reflect') {
      t = Math.abs(t % 2);
      if (t > 1) t = 2 - t;
    }
    // Of stops at one place the last holds from there on.
    let next = 0;
    while (next < stops.length && stops[next]!.offset <= t) next++;
    if (next === 0) return this.take(0);
    if (next === stops.length) return this.take(next - 1);
    const [a, b] = [stops[next - 1]!, stops[next]!];
    const share = (t - a.offset) / (b.offset - a.offset);
    const mix = (shift: number) => {
      const from = (a.rgb >>> shift) & 255;
      return from + (((b.rgb >>> shift) & 255) - from) * share;
    };
    this.r = mix(0);
    this.g = mix(8);
    this.b = mix(16);
    this.alpha = a.opacity + (b.opacity - a.opacity) * share;
  }

  private take(index: number): void {
    const { rgb, opacity } = this.gradient.stops[index]!;
    this.r = rgb & 255;
    this.g = (rgb >>> 8) & 255;
    this.b = (rgb >>> 16) & 255;
    this.alpha = opacity;
  }

  private linear(x: number, y: number): number {
    const { x1, y1, x2, y2 } = this.gradient;
    const [dx, dy] = [x2 - x1, y2 - y1];
    const length = dx * dx + dy * dy;
    // Without length the last stop paints all.
    return length > 0 ? ((x - x1) * dx + (y - y1) * dy) / length : 1;
  }

  /** The largest t whose circle, between the first and the last one, passes through the point and has a radius. */
  private radial(x: number, y: number): number {
    const { x1, y1, r1, x2, y2, r2 } = this.gradient;
    const [cx, cy, dr] = [x2 - x1, y2 - y1, r2 - r1];
    const [px, py] = [x - x1, y - y1];
    const a = cx * cx + cy * cy - dr * dr;
    const b = px * cx + py * cy + r1 * dr;
    const c = px * px + py * py - r1 * r1;
    if (Math.abs(a) < 1e-12 * (dr * dr + 1e-30)) {
      const t = c / (2 * b);
      return r1 + t * dr >= 0 ? t : NaN;
    }
    const root = b * b - a * c;
    if (root < 0) return NaN;
    const s = Math.sqrt(root);
    const [low, high] = a > 0 ? [(b - s) / a, (b + s) / a] : [(b + s) / a, (b - s) / a];
    if (r1 + high * dr >= 0) return high;
    return r1 + low * dr >= 0 ? low : NaN;
  }
}
