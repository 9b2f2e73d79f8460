import type { PlatePlanes } from '../fit';
import type { Rect } from '../geometry';
import { LEAST_TONE, isEmpty } from '../raster';
import { type Plate, stagesOf } from '../sheet';
import { stageTable } from '../stages';
import type { FilmPlan } from './planFilms';
import type { PlateBlock } from './plateBlocks';
import type { TonePlanes } from './toneBlocks';

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
  private readonly scratch = new ScratchLines();

  /** @param region of the print's grid that the strip shows. */
  constructor(plan: FilmPlan, region: Rect) {
    const { grid, planeWidth, planeHeight } = plan;
    const stepY = planeHeight / grid.heightPx;
    this.plan = plan;
    this.y0 = Math.max(0, region.y);
    this.y1 = Math.min(grid.heightPx, region.y + region.height);
    // A strip below the print, where ink may have grown to, has none of its rows.
    this.firstRow = Math.min(planeHeight, Math.floor(this.y0 * stepY));
    this.rows = Math.max(0, Math.min(planeHeight, Math.ceil(this.y1 * stepY)) - this.firstRow);
    this.sums = plan.plates.map(() => new Float32Array(this.rows * planeWidth));
  }

  /** Where a row of the kept planes lies in the grid. */
  private span(row: number): { from: number; to: number; a: number; b: number } {
    const { grid, planeHeight } = this.plan;
    const stepY = planeHeight / grid.heightPx;
    const [a, b] = [row / stepY, (row + 1) / stepY];
    return { from: Math.max(this.y0, Math.floor(a)), to: Math.min(this.y1, Math.ceil(b)), a, b };
  }

  add({ rect: part, plates: wanted, views, wear }: PlateBlock): void {
    const { grid, planeWidth, planeHeight, plates } = this.plan;
    const [stepX, stepY] = [planeWidth / grid.widthPx, planeHeight / grid.heightPx];
    const x0 = Math.max(0, part.x);
    const x1 = Math.min(grid.widthPx, part.x + part.width);
    if (x1 <= x0) return;
    const first = Math.floor(x0 * stepX);
    const columns = Math.min(planeWidth, Math.ceil(x1 * stepX)) - first;
    const origin = x0 * stepX - first;
    plates.forEach((plate, k) => {
      if (!wanted.includes(plate)) return;
      const holes = wear && !isNowhere(views, plate) ? wear.holesOf(plate.id) : null;
      const worn = holes && { holes, part };
      const linesOf =
        views.kind === 'planes'
          ? planeLines(views.planes, plate, worn, x0, x1)
          : toneLines(views.tones, plate, part, worn, x0, x1, this.scratch);
      if (!linesOf) return;
      for (let row = 0; row < this.rows; row++) {
        const { from, to, a, b } = this.span(this.firstRow + row);
        const at = row * planeWidth + first;
        const sum = this.sums[k]!.subarray(at, at + columns);
        const weightOf = (y: number) => (Math.min(b, y + 1) - Math.max(a, y)) * stepY;
        const span = { from: Math.max(from, part.y), to: Math.min(to, part.y + part.height), weightOf };
        for (const { shape, tone, weight } of linesOf(span)) {
          addLine(shape, tone, origin, stepX, weight, sum);
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

/** Memory for the lines of one plate after the other. */
class ScratchLines {
  private sources = new Float64Array(0);
  private lines = new Float64Array(0);

  source(length: number): Float64Array {
    if (this.sources.length < length) this.sources = new Float64Array(length);
    return this.sources.subarray(0, length);
  }

  line(length: number): Float64Array {
    if (this.lines.length < length) this.lines = new Float64Array(length);
    return this.lines.subarray(0, length);
  }
}

/** Rows of a block that lie in one row of the kept planes, and how much of it each covers. */
interface RowSpan {
  readonly from: number;
  readonly to: number;
  readonly weightOf: (y: number) => number;
}

/** Pixels of a row, and how much of a kept row they stand for. */
interface WeighedLine {
  readonly shape: Uint8Array | null;
  readonly tone: ArrayLike<number> | null;
  readonly weight: number;
}

type LinesOf = (span: RowSpan) => Iterable<WeighedLine>;

/** Whether a plate prints nothing in a block. */
function isNowhere(views: PlateBlock['views'], plate: Plate): boolean {
  if (views.kind === 'tones') return views.tones.tonesOf(plate) === null;
  return isEmpty(views.planes.planes.find((plane) => plane.plate.id === plate.id)!.shape);
}

/** Holes of a texture in a block of the print. */
interface Worn {
  readonly holes: Uint8Array;
  readonly part: Rect;
}

function holesIn({ holes, part }: Worn, y: number, x0: number, x1: number): Uint8Array {
  const start = (y - part.y) * part.width - part.x;
  return holes.subarray(start + x0, start + x1);
}

/** For each column of some rows which share of them has no hole. */
function openShares(worn: Worn, { from, to, weightOf }: RowSpan, x0: number, x1: number): Float64Array {
  const shares = new Float64Array(x1 - x0);
  let total = 0;
  for (let y = from; y < to; y++) total += weightOf(y);
  for (let y = from; y < to; y++) {
    const holes = holesIn(worn, y, x0, x1);
    const weight = weightOf(y) / total;
    for (let x = 0; x < shares.length; x++) if (holes[x] === 0) shares[x]! += weight;
  }
  return shares;
}

/** Row by row from planes. */
function planeLines(
  { rect, planes }: PlatePlanes,
  { id }: Plate,
  worn: Worn | null,
  x0: number,
  x1: number,
): LinesOf {
  const { shape, tone } = planes.find(({ plate }) => plate.id === id)!;
  return function* ({ from, to, weightOf }) {
    for (let y = from; y < to; y++) {
      const start = (y - rect.y) * rect.width - rect.x;
      const whole = shape.subarray(start + x0, start + x1);
      const holes = worn && holesIn(worn, y, x0, x1);
      yield {
        shape: holes ? whole.map((own, x) => (holes[x] === 0 ? own : 0)) : whole,
        tone: tone?.subarray(start + x0, start + x1) ?? null,
        weight: weightOf(y),
      };
    }
  };
}

/**
 * From tones at the artwork's pixels. Without stages all rows of a span at once, first what the artwork's rows have in it, then interpolated across, then the
 * share of the texture's holes in each column; with them row by row, since they come behind the interpolation.
 */
function toneLines(
  tones: TonePlanes,
  plate: Plate,
  part: Rect,
  worn: Worn | null,
  x0: number,
  x1: number,
  scratch: ScratchLines,
): LinesOf | null {
  const own = tones.tonesOf(plate);
  if (!own) return null;
  const { stride, left, pixels, across, down } = tones;
  const table = stageTable(stagesOf(plate));
  // Where a pixel lies on the last one there is no next.
  const source = scratch.source(pixels + 1);
  const line = scratch.line(x1 - x0);
  /** Returns whether there is anything. */
  const spread = (weights: ReadonlyMap<number, number>): boolean => {
    source.fill(0);
    let any = 0;
    for (const [y, weight] of weights) {
      for (let x = 0, i = y * stride + left; x < pixels; x++, i++) {
        any |= own[i]!;
        source[x]! += weight * own[i]!;
      }
    }
    if (any === 0) return false;
    for (let x = x0; x < x1; x++) {
      const at = across.from[x - part.x]!;
      const next = (across.part?.[x - part.x] ?? 0) / 256;
      line[x - x0] = source[at]! * (1 - next) + source[at + 1]! * next;
    }
    return true;
  };
  const weigh = (weights: Map<number, number>, y: number, weight: number): void => {
    const at = down.from[y - part.y]!;
    const next = (down.part?.[y - part.y] ?? 0) / 256;
    weights.set(at, (weights.get(at) ?? 0) + weight * (1 - next));
    if (next > 0) weights.set(at + 1, (weights.get(at + 1) ?? 0) + weight * next);
  };
  return function* ({ from, to, weightOf }) {
    if (!table) {
      const weights = new Map<number, number>();
      let total = 0;
      for (let y = from; y < to; y++) total += weightOf(y);
      if (total === 0) return;
      for (let y = from; y < to; y++) weigh(weights, y, weightOf(y) / total);
      if (!spread(weights)) return;
      if (worn) openShares(worn, { from, to, weightOf }, x0, x1).forEach((open, x) => (line[x]! *= open));
      yield { shape: null, tone: line, weight: total };
      return;
    }
    for (let y = from; y < to; y++) {
      const weights = new Map<number, number>();
      weigh(weights, y, 1);
      if (!spread(weights)) continue;
      for (let x = 0; x < line.length; x++) {
        const tone = Math.round(line[x]!);
        line[x] = tone < LEAST_TONE ? 0 : table[tone]!;
      }
      if (worn) holesIn(worn, y, x0, x1).forEach((hole, x) => hole !== 0 && (line[x] = 0));
      yield { shape: null, tone: line, weight: weightOf(y) };
    }
  };
}

/** Sums of coverage, a full pixel being 1, as bytes. */
export function storeBytes(sums: Float32Array, out: Uint8Array, at: number): void {
  for (let x = 0; x < sums.length; x++) {
    const value = sums[x]!;
    if (value > 0) out[at + x] = value >= 1 ? 255 : Math.round(value * 255);
  }
}

/**
 * Adds the coverage of pixels of one row to places of a kept plane, by area.
 *
 * @param shape where they print, 0 or 255; null: on all of them.
 * @param tone how much, 0..65535; null: solid.
 * @param origin where the first pixel begins, and `step` how wide each is, in places of the sums.
 * @param weight how much of a place's height the row covers.
 */
function addLine(
  shape: Uint8Array | null,
  tone: ArrayLike<number> | null,
  origin: number,
  step: number,
  weight: number,
  sums: Float32Array,
): void {
  const addPart = (a: number, b: number, value: number): void => {
    const first = Math.floor(a);
    const last = Math.min(sums.length - 1, Math.ceil(b) - 1);
    if (first >= last) {
      if (first < sums.length) sums[first]! += value * (b - a);
      return;
    }
    sums[first]! += value * (first + 1 - a);
    for (let k = first + 1; k < last; k++) sums[k]! += value;
    sums[last]! += value * (b - last);
  };
  // Pixels of one value lie together more often than not.
  const addTones = (values: ArrayLike<number>, from: number, to: number): void => {
    for (let x = from, end = x; x < to; x = end) {
      const value = values[x]!;
      for (end = x + 1; end < to && values[end] === value; end++);
      if (value > 0) addPart(origin + x * step, origin + end * step, (weight * value) / 65535);
    }
  };
  if (!shape) {
    addTones(tone!, 0, tone!.length);
    return;
  }
  for (let from = shape.indexOf(255); from >= 0;) {
    const empty = shape.indexOf(0, from);
    const to = empty < 0 ? shape.length : empty;
    if (tone) addTones(tone, from, to);
    else addPart(origin + from * step, origin + to * step, weight);
    from = empty < 0 ? -1 : shape.indexOf(255, to);
  }
}
