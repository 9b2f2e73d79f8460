import { type Rect, intersectRects } from '../geometry';

/** A set of pixels: for each row of a rectangle, runs of columns from left to right that do not meet. */
export interface Spans {
  readonly rect: Rect;
  /** Where the runs of each row begin in `ends`, counted in runs; one more than there are rows. */
  readonly rows: Int32Array;
  /** First column of each run and the column behind its last, in the pixel grid that `rect` lies in. */
  readonly ends: Int32Array;
}

/** What both hold. */
export function intersectSpans(a: Spans, b: Spans): Spans {
  const rect = intersectRects(a.rect, b.rect);
  const rows = new Int32Array(rect.height + 1);
  let ends = new Int32Array(2 * Math.max(16, rect.height));
  let count = 0;
  for (let y = 0; y < rect.height; y++) {
    const ra = rect.y + y - a.rect.y;
    const rb = rect.y + y - b.rect.y;
    let i = a.rows[ra]!;
    let j = b.rows[rb]!;
    const [lastA, lastB] = [a.rows[ra + 1]!, b.rows[rb + 1]!];
    while (i < lastA && j < lastB) {
      const from = Math.max(a.ends[2 * i]!, b.ends[2 * j]!);
      const to = Math.min(a.ends[2 * i + 1]!, b.ends[2 * j + 1]!);
      if (to > from) {
        if (2 * count === ends.length) ends = grown(ends);
        ends[2 * count] = from;
        ends[2 * count + 1] = to;
        count++;
      }
      if (a.ends[2 * i + 1]! < b.ends[2 * j + 1]!) i++;
      else j++;
    }
    rows[y + 1] = count;
  }
  return { rect, rows, ends };
}

/** All pixels of a rectangle. */
export function allOf(rect: Rect): Spans {
  const rows = new Int32Array(rect.height + 1);
  const ends = new Int32Array(2 * rect.height);
  for (let y = 0; y < rect.height; y++) {
    rows[y + 1] = y + 1;
    ends[2 * y] = rect.x;
    ends[2 * y + 1] = rect.x + rect.width;
  }
  return { rect, rows, ends };
}

/** The pixels that are marked, row after row of the rectangle. */
export function spansOf(marks: Uint8Array, rect: Rect): Spans {
  const rows = new Int32Array(rect.height + 1);
  let ends = new Int32Array(2 * Math.max(16, rect.height));
  let count = 0;
  for (let y = 0; y < rect.height; y++) {
    const row = y * rect.width;
    for (let x = 0; x < rect.width;) {
      if (marks[row + x] === 0) {
        x++;
        continue;
      }
      const from = x;
      while (x < rect.width && marks[row + x] !== 0) x++;
      if (2 * count === ends.length) ends = grown(ends);
      ends[2 * count] = rect.x + from;
      ends[2 * count + 1] = rect.x + x;
      count++;
    }
    rows[y + 1] = count;
  }
  return { rect, rows, ends };
}

export function grown(ends: Int32Array): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(ends.length * 2);
  larger.set(ends);
  return larger;
}
