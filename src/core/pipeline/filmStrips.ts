import type { RgbaPlane } from '../artwork';
import {
  type BoxMm,
  type LabelFont,
  type SheetFurniture,
  type SheetLayout,
  WEDGE_STEPS,
  labelLines,
  layoutSheet,
  invertBits,
  mirrorRows,
  paintLabel,
  paintMarks,
  sheetFurniture,
} from '../film';
import type { PlatePlanes } from '../fit';
import { type Rect, intersectRects } from '../geometry';
import { forEachRun } from '../raster';
import { ThresholdTiles } from '../screening';
import type { JobSheet, Plate } from '../sheet';
import { mmToPx } from '../units';
import { type PlateJob, evaluatePlates, plateArtworkNeed } from './evaluatePlates';
import { FilmTones, plateTile } from './filmTones';
import { platesBits } from './plateBits';
import { type ArtworkNeed, type PrintGrid, printGrid } from './printGrid';

/** Rows of a film that are made at a time: few, since what is looked at beyond them costs less than memory does. */
export const STRIP_ROWS = 128;

/** Everything about a film set that does not depend on the strip. */
export interface FilmPlan {
  readonly sheet: JobSheet;
  readonly layout: SheetLayout;
  readonly grid: PrintGrid;
  /** Plates whose films are made, in print order. */
  readonly plates: readonly Plate[];
  /** Plates that print: films of the whole set. */
  readonly printing: readonly Plate[];
  readonly stripCount: number;
  /** The part of the sheet, in device pixels, where ink of the print may lie; starts at a whole byte. */
  readonly inked: Rect;
  /** Size of the planes kept for viewing, one pixel for a place of the artwork. */
  readonly planeWidth: number;
  readonly planeHeight: number;
}

/** Kept planes are no larger than this many pixels each. */
const MAX_PLANE_PIXELS = 40e6;
const VECTOR_PLANE_DPI = 300;

/**
 * Lays out a film set. Throws what `layoutSheet` throws.
 *
 * @param only the plates whose films are wanted; they come out as they would with the whole set.
 */
export function planFilms(sheet: JobSheet, only: readonly string[] | null = null): FilmPlan {
  const layout = layoutSheet(sheet);
  const grid = filmGrid(sheet);
  const margin = Math.ceil(sheet.fit.spreadMm * grid.pxPerMm) + 1;
  const bitmap: Rect = { x: 0, y: 0, width: layout.widthPx, height: layout.heightPx };
  const left = (layout.printXPx - margin) & ~7;
  const right = (layout.printXPx + grid.widthPx + margin + 7) & ~7;
  const wanted: Rect = {
    x: left,
    y: layout.printYPx - margin,
    width: right - left,
    height: grid.heightPx + 2 * margin,
  };
  const used = new Set(sheet.palette.filter((entry) => entry.tint > 0).map((entry) => entry.plateId));
  const based = sheet.plates.some((plate) => plate.baseStrength > 0 && used.has(plate.id));
  const printing = sheet.plates.filter((plate) => (plate.role === 'underbase' ? based : used.has(plate.id)));
  return {
    sheet,
    layout,
    grid,
    plates: only ? printing.filter((plate) => only.includes(plate.id)) : printing,
    printing,
    stripCount: Math.ceil(layout.heightPx / STRIP_ROWS),
    inked: intersectRects(wanted, { ...bitmap, width: (bitmap.width + 7) & ~7 }),
    ...planeSize(sheet, grid),
  };
}

/** The print on the film's device pixels, larger or smaller by what film and screens shrink. */
function filmGrid(sheet: JobSheet): PrintGrid {
  const { x, y } = sheet.film.stretch;
  const { pxPerMm, widthPx, heightPx } = printGrid(sheet, sheet.film.dpi);
  if (x === 0 && y === 0) return { pxPerMm, widthPx, heightPx };
  return {
    pxPerMm,
    widthPx: Math.round(sheet.print.widthMm * pxPerMm * (1 + x / 1000)),
    heightPx: Math.round(sheet.print.heightMm * pxPerMm * (1 + y / 1000)),
  };
}

