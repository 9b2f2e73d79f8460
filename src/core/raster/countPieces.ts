/** Pieces of a mask that are smaller than a limit. */
export interface SmallPieces {
  readonly count: number;
  /** Where one of them begins; null where there are none. */
  readonly place: { readonly x: number; readonly y: number } | null;
}

interface Run {
  readonly from: number;
  readonly to: number;
  readonly piece: number;
}

/**
 * Counts the pieces of a mask, joined at sides and corners, that have fewer pixels than a limit. It is given the mask row by row and works on runs, so that memory
 * grows with the outline and not with the area.
 */
export class PieceCounter {
  private readonly limit: number;
  private readonly parent: number[] = [];
  private readonly size: number[] = [];
  /** Where each piece begins. */
  private readonly column: number[] = [];
  private readonly row: number[] = [];
  private above: Run[] = [];
  private y = 0;

  constructor(limit: number) {
    this.limit = limit;
  }

  /** @param mask one byte for each pixel of the next row: below 128 it is out, at 255 in; between them it is in, and what it belongs to is never counted. */
  addRow(mask: Uint8Array): void {
    const runs: Run[] = [];
    let next = 0;
    for (let x = 0; x < mask.length;) {
      if (mask[x]! < 128) {
        x++;
        continue;
      }
      const from = x;
      let size = 0;
      for (; x < mask.length && mask[x]! >= 128; x++) size += mask[x] === 255 ? 1 : Infinity;
      while (next < this.above.length && this.above[next]!.to < from) next++;
      let piece = -1;
      for (let k = next; k < this.above.length && this.above[k]!.from <= x; k++) {
        const other = this.rootOf(this.above[k]!.piece);
        if (piece < 0) piece = other;
        else if (piece !== other) piece = this.join(piece, other);
      }
      if (piece < 0) piece = this.begin(from);
      this.size[piece]! += size;
      runs.push({ from, to: x, piece });
    }
    this.above = runs;
    this.y++;
  }

  private begin(x: number): number {
    this.parent.push(this.parent.length);
    this.size.push(0);
    this.column.push(x);
    this.row.push(this.y);
    return this.parent.length - 1;
  }

  /** One piece of two: the one that begins first. */
  private join(one: number, other: number): number {
    const [first, second] = one < other ? [one, other] : [other, one];
    this.parent[second] = first;
    this.size[first]! += this.size[second]!;
    return first;
  }

  private rootOf(k: number): number {
    const { parent } = this;
    let root = k;
    while (parent[root] !== root) root = parent[root]!;
    while (parent[k] !== root) [parent[k], k] = [root, parent[k]!];
    return root;
  }

  result(): SmallPieces {
    let count = 0;
    let place: SmallPieces['place'] = null;
    this.parent.forEach((root, k) => {
      if (root !== k || this.size[k]! >= this.limit) return;
      count++;
      place ??= { x: this.column[k]!, y: this.row[k]! };
    });
    return { count, place };
  }
}
