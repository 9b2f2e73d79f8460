import type { Rect } from '../geometry';
import { type CellRuns, clamp } from './labelCells';
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

/** What the pixels round a cell hold of each label, gathered along each of their columns; print pixels in the cell weigh the columns. */
export class CellMixtures {
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
export class ToneCells {
  private readonly starts: number[] = [0];
  private labels = new Uint8Array(0);
  private corners = new Float64Array(0);
  private count = 0;
  /** What the left and the right side of a cell hold of each label, at the height of the print's row. */
  private readonly left = new Float64Array(MOST_CORNER_LABELS);
  private readonly right = new Float64Array(MOST_CORNER_LABELS);

  clear(): void {
    this.count = 0;
  }

  /** @returns the cell's number. */
  add(mixtures: CellMixtures, cellX: number, cellY: number): number {
    mixtures.gatherCorners(cellX, cellY);
    const from = this.starts[this.count]!;
    this.makeRoom(from + MOST_CORNER_LABELS);
    this.starts[this.count + 1] = from + mixtures.copyTo(this.labels, this.corners, from);
    return this.count++;
  }

  private makeRoom(count: number): void {
    if (count <= this.labels.length) return;
    // Flat artwork needs none.
    const [labels, corners] = [this.labels, this.corners];
    this.labels = new Uint8Array(2 * count);
    this.corners = new Float64Array(8 * count);
    this.labels.set(labels);
    this.corners.set(corners);
  }

  /**
   * Gives print pixels of a cell their largest two shares.
   *
   * @param down how far the print's row lies from the cell's upper pixels to its lower ones, 0..1.
   * @param start of the print's row in the map; `from` and `to` (excluded) are its columns.
   */
  fill(
    cell: number,
    down: number,
    { part: parts }: CellRuns,
    from: number,
    to: number,
    map: LabelMap,
    start: number,
  ): void {
    const { labels, corners, left, right } = this;
    const { first, second, share } = map;
    const at = this.starts[cell]!;
    const count = this.starts[cell + 1]! - at;
    for (let k = 0, corner = at * 4; k < count; k++, corner += 4) {
      left[k] = (1 - down) * corners[corner]! + down * corners[corner + 2]!;
      right[k] = (1 - down) * corners[corner + 1]! + down * corners[corner + 3]!;
    }
    for (let column = from; column < to; column++) {
      const part = parts[column]!;
      let one = BARE;
      let two = BARE;
      let w1 = 0;
      let w2 = 0;
      for (let k = 0; k < count; k++) {
        const label = labels[at + k]!;
        const weight = (1 - part) * left[k]! + part * right[k]!;
        if (weight > w1 || (weight === w1 && label < one)) {
          two = one;
          w2 = w1;
          one = label;
          w1 = weight;
        } else if (weight > w2 || (weight === w2 && label < two)) {
          two = label;
          w2 = weight;
        }
      }
      first[start + column] = one;
      if (w2 <= 0) continue;
      map.toned = true;
      second[start + column] = two;
      share[start + column] = Math.max(1, Math.round((w1 / (w1 + w2)) * 65535));
    }
  }
}
