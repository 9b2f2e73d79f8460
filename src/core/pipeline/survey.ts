import type { PrintDifference, PrintPlace, PrintSurvey } from '../checks';
import { type PlatePlanes } from '../fit';
import type { Rect } from '../geometry';
import type { RgbaPlane } from '../artwork';
import type { LabelMap } from '../separation';
import { type PlateJob, labelsForPlates, platesKey, platesOfLabels } from './evaluatePlates';
import { type JobSheet, printsTones, paletteOf } from '../sheet';
import { LEAST_TONE } from '../raster';
import { type HeldTones, holdsOf } from './heldTones';
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

/** The part of a survey that is found at edges. */
export type EdgeFound = Pick<Survey, 'edges' | 'thin' | 'pieces'>;
export type AreaFound = Omit<Survey, keyof EdgeFound>;

/** The whole print is looked at with at least this many pixels an inch; one of tones, which has few edges, with fewer. */
const SURVEY_DPI = 150;
const TONE_SURVEY_DPI = 75;
const BAND_ROWS = 128;
const SOLID = 65535;
/** Longer side of a plate's small picture. */
const THUMB_SIDE = 112;

/** The grid on which a job is surveyed: the film's resolution, halved until just above what a survey needs. */
export function surveyGrid(sheet: JobSheet): PrintGrid {
  let { dpi } = sheet.film;
  const least = printsTones(sheet) ? TONE_SURVEY_DPI : SURVEY_DPI;
  while (dpi / 2 >= least) dpi /= 2;
  return printGrid(sheet, dpi);
}

/** Equal for two states of a job only where a survey finds the same: plates, and what inks, screens, press and limits make of them. */
export function surveyKey(sheet: JobSheet): string {
  const plates = sheet.plates.map(({ ink, mesh, screen, baseStrength }) => [ink, mesh, screen, baseStrength]);
  const { garments, press, limits, film } = sheet;
  const own = [plates, sheet.run, garments, press.toleranceMm, limits, film.dpi, film.printerTones];
  return `${platesKey(sheet)}|${JSON.stringify(own)}`;
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
  private readonly lost: Float64Array;
  private readonly plugged: Float64Array;
  private readonly holds: readonly HeldTones[];
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
    this.flat = new Float64Array(paletteOf(sheet).length);
    this.flatPlaces = paletteOf(sheet).map(() => null);
    this.widest = new Float64Array(paletteOf(sheet).length);
    this.covered = new Float64Array(this.count);
    this.toned = new Float64Array(this.count);
    this.lost = new Float64Array(this.count);
    this.plugged = new Float64Array(this.count);
    this.holds = holdsOf(sheet);
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
    this.add(platesOfLabels(job, this.grid, labels, { region: band }));
  }

  /** Planes of whole rows of the print, in the order of the plates. */
  add(planes: PlatePlanes): void {
    const { rect } = planes;
    const { grid, thumbWidth, thumbHeight } = this;
    const cells = Int32Array.from({ length: rect.width }, (_, x) =>
      Math.floor((x * thumbWidth) / grid.widthPx),
    );
    planes.planes.forEach(({ shape, tone }, k) => {
      let [covered, toned, lost, plugged] = [0, 0, 0, 0];
      const { lostBelowTone: lostBelow, plugsAboveTone: plugsAbove } = this.holds[k]!;
      for (let row = 0; row < rect.height; row++) {
        const cellRow = Math.floor(((rect.y + row) * thumbHeight) / grid.heightPx) * thumbWidth;
        const sums = this.sums[k]!.subarray(cellRow, cellRow + thumbWidth);
        for (let x = 0, i = row * rect.width; x < rect.width; x++, i++) {
          if (shape[i] === 0) continue;
          const value = tone ? tone[i]! : SOLID;
          covered += value;
          if (value !== SOLID) {
            toned++;
            if (value >= LEAST_TONE && value < lostBelow) lost++;
            else if (value > plugsAbove) plugged++;
          }
          sums[cells[x]!]! += value;
          this.places[k] ??= this.placeOf(x, rect.y + row);
        }
      }
      this.covered[k]! += covered / SOLID;
      this.toned[k]! += toned;
      this.lost[k]! += lost;
      this.plugged[k]! += plugged;
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

  /** Counts where two plates both have dots. */
  private addOverlaps({ rect, planes }: PlatePlanes): void {
    const dotted = planes.flatMap(({ tone }, k) => (tone ? [k] : []));
    if (dotted.length < 2) return;
    const masks = new Uint16Array(rect.width * rect.height);
    for (const k of dotted) {
      const { shape, tone } = planes[k]!;
      for (let i = 0; i < masks.length; i++) if (shape[i] !== 0 && tone![i] !== SOLID) masks[i]! |= 1 << k;
    }
    const counts = new Uint32Array(1 << this.count);
    const firsts = new Map<number, number>();
    for (let i = 0; i < masks.length; i++) {
      const mask = masks[i]!;
      if (counts[mask]!++ === 0) firsts.set(mask, i);
    }
    for (const [mask, first] of [...firsts].sort((p, q) => p[1] - q[1])) {
      const here = dotted.filter((k) => (mask & (1 << k)) !== 0);
      const place = this.placeOf(first % rect.width, rect.y + Math.floor(first / rect.width));
      for (const one of here) {
        for (const other of here) {
          if (other <= one) continue;
          this.overlap[one * this.count + other]! += counts[mask]!;
          this.overlapPlaces[one * this.count + other] ??= place;
        }
      }
    }
  }

  /** @param others what was found beside it. */
  result(others: Pick<Survey, 'gaps' | 'wear' | 'difference'>): AreaFound {
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
        bytes: Uint8Array.from(sums, (sum) => Math.min(255, Math.round((sum / SOLID / cellArea) * 255))),
      })),
      colours: Array.from(this.flat, (sum, k) => ({ share: sum / area, place: this.flatPlaces[k]! })),
      ...others,
      holds: this.holds.map(({ lostBelow }, k) => ({
        lost: this.lost[k]! / area,
        lostBelow,
        plugged: this.plugged[k]! / area,
      })),
      overlaps: Array.from(this.overlap, (sum, k) => ({ share: sum / area, place: this.overlapPlaces[k]! })),
    };
  }
}
