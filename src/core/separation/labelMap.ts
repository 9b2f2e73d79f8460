import { type Rect, intersectRects } from '../geometry';
import { type Allocator, wordsOf } from '../raster';
import { BARE, MIXED } from './palette';
import type { PixelShares } from './pixelShares';

/**
 * Flat artwork at the resolution asked for: each pixel is one palette colour (share 65535), or, where the
 * artwork has tone, a mixture of two.
 */
export interface LabelMap {
  /** Where the map lies in the print's pixel grid. */
  readonly rect: Rect;
  /** Palette index or BARE. */
  readonly first: Uint8Array;
  /** Palette index or BARE; means nothing where the share is 65535. */
  readonly second: Uint8Array;
  /** Share of `first`, 1..65535. */
  readonly share: Uint16Array;
  /** Whether any place is a mixture; otherwise every share is 65535. */
  toned: boolean;
}

/** How the print's pixels lie on the pixels of an artwork plane: artwork = print * scale + offset, for centres. */
export interface PlaneMapping {
  readonly scaleX: number;
  readonly scaleY: number;
  readonly offsetX: number;
  readonly offsetY: number;
  /** The print's whole raster; beyond it everything is bare. */
  readonly printWidth: number;
  readonly printHeight: number;
}

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
  const tones = new ToneCells(columns.count);
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
        tones.begin(toneOf[k]!, ay - cellY);
        for (let column = from; column < to; column++) {
          tones.store(map, start + column, columns.part[column]!);
        }
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

function clamp(value: number, low: number, high: number): number {
  return value < low ? low : value > high ? high : value;
}

/** Runs of print columns that fall between the same two artwork columns. */
interface CellRuns {
  readonly count: number;
  readonly cell: Int32Array;
  readonly from: Int32Array;
  /** Excluded. */
  readonly to: Int32Array;
  /** For each print column how far it lies from its cell's pixel to the next, 0..1, */
  readonly part: Float64Array;
  /** and the weights of the four pixels round it. */
  readonly weights: Float64Array;
}

function cellColumns(mapping: PlaneMapping, target: Rect, width: number, memory: Allocator): CellRuns {
  const [cell, from, to] = [
    memory.ints(target.width),
    memory.ints(target.width),
    memory.ints(target.width),
  ] as const;
  const part = new Float64Array(target.width);
  const weights = new Float64Array(target.width * 4);
  let count = 0;
  for (let column = 0; column < target.width; column++) {
    const printX = target.x + column;
    if (printX < 0 || printX >= mapping.printWidth) continue;
    const ax = clamp((printX + 0.5) * mapping.scaleX - 0.5 + mapping.offsetX, 0, width - 1);
    const cellX = Math.min(width - 1, Math.floor(ax));
    part[column] = ax - cellX;
    catmullRom(ax - cellX, weights, column * 4);
    if (count > 0 && cell[count - 1] === cellX && to[count - 1] === column) {
      to[count - 1] = column + 1;
      continue;
    }
    cell[count] = cellX;
    from[count] = column;
    to[count] = column + 1;
    count++;
  }
  return { count, cell, from, to, part, weights };
}

/** For each cell (between a pixel and its right and lower neighbours) the label of all 4 by 4 pixels it depends on, or MIXED. */
function uniformCells(shares: PixelShares, memory: Allocator): UniformCells {
  const { width, height, label } = shares;
  // Rows start on a word, so that they can be compared four cells at a time.
  const stride = (width + 3) & ~3;
  const across = memory.bytes(stride * height).fill(MIXED);
  for (let y = 0; y < height; y++) {
    const row = label.subarray(y * width, (y + 1) * width);
    for (let x = 0; x < width;) {
      const here = row[x]!;
      let end = x + 1;
      while (end < width && row[end] === here) end++;
      // A cell looks at one pixel before it and two behind; beyond the plane the border pixel goes on.
      const from = x === 0 ? 0 : x + 1;
      const to = end === width ? width : end - 2;
      if (here !== MIXED && to > from) across.fill(here, y * stride + from, y * stride + to);
      x = end;
    }
  }
  const cells = memory.bytes(stride * height);
  const rows = wordsOf(across);
  const out = wordsOf(cells);
  const perRow = stride >> 2;
  for (let y = 0; y < height; y++) {
    const base = y * perRow;
    const above = Math.max(0, y - 1) * perRow;
    const below = Math.min(height - 1, y + 1) * perRow;
    const far = Math.min(height - 1, y + 2) * perRow;
    for (let k = 0; k < perRow; k++) {
      const word = rows[base + k]!;
      const differs = (word ^ rows[above + k]!) | (word ^ rows[below + k]!) | (word ^ rows[far + k]!);
      out[base + k] = differs === 0 ? word : word | spreadBytes(differs);
    }
  }
  return { cells, stride };
}

