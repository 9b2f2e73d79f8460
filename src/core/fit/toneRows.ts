import { LEAST_TONE, type LabelTables, NO_PLATE } from '../raster';
import { BARE, MIXED, type PixelShares } from '../separation';

/**
 * What the plates get at the artwork's own pixels, row by row: each plate the shares of its labels times their tints.
 *
 * The base fades as the square of the ink where inks without base or bare garment have their part in a pixel, so that its dots stay inside the
 * ink's dots as a choked edge stays inside the ink's edge.
 */
export class ToneRows {
  private readonly shares: PixelShares;
  private readonly tables: LabelTables;
  private readonly plates: number;

  constructor(shares: PixelShares, tables: LabelTables, plates: number) {
    this.shares = shares;
    this.tables = tables;
    this.plates = plates;
  }

  /** Writes one row, as `ToneArguments.rowOf` does. */
  fill(y: number, rows: readonly Uint16Array[]): number {
    const { width, label: labels, mixAt, mixLabels, mixShares } = this.shares;
    const { plateOf, tintOf, strengthOf, darkOf } = this.tables;
    const base = rows[this.plates]!;
    const dark = rows[this.plates + 1]!;
    for (const row of rows) row.fill(0);
    let seen = 0;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const label = labels[i]!;
      if (label === BARE) continue;
      if (label !== MIXED) {
        const plate = plateOf[label]!;
        if (plate === NO_PLATE) continue;
        rows[plate]![x] = tintOf[label]!;
        base[x] = strengthOf[label]!;
        dark[x] = darkOf[label] === 0 ? 0 : 65535;
        seen |= 1 << plate;
        if (base[x]! > 0) seen |= 1 << this.plates;
        if (dark[x]! > 0) seen |= 2 << this.plates;
        continue;
      }
      let strength = 0;
      let based = 0;
      let darkness = 0;
      for (let k = mixAt[i]! * 3, end = k + 3; k < end; k++) {
        const share = mixShares[k]!;
        const each = mixLabels[k]!;
        const plate = plateOf[each]!;
        if (share === 0 || plate === NO_PLATE) continue;
        const row = rows[plate]!;
        row[x] = Math.min(65535, row[x]! + Math.round((tintOf[each]! * share) / 65535));
        seen |= 1 << plate;
        if (strengthOf[each]! > 0) {
          strength += share * strengthOf[each]!;
          based += share;
        }
        if (darkOf[each] !== 0) darkness += share;
      }
      if (strength > 0) {
        base[x] = Math.round((strength / 65535) * (Math.min(65535, based) / 65535));
        seen |= 1 << this.plates;
      }
      dark[x] = Math.min(65535, darkness);
      if (darkness > 0) seen |= 2 << this.plates;
    }
    return seen;
  }

  /** For each plate whether it prints on a pixel of tone or beside one. */
  get printing(): readonly boolean[] {
    const { width, height, mixed, tone } = this.shares;
    const seen = new Uint8Array(256);
    for (let k = 0; k < mixed.length; k++) {
      const i = mixed[k]!;
      if (tone[i] === 0) continue;
      const x = i % width;
      const y = (i / width) | 0;
      for (let row = Math.max(0, y - 1); row <= Math.min(height - 1, y + 1); row++) {
        for (let column = Math.max(0, x - 1); column <= Math.min(width - 1, x + 1); column++) {
          this.markLabels(row * width + column, seen);
        }
      }
    }
    const { plateOf, tintOf } = this.tables;
    return Array.from({ length: this.plates }, (_, plate) =>
      seen.some((where, label) => where !== 0 && plateOf[label] === plate && tintOf[label]! >= LEAST_TONE),
    );
  }

  private markLabels(i: number, seen: Uint8Array): void {
    const { label, mixAt, mixLabels, mixShares } = this.shares;
    if (label[i] !== MIXED) {
      seen[label[i]!] = 1;
      return;
    }
    for (let k = mixAt[i]! * 3, end = k + 3; k < end; k++) if (mixShares[k]! > 0) seen[mixLabels[k]!] = 1;
  }
}
