import type { PlatePlanes } from '../fit';
import type { Rect } from '../geometry';
import type { FilmPlan } from './planFilms';

/** Rows of the kept planes that a strip touches. */
export interface StripPlanes {
  readonly firstRow: number;
  readonly rows: number;
  /** For each plate rows * planeWidth values, 255 = solid ink; rows that reach beyond the strip are left at 0. */
  readonly bytes: readonly Uint8Array[];
  /** Rows that the strip has only a part of, by their number: for each plate planeWidth sums, a full pixel is 1. */
  readonly parts: readonly { readonly row: number; readonly sums: readonly Float32Array[] }[];
}

/** Averages a strip's planes down to the kept planes' size, part by part; rows that it shares with its neighbours come as sums. */
export class StripSums {
  private readonly plan: FilmPlan;
  private readonly y0: number;
  private readonly y1: number;
  private readonly firstRow: number;
  private readonly rows: number;
  /** For each plate coverage by area, rows * planeWidth. */
  private readonly sums: readonly Float32Array[];
  private readonly line: Float32Array;

  /** @param region of the print's grid that the strip shows. */
  constructor(plan: FilmPlan, region: Rect) {
    const { grid, planeWidth, planeHeight } = plan;
    const stepY = planeHeight / grid.heightPx;
    this.plan = plan;
    this.y0 = Math.max(0, region.y);
    this.y1 = Math.min(grid.heightPx, region.y + region.height);
    this.firstRow = Math.floor(this.y0 * stepY);
    this.rows = Math.max(0, Math.min(planeHeight, Math.ceil(this.y1 * stepY)) - this.firstRow);
    this.sums = plan.plates.map(() => new Float32Array(this.rows * planeWidth));
    this.line = new Float32Array(planeWidth);
  }

  /** Where a row of the kept planes lies in the grid. */
  private span(row: number): { from: number; to: number; a: number; b: number } {
    const { grid, planeHeight } = this.plan;
    const stepY = planeHeight / grid.heightPx;
    const [a, b] = [row / stepY, (row + 1) / stepY];
    return { from: Math.max(this.y0, Math.floor(a)), to: Math.min(this.y1, Math.ceil(b)), a, b };
  }

  /** @param part columns of the strip; `evaluated` are its planes. */
  add(part: Rect, evaluated: PlatePlanes): void {
    const { grid, planeWidth, planeHeight, plates } = this.plan;
    const [stepX, stepY] = [planeWidth / grid.widthPx, planeHeight / grid.heightPx];
    const x0 = Math.max(0, part.x);
    const x1 = Math.min(grid.widthPx, part.x + part.width);
    if (x1 <= x0) return;
    const first = Math.floor(x0 * stepX);
    const line = this.line.subarray(first, Math.min(planeWidth, Math.ceil(x1 * stepX)));
    plates.forEach((plate, k) => {
      const plane = evaluated.planes.find((each) => each.plate.id === plate.id)!;
      for (let row = 0; row < this.rows; row++) {
        const { from, to, a, b } = this.span(this.firstRow + row);
        const at = row * planeWidth + first;
        const sum = this.sums[k]!.subarray(at, at + line.length);
        for (let y = from; y < to; y++) {
          const start = (y - part.y) * part.width - part.x;
          const shape = plane.shape.subarray(start + x0, start + x1);
          const tone = plane.tone?.subarray(start + x0, start + x1) ?? null;
          if (!sumLine(shape, tone, x0 * stepX - first, stepX, line)) continue;
          const weight = (Math.min(b, y + 1) - Math.max(a, y)) * stepY;
          for (let x = 0; x < sum.length; x++) sum[x]! += weight * line[x]!;
        }
      }
    });
  }

  finish(): StripPlanes {
    const { planeWidth, planeHeight } = this.plan;
    const { firstRow, rows } = this;
    const bytes = this.sums.map(() => new Uint8Array(rows * planeWidth));
    const parts: { row: number; sums: Float32Array[] }[] = [];
    for (let row = 0; row < rows; row++) {
      const { a, b } = this.span(firstRow + row);
      const whole = a >= this.y0 && (b <= this.y1 || firstRow + row === planeHeight - 1);
      const lines = this.sums.map((sum) => sum.subarray(row * planeWidth, (row + 1) * planeWidth));
      if (whole) lines.forEach((line, k) => storeBytes(line, bytes[k]!, row * planeWidth));
      else parts.push({ row: firstRow + row, sums: lines.map((line) => line.slice()) });
    }
    return { firstRow, rows, bytes, parts };
  }
}

/** Sums of coverage, a full pixel being 1, as bytes. */
export function storeBytes(sums: Float32Array, out: Uint8Array, at: number): void {
  for (let x = 0; x < sums.length; x++) {
    const value = sums[x]!;
    if (value > 0) out[at + x] = value >= 1 ? 255 : Math.round(value * 255);
  }
}

/**
 * Coverage of pixels of one row by place of the kept plane; places that are all ink get 1. False when there is none.
 *
 * @param origin where the first pixel begins, and `step` how wide each is, in places of the line.
 */
function sumLine(
  shape: Uint8Array,
  tone: Uint16Array | null,
  origin: number,
  step: number,
  line: Float32Array,
): boolean {
  line.fill(0);
  let any = false;
  const addPart = (a: number, b: number, value: number): void => {
    const first = Math.floor(a);
    const last = Math.min(line.length - 1, Math.ceil(b) - 1);
    if (first >= last) {
      if (first < line.length) line[first]! += value * (b - a);
      return;
    }
    line[first]! += value * (first + 1 - a);
    for (let k = first + 1; k < last; k++) line[k]! += value;
    line[last]! += value * (b - last);
  };
  let from = shape.indexOf(255);
  while (from >= 0) {
    any = true;
    const empty = shape.indexOf(0, from);
    const to = empty < 0 ? shape.length : empty;
    if (tone) {
      for (let x = from; x < to; x++) {
        addPart(origin + x * step, origin + (x + 1) * step, tone[x]! / 65535);
      }
    } else addPart(origin + from * step, origin + to * step, 1);
    from = empty < 0 ? -1 : shape.indexOf(255, to);
  }
  return any;
}
