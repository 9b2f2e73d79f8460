import type { PieceSurvey } from '../checks';
import type { PlatePlanes } from '../fit';
import type { Rect } from '../geometry';
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

  /** @param planes of a band of whole rows and more round it, in the order of the plates. */
  add({ rect, planes }: PlatePlanes, band: Rect): void {
    const left = band.x - rect.x;
    planes.forEach(({ shape }, k) => {
      for (let y = band.y; y < band.y + band.height; y++) {
        const from = (y - rect.y) * rect.width + left;
        this.counters[k]!.addRow(shape.subarray(from, from + band.width));
      }
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
