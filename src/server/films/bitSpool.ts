import { closeSync, openSync, readSync, writeSync } from 'node:fs';
import { type FilmSize, type GangSheet, paintMarks, turnClockwise } from '@/core/film';

/** Rows of a bitmap on disk as they are, for what needs them in another order than they are made in. */
export class BitSpool {
  private readonly file: number;
  readonly size: FilmSize;
  readonly rowBytes: number;

  constructor(path: string, size: FilmSize) {
    this.file = openSync(path, 'w+');
    this.size = size;
    this.rowBytes = (size.widthPx + 7) >> 3;
  }

  /** Rows follow each other from top to bottom. */
  write(bits: Uint8Array): void {
    let done = 0;
    while (done < bits.length) done += writeSync(this.file, bits, done);
  }

  /** Rows from one on, as many as the buffer holds. */
  read(row: number, into: Uint8Array): void {
    let done = 0;
    while (done < into.length) {
      const got = readSync(this.file, into, done, into.length - done, row * this.rowBytes + done);
      if (got === 0) throw new Error('A spooled bitmap is shorter than it must be.');
      done += got;
    }
  }

  close(): void {
    closeSync(this.file);
  }
}

/** Columns that are turned at a time, in bytes of a row: a few megabytes of a large film. */
const BAND_BYTES = 128;
const READ_ROWS = 512;

/** The bitmap turned a quarter clockwise, its rows from top to bottom, some at a time. */
export function* turnedRows(spool: BitSpool): Generator<{ bits: Uint8Array; rows: number }> {
  const { widthPx, heightPx } = spool.size;
  const { rowBytes } = spool;
  const outBytes = (heightPx + 7) >> 3;
  const part = new Uint8Array(READ_ROWS * rowBytes);
  for (let from = 0; from < rowBytes; from += BAND_BYTES) {
    const width = Math.min(BAND_BYTES, rowBytes - from);
    const band = new Uint8Array(heightPx * width);
    for (let top = 0; top < heightPx; top += READ_ROWS) {
      const rows = Math.min(READ_ROWS, heightPx - top);
      spool.read(top, part.subarray(0, rows * rowBytes));
      for (let row = 0; row < rows; row++) {
        const at = row * rowBytes + from;
        band.set(part.subarray(at, at + width), (top + row) * width);
      }
    }
    const rows = Math.min(8 * width, widthPx - 8 * from);
    yield { bits: turnClockwise(band, width, heightPx).subarray(0, rows * outBytes), rows };
  }
}

const GANG_ROWS = 256;

/** A sheet that films share: their bitmaps at their places, and the cut marks; rows from top to bottom, some at a time. */
export function* gangRows(
  sheet: GangSheet,
  films: readonly BitSpool[],
): Generator<{ bits: Uint8Array; rows: number }> {
  const rowBytes = (sheet.widthPx + 7) >> 3;
  const cuts = { rects: sheet.cuts, rings: [], text: [], textRows: [0, 0] as const };
  for (let top = 0; top < sheet.heightPx; top += GANG_ROWS) {
    const rows = Math.min(GANG_ROWS, sheet.heightPx - top);
    const bits = new Uint8Array(rows * rowBytes);
    for (const { film, xPx, yPx } of sheet.places) {
      const spool = films[film]!;
      const from = Math.max(0, top - yPx);
      const to = Math.min(spool.size.heightPx, top + rows - yPx);
      if (to <= from) continue;
      const part = new Uint8Array((to - from) * spool.rowBytes);
      spool.read(from, part);
      for (let row = from; row < to; row++) {
        const at = (row - from) * spool.rowBytes;
        bits.set(part.subarray(at, at + spool.rowBytes), (yPx + row - top) * rowBytes + xPx / 8);
      }
    }
    paintMarks(cuts, top, rows, sheet.widthPx, bits);
    yield { bits, rows };
  }
}
