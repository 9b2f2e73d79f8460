import type { Rect } from '../geometry';
import { type Spans, grown } from './spans';

/** Room for one scan; what it gives lies in it until the next. */
export class ScanRoom {
  rows = new Int32Array(257);
  ends = new Int32Array(1024);
  /** Where the crossings of each row begin, then where the next is put. */
  private starts = new Int32Array(258);
  private crossings = new Int32Array(1024);

  /**
   * The pixels whose centres lie inside the outline that edges make, by the nonzero or the even-odd rule. A centre on an edge counts to
   * the shape on its right; edges are walked downwards whichever way they run, so shapes that share an edge meet exactly.
   * A pixel's answer does not depend on the region.
   *
   * @param edges x0, y0, x1, y1 of each, in device pixels; what lies to the right of the region may be left out.
   * @param onSteps told how many steps it takes, before it takes them.
   */
  scan(
    edges: Float64Array,
    count: number,
    region: Rect,
    evenOdd: boolean,
    onSteps: (steps: number) => void,
  ): Spans {
    const { height } = region;
    if (this.starts.length < height + 2) {
      this.starts = new Int32Array(height + 2);
      this.rows = new Int32Array(height + 1);
    }
    const { starts } = this;
    starts.fill(0, 0, height + 2);
    for (let k = 0; k < count; k++) {
      const [from, to] = rowsOf(edges, k * 4, region);
      if (to <= from) continue;
      starts[from + 1]!++;
      starts[to + 1]!--;
    }
    // From changes to counts to places.
    let [inRow, total] = [0, 0];
    for (let y = 0; y <= height; y++) {
      inRow += starts[y + 1]!;
      starts[y + 1] = total;
      total += inRow;
    }
    onSteps(count + total + height);
    if (this.crossings.length < total)
      this.crossings = new Int32Array(Math.max(total, this.crossings.length * 2));
    this.cross(edges, count, region);
    return this.join(region, evenOdd);
  }

  /** Writes each row's crossings: the column from which on they count, times 4, with the direction in the low bits. */
  private cross(edges: Float64Array, count: number, region: Rect): void {
    const { starts, crossings } = this;
    const { x: left, y: top, width } = region;
    for (let k = 0; k < count; k++) {
      const at = k * 4;
      const [from, to] = rowsOf(edges, at, region);
      if (to <= from) continue;
      const down = edges[at + 1]! < edges[at + 3]!;
      const [a, b] = down ? [at, at + 2] : [at + 2, at];
      const [x0, y0] = [edges[a]!, edges[a + 1]!];
      const slope = (edges[b]! - x0) / (edges[b + 1]! - y0);
      const sign = down ? 2 : 0;
      for (let y = from; y < to; y++) {
        let column = Math.ceil(x0 + (top + y + 0.5 - y0) * slope - 0.5) - left;
        column = column > 0 ? (column < width ? column : width) : 0;
        crossings[starts[y + 1]!++] = column * 4 + sign;
      }
    }
  }

  private join(region: Rect, evenOdd: boolean): Spans {
    const { starts, crossings, rows } = this;
    let { ends } = this;
    let found = 0;
    rows[0] = 0;
    for (let y = 0; y < region.height; y++) {
      const from = y === 0 ? 0 : starts[y]!;
      const to = starts[y + 1]!;
      if (to - from > 1) {
        sortRange(crossings, from, to);
        let winding = 0;
        let begin = 0;
        for (let k = from; k < to; k++) {
          const crossing = crossings[k]!;
          const before = evenOdd ? winding & 1 : winding;
          winding += (crossing & 3) - 1;
          const after = evenOdd ? winding & 1 : winding;
          if (before === 0 && after !== 0) begin = crossing >> 2;
          else if (before !== 0 && after === 0 && crossing >> 2 > begin) {
            const last = 2 * found - 1;
            // Runs that meet are one.
            if (found > rows[y]! && ends[last] === region.x + begin) ends[last] = region.x + (crossing >> 2);
            else {
              if (2 * found === ends.length) ends = this.ends = grown(ends);
              ends[2 * found] = region.x + begin;
              ends[2 * found + 1] = region.x + (crossing >> 2);
              found++;
            }
          }
        }
        // What was left out lies to the right: the region ends inside.
        if ((evenOdd ? winding & 1 : winding) !== 0 && begin < region.width) {
          const last = 2 * found - 1;
          if (found > rows[y]! && ends[last] === region.x + begin) ends[last] = region.x + region.width;
          else {
            if (2 * found === ends.length) ends = this.ends = grown(ends);
            ends[2 * found] = region.x + begin;
            ends[2 * found + 1] = region.x + region.width;
            found++;
          }
        }
      } else if (to > from) {
        const begin = crossings[from]! >> 2;
        if (begin < region.width) {
          if (2 * found === ends.length) ends = this.ends = grown(ends);
          ends[2 * found] = region.x + begin;
          ends[2 * found + 1] = region.x + region.width;
          found++;
        }
      }
      rows[y + 1] = found;
    }
    return { rect: region, rows, ends };
  }
}

/** The rows of a region whose centres an edge passes, from the region's top. */
function rowsOf(edges: Float64Array, at: number, region: Rect): [from: number, to: number] {
  const [y0, y1] = [edges[at + 1]!, edges[at + 3]!];
  const [high, low] = y0 < y1 ? [y0, y1] : [y1, y0];
  const from = Math.ceil(high - 0.5) - region.y;
  const to = Math.ceil(low - 0.5) - region.y;
  return [from > 0 ? from : 0, to < region.height ? to : region.height];
}

/** Sorts a part of an array upwards; most parts are short. */
function sortRange(values: Int32Array, from: number, to: number): void {
  if (to - from > 24) {
    values.subarray(from, to).sort();
    return;
  }
  for (let k = from + 1; k < to; k++) {
    const value = values[k]!;
    let at = k;
    while (at > from && values[at - 1]! > value) {
      values[at] = values[at - 1]!;
      at--;
    }
    values[at] = value;
  }
}

/** Spans that stay, of those that the next scan takes the place of. */
export function keepSpans(spans: Spans): Spans {
  const { rect, rows, ends } = spans;
  return {
    rect,
    rows: rows.slice(0, rect.height + 1),
    ends: ends.slice(0, 2 * rows[rect.height]!),
  };
}
