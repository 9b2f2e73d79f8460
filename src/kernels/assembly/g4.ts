/** Twin of PlainG4Encoder in core/formats/g4Encoder.ts. */

const RUN_CODES_PER_COLOUR: i32 = 104;

let codes: usize = 0;
let out: usize = 0;
let bits: u64 = 0;
let bitCount: i32 = 0;

function findOther(row: usize, start: i32, end: i32, colour: i32): i32 {
  if (start >= end) return end;
  const flip: u64 = colour == 0 ? 0 : 0xffffffffffffffff;
  let at: usize = row + ((<usize>start) >> 3);
  let x = start & ~7;
  // Rows are padded by eight bytes, so a word may reach beyond the end.
  let word = (bswap<u64>(load<u64>(at)) ^ flip) & ((<u64>0xffffffffffffffff) >> <u64>(start & 7));
  while (word == 0) {
    x += 64;
    at += 8;
    if (x >= end) return end;
    word = bswap<u64>(load<u64>(at)) ^ flip;
  }
  return min<i32>(end, x + <i32>clz<u64>(word));
}

function pixel(row: usize, x: i32): i32 {
  return (load<u8>(row + ((<usize>x) >> 3)) >> <u8>(7 - (x & 7))) & 1;
}

function put(code: u32): void {
  const length = <i32>(code & 15);
  bits = (bits << <u64>length) | <u64>(code >> 4);
  bitCount += length;
  while (bitCount >= 8) {
    bitCount -= 8;
    store<u8>(out, <u8>(bits >> <u64>bitCount));
    out++;
  }
  bits &= (<u64>1 << <u64>bitCount) - 1;
}

function putRun(length: i32, colour: i32): void {
  const table: usize = codes + ((<usize>(colour * RUN_CODES_PER_COLOUR)) << 2);
  let rest = length;
  while (rest >= 2624) {
    put(load<u32>(table + ((<usize>103) << 2)));
    rest -= 2560;
  }
  if (rest >= 64) {
    put(load<u32>(table + ((<usize>(63 + (rest >> 6))) << 2)));
    rest &= 63;
  }
  put(load<u32>(table + ((<usize>rest) << 2)));
}

function verticalCode(d: i32): u32 {
  if (d == 0) return 0x011;
  if (d > 0) return d == 1 ? 0x023 : d == 2 ? 0x026 : 0x027;
  return d == -1 ? 0x033 : d == -2 ? 0x036 : 0x037;
}

function encodeRow(line: usize, above: usize, end: i32): void {
  let a0 = 0;
  let colour = 0;
  let a1 = findOther(line, 0, end, 0);
  let b1 = findOther(above, 0, end, 0);
  while (true) {
    const b2 = b1 < end ? findOther(above, b1, end, pixel(above, b1)) : end;
    if (b2 < a1) {
      put(0x014);
      a0 = b2;
    } else {
      const d = b1 - a1;
      if (d >= -3 && d <= 3) {
        put(verticalCode(d));
        a0 = a1;
        colour ^= 1;
      } else {
        const a2 = a1 < end ? findOther(line, a1, end, colour ^ 1) : end;
        put(0x013);
        putRun(a1 - a0, colour);
        putRun(a2 - a1, colour ^ 1);
        a0 = a2;
      }
    }
    if (a0 >= end) return;
    a1 = findOther(line, a0, end, colour);
    b1 = findOther(above, findOther(above, a0, end, colour ^ 1), end, colour);
  }
}

/**
 * Encodes rows that stand one after another behind their reference row.
 * @param rowsAt the reference row, then `rows` rows, each `rowBytes` long; eight readable bytes behind the last.
 * @param state 8 bytes of bits not yet written, 4 bytes of their count; updated.
 * @returns bytes written at `outAt`.
 */
export function g4EncodeRows(
  rowsAt: usize,
  rowBytes: i32,
  rows: i32,
  width: i32,
  codesAt: usize,
  state: usize,
  outAt: usize,
): i32 {
  codes = codesAt;
  out = outAt;
  bits = load<u64>(state);
  bitCount = load<i32>(state, 8);
  for (let row: i32 = 0; row < rows; row++) {
    const above: usize = rowsAt + <usize>(row * rowBytes);
    encodeRow(above + <usize>rowBytes, above, width);
  }
  store<u64>(state, bits);
  store<i32>(state, bitCount, 8);
  return <i32>(out - outAt);
}

/** Writes the end of block and what bits are left; returns the bytes written. */
export function g4Finish(state: usize, outAt: usize): i32 {
  out = outAt;
  bits = load<u64>(state);
  bitCount = load<i32>(state, 8);
  put(0x01c);
  put(0x01c);
  if (bitCount > 0) {
    store<u8>(out, <u8>(bits << <u64>(8 - bitCount)));
    out++;
  }
  store<u64>(state, 0);
  store<i32>(state, 0, 8);
  return <i32>(out - outAt);
}
