import type { Rect } from '../geometry';
import type { Affine } from './affine';
import { type PathStore, VERB } from './drawing';

/** How far a polygon may lie from the curve that it stands for, in device pixels. */
const TOLERANCE_PX = 0.03;
/** More pieces are never made of one curve: from here on it lies mostly outside every region. */
const MOST_PIECES = 4000;

/** Straight edges in device pixels, x0, y0, x1, y1 of each; only what can matter inside a region is kept. */
export class EdgeList {
  data = new Float64Array(1024);
  count = 0;
  private x0 = 0;
  private x1 = 0;
  private y0 = 0;
  private y1 = 0;

  /** Empties it, for edges that matter in a region. */
  begin(region: Rect): void {
    this.count = 0;
    this.x0 = region.x;
    this.y0 = region.y;
    this.x1 = region.x + region.width;
    this.y1 = region.y + region.height;
  }

  line(x0: number, y0: number, x1: number, y1: number): void {
    if (y0 === y1 || !Number.isFinite(x0 + y0 + x1 + y1)) return;
    if ((y0 < this.y0 && y1 < this.y0) || (y0 > this.y1 && y1 > this.y1)) return;
    // What lies to the right of the region cannot be inside of anything there.
    if (x0 > this.x1 && x1 > this.x1) return;
    if (this.count * 4 === this.data.length) {
      const larger = new Float64Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    const at = this.count++ * 4;
    this.data[at] = x0;
    this.data[at + 1] = y0;
    this.data[at + 2] = x1;
    this.data[at + 3] = y1;
  }

  /** Whether a hull of three or four points needs no pieces; what lies to the left counts as a straight line. */
  private far(
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    lowX: number,
    highX: number,
    lowY: number,
    highY: number,
  ): boolean {
    if (highY < this.y0 || lowY > this.y1 || lowX > this.x1) return true;
    if (highX >= this.x0) return false;
    this.line(x0, y0, x1, y1);
    return true;
  }

  quad(x0: number, y0: number, x1: number, y1: number, x2: number, y2: number): void {
    if (
      this.far(
        x0,
        y0,
        x2,
        y2,
        Math.min(x0, x1, x2),
        Math.max(x0, x1, x2),
        Math.min(y0, y1, y2),
        Math.max(y0, y1, y2),
      )
    )
      return;
    const pieces = quadPieces(x0, y0, x1, y1, x2, y2, TOLERANCE_PX);
    let [px, py] = [x0, y0];
    for (let k = 1; k <= pieces; k++) {
      const t = k / pieces;
      const s = 1 - t;
      const x = k === pieces ? x2 : s * s * x0 + 2 * s * t * x1 + t * t * x2;
      const y = k === pieces ? y2 : s * s * y0 + 2 * s * t * y1 + t * t * y2;
      this.line(px, py, x, y);
      px = x;
      py = y;
    }
  }

  cubic(
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    x2: number,
    y2: number,
    x3: number,
    y3: number,
  ): void {
    if (
      this.far(
        x0,
        y0,
        x3,
        y3,
        Math.min(x0, x1, x2, x3),
        Math.max(x0, x1, x2, x3),
        Math.min(y0, y1, y2, y3),
        Math.max(y0, y1, y2, y3),
      )
    )
      return;
    const pieces = cubicPieces(x0, y0, x1, y1, x2, y2, x3, y3, TOLERANCE_PX);
    let [px, py] = [x0, y0];
    for (let k = 1; k <= pieces; k++) {
      const t = k / pieces;
      const s = 1 - t;
      const [a, b, c, d] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
      const x = k === pieces ? x3 : a * x0 + b * x1 + c * x2 + d * x3;
      const y = k === pieces ? y3 : a * y0 + b * y1 + c * y2 + d * y3;
      this.line(px, py, x, y);
      px = x;
      py = y;
    }
  }

  /** Adds an outline; open parts are closed, as filling wants them. */
  outline(paths: PathStore, from: number, to: number, coordFrom: number, map: Affine): void {
    const { verbs, coords } = paths;
    const [a, b, c, d, e, f] = map;
    let at = coordFrom;
    let [sx, sy, x, y] = [0, 0, 0, 0];
    for (let k = from; k < to; k++) {
      const verb = verbs[k]!;
      if (verb === VERB.close) {
        this.line(x, y, sx, sy);
        [x, y] = [sx, sy];
        continue;
      }
      const [u1, v1] = [coords[at]!, coords[at + 1]!];
      const [x1, y1] = [a * u1 + c * v1 + e, b * u1 + d * v1 + f];
      if (verb === VERB.move) {
        this.line(x, y, sx, sy);
        [sx, sy, x, y] = [x1, y1, x1, y1];
        at += 2;
      } else if (verb === VERB.line) {
        this.line(x, y, x1, y1);
        [x, y] = [x1, y1];
        at += 2;
      } else {
        const [u2, v2] = [coords[at + 2]!, coords[at + 3]!];
        const [x2, y2] = [a * u2 + c * v2 + e, b * u2 + d * v2 + f];
        if (verb === VERB.quad) {
          this.quad(x, y, x1, y1, x2, y2);
          [x, y] = [x2, y2];
          at += 4;
        } else {
          const [u3, v3] = [coords[at + 4]!, coords[at + 5]!];
          const [x3, y3] = [a * u3 + c * v3 + e, b * u3 + d * v3 + f];
          this.cubic(x, y, x1, y1, x2, y2, x3, y3);
          [x, y] = [x3, y3];
          at += 6;
        }
      }
    }
    this.line(x, y, sx, sy);
  }
}

/** Pieces of a quadratic curve that stay within a tolerance: its second difference bounds the error (Wang 1984, from memory). */
export function quadPieces(
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  tolerance: number,
): number {
  const [dx, dy] = [x0 - 2 * x1 + x2, y0 - 2 * y1 + y2];
  return bounded(Math.sqrt((0.25 * Math.sqrt(dx * dx + dy * dy)) / tolerance));
}

/** As `quadPieces`, of a cubic curve. */
export function cubicPieces(
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  x3: number,
  y3: number,
  tolerance: number,
): number {
  const [ax, ay] = [x0 - 2 * x1 + x2, y0 - 2 * y1 + y2];
  const [bx, by] = [x1 - 2 * x2 + x3, y1 - 2 * y2 + y3];
  const most = Math.max(ax * ax + ay * ay, bx * bx + by * by);
  return bounded(Math.sqrt((0.75 * Math.sqrt(most)) / tolerance));
}

function bounded(pieces: number): number {
  return pieces >= 1 ? Math.min(MOST_PIECES, Math.ceil(pieces)) : 1;
}
