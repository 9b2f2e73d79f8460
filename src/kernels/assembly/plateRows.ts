// A plate's rows, screened and encoded without their bits ever standing anywhere: what the encoder wants to know is where colours change.
import { appendChanges, encodeRow, endChanges, insideRow } from './g4';
import { between, partsOf } from './expandRows';

let width: i32 = 0;
/** Pixels of a row whose thresholds stand one after another. */
let longest: i32 = 0;
/** The list of the row before, and the one that is being made. */
let above: usize = 0;
let line: usize = 0;
/** Where that one ends so far, and its row's last pixel so far. */
let lineEnd: usize = 0;
let lastPixel: u64 = 0;

/**
 * Begins some rows of a plate; `beginEncoding` goes before it.
 *
 * @param aboveAt the list of changes of the row before, as `lastList` told it; 8 bytes before it are -1, also before `lineAt`.
 * @param longestAtOnce a multiple of 64.
 */
export function beginPlate(widthPx: i32, longestAtOnce: i32, aboveAt: usize, lineAt: usize): void {
  width = widthPx;
  longest = longestAtOnce;
  above = aboveAt;
  line = lineAt;
}

/** Where the list of the last row's changes stands. */
export function lastList(): usize {
  return above;
}

function beginRow(): void {
  lineEnd = line;
  lastPixel = 0;
}

function endRow(): void {
  endChanges(lineEnd, width);
  encodeRow(line, above, width);
  const next = above;
  above = line;
  line = next;
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function reached(bytes: v128, thresholds: usize): u64 {
  return <u64>(<u32>v128.bitmask<i8>(v128.ge<u8>(bytes, v128.load(thresholds))));
}

/**
 * Twin of the inner loop of screenPlate for codes, 64 pixels at a time: appends where the row changes.
 *
 * @param x of the first pixel; @param end behind the last one. Up to 63 bytes and thresholds behind it are read.
 */
function listBytes(bytes: usize, thresholds: usize, x: i32, end: i32): void {
  let at = lineEnd;
  let last = lastPixel;
  for (; x < end; x += 64) {
    const a = v128.load(bytes);
    const b = v128.load(bytes, 16);
    const c = v128.load(bytes, 32);
    const d = v128.load(bytes, 48);
    let pixels: u64 = 0;
    if (v128.any_true(v128.or(v128.or(a, b), v128.or(c, d)))) {
      pixels =
        reached(a, thresholds) |
        (reached(b, thresholds + 16) << 16) |
        (reached(c, thresholds + 32) << 32) |
        (reached(d, thresholds + 48) << 48);
    }
    const changes = (pixels ^ ((pixels << 1) | last)) & insideRow(x, end);
    last = pixels >> 63;
    if (changes != 0) at = appendChanges(at, x, changes);
    bytes += 64;
    thresholds += 64;
  }
  lineEnd = at;
  lastPixel = last;
}

/** Sixteen pixels between two rows of tones. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function reachedBetween(above: usize, below: usize, parts: v128, thresholds: usize): u64 {
  const a = v128.load(above);
  const b = v128.load(above, 16);
  const c = v128.load(below);
  const d = v128.load(below, 16);
  if (!v128.any_true(v128.or(v128.or(a, b), v128.or(c, d)))) return 0;
  const inked = v128.narrow<i16>(
    v128.ge<u16>(between(a, c, parts), v128.load(thresholds)),
    v128.ge<u16>(between(b, d, parts), v128.load(thresholds, 16)),
  );
  return <u64>(<u32>v128.bitmask<i8>(inked));
}

/** As `listBytes`, for a device row between two rows of expanded tones. */
function listTones(upper: usize, lower: usize, part: i32, thresholds: usize, x: i32, end: i32): void {
  const parts = partsOf(part);
  let at = lineEnd;
  let last = lastPixel;
  for (; x < end; x += 64) {
    const pixels =
      reachedBetween(upper, lower, parts, thresholds) |
      (reachedBetween(upper + 32, lower + 32, parts, thresholds + 32) << 16) |
      (reachedBetween(upper + 64, lower + 64, parts, thresholds + 64) << 32) |
      (reachedBetween(upper + 96, lower + 96, parts, thresholds + 96) << 48);
    const changes = (pixels ^ ((pixels << 1) | last)) & insideRow(x, end);
    last = pixels >> 63;
    if (changes != 0) at = appendChanges(at, x, changes);
    upper += 128;
    lower += 128;
    thresholds += 128;
  }
  lineEnd = at;
  lastPixel = last;
}

/**
 * Encodes rows that lie on one row of bytes.
 *
 * @param positions for each row, one after another, where the thresholds of each stretch of `longest` pixels begin.
 */
export function codeRows(bytes: usize, positions: usize, rows: i32): void {
  for (let row: i32 = 0; row < rows; row++) {
    beginRow();
    for (let x: i32 = 0; x < width; x += longest) {
      listBytes(bytes + <usize>x, load<u32>(positions), x, min(width, x + longest));
      positions += 4;
    }
    endRow();
  }
}

/** Encodes a row between two rows of expanded tones. @param positions as for `codeRows`. */
export function toneRow(upper: usize, lower: usize, part: i32, positions: usize): void {
  beginRow();
  for (let x: i32 = 0; x < width; x += longest) {
    const at: usize = (<usize>x) << 1;
    listTones(upper + at, lower + at, part, load<u32>(positions), x, min(width, x + longest));
    positions += 4;
  }
  endRow();
}

/** Puts the first code that reaches it in place of each of `count` thresholds. */
export function codeThresholds(thresholds: usize, count: i32, first: usize, out: usize): void {
  for (let k: usize = 0; k < <usize>count; k++) {
    store<u8>(out + k, load<u8>(first + <usize>load<u16>(thresholds + (k << 1))));
  }
}
