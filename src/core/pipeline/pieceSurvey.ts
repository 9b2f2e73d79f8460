import type { PieceSurvey } from '../checks';
import { PieceCounter } from '../raster';
import type { JobSheet } from '../sheet';
import type { PrintGrid } from './printGrid';

/** Pieces smaller than this are held by no screen. Common practice, no source. */
const LEAST_PIECE_MM2 = 0.1;

/** Counts pieces of plates that are smaller than a press holds, band by band from the top. */
export class SmallPieceCounter {
  private readonly grid: PrintGrid;
  private readonly counters: readonly PieceCounter[];

  constructor({ plates }: Pick<JobSheet, 'plates'>, grid: PrintGrid) {
    this.grid = grid;
    this.counters = plates.map(() => new PieceCounter(LEAST_PIECE_MM2 * grid.pxPerMm ** 2));
  }

  /** @param shapes whole rows of the print, 255 = prints, in the order of the plates. */
  add(shapes: readonly Uint8Array[], width: number): void {
    shapes.forEach((shape, k) => {
      for (let at = 0; at < shape.length; at += width)
        this.counters[k]!.addRow(shape.subarray(at, at + width));
    });
  }

  /** In the order of the plates. */
  result(): PieceSurvey[] {
    const { pxPerMm } = this.grid;
    return this.counters.map((counter) => {
      const { count, place } = counter.result();
      return {
        count,
        place: place && { xMm: (place.x + 0.5) / pxPerMm, yMm: (place.y + 0.5) / pxPerMm },
      };
    });
  }
}
