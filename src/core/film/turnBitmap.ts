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
