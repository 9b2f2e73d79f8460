import { type Affine, largestScale } from './affine';
import type { Budget } from './budget';
import { type PathStore, type Stroke, VERB } from './drawing';
import { type EdgeList, cubicPieces, quadPieces } from './edgeList';

/** How far the pieces of a stroke may lie from it, in device pixels. */
const TOLERANCE_PX = 0.03;
/** Vertices of one stroke's dashes, which tiny dashes along a long line would make without end. */
const MOST_DASHES = 2e6;
/** Corners flatter than this (cosine of the turn) need no corner drawn: nothing shows of it. */
const FLAT_TURN = 0.9998;

/** A polyline: points x, y, and of each whether the line turns there as the artwork says, and not because a curve was cut up. */
interface Line {
  readonly points: number[];
  readonly corners: boolean[];
  closed: boolean;
  /** Where a line without length points to, which square ends follow. */
  heading?: readonly [number, number];
}

/**
 * Adds the outline of a stroke as pieces that all turn the same way, to be filled by the nonzero rule: a quadrangle for each part of the line,
 * and what joins and ends them.
 *
 * @param map from the path's coordinates to device pixels; the pen is round in the path's coordinates.
 */
export function strokeEdges(
  edges: EdgeList,
  paths: PathStore,
  from: number,
  to: number,
  coordFrom: number,
  stroke: Stroke,
  map: Affine,
  budget: Budget,
): void {
  const scale = largestScale(map);
  if (!(scale > 0) || !(stroke.width > 0)) return;
  const pen = new Pen(edges, stroke, map, scale);
  for (const line of linesOf(paths, from, to, coordFrom, TOLERANCE_PX / scale)) {
    budget.spend(line.points.length * 4);
    if (stroke.dashes.length === 0) pen.draw(line);
    else for (const dash of dashesOf(line, stroke, budget)) pen.draw(dash);
  }
}

function linesOf(paths: PathStore, from: number, to: number, coordFrom: number, tolerance: number): Line[] {
  const { verbs, coords } = paths;
  const lines: Line[] = [];
  let line: Line | null = null;
  let at = coordFrom;
  let [x, y, startX, startY] = [0, 0, 0, 0];
  const begin = (): Line => {
    line = { points: [x, y], corners: [true], closed: false };
    lines.push(line);
    return line;
  };
  const add = (target: Line, u: number, v: number, corner: boolean): void => {
    const { points } = target;
    // A point that stands where the last one does has no direction.
    if (points[points.length - 2] === u && points[points.length - 1] === v) {
      if (corner) target.corners[target.corners.length - 1] = true;
      return;
    }
    points.push(u, v);
    target.corners.push(corner);
  };
  for (let k = from; k < to; k++) {
    const verb = verbs[k]!;
    if (verb === VERB.move) {
      [x, y] = [coords[at]!, coords[at + 1]!];
      [startX, startY] = [x, y];
      at += 2;
      line = null;
      // A move that nothing follows draws nothing.
      if (k + 1 < to && verbs[k + 1] !== VERB.move) begin();
      continue;
    }
    const target: Line = line ?? begin();
    if (verb === VERB.close) {
      add(target, startX, startY, true);
      const { points } = target;
      if (
        points.length > 2 &&
        points[0] === points[points.length - 2] &&
        points[1] === points[points.length - 1]
      ) {
        points.length -= 2;
        target.corners.length--;
      }
      target.closed = true;
      [x, y] = [startX, startY];
      line = null;
    } else if (verb === VERB.line) {
      [x, y] = [coords[at]!, coords[at + 1]!];
      add(target, x, y, true);
      at += 2;
    } else if (verb === VERB.quad) {
      const [x1, y1, x2, y2] = [coords[at]!, coords[at + 1]!, coords[at + 2]!, coords[at + 3]!];
      const pieces = quadPieces(x, y, x1, y1, x2, y2, tolerance);
      for (let p = 1; p < pieces; p++) {
        const t = p / pieces;
        const s = 1 - t;
        add(target, s * s * x + 2 * s * t * x1 + t * t * x2, s * s * y + 2 * s * t * y1 + t * t * y2, false);
      }
      add(target, x2, y2, true);
      [x, y] = [x2, y2];
      at += 4;
    } else {
      const [x1, y1, x2, y2] = [coords[at]!, coords[at + 1]!, coords[at + 2]!, coords[at + 3]!];
      const [x3, y3] = [coords[at + 4]!, coords[at + 5]!];
      const pieces = cubicPieces(x, y, x1, y1, x2, y2, x3, y3, tolerance);
      for (let p = 1; p < pieces; p++) {
        const t = p / pieces;
        const s = 1 - t;
        const [a, b, c, d] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
        add(target, a * x + b * x1 + c * x2 + d * x3, a * y + b * y1 + c * y2 + d * y3, false);
      }
      add(target, x3, y3, true);
      [x, y] = [x3, y3];
      at += 6;
    }
  }
  return lines;
}

