/** Pixels of a tile as runs of one colour along its rows: drawings without smoothed edges take a hundredth of their pixels so. */
export class RunTile {
  /** Where the runs of each row begin; one more than there are rows. */
  private readonly rows: Uint32Array;
  /** Where each run ends in its row, excluded. */
  private readonly ends: Uint16Array;
  private readonly colours: Uint32Array;

  private constructor(rows: Uint32Array, ends: Uint16Array, colours: Uint32Array) {
    this.rows = rows;
    this.ends = ends;
    this.colours = colours;
  }

  /**
   * @param pixels four bytes each, row after row; `width` is at most 65535.
   * @returns null where runs would not be shorter than half of the pixels.
   */
  static of(pixels: Uint8Array, width: number): RunTile | null {
    const words = new Uint32Array(pixels.buffer, pixels.byteOffset, pixels.length >> 2);
    const height = words.length / width;
    const most = words.length >> 2;
    const rows = new Uint32Array(height + 1);
    let count = 0;
    for (let i = 0; i < words.length; i++) {
      if (i % width === 0 || words[i] !== words[i - 1]) count++;
      if (count > most) return null;
    }
    const ends = new Uint16Array(count);
    const colours = new Uint32Array(count);
    let at = -1;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const colour = words[y * width + x]!;
        if (x === 0 || colour !== colours[at]) colours[++at] = colour;
        ends[at] = x + 1;
      }
      rows[y + 1] = at + 1;
    }
    return new RunTile(rows, ends, colours);
  }

  /** Writes the pixels `from` <= x < `to` of a row. */
  copyRow(y: number, from: number, to: number, out: Uint32Array, at: number): void {
    let begin = 0;
    for (let k = this.rows[y]!; k < this.rows[y + 1]! && begin < to; k++) {
      const end = this.ends[k]!;
      const [a, b] = [Math.max(begin, from), Math.min(end, to)];
      if (b > a) out.fill(this.colours[k]!, at + a - from, at + b - from);
      begin = end;
    }
  }
}
