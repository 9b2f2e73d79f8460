import type { GapSurvey, PrintDifference, PrintPlace, PrintSurvey } from '../checks';
import { type PlatePlanes, cropPlanes } from '../fit';
import type { Rect } from '../geometry';
import type { RgbaPlane } from '../artwork';
import type { LabelMap } from '../separation';
import { type PlateJob, labelsForPlates, platesOfLabels } from './evaluatePlates';
import type { JobSheet } from '../sheet';
import { type PrintGrid, printGrid } from './printGrid';

/** A plate as a small picture: coverage 0..255, row after row. */
export interface PlateThumb {
  readonly width: number;
  readonly height: number;
  readonly bytes: Uint8Array;
}

export interface Survey extends PrintSurvey {
  readonly difference: PrintDifference;
  /** In the order of the plates. */
  readonly thumbs: readonly PlateThumb[];
}

/** The whole print is looked at with at least this many pixels an inch. */
const SURVEY_DPI = 150;
const BAND_ROWS = 128;
/** Longer side of a plate's small picture. */
const THUMB_SIDE = 112;

/** The grid on which a job is surveyed: the film's resolution, halved until just above 150 dpi. */
export function surveyGrid(sheet: JobSheet): PrintGrid {
  let { dpi } = sheet.film;
  while (dpi / 2 >= SURVEY_DPI) dpi /= 2;
  return printGrid(sheet, dpi);
}

/** The bands in which a print is surveyed. */
export function surveyBands(grid: PrintGrid): Rect[] {
  const bands: Rect[] = [];
  for (let y = 0; y < grid.heightPx; y += BAND_ROWS) {
    bands.push({ x: 0, y, width: grid.widthPx, height: Math.min(BAND_ROWS, grid.heightPx - y) });
  }
  return bands;
}

/** Gathers what is to be known of a whole print, band by band. */
export class SurveyCounter {
  private readonly grid: PrintGrid;
  private readonly count: number;
  private readonly covered: Float64Array;
  private readonly toned: Float64Array;
  private readonly places: (PrintPlace | null)[];
  private readonly overlap: Float64Array;
  private readonly overlapPlaces: (PrintPlace | null)[];
  private readonly thumbWidth: number;
  private readonly thumbHeight: number;
  private readonly sums: Float64Array[];
  private readonly flat: Float64Array;
  private readonly flatPlaces: (PrintPlace | null)[];
  private readonly widest: Float64Array;

  constructor(sheet: JobSheet, grid: PrintGrid) {
    this.grid = grid;
    this.count = sheet.plates.length;
    this.flat = new Float64Array(sheet.palette.length);
    this.flatPlaces = sheet.palette.map(() => null);
    this.widest = new Float64Array(sheet.palette.length);
    this.covered = new Float64Array(this.count);
    this.toned = new Float64Array(this.count);
    this.places = Array.from({ length: this.count }, () => null);
    this.overlap = new Float64Array(this.count * this.count);
    this.overlapPlaces = Array.from({ length: this.count * this.count }, () => null);
    const scale = THUMB_SIDE / Math.max(grid.widthPx, grid.heightPx);
    this.thumbWidth = Math.max(1, Math.round(grid.widthPx * scale));
    this.thumbHeight = Math.max(1, Math.round(grid.heightPx * scale));
    this.sums = Array.from(
      { length: this.count },
      () => new Float64Array(this.thumbWidth * this.thumbHeight),
    );
  }

  /** One band of the print, from the plane of the artwork that its plates need. */
  addBand(job: PlateJob, band: Rect, art: RgbaPlane): void {
    const labels = labelsForPlates(job, this.grid, band, art);
    this.addLabels(labels, band);
    this.add(cropPlanes(platesOfLabels(job, this.grid, labels), band, job.memory));
  }

  /** Planes of whole rows of the print, in the order of the plates. */
  add(planes: PlatePlanes): void {
    const { rect } = planes;
    planes.planes.forEach(({ shape, tone }, k) => {
      for (let i = shape.indexOf(255); i >= 0 && i < shape.length; i++) {
        if (shape[i] === 0) {
          i = shape.indexOf(255, i);
          if (i < 0) break;
        }
        const coverage = tone ? tone[i]! / 65535 : 1;
        this.covered[k]! += coverage;
        const x = i % rect.width;
        const y = rect.y + ((i / rect.width) | 0);
        if (tone && tone[i] !== 65535) this.toned[k]!++;
        this.places[k] ??= this.placeOf(x, y);
        const cell =
          Math.floor((y * this.thumbHeight) / this.grid.heightPx) * this.thumbWidth +
          Math.floor((x * this.thumbWidth) / this.grid.widthPx);
        this.sums[k]![cell]! += coverage;
      }
    });
    this.addOverlaps(planes);
  }

  /** The labels of the same rows, as they are before fit: where each palette colour stands flat. */
  addLabels({ rect, label }: LabelMap, rows: Rect): void {
    for (let y = rows.y; y < rows.y + rows.height; y++) {
      const start = (y - rect.y) * rect.width + rows.x - rect.x;
      for (let i = start; i < start + rows.width;) {
        const own = label[i]!;
        let end = i + 1;
        while (end < start + rows.width && label[end] === own) end++;
        if (own < this.flat.length) {
          this.flat[own]! += end - i;
          // Inside a run rather than on its edge.
          if (!this.flatPlaces[own] || end - i > this.widest[own]!) {
            this.flatPlaces[own] = this.placeOf(rows.x + ((i + end) >> 1) - start, y);
            this.widest[own] = end - i;
          }
        }
        i = end;
      }
    }
  }

  private placeOf(x: number, y: number): PrintPlace {
    return { xMm: (x + 0.5) / this.grid.pxPerMm, yMm: (y + 0.5) / this.grid.pxPerMm };
  }

  private addOverlaps({ rect, planes }: PlatePlanes): void {
    const dotted = planes.flatMap(({ tone }, k) => (tone ? [k] : []));
    for (const one of dotted) {
      for (const other of dotted) {
        if (other <= one) continue;
        const [p, q] = [planes[one]!, planes[other]!];
        for (let i = 0; i < p.shape.length; i++) {
          if (p.shape[i] === 0 || q.shape[i] === 0) continue;
          if (p.tone![i] === 65535 || q.tone![i] === 65535) continue;
          this.overlap[one * this.count + other]!++;
          this.overlapPlaces[one * this.count + other] ??= this.placeOf(
            i % rect.width,
            rect.y + ((i / rect.width) | 0),
          );
        }
      }
    }
  }

  /**
   * @param gaps what a `GapCounter` found; null where gaps were not looked for.
   * @param difference what a `DifferenceSurvey` found.   */
  result(gaps: GapSurvey | null, difference: PrintDifference): Survey {
    const area = this.grid.widthPx * this.grid.heightPx;
    const cellArea = area / (this.thumbWidth * this.thumbHeight);
    return {
      plates: Array.from(this.covered, (sum, k) => ({
        coverage: sum / area,
        toned: this.toned[k]! / area,
        place: this.places[k]!,
      })),
      thumbs: this.sums.map((sums) => ({
        width: this.thumbWidth,
        height: this.thumbHeight,
        bytes: Uint8Array.from(sums, (sum) => Math.min(255, Math.round((sum / cellArea) * 255))),
      })),
      colours: Array.from(this.flat, (sum, k) => ({ share: sum / area, place: this.flatPlaces[k]! })),
      gaps,
      difference,
      overlaps: Array.from(this.overlap, (sum, k) => ({ share: sum / area, place: this.overlapPlaces[k]! })),
    };
  }
}
