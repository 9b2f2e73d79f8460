const REVERSED = Uint8Array.from({ length: 256 }, (_, byte) => {
  let out = 0;
  for (let bit = 0; bit < 8; bit++) if ((byte & (1 << bit)) !== 0) out |= 128 >> bit;
  return out;
});

/**
 * Mirrors rows of a bitmap left to right, in place: pixel x goes to widthPx - 1 - x.
 * @param bits rows * ceil(widthPx / 8) bytes, most significant bit leftmost; bits beyond the width must be clear and stay so.
 */
export function mirrorRows(bits: Uint8Array, widthPx: number): void {
  const rowBytes = (widthPx + 7) >> 3;
  const extra = rowBytes * 8 - widthPx;
  for (let at = 0; at + rowBytes <= bits.length; at += rowBytes) {
    const row = bits.subarray(at, at + rowBytes).reverse();
    for (let k = 0; k < rowBytes; k++) row[k] = REVERSED[row[k]!]!;
    if (extra === 0) continue;
    for (let k = 0; k < rowBytes; k++) row[k] = (row[k]! << extra) | ((row[k + 1] ?? 0) >> (8 - extra));
  }
}

/** Makes black clear and clear black, in place; bits beyond the width are for the caller to clear. */
export function invertBits(bits: Uint8Array): void {
  for (let k = 0; k < bits.length; k++) bits[k] = ~bits[k]!;
}

/**
 * Columns of a bitmap as rows of the bitmap turned a quarter clockwise: the pixel at (x, y) comes to (heightPx - 1 - y, x). Eight by
 * eight pixels at a time (Warren, Hacker's Delight, 2nd ed., 7-3).
 *
 * @param bits heightPx rows of rowBytes, most significant bit leftmost.
 * @returns 8 * rowBytes rows of ceil(heightPx / 8) bytes.
 */
export function turnClockwise(bits: Uint8Array, rowBytes: number, heightPx: number): Uint8Array {
  const outBytes = (heightPx + 7) >> 3;
  const out = new Uint8Array(8 * rowBytes * outBytes);
  const row = (y: number, column: number) => (y < 0 ? 0 : bits[y * rowBytes + column]!);
  for (let k = 0; k < outBytes; k++) {
    const y = heightPx - 1 - 8 * k;
    for (let column = 0; column < rowBytes; column++) {
      let a =
        (row(y, column) << 24) | (row(y - 1, column) << 16) | (row(y - 2, column) << 8) | row(y - 3, column);
      let b =
        (row(y - 4, column) << 24) |
        (row(y - 5, column) << 16) |
        (row(y - 6, column) << 8) |
        row(y - 7, column);
      if ((a | b) === 0) continue;
      let t = (a ^ (a >>> 7)) & 0x00aa00aa;
      a ^= t ^ (t << 7);
      t = (b ^ (b >>> 7)) & 0x00aa00aa;
      b ^= t ^ (t << 7);
      t = (a ^ (a >>> 14)) & 0x0000cccc;
      a ^= t ^ (t << 14);
      t = (b ^ (b >>> 14)) & 0x0000cccc;
      b ^= t ^ (t << 14);
      const top = (a & 0xf0f0f0f0) | ((b >>> 4) & 0x0f0f0f0f);
      const bottom = ((a << 4) & 0xf0f0f0f0) | (b & 0x0f0f0f0f);
      const at = 8 * column * outBytes + k;
      for (let i = 0; i < 4; i++) {
        out[at + i * outBytes] = top >>> (24 - 8 * i);
        out[at + (4 + i) * outBytes] = bottom >>> (24 - 8 * i);
      }
    }
  }
  return out;
}