function planeSize(sheet: JobSheet, grid: PrintGrid): { planeWidth: number; planeHeight: number } {
  const { artwork } = sheet;
  const dpi = sheet.film.dpi;
  const wanted =
    artwork.kind === 'raster' ? artwork.widthPx / grid.widthPx : Math.min(1, VECTOR_PLANE_DPI / dpi);
  const ratio = Math.min(1, wanted, Math.sqrt(MAX_PLANE_PIXELS / (grid.widthPx * grid.heightPx)));
  const exact = artwork.kind === 'raster' && artwork.widthPx <= grid.widthPx && ratio === wanted;
  return {
    planeWidth: exact ? artwork.widthPx : Math.max(1, Math.round(grid.widthPx * ratio)),
    planeHeight: exact ? artwork.heightPx : Math.max(1, Math.round(grid.heightPx * ratio)),
  };
}

/** One strip of every film. */
export interface FilmStrip {
  readonly index: number;
  readonly rows: number;
  /** For each plate of the plan rows * ceil(widthPx / 8) bytes; 1 = black. */
  readonly bits: readonly Uint8Array[];
  /** The same as they are before marks, label, mirroring and polarity; null where not asked for. */
  readonly unmarked: readonly Uint8Array[] | null;
  /** For each plate the sum of coverage over the strip, in device pixels. */
  readonly covered: readonly number[];
  /** For each plate whether it has dots in the strip. */
  readonly screened: readonly boolean[];
  /** Rows of the kept planes that the strip touches, as sums of coverage by area; null where not asked for. */
  readonly planes: StripPlanes | null;
}

export interface StripPlanes {
  readonly firstRow: number;
  readonly rows: number;
  /** For each plate rows * planeWidth values, 255 = solid ink; rows that reach beyond the strip are left at 0. */
  readonly bytes: readonly Uint8Array[];
  /** Rows that the strip has only a part of, by their number: for each plate planeWidth sums, a full pixel is 1. */
  readonly parts: readonly { readonly row: number; readonly sums: readonly Float32Array[] }[];
}

/** Makes strips of a film set; each strip can be made alone, in any order, on any thread. */
export class FilmStripMaker {
  readonly plan: FilmPlan;
  private readonly job: PlateJob;
  private readonly tiles: ThresholdTiles;
  private readonly tones = new FilmTones();
  private readonly furniture: readonly SheetFurniture[];
  private readonly keepPlanes: boolean;

  /** Throws what `planFilms` and `buildThresholdTile` throw. */
  constructor(
    plan: FilmPlan,
    job: PlateJob,
    font: LabelFont,
    keepPlanes: boolean,
    tiles: ThresholdTiles = new ThresholdTiles(),
  ) {
    this.tiles = tiles;
    this.plan = plan;
    this.job = job;
    this.keepPlanes = keepPlanes;
    this.furniture = plan.plates.map((plate) =>
      sheetFurniture(
        plan.layout,
        plan.sheet.film.marks,
        labelLines(plan.sheet, plate, plan.printing.length),
        font,
        {
          mirrored: plan.sheet.film.emulsion === 'down',
          marks: plate.withMarks,
          label: plan.sheet.film.label && plate.withMarks,
        },
      ),
    );
  }

  /** The region of the print's grid that a strip shows; empty where the strip lies beside the print. */
  private region(index: number): Rect {
    const { layout, inked } = this.plan;
    const strip: Rect = {
      x: 0,
      y: index * STRIP_ROWS,
      width: (layout.widthPx + 7) & ~7,
      height: STRIP_ROWS,
    };
    const part = intersectRects(inked, strip);
    return { ...part, x: part.x - layout.printXPx, y: part.y - layout.printYPx };
  }

  /** What a strip needs of the artwork; null when it needs nothing. */
  need(index: number): ArtworkNeed | null {
    const region = this.region(index);
    if (region.width === 0 || region.height === 0) return null;
    return plateArtworkNeed(this.job, this.plan.grid, region);
  }

