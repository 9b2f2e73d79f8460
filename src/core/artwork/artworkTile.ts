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
