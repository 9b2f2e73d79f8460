/** A tile of decoded artwork: four bytes a pixel, sRGB codes with straight alpha, read as words in the machine's order. */
export interface ArtworkTile {
  readonly byteLength: number;
  /** As it is stored or sent. */
  bytes(): Uint8Array;
  /** Writes the pixels `from` <= x < `to` of row `y` to `out`, from `at` on. */
  copyRow(y: number, from: number, to: number, out: Uint32Array, at: number): void;
}

/** A tile whose pixels are kept as they are. */
export class PixelTile implements ArtworkTile {
  private readonly words: Uint32Array;
  private readonly width: number;

  /** @param words row after row, `width` to a row. */
  constructor(words: Uint32Array, width: number) {
    this.words = words;
    this.width = width;
  }

  get byteLength(): number {
    return this.words.byteLength;
  }

  bytes(): Uint8Array {
    return new Uint8Array(this.words.buffer, this.words.byteOffset, this.words.byteLength);
  }

  copyRow(y: number, from: number, to: number, out: Uint32Array, at: number): void {
    out.set(this.words.subarray(y * this.width + from, y * this.width + to), at);
  }
}

/** Room for the runs of a tile while they are found; they are short when it ends. */
let foundEnds = new Uint16Array(0);
let foundColours = new Uint32Array(0);

/** Pixels of a tile as runs of one colour along its rows: drawings without smoothed edges take a hundredth of their pixels so. */
export class RunTile implements ArtworkTile {
  /** Where the runs of each row begin; one more than there are rows. */
  private readonly rows: Uint32Array;
  private readonly colours: Uint32Array;
  /** Where each run ends in its row, excluded. */
  private readonly ends: Uint16Array;

  private constructor(rows: Uint32Array, colours: Uint32Array, ends: Uint16Array) {
    this.rows = rows;
    this.colours = colours;
    this.ends = ends;
  }

  /**
   * @param words row after row; `width` is at most 65535.
   * @param straight what a colour that was found is kept as.
   * @returns null where runs would not be shorter than half of the pixels.
   */
  static of(words: Uint32Array, width: number, straight?: (colour: number) => number): RunTile | null {
    const height = words.length / width;
    const most = words.length >> 2;
    if (foundEnds.length < most) [foundEnds, foundColours] = [new Uint16Array(most), new Uint32Array(most)];
    const [ends, colours] = [foundEnds, foundColours];
    const rows = new Uint32Array(height + 1);
    // Colours as signed numbers are plain machine words to the engine.
    const pixels = new Int32Array(words.buffer, words.byteOffset, words.length);
    let count = 0;
    for (let y = 0; y < height; y++) {
      const row = y * width;
      for (let x = 0; x < width;) {
        const colour = pixels[row + x]!;
        do x++;
        while (x < width && pixels[row + x] === colour);
        if (count === most) return null;
        ends[count] = x;
        colours[count++] = colour;
      }
      rows[y + 1] = count;
    }
    const kept = colours.slice(0, count);
    return new RunTile(rows, straight ? kept.map(straight) : kept, ends.slice(0, count));
  }

  /** The tile as `bytes` gave it. */
  static read(bytes: ArrayBuffer): RunTile {
    const [height] = new Uint32Array(bytes, 0, 1);
    const rows = new Uint32Array(bytes, 4, height! + 1);
    const count = rows[height!]!;
    const colours = new Uint32Array(bytes, 4 * (height! + 2), count);
    return new RunTile(rows, colours, new Uint16Array(bytes, 4 * (height! + 2 + count), count));
  }

  /** Words of 32 bits: the number of rows, where the runs of each begin, the colours; after them, in 16 bits, the ends. */
  bytes(): Uint8Array<ArrayBuffer> {
    const { rows, colours, ends } = this;
    const out = new Uint8Array(4 + this.byteLength);
    const words = new Uint32Array(out.buffer, 0, 1 + rows.length + colours.length);
    words[0] = rows.length - 1;
    words.set(rows, 1);
    words.set(colours, 1 + rows.length);
    new Uint16Array(out.buffer, words.byteLength).set(ends);
    return out;
  }

  get byteLength(): number {
    return this.rows.byteLength + this.colours.byteLength + this.ends.byteLength;
  }

  copyRow(y: number, from: number, to: number, out: Uint32Array, at: number): void {
    const { rows, ends, colours } = this;
    const last = rows[y + 1]!;
    let begin = 0;
    for (let k = rows[y]!; k < last && begin < to; k++) {
      const end = ends[k]!;
      const [a, b] = [Math.max(begin, from), Math.min(end, to)];
      if (b > a) out.fill(colours[k]!, at + a - from, at + b - from);
      begin = end;
    }
  }
}
