// A plate's rows, screened and encoded without their bits ever standing anywhere: what the encoder wants to know is where colours change.
import { appendChanges, encodeRow, endChanges, insideRow } from './g4';
import { between, partsOf } from './expandRows';

/** The end of the list that is being made, and its row's last pixel so far. */
let listEnd: usize = 0;
let lastPixel: u64 = 0;

export function beginList(list: usize): void {
  listEnd = list;
  lastPixel = 0;
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
export function listBytes(bytes: usize, thresholds: usize, x: i32, end: i32): void {
  let at = listEnd;
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
  listEnd = at;
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

/** As `listBytes`, for its tones: a device row between two rows of expanded tones. */
export function listTones(above: usize, below: usize, part: i32, thresholds: usize, x: i32, end: i32): void {
  const parts = partsOf(part);
  let at = listEnd;
  let last = lastPixel;
  for (; x < end; x += 64) {
    const pixels =
      reachedBetween(above, below, parts, thresholds) |
      (reachedBetween(above + 32, below + 32, parts, thresholds + 32) << 16) |
      (reachedBetween(above + 64, below + 64, parts, thresholds + 64) << 32) |
      (reachedBetween(above + 96, below + 96, parts, thresholds + 96) << 48);
    const changes = (pixels ^ ((pixels << 1) | last)) & insideRow(x, end);
    last = pixels >> 63;
    if (changes != 0) at = appendChanges(at, x, changes);
    above += 128;
    below += 128;
    thresholds += 128;
  }
  listEnd = at;
  lastPixel = last;
}

/** Ends the list at `line` and encodes its row. */
export function encodeList(line: usize, above: usize, width: i32): void {
  endChanges(listEnd, width);
  encodeRow(line, above, width);
}

/** Puts the first code that reaches it in place of each of `count` thresholds. */
export function codeThresholds(thresholds: usize, count: i32, first: usize, out: usize): void {
  for (let k: usize = 0; k < <usize>count; k++) {
    store<u8>(out + k, load<u8>(first + <usize>load<u16>(thresholds + (k << 1))));
  }
}