  /**
   * @param art the plane that `need` asked for.
   * @param room buffers of strips that are done with, which this one's bits may be written to.
   */
  make(index: number, art: RgbaPlane | null, room: ArrayBuffer[] = []): FilmStrip {
    const { plan } = this;
    const { layout } = plan;
    const rows = Math.min(STRIP_ROWS, layout.heightPx - index * STRIP_ROWS);
    const rowBytes = (layout.widthPx + 7) >> 3;
    const bits = plan.plates.map(() => clearBytes(rows * rowBytes, room));
    const covered = plan.plates.map(() => 0);
    const screened = plan.plates.map(() => false);
    let planes: StripPlanes | null = null;
    if (art) {
      const region = this.region(index);
      const evaluated = evaluatePlates(this.job, plan.grid, region, art);
      const top = region.y + layout.printYPx - index * STRIP_ROWS;
      const left = region.x + layout.printXPx;
      const usable = Math.min(rows - top, region.height);
      const screening = {
        sheet: plan.sheet,
        tiles: this.tiles,
        kernels: this.job.kernels,
        memory: this.job.memory,
        toneOf: (plate: Plate, tone: Uint16Array) =>
          this.tones.onFilm(plan.sheet, plate, tone, this.job.memory),
      };
      const inked = platesBits({ ...screening, planes: evaluated }, plan.plates);
      plan.plates.forEach((plate, k) => {
        const plane = evaluated.planes.find((each) => each.plate.id === plate.id)!;
        const packed = inked[k]!;
        for (let row = 0; row < usable; row++) {
          const from = (row * region.width) / 8;
          const to = (top + row) * rowBytes + left / 8;
          const length = Math.min(region.width / 8, rowBytes - left / 8);
          bits[k]!.set(packed.subarray(from, from + length), to);
        }
        const counted = countCoverage(plane.shape, plane.tone);
        covered[k] = counted.sum;
        screened[k] = counted.screened;
      });
      if (this.keepPlanes) planes = sumPlanes(plan, region, evaluated);
    }
    clearBeyond(bits, layout.widthPx, rows);
    const { emulsion, negative, formats } = plan.sheet.film;
    const unmarked = formats.includes('tiff-screen') ? bits.map((each) => each.slice()) : null;
    this.furniture.forEach((furniture, k) => {
      const plate = plan.plates[k]!;
      paintMarks(furniture, index * STRIP_ROWS, rows, layout.widthPx, bits[k]!);
      if (layout.wedge && plate.withMarks) this.paintWedge(layout.wedge, plate, index, rows, bits[k]!);
      if (emulsion === 'down') mirrorRows(bits[k]!, layout.widthPx);
      paintLabel(furniture, index * STRIP_ROWS, rows, layout.widthPx, bits[k]!);
      if (negative) invertBits(bits[k]!);
    });
    if (negative) clearBeyond(bits, layout.widthPx, rows);
    return { index, rows, bits, unmarked, covered, screened, planes };
  }

  /** The step wedge through the plate's own screen: film tones as they are named, so that a print of them tells the gain. */
  private paintWedge(box: BoxMm, plate: Plate, index: number, rows: number, bits: Uint8Array): void {
    const { dpi } = this.plan.sheet.film;
    const { printXPx, printYPx, widthPx } = this.plan.layout;
    const left = Math.round(mmToPx(box.x, dpi)) & ~7;
    const patch = Math.round(mmToPx(box.width / WEDGE_STEPS.length, dpi));
    const width = (patch * WEDGE_STEPS.length + 7) & ~7;
    const strip = { x: left, y: index * STRIP_ROWS, width, height: rows };
    const wedge = {
      x: left,
      y: Math.round(mmToPx(box.y, dpi)),
      width,
      height: Math.round(mmToPx(box.height, dpi)),
    };
    const part = intersectRects(strip, wedge);
    if (part.height === 0) return;
    const tones = Uint16Array.from(WEDGE_STEPS, (step) => Math.round(step * 65535));
    const asked = this.tones.asAsked(this.plan.sheet, plate, tones);
    const line = Uint16Array.from({ length: width }, (_, x) => asked[Math.floor(x / patch)] ?? 0);
    const tone = new Uint16Array(width * part.height);
    for (let row = 0; row < part.height; row++) tone.set(line, row * width);
    const packed = new Uint8Array((width * part.height) / 8);
    this.job.kernels.screenStrip({
      shape: new Uint8Array(width * part.height).fill(255),
      tone,
      width,
      rows: part.height,
      originX: part.x - printXPx,
      originY: part.y - printYPx,
      tile: plateTile(this.tiles, dpi, plate),
      out: packed,
    });
    const rowBytes = (widthPx + 7) >> 3;
    for (let row = 0; row < part.height; row++) {
      const to = (part.y - strip.y + row) * rowBytes + left / 8;
      for (let k = 0; k < width / 8; k++) bits[to + k]! |= packed[(row * width) / 8 + k]!;
    }
  }
}

/** So many bytes, all 0, in a buffer of that size where there is one. */
function clearBytes(count: number, room: ArrayBuffer[]): Uint8Array {
  const at = room.findIndex((buffer) => buffer.byteLength === count);
  return at < 0 ? new Uint8Array(count) : new Uint8Array(room.splice(at, 1)[0]!).fill(0);
}

