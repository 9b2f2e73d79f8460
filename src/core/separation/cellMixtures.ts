import { clamp } from './labelCells';
import { BARE, MIXED } from '../raster';
import type { PixelShares } from './pixelShares';

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

  /** The label with the largest share of what is gathered, by the weights of the columns. */
  largest(a: number, b: number, c: number, d: number): number {
    const { sums, labels } = this;
    let largest = BARE;
    let most = 0;
    for (let k = 0; k < this.used; k++) {
      const label = labels[k]!;
      const at = k * 4;
      const weight = a * sums[at]! + b * sums[at + 1]! + c * sums[at + 2]! + d * sums[at + 3]!;
      // Of equal shares the lower label wins, whatever the order in which they came.
      if (weight > most || (weight === most && label < largest)) {
        largest = label;
        most = weight;
      }
    }
    return largest;
  }
}
