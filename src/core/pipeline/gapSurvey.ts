import type { RgbaPlane } from '../artwork';
import type { GapSurvey, PrintPlace } from '../checks';
import type { Rect } from '../geometry';
import { BARE, NARROW_GAP_MM, findGaps, gapsHalo } from '../separation';
import { type JobSheet, printsTones } from '../sheet';
import type { PlateJob } from './evaluatePlates';
import { type ArtworkNeed, type PrintGrid, artworkNeed, isDrawnAtPrint, printGrid } from './printGrid';
import { evaluateShares } from './regionShares';
import { keyOf, sourceSetting } from './sourceSetting';

/** Gaps are looked for with at least this many pixels an inch: what is narrower than one of them still shows in many places. */
const GAP_DPI = 300;
const BAND_ROWS = 256;

/** Whether the gaps of a job's artwork are looked for: those of drawings of flat colours, whose shapes are exact. */
export function hasGapSurvey(sheet: JobSheet): boolean {
  return isDrawnAtPrint(sheet) && !printsTones(sheet);
}

/** The grid on which gaps are looked for: the film's resolution, halved until just above 300 dpi. */
export function gapGrid(sheet: JobSheet): PrintGrid {
  let { dpi } = sheet.film;
  while (dpi / 2 >= GAP_DPI) dpi /= 2;
  return printGrid(sheet, dpi);
}

/** The bands in which gaps are looked for. */
export function gapBands(grid: PrintGrid): Rect[] {
  const bands: Rect[] = [];
  for (let y = 0; y < grid.heightPx; y += BAND_ROWS) {
    bands.push({ x: 0, y, width: grid.widthPx, height: Math.min(BAND_ROWS, grid.heightPx - y) });
  }
  return bands;
}

/** Equal for two states of a job whose gaps are equal. */
export function gapsKey(sheet: JobSheet): string {
  const { looked, ...setting } = sourceSetting(sheet);
  // How much of two inks lies between their colours changes nothing of what is bare.
  return `${keyOf({ ...setting, looked: { ...looked, ways: [], fades: new Map() } })}|${sheet.film.dpi}`;
}

/** Counts what is bare in gaps that are too narrow for a press, band by band. */
export class GapCounter {
  private readonly grid: PrintGrid;
  private readonly gapPx: number;
  private pixels = 0;
  private place: PrintPlace | null = null;

  constructor(grid: PrintGrid) {
    this.grid = grid;
    this.gapPx = NARROW_GAP_MM * grid.pxPerMm;
  }

  need(sheet: JobSheet, band: Rect): ArtworkNeed {
    return artworkNeed(sheet, this.grid, band, gapsHalo(this.gapPx));
  }

  /** One band of the print, from the plane of the artwork that it needs. */
  addBand(job: PlateJob, band: Rect, art: RgbaPlane): void {
    const { grid } = this;
    const need = this.need(job.sheet, band);
    if (need.rect.width === 0 || need.rect.height === 0) return;
    const { label, width, height } = evaluateShares(job, grid, need, art).shares;
    if (!label.includes(BARE)) return;
    findGaps(label, width, height, this.gapPx, (pixel) => {
      const x = need.rect.x + (pixel % width);
      const y = need.rect.y + Math.floor(pixel / width);
      if (x < band.x || x >= band.x + band.width || y < band.y || y >= band.y + band.height) return;
      this.pixels++;
      this.place ??= { xMm: (x + 0.5) / grid.pxPerMm, yMm: (y + 0.5) / grid.pxPerMm };
    });
  }

  result(): GapSurvey {
    return { areaMm2: this.pixels / this.grid.pxPerMm ** 2, place: this.place };
  }
}