/** The last byte of a row may reach beyond the sheet; those bits are clear. */
function clearBeyond(bits: readonly Uint8Array[], widthPx: number, rows: number): void {
  const rowBytes = (widthPx + 7) >> 3;
  const extra = rowBytes * 8 - widthPx;
  if (extra === 0) return;
  const mask = (255 << extra) & 255;
  for (const plane of bits) {
    for (let row = 0; row < rows; row++) plane[(row + 1) * rowBytes - 1]! &= mask;
  }
}

function countCoverage(shape: Uint8Array, tone: Uint16Array | null): { sum: number; screened: boolean } {
  let sum = 0;
  let screened = false;
  forEachRun(shape, (from, to) => {
    if (!tone) {
      sum += (to - from) * 65535;
      return;
    }
    for (let i = from; i < to; i++) {
      const value = tone[i]!;
      if (value < 65535) screened = true;
      sum += value;
    }
  });
  return { sum: sum / 65535, screened };
}

/** Averages the strip's planes down to the kept planes' size; rows that it shares with its neighbours come as parts. */
function sumPlanes(plan: FilmPlan, region: Rect, evaluated: PlatePlanes): StripPlanes {
  const { grid, planeWidth, planeHeight } = plan;
  const stepX = planeWidth / grid.widthPx;
  const stepY = planeHeight / grid.heightPx;
  const y0 = Math.max(0, region.y);
  const y1 = Math.min(grid.heightPx, region.y + region.height);
  const firstRow = Math.floor(y0 * stepY);
  const rows = Math.max(0, Math.min(planeHeight, Math.ceil(y1 * stepY)) - firstRow);
  const planes = plan.plates.map((plate) => evaluated.planes.find((each) => each.plate.id === plate.id)!);
  const bytes = planes.map(() => new Uint8Array(rows * planeWidth));
  const parts: { row: number; sums: Float32Array[] }[] = [];
  const line = new Float32Array(planeWidth);
  for (let row = firstRow; row < firstRow + rows; row++) {
    const a = row / stepY;
    const b = (row + 1) / stepY;
    const from = Math.max(y0, Math.floor(a));
    const to = Math.min(y1, Math.ceil(b));
    const whole = a >= y0 && (b <= y1 || row === planeHeight - 1);
    const sums = planes.map((plane, k) => {
      const sum = new Float32Array(planeWidth);
      for (let y = from; y < to; y++) {
        const weight = (Math.min(b, y + 1) - Math.max(a, y)) * stepY;
        const at = (y - region.y) * region.width - region.x;
        const shape = plane.shape.subarray(at, at + grid.widthPx);
        const tone = plane.tone?.subarray(at, at + grid.widthPx) ?? null;
        if (sumLine(shape, tone, stepX, line)) addWeighted(sum, line, weight);
      }
      if (whole) storeBytes(sum, bytes[k]!, (row - firstRow) * planeWidth);
      return sum;
    });
    if (!whole) parts.push({ row, sums });
  }
  return { firstRow, rows, bytes, parts };
}

function addWeighted(sum: Float32Array, line: Float32Array, weight: number): void {
  for (let x = 0; x < sum.length; x++) sum[x]! += weight * line[x]!;
}

/** Sums of coverage, a full pixel being 1, as bytes. */
export function storeBytes(sums: Float32Array, out: Uint8Array, at: number): void {
  for (let x = 0; x < sums.length; x++) {
    const value = sums[x]!;
    if (value > 0) out[at + x] = value >= 1 ? 255 : Math.round(value * 255);
  }
}

/** Coverage of one row by place of the kept plane; a row that is all ink gives 1 everywhere. False when it has none. */
function sumLine(shape: Uint8Array, tone: Uint16Array | null, step: number, line: Float32Array): boolean {
  line.fill(0);
  let any = false;
  const addPart = (a: number, b: number, value: number): void => {
    const first = Math.floor(a);
    const last = Math.min(line.length - 1, Math.ceil(b) - 1);
    if (first >= last) {
      if (first < line.length) line[first]! += value * (b - a);
      return;
    }
    line[first]! += value * (first + 1 - a);
    for (let k = first + 1; k < last; k++) line[k]! += value;
    line[last]! += value * (b - last);
  };
  let from = shape.indexOf(255);
  while (from >= 0) {
    any = true;
    const empty = shape.indexOf(0, from);
    const to = empty < 0 ? shape.length : empty;
    if (tone) for (let x = from; x < to; x++) addPart(x * step, (x + 1) * step, tone[x]! / 65535);
    else addPart(from * step, to * step, 1);
    from = empty < 0 ? -1 : shape.indexOf(255, to);
  }
  return any;
}
