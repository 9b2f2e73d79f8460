/**
 * Twin of PlainG4Encoder in core/formats/g4Encoder.ts. Each row is first turned into the list of the places where its colour changes;
 * the row above is the list that was made before it, so that nothing is looked for twice.
 */

const RUN_CODES_PER_COLOUR: i32 = 104;
const PASS_CODE: u32 = 0x014;
const HORIZONTAL_CODE: u32 = 0x013;
const END_OF_LINE: u32 = 0x01c;
/** Ends of the row that stand behind a list of changes. */
const SENTINELS: i32 = 6;
/** Places before a list that are before every pixel. */
const BEFORE: usize = 8;
/** Where the codes of b1 - a1 = -3..3 stand behind those of runs. */
const VERTICAL: usize = <usize>(2 * RUN_CODES_PER_COLOUR) << 2;

let codes: usize = 0;
let out: usize = 0;
let bits: u64 = 0;
let bitCount: i32 = 0;

function put(code: u32): void {
  const length = <i32>(code & 15);
  bits = (bits << <u64>length) | <u64>(code >> 4);
  bitCount += length;
  if (bitCount >= 32) {
    bitCount -= 32;
    store<u32>(out, bswap<u32>(<u32>(bits >> <u64>bitCount)));
    out += 4;
  }
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

/**
 * Appends where bits of `changes` stand, `x` being the lowest one's place. Four are written whether there are so many or not: in a
 * row of dots 64 pixels have about as many, and a loop that ends somewhere else each time is guessed wrong each time.
 *
 * @returns where the list ends now; up to three places behind it have been written, too.
 */
// @ts-expect-error: decorators are AssemblyScript's
@inline
export function appendChanges(at: usize, x: i32, changes: u64): usize {
  const end = at + ((<usize>popcnt<u64>(changes)) << 2);
  let rest = changes;
  do {
    store<i32>(at, x + <i32>ctz<u64>(rest));
    rest &= rest - 1;
    store<i32>(at, x + <i32>ctz<u64>(rest), 4);
    rest &= rest - 1;
    store<i32>(at, x + <i32>ctz<u64>(rest), 8);
    rest &= rest - 1;
    store<i32>(at, x + <i32>ctz<u64>(rest), 12);
    rest &= rest - 1;
    at += 16;
  } while (rest != 0);
  return end;
}

/** Ends a list of changes. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
export function endChanges(at: usize, width: i32): void {
  for (let k: i32 = 0; k < SENTINELS; k++) store<i32>(at + ((<usize>k) << 2), width);
}

/** What of 64 pixels from `x` on is part of a row, lowest bit first. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
export function insideRow(x: i32, width: i32): u64 {
  const left = width - x;
  return left < 64 ? ((<u64>1) << <u64>left) - 1 : <u64>0xffffffffffffffff;
}

/** Pixels of sixteen bytes with the leftmost as the lowest bit of each. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function lowestFirst(pixels: v128): v128 {
  const halves = v128(0, 8, 4, 12, 2, 10, 6, 14, 1, 9, 5, 13, 3, 11, 7, 15);
  const low = v128.swizzle(halves, v128.and(pixels, v128.splat<u8>(15)));
  const high = v128.swizzle(halves, v128.shr<u8>(pixels, 4));
  return v128.or(v128.shl<u8>(low, 4), high);
}

/** Lists where the colour of a row changes, from white before its first pixel on; the row's end stands behind them. */
function listChanges(row: usize, width: i32, list: usize): void {
  let at = list;
  let last: u64 = 0;
  for (let x: i32 = 0; x < width; x += 128) {
    const pixels = lowestFirst(v128.load(row + ((<usize>x) >> 3)));
    const first = v128.extract_lane<u64>(pixels, 0);
    const second = v128.extract_lane<u64>(pixels, 1);
    let changes = (first ^ ((first << 1) | last)) & insideRow(x, width);
    last = first >> 63;
    if (changes != 0) at = appendChanges(at, x, changes);
    if (x + 64 >= width) break;
    changes = (second ^ ((second << 1) | last)) & insideRow(x + 64, width);
    last = second >> 63;
    if (changes != 0) at = appendChanges(at, x + 64, changes);
  }
  endChanges(at, width);
}

/** @param line changes of the row, @param above those of the row before it. */
export function encodeRow(line: usize, above: usize, end: i32): void {
  let i = line;
  let j = above;
  let a0: i32 = 0;
  let colour: i32 = 0;
  let a1 = load<i32>(i);
  let b1 = load<i32>(j);
  // Bits are collected here; runs, which are rarer, go through the shared ones.
  let b = bits;
  let n = bitCount;
  let o = out;
  const vertical = codes + VERTICAL;
  while (true) {
    const b2 = load<i32>(j, 4);
    let code: u32;
    if (b2 < a1) {
      code = PASS_CODE;
      a0 = b2;
      j += 8;
      b1 = load<i32>(j);
    } else {
      const d = b1 - a1;
      if (<u32>(d + 3) < 7) {
        code = load<u32>(vertical + ((<usize>(d + 3)) << 2));
        a0 = a1;
        colour ^= 1;
        i += 4;
        a1 = load<i32>(i);
        // The next change of the other colour beyond a0: one further on, or, where a0 lies before the last one, one back. It is
        // nearly always one further on, so this is worth a guess: read in the branch, it stays one.
        j += 4;
        b1 = load<i32>(j);
        if (load<i32>(j - 8) > a0) {
          j -= 8;
          b1 = load<i32>(j);
        }
      } else {
        const a2 = load<i32>(i, 4);
        bits = b;
        bitCount = n;
        out = o;
        put(HORIZONTAL_CODE);
        putRun(a1 - a0, colour);
        putRun(a2 - a1, colour ^ 1);
        b = bits;
        n = bitCount;
        o = out;
        code = 0;
        a0 = a2;
        i += 8;
        if (a0 < end) a1 = load<i32>(i);
      }
    }
    const length = <i32>(code & 15);
    b = (b << <u64>length) | <u64>(code >> 4);
    n += length;
    if (n >= 32) {
      n -= 32;
      store<u32>(o, bswap<u32>(<u32>(b >> <u64>n)));
      o += 4;
    }
    if (a0 >= end) break;
    while (b1 <= a0 && b1 < end) {
      j += 8;
      b1 = load<i32>(j);
    }
  }
  bits = b;
  bitCount = n;
  out = o;
}

/** @param state 8 bytes of bits not yet written, 4 bytes of their count. @param outAt where the next bytes go. */
export function beginEncoding(codesAt: usize, state: usize, outAt: usize): void {
  codes = codesAt;
  out = outAt;
  bits = load<u64>(state);
  bitCount = load<i32>(state, 8);
}

/** Keeps in `state` the bits that are no whole word yet; returns where the written ones end. */
export function endEncoding(state: usize): usize {
  store<u64>(state, bits & (((<u64>1) << <u64>bitCount) - 1));
  store<i32>(state, bitCount, 8);
  return out;
}

/**
 * Encodes rows that stand one after another behind their reference row.
 * @param rowsAt the reference row, then `rows` rows, each `rowBytes` long; sixteen readable bytes behind the last.
 * @param listsAt room for two lists of `width` + 20 changes of four bytes.
 * @param state as for `beginEncoding`; updated.
 * @returns bytes written at `outAt`.
 */
export function g4EncodeRows(
  rowsAt: usize,
  rowBytes: i32,
  rows: i32,
  width: i32,
  codesAt: usize,
  listsAt: usize,
  state: usize,
  outAt: usize,
): i32 {
  beginEncoding(codesAt, state, outAt);
  let above = listsAt + BEFORE;
  let line: usize = above + BEFORE + ((<usize>(width + 18)) << 2);
  store<i64>(above - BEFORE, -1);
  store<i64>(line - BEFORE, -1);
  listChanges(rowsAt, width, above);
  for (let row: i32 = 1; row <= rows; row++) {
    listChanges(rowsAt + <usize>(row * rowBytes), width, line);
    encodeRow(line, above, width);
    const next = above;
    above = line;
    line = next;
  }
  return <i32>(endEncoding(state) - outAt);
}

/** Writes the end of block and what bits are left; returns the bytes written. */
export function g4Finish(state: usize, outAt: usize): i32 {
  beginEncoding(codes, state, outAt);
  put(END_OF_LINE);
  put(END_OF_LINE);
  while (bitCount > 0) {
    bitCount -= 8;
    store<u8>(out, bitCount >= 0 ? <u8>(bits >> <u64>bitCount) : <u8>(bits << <u64>-bitCount));
    out++;
  }
  store<u64>(state, 0);
  store<i32>(state, 0, 8);
  return <i32>(out - outAt);
}