interface UniformCells {
  readonly cells: Uint8Array;
  /** From one row of cells to the next. */
  readonly stride: number;
}

/** 255 in each byte of a word that is not 0. */
function spreadBytes(word: number): number {
  let bits = word | (word >>> 4);
  bits |= bits >>> 2;
  bits |= bits >>> 1;
  return Math.imul(bits & 0x01010101, 255);
}

/** The four weights of the cubic through its middle points, for a position t (0..1) between the inner two. */
function catmullRom(t: number, out: Float64Array, at: number): void {
  const t2 = t * t;
  const t3 = t2 * t;
  out[at] = -0.5 * t3 + t2 - 0.5 * t;
  out[at + 1] = 1.5 * t3 - 2.5 * t2 + 1;
  out[at + 2] = -1.5 * t3 + 2 * t2 + 0.5 * t;
  out[at + 3] = 0.5 * t3 - 0.5 * t2;
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

/** What the pixels round a cell hold of each label, gathered along each of their columns; print pixels in the cell weigh the columns. */
class CellMixtures {
  private readonly shares: PixelShares;
  /** Where a label stands among those at hand; -1: not there. */
  private readonly slots = new Int16Array(256).fill(-1);
  private readonly labels = new Uint8Array(256);
  /** Four columns for each label at hand. */
  private readonly sums = new Float64Array(1024);
  private used = 0;

  constructor(shares: PixelShares) {
    this.shares = shares;
  }

  private clear(): void {
    for (let k = 0; k < this.used; k++) this.slots[this.labels[k]!] = -1;
    this.used = 0;
  }

  private add(label: number, column: number, weight: number): void {
    if (weight === 0) return;
    let slot = this.slots[label]!;
    if (slot < 0) {
      slot = this.used++;
      this.slots[label] = slot;
      this.labels[slot] = label;
      this.sums.fill(0, slot * 4, slot * 4 + 4);
    }
    this.sums[slot * 4 + column]! += weight;
  }

  private addPixel(i: number, column: number, weight: number): void {
    const { label, mixAt, mixLabels, mixShares } = this.shares;
    if (label[i] !== MIXED) {
      this.add(label[i]!, column, weight);
      return;
    }
    const k = mixAt[i]! * 3;
    for (let each = 0; each < 3; each++) {
      this.add(mixLabels[k + each]!, column, (weight * mixShares[k + each]!) / 65535);
    }
  }

  /** One pixel alone. */
  gatherPixel(i: number): void {
    this.clear();
    this.addPixel(i, 0, 1);
  }

  /** The four by four pixels round a cell, weighed down by the cubic's weights. */
  gatherCell(cellX: number, cellY: number, down: Float64Array): void {
    const { width, height } = this.shares;
    this.clear();
    for (let j = 0; j < 4; j++) {
      const weight = down[j]!;
      if (weight === 0) continue;
      const base = clamp(cellY + j - 1, 0, height - 1) * width;
      for (let i = 0; i < 4; i++) this.addPixel(base + clamp(cellX + i - 1, 0, width - 1), i, weight);
    }
  }

  /** The four pixels of a cell, each by itself: the upper ones, then the lower ones. */
  gatherCorners(cellX: number, cellY: number): void {
    const { width, height } = this.shares;
    const right = Math.min(width - 1, cellX + 1);
    const here = cellY * width;
    const below = Math.min(height - 1, cellY + 1) * width;
    this.clear();
    this.addPixel(here + cellX, 0, 1);
    this.addPixel(here + right, 1, 1);
    this.addPixel(below + cellX, 2, 1);
    this.addPixel(below + right, 3, 1);
  }

  /** Copies what is gathered to the ends of two lists, the labels and four sums for each; returns how many labels there are. */
  copyTo(labels: Uint8Array, sums: Float64Array, at: number): number {
    for (let k = 0; k < this.used; k++) labels[at + k] = this.labels[k]!;
    for (let k = 0; k < this.used * 4; k++) sums[at * 4 + k] = this.sums[k]!;
    return this.used;
  }

  /** Gives a print pixel the largest share, or with tone the largest two, of what is gathered, by the weights of the columns. */
  store(map: LabelMap, o: number, tone: boolean, a: number, b: number, c: number, d: number): void {
    const { sums, labels } = this;
    let first = BARE;
    let second = BARE;
    let w1 = 0;
    let w2 = 0;
    for (let k = 0; k < this.used; k++) {
      const label = labels[k]!;
      const at = k * 4;
      const weight = a * sums[at]! + b * sums[at + 1]! + c * sums[at + 2]! + d * sums[at + 3]!;
      // Of equal shares the lower label wins, whatever the order in which they came.
      if (weight > w1 || (weight === w1 && label < first)) {
        second = first;
        w2 = w1;
        first = label;
        w1 = weight;
      } else if (weight > w2 || (weight === w2 && label < second)) {
        second = label;
        w2 = weight;
      }
    }
    map.first[o] = first;
    if (!tone || w2 <= 0) return;
    map.toned = true;
    map.second[o] = second;
    map.share[o] = Math.max(1, Math.round((w1 / (w1 + w2)) * 65535));
  }
}

/** Labels of four pixels with shares of up to three. */
const MOST_CORNER_LABELS = 12;

/**
 * Cells of one row of cells whose pixels are tone, gathered once for all print pixels in them: tone is smooth by itself, and the two
 * nearest pixels each way are enough for it.
 */
class ToneCells {
  private readonly starts: Int32Array;
  private readonly labels: Uint8Array;
  private readonly corners: Float64Array;
  private count = 0;
  /** The cell at hand: its labels, and what its left and right side hold of each at the height of the print's row. */
  private at = 0;
  private labelCount = 0;
  private readonly left = new Float64Array(MOST_CORNER_LABELS);
  private readonly right = new Float64Array(MOST_CORNER_LABELS);

  constructor(most: number) {
    this.starts = new Int32Array(most + 1);
    this.labels = new Uint8Array(most * MOST_CORNER_LABELS);
    this.corners = new Float64Array(most * MOST_CORNER_LABELS * 4);
  }

  clear(): void {
    this.count = 0;
  }

  /** @returns the cell's number. */
  add(mixtures: CellMixtures, cellX: number, cellY: number): number {
    mixtures.gatherCorners(cellX, cellY);
    const from = this.starts[this.count]!;
    this.starts[this.count + 1] = from + mixtures.copyTo(this.labels, this.corners, from);
    return this.count++;
  }

  /** @param part how far the print's row lies from the cell's upper pixels to its lower ones, 0..1. */
  begin(cell: number, part: number): void {
    const { corners, left, right } = this;
    this.at = this.starts[cell]!;
    this.labelCount = this.starts[cell + 1]! - this.at;
    for (let k = 0, from = this.at * 4; k < this.labelCount; k++, from += 4) {
      left[k] = (1 - part) * corners[from]! + part * corners[from + 2]!;
      right[k] = (1 - part) * corners[from + 1]! + part * corners[from + 3]!;
    }
  }

  /** Gives a print pixel the largest two shares; `part` is how far it lies from the left side to the right one. */
  store(map: LabelMap, o: number, part: number): void {
    const { labels, left, right, at } = this;
    let first = BARE;
    let second = BARE;
    let w1 = 0;
    let w2 = 0;
    for (let k = 0; k < this.labelCount; k++) {
      const label = labels[at + k]!;
      const weight = (1 - part) * left[k]! + part * right[k]!;
      if (weight > w1 || (weight === w1 && label < first)) {
        second = first;
        w2 = w1;
        first = label;
        w1 = weight;
      } else if (weight > w2 || (weight === w2 && label < second)) {
        second = label;
        w2 = weight;
      }
    }
    map.first[o] = first;
    if (w2 <= 0) return;
    map.toned = true;
    map.second[o] = second;
    map.share[o] = Math.max(1, Math.round((w1 / (w1 + w2)) * 65535));
  }
}
