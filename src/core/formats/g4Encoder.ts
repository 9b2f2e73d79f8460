import { RUN_CODES, RUN_CODES_PER_COLOUR } from './runCodes';

/** An encoder of one bilevel image in one continuous stream, fed strip by strip. */
export interface G4Encoder {
  /**
   * Encodes whole rows.
   * @param bits rows * ceil(width / 8) bytes, most significant bit leftmost, 1 = black.
   * @returns the bytes that are complete now; may be empty.
   */
  encode(bits: Uint8Array, rows: number): Uint8Array;
  /** Writes the end of the facsimile block and returns the last bytes. */
  finish(): Uint8Array;
}

// ITU-T T.6, table 1. Indexed by b1 - a1 + 3: right 3, 2, 1, none, left 1, 2, 3. `code << 4 | length`.
export const VERTICAL_CODES = [0x037, 0x036, 0x033, 0x011, 0x023, 0x026, 0x027] as const;
const PASS_CODE = 0x014;
const HORIZONTAL_CODE = 0x013;
const END_OF_LINE = 0x01c;

/** First pixel from `start` that is not of `colour` (0 or 1), or `end`. */
function findOther(row: Uint8Array, start: number, end: number, colour: number): number {
  let x = start;
  const flip = colour === 0 ? 0 : 255;
  while (x < end) {
    const byte = ((row[x >> 3]! ^ flip) << (x & 7)) & 255;
    if (byte !== 0) return Math.min(end, x + Math.clz32(byte) - 24);
    x = (x | 7) + 1;
  }
  return end;
}

function pixel(row: Uint8Array, x: number): number {
  return (row[x >> 3]! >> (7 - (x & 7))) & 1;
}

/** Encodes two-dimensionally after ITU-T Recommendation T.6 (Group 4), plain form. */
export class PlainG4Encoder implements G4Encoder {
  private readonly width: number;
  private readonly rowBytes: number;
  private reference: Uint8Array;
  private bytes: number[] = [];
  private bits = 0;
  private bitCount = 0;

  constructor(width: number) {
    this.width = width;
    this.rowBytes = (width + 7) >> 3;
    this.reference = new Uint8Array(this.rowBytes);
  }

  encode(bits: Uint8Array, rows: number): Uint8Array {
    for (let row = 0; row < rows; row++) {
      const line = bits.subarray(row * this.rowBytes, (row + 1) * this.rowBytes);
      this.encodeRow(line);
      this.reference = line;
    }
    this.reference = this.reference.slice();
    return this.take();
  }

  finish(): Uint8Array {
    this.put(END_OF_LINE);
    this.put(END_OF_LINE);
    if (this.bitCount > 0) {
      this.bytes.push((this.bits << (8 - this.bitCount)) & 255);
      this.bits = 0;
      this.bitCount = 0;
    }
    return this.take();
  }

  private take(): Uint8Array {
    const out = Uint8Array.from(this.bytes);
    this.bytes = [];
    return out;
  }

  /** @param code `code << 4 | length`, at most 13 bits long. */
  private put(code: number): void {
    const length = code & 15;
    this.bits = (this.bits << length) | (code >> 4);
    this.bitCount += length;
    while (this.bitCount >= 8) {
      this.bitCount -= 8;
      this.bytes.push((this.bits >> this.bitCount) & 255);
    }
    this.bits &= (1 << this.bitCount) - 1;
  }

  private putRun(length: number, colour: number): void {
    const table = colour * RUN_CODES_PER_COLOUR;
    let rest = length;
    while (rest >= 2560 + 64) {
      this.put(RUN_CODES[table + 63 + 40]!);
      rest -= 2560;
    }
    if (rest >= 64) {
      this.put(RUN_CODES[table + 63 + (rest >> 6)]!);
      rest &= 63;
    }
    this.put(RUN_CODES[table + rest]!);
  }

  private encodeRow(line: Uint8Array): void {
    const end = this.width;
    const above = this.reference;
    let a0 = 0;
    let colour = 0;
    let a1 = findOther(line, 0, end, 0);
    let b1 = findOther(above, 0, end, 0);
    for (;;) {
      const b2 = b1 < end ? findOther(above, b1, end, pixel(above, b1)) : end;
      if (b2 < a1) {
        this.put(PASS_CODE);
        a0 = b2;
      } else {
        const d = b1 - a1;
        if (d >= -3 && d <= 3) {
          this.put(VERTICAL_CODES[d + 3]!);
          a0 = a1;
          colour ^= 1;
        } else {
          const a2 = a1 < end ? findOther(line, a1, end, colour ^ 1) : end;
          this.put(HORIZONTAL_CODE);
          this.putRun(a1 - a0, colour);
          this.putRun(a2 - a1, colour ^ 1);
          a0 = a2;
        }
      }
      if (a0 >= end) return;
      a1 = findOther(line, a0, end, colour);
      b1 = findOther(above, findOther(above, a0, end, colour ^ 1), end, colour);
    }
  }
}