/** A line cut into its dashes. A closed line whose first dash begins where its last one ends has them joined. */
function dashesOf(line: Line, stroke: Stroke, budget: Budget): Line[] {
  const lengths = stroke.dashes;
  const period = lengths.reduce((sum, each) => sum + each, 0);
  if (!(period > 0)) return [line];
  let offset = stroke.dashOffset % period;
  if (offset < 0) offset += period;
  let index = 0;
  // A dash of no length is a point, and the line may begin with one.
  while (offset > lengths[index]! || (offset === lengths[index]! && offset > 0)) {
    offset -= lengths[index]!;
    index = (index + 1) % lengths.length;
  }
  let left = lengths[index]! - offset;
  const { points, corners } = line;
  const count = points.length / 2;
  const parts = line.closed ? count : count - 1;
  const dashes: Line[] = [];
  const startsOn = index % 2 === 0;
  let dash: Line | null = null;
  const begin = (x: number, y: number): void => {
    dash = { points: [x, y], corners: [true], closed: false };
    dashes.push(dash);
  };
  if (startsOn) begin(points[0]!, points[1]!);
  let made = 0;
  for (let k = 0; k < parts; k++) {
    const [x0, y0] = [points[2 * k]!, points[2 * k + 1]!];
    const next = (k + 1) % count;
    const [x1, y1] = [points[2 * next]!, points[2 * next + 1]!];
    const length = Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0));
    let gone = 0;
    while (length - gone > left) {
      gone += left;
      const t = gone / length;
      const [x, y] = [x0 + (x1 - x0) * t, y0 + (y1 - y0) * t];
      const current = dash as Line | null;
      if (current) {
        if (lengths[index] === 0) current.heading = [(x1 - x0) / length, (y1 - y0) / length];
        else {
          current.points.push(x, y);
          current.corners.push(true);
        }
        dash = null;
      } else begin(x, y);
      index = (index + 1) % lengths.length;
      left = lengths[index]!;
      made++;
      if ((made & 1023) === 0) budget.spend(1024 * 16);
      if (made > MOST_DASHES) budget.spend(Infinity);
    }
    left -= length - gone;
    const current = dash as Line | null;
    if (current) {
      current.points.push(x1, y1);
      current.corners.push(corners[next]!);
    }
  }
  const last = dash as Line | null;
  const first = dashes[0];
  if (line.closed && startsOn && last && first && last !== first) {
    // The last point is the first one's own.
    last.points.push(...first.points.slice(2));
    last.corners.push(...first.corners.slice(1));
    dashes.shift();
  } else if (line.closed && startsOn && last === first && last && made === 0) {
    return [line];
  }
  return dashes;
}

class Pen {
  private readonly edges: EdgeList;
  private readonly map: Affine;
  private readonly half: number;
  private readonly stroke: Stroke;
  /** Points of a quarter of the unit circle, without the last; by the rational form, since sines differ between engines. */
  private readonly quarter: number[] = [];

  constructor(edges: EdgeList, stroke: Stroke, map: Affine, scale: number) {
    this.edges = edges;
    this.stroke = stroke;
    this.map = map;
    this.half = stroke.width / 2;
    const pieces = Math.min(
      256,
      Math.max(2, Math.ceil(0.75 * Math.sqrt((this.half * scale) / TOLERANCE_PX))),
    );
    for (let k = 0; k < pieces; k++) {
      const t = k / pieces;
      this.quarter.push((1 - t * t) / (1 + t * t), (2 * t) / (1 + t * t));
    }
  }

