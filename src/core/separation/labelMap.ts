import { type Rect, intersectRects } from '../geometry';
import type { Allocator } from '../raster';
import { CellMixtures, type LabelMap, ToneCells } from './cellMixtures';
import {
  type CellRuns,
  type PlaneMapping,
  type UniformCells,
  catmullRom,
  cellColumns,
  clamp,
  uniformCells,
} from './labelCells';
import { BARE, MIXED } from './palette';
import type { PixelShares } from './pixelShares';

/** How far `expandLabels` looks beyond the cell of a pixel, in artwork pixels. */
export const EXPAND_HALO = 3;

/** An empty map of a region: all bare. */
export function bareLabelMap(rect: Rect, memory: Allocator): LabelMap {
  const count = rect.width * rect.height;
  return {
    rect,
    first: memory.bytes(count).fill(BARE),
    second: memory.bytes(count).fill(BARE),
    share: memory.words(count).fill(65535),
    toned: false,
  };
}

/** Fills a bare map when artwork pixels are print pixels: edge pixels go to their largest share, tone keeps its mixture. */
export function adoptLabels(shares: PixelShares, planeX: number, planeY: number, map: LabelMap): void {
  const target = map.rect;
  const inside = intersectRects(target, { x: planeX, y: planeY, width: shares.width, height: shares.height });
  const toMap = (i: number): number =>
    (((i / shares.width) | 0) + planeY - target.y) * target.width + (i % shares.width) + planeX - target.x;
  for (let row = 0; row < inside.height; row++) {
    const from = (inside.y - planeY + row) * shares.width + inside.x - planeX;
    map.first.set(shares.label.subarray(from, from + inside.width), toMap(from));
  }
  const mixtures = new CellMixtures(shares);
  for (let k = 0; k < shares.mixed.length; k++) {
    const i = shares.mixed[k]!;
    const x = (i % shares.width) + planeX;
    const y = ((i / shares.width) | 0) + planeY;
    if (x < inside.x || y < inside.y || x >= inside.x + inside.width || y >= inside.y + inside.height)
      continue;
    mixtures.gatherPixel(i);
    mixtures.store(map, toMap(i), shares.tone[i] === 1, 1, 0, 0, 0);
  }
}

/**
 * Fills a bare map of a region of the print from artwork pixels of another resolution. Shares are interpolated
 * (Catmull-Rom, which keeps lines of one pixel) and each print pixel goes to the largest: neighbours meet exactly,
 * also where three colours meet.
 */
export function expandLabels(
  shares: PixelShares,
  mapping: PlaneMapping,
  map: LabelMap,
  memory: Allocator,
): void {
  const target = map.rect;
  const { width, height } = shares;
  if (width === 0 || height === 0) return;
  const uniform = uniformCells(shares, memory);
  const columns = cellColumns(mapping, target, width, memory);
  const mixtures = new CellMixtures(shares);
  const down = new Float64Array(4);
  // Columns of the row of cells at hand that are no single label, by their place in `columns`.
  const mixed = memory.ints(columns.count);
  let mixedCount = 0;
  const tones = new ToneCells();
  const toneOf = memory.ints(columns.count);
  let before = -1;
  for (let row = 0; row < target.height; row++) {
    const printY = target.y + row;
    if (printY < 0 || printY >= mapping.printHeight) continue;
    const ay = clamp((printY + 0.5) * mapping.scaleY - 0.5 + mapping.offsetY, 0, height - 1);
    const cellY = Math.min(height - 1, Math.floor(ay));
    const start = row * target.width;
    if (cellY === before) {
      // Single labels stand as they do in the row above.
      map.first.copyWithin(start, start - target.width, start);
    } else {
      mixedCount = fillUniform(uniform, cellY, columns, map, start, mixed);
      before = cellY;
      tones.clear();
      for (let k = 0; k < mixedCount; k++) {
        const cellX = columns.cell[mixed[k]!]!;
        toneOf[k] = isTone(shares, cellX, cellY) ? tones.add(mixtures, cellX, cellY) : -1;
      }
    }
    catmullRom(ay - cellY, down, 0);
    for (let k = 0; k < mixedCount; k++) {
      const c = mixed[k]!;
      const cellX = columns.cell[c]!;
      const from = columns.from[c]!;
      const to = columns.to[c]!;
      if (toneOf[k]! >= 0) {
        tones.fill(toneOf[k]!, ay - cellY, columns, from, to, map, start);
        continue;
      }
      mixtures.gatherCell(cellX, cellY, down);
      const { weights } = columns;
      for (let column = from; column < to; column++) {
        const w = column * 4;
        mixtures.store(
          map,
          start + column,
          false,
          weights[w]!,
          weights[w + 1]!,
          weights[w + 2]!,
          weights[w + 3]!,
        );
      }
    }
  }
}

/** Fills what is of one label in a row of the print; returns how many of the columns' cells are not, their places in `mixed`. */
function fillUniform(
  uniform: UniformCells,
  cellY: number,
  columns: CellRuns,
  map: LabelMap,
  start: number,
  mixed: Int32Array,
): number {
  const row = cellY * uniform.stride;
  let count = 0;
  for (let c = 0; c < columns.count;) {
    const label = uniform.cells[row + columns.cell[c]!]!;
    if (label === MIXED) {
      mixed[count++] = c++;
      continue;
    }
    const from = columns.from[c]!;
    let to = columns.to[c++]!;
    while (c < columns.count && columns.from[c] === to && uniform.cells[row + columns.cell[c]!] === label) {
      to = columns.to[c++]!;
    }
    if (label !== BARE) map.first.fill(label, start + from, start + to);
  }
  return count;
}

/** Whether one of the four pixels around a cell belongs to a transition of tone. */
function isTone(shares: PixelShares, cellX: number, cellY: number): boolean {
  const { width, height, tone } = shares;
  const right = Math.min(width - 1, cellX + 1);
  const below = Math.min(height - 1, cellY + 1) * width;
  const here = cellY * width;
  return (
    tone[here + cellX] === 1 ||
    tone[here + right] === 1 ||
    tone[below + cellX] === 1 ||
    tone[below + right] === 1
  );
}
