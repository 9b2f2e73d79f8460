import { type LabelTables, LEAST_TONE, type TonePlaneArguments, tonePlanes } from '../raster';
import { MIXED, type PixelShares } from '../separation';
import type { DraftPlate } from './draftSetting';

type Span = readonly [from: number, to: number];

/** What the plates get at the artwork's own pixels. */
export class ToneRows {
  private readonly shares: PixelShares;
  private readonly tables: LabelTables;
  private readonly plates: number;
  /** For one row after the other. */
  private readonly own: { -readonly [K in keyof TonePlaneArguments]: TonePlaneArguments[K] };

  /** @param order the colour plates, as the tables know them. */
  constructor(shares: PixelShares, tables: LabelTables, order: readonly DraftPlate[]) {
    this.shares = shares;
    this.tables = tables;
    this.plates = order.length;
    const { label, mixAt, mixLabels, mixShares } = shares;
    this.own = {
      ...tables,
      ...{ label, mixAt, mixLabels, mixShares },
      plates: order.length,
      highlight: order.findIndex(({ role }) => role === 'highlight'),
      first: 0,
      count: 0,
      planes: [],
      about: null,
    };
  }

  /** Writes pixels of one row from the first on, as `ToneArguments.rowOf` does. */
  fill(x: number, y: number, count: number, rows: readonly Uint16Array[]): number {
    const { own } = this;
    own.first = y * this.shares.width + x;
    own.count = count;
    own.planes = rows;
    return tonePlanes(own);
  }

  /** What `tonePlanes` needs for all pixels. */
  arguments(planes: readonly Uint16Array[], about: Uint8Array): TonePlaneArguments {
    return { ...this.own, first: 0, count: this.shares.label.length, planes, about };
  }

  /** For each plate whether it prints on a pixel of tone or beside one, of those from (included) to (included) both ways. */
  printing([left, right]: Span, [top, bottom]: Span): readonly boolean[] {
    const { width, tone } = this.shares;
    const seen = new Uint8Array(256);
    for (let y = top; y <= bottom; y++) {
      const row = tone.subarray(y * width + left, y * width + right + 1);
      for (let from = row.indexOf(1); from >= 0;) {
        const beyond = row.indexOf(0, from);
        const to = beyond < 0 ? row.length : beyond;
        const first = Math.max(0, from - 1);
        const end = Math.min(row.length, to + 1);
        for (let near = Math.max(top, y - 1); near <= Math.min(bottom, y + 1); near++) {
          const start = near * width + left;
          this.markLabels(start + first, start + end, near === y, seen);
        }
        from = beyond < 0 ? -1 : row.indexOf(1, to);
      }
    }
    const { plateOf, tintOf } = this.tables;
    return Array.from({ length: this.plates }, (_, plate) =>
      seen.some((where, label) => where !== 0 && plateOf[label] === plate && tintOf[label]! >= LEAST_TONE),
    );
  }

  /** @param own whether pixels of tone are marked, too: each is once. */
  private markLabels(from: number, to: number, own: boolean, seen: Uint8Array): void {
    const { label, tone, mixAt, mixLabels, mixShares } = this.shares;
    for (let i = from; i < to; i++) {
      if (label[i] !== MIXED) seen[label[i]!] = 1;
      else if (own || tone[i] === 0) {
        for (let k = mixAt[i]! * 3, end = k + 3; k < end; k++) if (mixShares[k]! > 0) seen[mixLabels[k]!] = 1;
      }
    }
  }
}