  draw({ points, corners, closed, heading = [1, 0] }: Line): void {
    const count = points.length / 2;
    if (count === 1) {
      this.cap(points[0]!, points[1]!, heading[0], heading[1]);
      this.cap(points[0]!, points[1]!, -heading[0], -heading[1]);
      return;
    }
    const { half } = this;
    const parts = closed ? count : count - 1;
    let [firstX, firstY, lastX, lastY] = [0, 0, 0, 0];
    for (let k = 0; k < parts; k++) {
      const [x0, y0] = [points[2 * k]!, points[2 * k + 1]!];
      const next = k + 1 === count ? 0 : k + 1;
      const [x1, y1] = [points[2 * next]!, points[2 * next + 1]!];
      const [dx, dy] = [x1 - x0, y1 - y0];
      const length = Math.sqrt(dx * dx + dy * dy);
      if (!(length > 0)) continue;
      const [ux, uy] = [dx / length, dy / length];
      const [nx, ny] = [-uy * half, ux * half];
      this.polygon([x0 + nx, y0 + ny, x1 + nx, y1 + ny, x1 - nx, y1 - ny, x0 - nx, y0 - ny]);
      if (k === 0) {
        [firstX, firstY] = [ux, uy];
        if (!closed) this.cap(x0, y0, -ux, -uy);
      } else this.join(x0, y0, lastX, lastY, ux, uy, corners[k]!);
      [lastX, lastY] = [ux, uy];
    }
    if (closed) this.join(points[0]!, points[1]!, lastX, lastY, firstX, firstY, corners[0]!);
    else this.cap(points[points.length - 2]!, points[points.length - 1]!, lastX, lastY);
  }

  private cap(x: number, y: number, ux: number, uy: number): void {
    const { half } = this;
    if (this.stroke.cap === 'round') this.circle(x, y);
    else if (this.stroke.cap === 'square') {
      const [nx, ny, ex, ey] = [-uy * half, ux * half, ux * half, uy * half];
      this.polygon([x + nx, y + ny, x + nx + ex, y + ny + ey, x - nx + ex, y - ny + ey, x - nx, y - ny]);
    }
  }

  private join(x: number, y: number, ux: number, uy: number, vx: number, vy: number, corner: boolean): void {
    const cos = ux * vx + uy * vy;
    const { half, stroke } = this;
    if (cos > FLAT_TURN && (cos > 0.999999 || !corner)) return this.bevel(x, y, ux, uy, vx, vy, null);
    // A curve that turns back on itself between two of its points has a round end there.
    if (corner ? stroke.join === 'round' : cos < 0.5) return this.circle(x, y);
    if (corner && stroke.join === 'miter') {
      const ratio = 2 / (1 + cos);
      if (ratio <= stroke.miterLimit * stroke.miterLimit) {
        const side = ux * vy - uy * vx > 0 ? -1 : 1;
        const reach = (side * half) / (1 + cos);
        return this.bevel(x, y, ux, uy, vx, vy, [x + (-uy - vy) * reach, y + (ux + vx) * reach]);
      }
    }
    this.bevel(x, y, ux, uy, vx, vy, null);
  }

  /** Fills the gap on the outer side of a turn, up to the tip where there is one. */
  private bevel(
    x: number,
    y: number,
    ux: number,
    uy: number,
    vx: number,
    vy: number,
    tip: readonly [number, number] | null,
  ): void {
    const turn = ux * vy - uy * vx;
    if (turn === 0) return;
    const side = turn > 0 ? -this.half : this.half;
    const [ax, ay, bx, by] = [x - uy * side, y + ux * side, x - vy * side, y + vx * side];
    const middle = tip ?? [];
    // Turned as the quadrangles are.
    if (side < 0) this.polygon([x, y, bx, by, ...middle, ax, ay]);
    else this.polygon([x, y, ax, ay, ...middle, bx, by]);
  }

  private circle(x: number, y: number): void {
    const { quarter, half } = this;
    const points: number[] = [];
    let [sx, sy] = [1, 0];
    for (let turn = 0; turn < 4; turn++) {
      for (let k = 0; k < quarter.length; k += 2) {
        const [c, s] = [quarter[k]! * half, quarter[k + 1]! * half];
        // Clockwise with y up, as the quadrangles.
        points.push(x + c * sx + s * sy, y + c * sy - s * sx);
      }
      [sx, sy] = [sy, -sx];
    }
    this.polygon(points);
  }

  private polygon(points: readonly number[]): void {
    const [a, b, c, d, e, f] = this.map;
    const last = points.length - 2;
    let [x, y] = [
      a * points[last]! + c * points[last + 1]! + e,
      b * points[last]! + d * points[last + 1]! + f,
    ];
    for (let k = 0; k < points.length; k += 2) {
      const u = a * points[k]! + c * points[k + 1]! + e;
      const v = b * points[k]! + d * points[k + 1]! + f;
      this.edges.line(x, y, u, v);
      x = u;
      y = v;
    }
  }
}

/** How far a stroke reaches beyond its line, in the coordinates of the line. */
export function strokeReach(width: number, miterLimit: number, join: string, cap: string): number {
  const corner = join === 'miter' ? Math.max(1, miterLimit) : 1;
  return (width / 2) * Math.max(corner, cap === 'square' ? Math.SQRT2 : 1);
}
