import { type Rect, intersectRects } from '../geometry';
import { type Allocator, type Expansion, TONED } from '../raster';
import { CellMixtures } from './cellMixtures';
import {
  type CellKinds,
  type CellRuns,
  type PlaneMapping,
  catmullRom,
  cellColumns,
  cellRow,
  toneExpansion,
} from './labelCells';
import { BARE, MIXED } from '../raster';
import type { PixelShares } from './pixelShares';

/** Where the tones of a region come from: the artwork's pixels, and how the print's lie on them. */
export interface ToneSource {
  readonly shares: PixelShares;
  readonly mapping: PlaneMapping;
  /** What each plate prints at the artwork's pixels, 0..65535, by its id, where that does not come from their labels; null where it does. */
  readonly fields: PlateFields | null;
}

export type PlateFields = ReadonlyMap<string, Uint16Array>;

/** Artwork at the resolution asked for: each pixel is one palette colour, bare, or TONED. */
export interface LabelMap {
  /** Where the map lies in the print's pixel grid. */
  readonly rect: Rect;
  /** Palette index, BARE or TONED. */
  readonly label: Uint8Array;
  /** Needed where any label is TONED. */
  tones: ToneSource | null;
}

/** How far `expandLabels` looks beyond the cell of a pixel, in artwork pixels. */
export const EXPAND_HALO = 3;

/** An empty map of a region: all bare. */
export function bareLabelMap(rect: Rect, memory: Allocator): LabelMap {
  return { rect, label: memory.bytes(rect.width * rect.height).fill(BARE), tones: null };
}

/**
 * Fills a bare map when artwork pixels are print pixels: edge pixels go to their largest share.
 *
 * @returns whether any place is TONED.
 */
export function adoptLabels(shares: PixelShares, planeX: number, planeY: number, map: LabelMap): boolean {
  const target = map.rect;
  const inside = intersectRects(target, { x: planeX, y: planeY, width: shares.width, height: shares.height });
  const toMap = (i: number): number =>
    (((i / shares.width) | 0) + planeY - target.y) * target.width + (i % shares.width) + planeX - target.x;
  for (let row = 0; row < inside.height; row++) {
    const from = (inside.y - planeY + row) * shares.width + inside.x - planeX;
    map.label.set(shares.label.subarray(from, from + inside.width), toMap(from));
  }
  const mixtures = new CellMixtures(shares);
  let toned = false;
  for (let k = 0; k < shares.mixed.length; k++) {
    const i = shares.mixed[k]!;
    const x = (i % shares.width) + planeX;
    const y = ((i / shares.width) | 0) + planeY;
    if (x < inside.x || y < inside.y || x >= inside.x + inside.width || y >= inside.y + inside.height)
      continue;
    if (shares.tone[i] === 1) {
      map.label[toMap(i)] = TONED;
      toned = true;
      continue;
    }
    mixtures.gatherPixel(i);
    map.label[toMap(i)] = mixtures.largest(1, 0, 0, 0);
  }
  return toned;
}

/**
 * Fills a bare map of a region of the print from artwork pixels of another resolution. At edges shares are interpolated
 * (Catmull-Rom, which keeps lines of one pixel) and each print pixel goes to the largest: neighbours meet exactly,
 * also where three colours meet.
 *
 * @returns whether any place is TONED.
 */
export function expandLabels(
  shares: PixelShares,
  mapping: PlaneMapping,
  map: LabelMap,
  memory: Allocator,
  kinds: CellKinds,
): boolean {
  const target = map.rect;
  const { width, height } = shares;
  if (width === 0 || height === 0) return false;
  const columns = cellColumns(mapping, target, width, memory);
  const mixtures = new CellMixtures(shares);
  const down = new Float64Array(4);
  // Columns of the row of cells at hand that are an edge, by their place in `columns`.
  const mixed = memory.ints(columns.count);
  let mixedCount = 0;
  let before = -1;
  for (let row = 0; row < target.height; row++) {
    const printY = target.y + row;
    if (printY < 0 || printY >= mapping.printHeight) continue;
    const [cellY, part] = cellRow(mapping, printY, height);
    const start = row * target.width;
    if (cellY === before) {
      // All but edges stand as they do in the row above.
      map.label.copyWithin(start, start - target.width, start);
    } else {
      mixedCount = fillCells(kinds, cellY, columns, map.label, start, mixed);
      before = cellY;
    }
    if (mixedCount === 0) continue;
    catmullRom(part, down, 0);
    for (let k = 0; k < mixedCount; k++) {
      const c = mixed[k]!;
      const to = columns.to[c]!;
      mixtures.gatherCell(columns.cell[c]!, cellY, down);
      const { weights } = columns;
      for (let column = columns.from[c]!; column < to; column++) {
        const w = column * 4;
        map.label[start + column] = mixtures.largest(
          weights[w]!,
          weights[w + 1]!,
          weights[w + 2]!,
          weights[w + 3]!,
        );
      }
    }
  }
  return kinds.toned && map.label.includes(TONED);
}

/** The labels with the largest share of the nearest artwork pixel where they are TONED. */
export function largestLabels({ rect, label, tones }: LabelMap): Uint8Array {
  if (!tones) return label;
  const { shares, mapping } = tones;
  const across = toneExpansion(rect.x, rect.width, mapping.scaleX, mapping.offsetX, shares.width);
  const down = toneExpansion(rect.y, rect.height, mapping.scaleY, mapping.offsetY, shares.height);
  const nearest = ({ from, part }: Expansion, k: number) => from[k]! + (part![k]! > 128 ? 1 : 0);
  const mixtures = new CellMixtures(shares);
  return label.map((each, i) => {
    if (each !== TONED) return each;
    const row = nearest(down, Math.floor(i / rect.width));
    mixtures.gatherPixel(row * shares.width + nearest(across, i % rect.width));
    return mixtures.largest(1, 0, 0, 0);
  });
}

/** Fills what is of one label or TONED in a row of the print; returns how many of the columns' cells are not, their places in `mixed`. */
function fillCells(
  kinds: CellKinds,
  cellY: number,
  columns: CellRuns,
  labels: Uint8Array,
  start: number,
  mixed: Int32Array,
): number {
  const row = cellY * kinds.stride;
  let count = 0;
  for (let c = 0; c < columns.count;) {
    const label = kinds.cells[row + columns.cell[c]!]!;
    if (label === MIXED) {
      mixed[count++] = c++;
      continue;
    }
    const from = columns.from[c]!;
    let to = columns.to[c++]!;
    while (c < columns.count && columns.from[c] === to && kinds.cells[row + columns.cell[c]!] === label) {
      to = columns.to[c++]!;
    }
    if (label !== BARE) labels.fill(label, start + from, start + to);
  }
  return count;
}
