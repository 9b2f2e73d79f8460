import { type Affine, type Box, compose, fromShares, invert } from './affine';
import { type Gradient, SPREADS } from './drawing';

/** Numbers that each stop has in the table of a gradient: offset, red, green, blue (codes), opacity. */
export const STOP_NUMBERS = 5;
const WIDE = STOP_NUMBERS;

/** A gradient as numbers: what the loop over its pixels reads, plain or compiled. */
export interface GradientTable {
  /**
   * Kind (0 linear, 1 radial), spread (0 pad, 1 reflect, 2 repeat); a, b, c of t = a x + b y + c of a linear one; six of the map from device
   * pixels to a radial one's coordinates; its first centre and radius; the way to the last centre and radius; and the quadratic's first
   * coefficient, with 1 behind it where that counts as 0.
   */
  readonly form: Float64Array;
  /** Offset, red, green, blue, opacity of each stop. */
  readonly stops: Float64Array;
}

/** The colour of a gradient at the centres of device pixels. */
export class GradientColour {
  readonly out = new Float64Array(4);
  readonly table: GradientTable;
  private readonly gradient: Gradient;
  /** From device pixels to the gradient's own coordinates; null where its space has no area. */
  private readonly back: Affine | null;
  private readonly stops: Float64Array;
  /** t = a x + b y + c, of a linear one. */
  private readonly along: readonly [a: number, b: number, c: number];
  /** The stop before the last colour that was mixed: neighbours mostly lie between the same two. */
  private last = 0;

  /**
   * @param map from the shape's coordinates to device pixels.
   * @param box the shape's bounds.
   */
  constructor(gradient: Gradient, map: Affine, box: Box) {
    this.gradient = gradient;
    const space = gradient.byBox ? compose(map, fromShares(box)) : map;
    this.back = invert(compose(space, gradient.transform));
    this.stops = Float64Array.from(
      gradient.stops.flatMap(({ offset, rgb, opacity }) => [
        offset,
        rgb & 255,
        (rgb >>> 8) & 255,
        (rgb >>> 16) & 255,
        opacity,
      ]),
    );
    this.along = this.linearForm();
    this.table = this.tableOf();
  }

  private tableOf(): GradientTable {
    const { gradient, back, along, stops } = this;
    const { x1, y1, r1, x2, y2, r2 } = gradient;
    const [cx, cy, dr] = [x2 - x1, y2 - y1, r2 - r1];
    const first = cx * cx + cy * cy - dr * dr;
    const isNone = Math.abs(first) < 1e-12 * (dr * dr + 1e-30);
    const place = [...(back ?? [0, 0, 0, 0, 0, 0]), x1, y1, r1, cx, cy, dr, first, isNone ? 1 : 0];
    const kind = gradient.kind === 'linear' ? 0 : 1;
    const form = Float64Array.of(kind, SPREADS.indexOf(gradient.spread), ...along, ...place);
    // Without a space of its own, or with one stop, it is that stop's colour everywhere.
    const last = stops.length - WIDE;
    return back && last > 0 ? { form, stops } : { form, stops: stops.subarray(last) };
  }

  private linearForm(): readonly [number, number, number] {
    const { gradient, back } = this;
    const { x1, y1, x2, y2 } = gradient;
    const [dx, dy] = [x2 - x1, y2 - y1];
    const length = dx * dx + dy * dy;
    // Without length the last stop paints all.
    if (!back || !(length > 0)) return [0, 0, 1];
    return [
      (back[0] * dx + back[1] * dy) / length,
      (back[2] * dx + back[3] * dy) / length,
      ((back[4] - x1) * dx + (back[5] - y1) * dy) / length,
    ];
  }

  /** Sets the colour of the pixel in a column and a row. */
  at(column: number, row: number): void {
    const { gradient, back, stops } = this;
    const count = stops.length / WIDE;
    if (!back || count === 1) return this.take(count - 1);
    const px = column + 0.5;
    const py = row + 0.5;
    let t: number;
    if (gradient.kind === 'linear') t = this.along[0] * px + this.along[1] * py + this.along[2];
    else {
      const x = back[0] * px + back[2] * py + back[4];
      t = this.radial(x, back[1] * px + back[3] * py + back[5]);
      if (t !== t) {
        // Outside the cone of two circles nothing is painted.
        this.out[3] = 0;
        return;
      }
    }
    if (gradient.spread === 'repeat') t -= Math.floor(t);
    else if (gradient.spread === 'reflect') {
      t = Math.abs(t % 2);
      if (t > 1) t = 2 - t;
    }
    // Of stops at one place the last holds from there on.
    let before = this.last;
    if (stops[before * WIDE]! > t) before = 0;
    if (stops[before * WIDE]! > t) return this.take(0);
    while (before + 1 < count && stops[(before + 1) * WIDE]! <= t) before++;
    this.last = before;
    if (before === count - 1) return this.take(before);
    const from = before * WIDE;
    const to = from + WIDE;
    const share = (t - stops[from]!) / (stops[to]! - stops[from]!);
    this.out[0] = stops[from + 1]! + (stops[to + 1]! - stops[from + 1]!) * share;
    this.out[1] = stops[from + 2]! + (stops[to + 2]! - stops[from + 2]!) * share;
    this.out[2] = stops[from + 3]! + (stops[to + 3]! - stops[from + 3]!) * share;
    this.out[3] = stops[from + 4]! + (stops[to + 4]! - stops[from + 4]!) * share;
  }

  private take(index: number): void {
    const { stops } = this;
    this.out[0] = stops[index * WIDE + 1]!;
    this.out[1] = stops[index * WIDE + 2]!;
    this.out[2] = stops[index * WIDE + 3]!;
    this.out[3] = stops[index * WIDE + 4]!;
  }

  /** The largest t whose circle, between the first and the last one, passes through the point and has a radius. */
  private radial(x: number, y: number): number {
    const { x1, y1, r1, x2, y2, r2 } = this.gradient;
    const dr = r2 - r1;
    const cx = x2 - x1;
    const cy = y2 - y1;
    const px = x - x1;
    const py = y - y1;
    // Circles round one centre, which most are.
    if (cx === 0 && cy === 0) return dr === 0 ? NaN : (Math.sqrt(px * px + py * py) - r1) / dr;
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
