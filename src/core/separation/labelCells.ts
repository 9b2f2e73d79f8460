import type { Rect } from '../geometry';
import {
  type Allocator,
  type Expansion,
  type RasterKernels,
  TONED,
  cellStride,
  placeBetween,
} from '../raster';
import { MIXED } from '../raster';
import type { PixelShares } from './pixelShares';

/** How the print's pixels lie on the pixels of an artwork plane: artwork = print * scale + offset, for centres. */
export interface PlaneMapping {
  readonly scaleX: number;
  readonly scaleY: number;
  /** Whole numbers. */
  readonly offsetX: number;
  readonly offsetY: number;
  /** The print's whole raster; beyond it everything is bare. */
  readonly printWidth: number;
  readonly printHeight: number;
}

export function clamp(value: number, low: number, high: number): number {
  return value < low ? low : value > high ? high : value;
}

/**
 * The pixel of a plane whose centre lies at or before the centre of a print pixel, along one side, and how far behind it that lies,
 * 0..1 on the way to the next pixel. What lies beyond the plane lies on its border.
 */
function placeOn(print: number, scale: number, offset: number, count: number): [cell: number, part: number] {
  // Without the offset, so that it is the same on whatever part of the artwork.
  const at = (print + 0.5) * scale - 0.5;
  const cell = Math.floor(at);
  const here = cell + offset;
  if (here < 0) return [0, 0];
  if (here >= count - 1) return [count - 1, 0];
  return [here, at - cell];
}

/** Places of print pixels between those of the artwork, in 256ths. */
export function toneExpansion(
  first: number,
  count: number,
  scale: number,
  offset: number,
  pixels: number,
): Expansion {
  const from = new Int32Array(count);
  const part = new Uint16Array(count);
  for (let k = 0; k < count; k++) {
    const [cell, beyond] = placeOn(first + k, scale, offset, pixels);
    placeBetween(from, part, k, cell, beyond);
  }
  // Where every place is a pixel's own, nothing lies between tones.
  return { from, part: part.some((beyond) => beyond > 0) ? part : null };
}

/** The first and the last pixel that `count` print pixels from `first` on lie on or between. */
export function pixelSpan(
  first: number,
  count: number,
  scale: number,
  offset: number,
  pixels: number,
): [from: number, to: number] {
  const [from] = placeOn(first, scale, offset, pixels);
  const [to] = placeOn(first + count - 1, scale, offset, pixels);
  return [from, Math.min(pixels - 1, to + 1)];
}

/** The row of cells that a row of the print falls in, and how far into it. */
export function cellRow(mapping: PlaneMapping, printY: number, height: number): [cell: number, part: number] {
  return placeOn(printY, mapping.scaleY, mapping.offsetY, height);
}

/** Runs of print columns that fall between the same two artwork columns. */
export interface CellRuns {
  readonly count: number;
  readonly cell: Int32Array;
  readonly from: Int32Array;
  /** Excluded. */
  readonly to: Int32Array;
  /** For each print column the weights of the four pixels round it. */
  readonly weights: Float64Array;
}

export function cellColumns(mapping: PlaneMapping, target: Rect, width: number, memory: Allocator): CellRuns {
  const [cell, from, to] = [
    memory.ints(target.width),
    memory.ints(target.width),
    memory.ints(target.width),
  ] as const;
  const weights = new Float64Array(target.width * 4);
  let count = 0;
  for (let column = 0; column < target.width; column++) {
    const printX = target.x + column;
    if (printX < 0 || printX >= mapping.printWidth) continue;
    const [cellX, part] = placeOn(printX, mapping.scaleX, mapping.offsetX, width);
    catmullRom(part, weights, column * 4);
    if (count > 0 && cell[count - 1] === cellX && to[count - 1] === column) {
      to[count - 1] = column + 1;
      continue;
    }
    cell[count] = cellX;
    from[count] = column;
    to[count] = column + 1;
    count++;
  }
  return { count, cell, from, to, weights };
}

/**
 * For each cell (between a pixel and its right and lower neighbours) the label of all 4 by 4 pixels it depends on, TONED where one of its
 * own four belongs to a transition of tone, or MIXED.
 */
export function cellKinds(shares: PixelShares, kernels: RasterKernels, memory: Allocator): CellKinds {
  const { width, height, label } = shares;
  const stride = cellStride(width);
  const cells = memory.bytes(stride * height, 'any');
  kernels.uniformCells(label, width, height, cells);
  const toned = markToned(shares, cells, stride);
  if (toned) clearRims(shares, cells, stride);
  return { cells, stride, toned };
}

function markToned({ width, height, tone }: PixelShares, cells: Uint8Array, stride: number): boolean {
  let toned = false;
  for (let y = 0; y < height; y++) {
    const row = tone.subarray(y * width, (y + 1) * width);
    for (let from = row.indexOf(1); from >= 0;) {
      toned = true;
      const beyond = row.indexOf(0, from);
      const to = beyond < 0 ? width : beyond;
      for (let cellY = Math.max(0, y - 1); cellY <= y; cellY++) {
        cells.fill(TONED, cellY * stride + Math.max(0, from - 1), cellY * stride + to);
      }
      from = beyond < 0 ? -1 : row.indexOf(1, to);
    }
  }
  return toned;
}

/** A cell of one label beside nothing but tone is no edge: tones end there by themselves. */
function clearRims({ width, height, label, tone }: PixelShares, cells: Uint8Array, stride: number): void {
  for (let at = cells.indexOf(MIXED); at >= 0; at = cells.indexOf(MIXED, at + 1)) {
    const x = at % stride;
    const y = (at / stride) | 0;
    if (x >= width) continue;
    const own = label[y * width + x]!;
    if (own === MIXED) continue;
    let plain = true;
    for (let row = y - 1; row <= y + 2 && plain; row++) {
      const start = clamp(row, 0, height - 1) * width;
      for (let column = x - 1; column <= x + 2 && plain; column++) {
        const i = start + clamp(column, 0, width - 1);
        plain = label[i] === own || tone[i] === 1;
      }
    }
    // None of its own four is tone, or it would have been marked.
    if (plain) cells[at] = own;
  }
}

export interface CellKinds {
  readonly cells: Uint8Array;
  /** From one row of cells to the next. */
  readonly stride: number;
  /** Whether any is TONED. */
  readonly toned: boolean;
}

/** The four weights of the cubic through its middle points, for a position t (0..1) between the inner two. */
export function catmullRom(t: number, out: Float64Array, at: number): void {
  const t2 = t * t;
  const t3 = t2 * t;
  out[at] = -0.5 * t3 + t2 - 0.5 * t;
  out[at + 1] = 1.5 * t3 - 2.5 * t2 + 1;
  out[at + 2] = -1.5 * t3 + 2 * t2 + 0.5 * t;
  out[at + 3] = 0.5 * t3 - 0.5 * t2;
}
