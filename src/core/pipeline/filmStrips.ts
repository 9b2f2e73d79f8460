import type { RgbaPlane } from '../artwork';
import {
  type BoxMm,
  type SheetFurniture,
  WEDGE_STEPS,
  invertBits,
  mirrorRows,
  paintLabel,
  paintMarks,
} from '../film';
import { type Rect, intersectRects } from '../geometry';
import { type BitTarget, type LaidTone, ThresholdTiles, planeAlone } from '../screening';
import type { Plate } from '../sheet';
import { mmToPx } from '../units';
import { type PlateJob, plateArtworkNeed } from './evaluatePlates';
import { FilmTones, plateTile } from './filmTones';
import { screenBlock } from './plateBits';
import { forEachPlateBlock, narrowColumns } from './plateBlocks';
import type { FilmPlan } from './planFilms';
import { type StripPlanes, StripSums } from './stripPlanes';
import type { ArtworkNeed } from './printGrid';

/** Strips are made in columns, so that wide ones take no more memory: pixels of the artwork that are looked at at a time, with what lies round them. */
const PART_PIXELS = 5e5;

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

/** Makes strips of a film set; each strip can be made alone, in any order, on any thread. */
export class FilmStripMaker {
  readonly plan: FilmPlan;
  private readonly job: PlateJob;
  private readonly tiles: ThresholdTiles;
  private readonly tones = new FilmTones();
  private readonly furniture: readonly SheetFurniture[];
  private readonly keepPlanes: boolean;

  /**
   * @param furniture what `filmFurniture` makes of the plan.
   *
   * Throws what `buildThresholdTile` throws.
   */
  constructor(
    plan: FilmPlan,
    job: PlateJob,
    furniture: readonly SheetFurniture[],
    keepPlanes: boolean,
    tiles: ThresholdTiles = new ThresholdTiles(),
  ) {
    this.tiles = tiles;
    this.plan = plan;
    this.job = job;
    this.keepPlanes = keepPlanes;
    this.furniture = furniture;
  }

  /** The region of the print's grid that a strip shows; empty where the strip lies beside the print. */
  private region(index: number): Rect {
    const { layout, inked, stripRows } = this.plan;
    const strip: Rect = {
      x: 0,
      y: index * stripRows,
      width: (layout.widthPx + 7) & ~7,
      height: stripRows,
    };
    const part = intersectRects(inked, strip);
    return { ...part, x: part.x - layout.printXPx, y: part.y - layout.printYPx };
  }

  /** What a strip needs of the artwork in all, part by part or at once; null when it needs nothing. */
  need(index: number): ArtworkNeed | null {
    const region = this.region(index);
    if (region.width === 0 || region.height === 0) return null;
    return plateArtworkNeed(this.job, this.plan.grid, region);
  }

  /** A strip's region in columns, each with not too much of the artwork. */
  private parts(region: Rect): Generator<Rect> {
    const { grid } = this.plan;
    const { levelWidth, levelHeight } = plateArtworkNeed(this.job, grid, region);
    const filmPixels = (grid.widthPx * grid.heightPx) / (levelWidth * levelHeight);
    return narrowColumns(this.job, grid, region, PART_PIXELS * filmPixels);
  }

  /**
   * @param read gives what a part of the strip needs of the artwork; a plane is done with when the next one is asked for.
   * @param clear gives memory for bits, all 0; it is the strip's.
   */
  make(
    index: number,
    read: (need: ArtworkNeed) => RgbaPlane,
    clear: (bytes: number) => Uint8Array = (bytes) => new Uint8Array(bytes),
  ): FilmStrip {
    const { plan } = this;
    const { layout } = plan;
    const top = index * plan.stripRows;
    const rows = Math.min(plan.stripRows, layout.heightPx - top);
    const rowBytes = (layout.widthPx + 7) >> 3;
    const bits = plan.plates.map(() => clear(rows * rowBytes));
    const covered = plan.plates.map(() => 0);
    const screened = plan.plates.map(() => false);
    const region = this.region(index);
    const isEmpty = region.width === 0 || region.height === 0;
    const sums = this.keepPlanes && !isEmpty ? new StripSums(plan, region) : null;
    const lay: LayPart = (rect, wanted, make) => {
      const row = rect.y + layout.printYPx - top;
      const byte = (rect.x + layout.printXPx) / 8;
      const places = wanted.map((plate) => plan.plates.indexOf(plate));
      const targets = places.map((k) => ({
        bits: bits[k]!,
        at: row * rowBytes + byte,
        rowBytes,
        // What reaches beyond the sheet on its right or below is left out.
        bytes: Math.min(rect.width / 8, rowBytes - byte),
        rows: Math.min(rect.height, rows - row),
      }));
      make(targets).forEach(({ sum, screened: hasDots }, each) => {
        const k = places[each]!;
        covered[k]! += sum;
        screened[k] ||= hasDots;
      });
    };
    for (const part of isEmpty ? [] : this.parts(region)) {
      this.job.memory.scratch(() => this.makePart(part, read, lay, sums));
    }
    const planes = sums?.finish() ?? null;
    clearBeyond(bits, layout.widthPx, rows);
    const { emulsion, negative, formats } = plan.sheet.film;
    const unmarked = formats.includes('tiff-screen') ? bits.map((each) => copyTo(clear, each)) : null;
    this.furniture.forEach((furniture, k) => {
      const plate = plan.plates[k]!;
      paintMarks(furniture, top, rows, layout.widthPx, bits[k]!);
      if (layout.wedge && plate.withMarks) this.paintWedge(layout.wedge, plate, index, rows, bits[k]!);
      if (emulsion === 'down') mirrorRows(bits[k]!, layout.widthPx);
      paintLabel(furniture, top, rows, layout.widthPx, bits[k]!);
      if (negative) invertBits(bits[k]!);
    });
    if (negative) clearBeyond(bits, layout.widthPx, rows);
    return { index, rows, bits, unmarked, covered, screened, planes };
  }

  /** Screens a part of a strip, block by block. */
  private makePart(
    part: Rect,
    read: (need: ArtworkNeed) => RgbaPlane,
    lay: LayPart,
    sums: StripSums | null,
  ): void {
    const { job, tones, tiles } = this;
    const { sheet, grid, plates } = this.plan;
    const { kernels, memory } = job;
    const toneOf = (plate: Plate, tone: Uint16Array, shape: Uint8Array) =>
      tones.onFilm(sheet, plate, tone, shape, memory);
    const request = { sheet, tiles, tones, kernels, toneOf };
    const need = plateArtworkNeed(job, grid, part);
    if (need.rect.width === 0 || need.rect.height === 0) return;
    forEachPlateBlock(job, grid, part, read(need), plates, (block) => {
      const { rect, plates: wanted } = block;
      lay(rect, wanted, (targets) => screenBlock(request, block, wanted, targets));
      sums?.add(block);
    });
  }

  /** The step wedge through the plate's own screen: film tones as they are named, so that a print of them tells the gain. */
  private paintWedge(box: BoxMm, plate: Plate, index: number, rows: number, bits: Uint8Array): void {
    const { dpi } = this.plan.sheet.film;
    const { printXPx, printYPx, widthPx } = this.plan.layout;
    const left = Math.round(mmToPx(box.x, dpi)) & ~7;
    const patch = Math.round(mmToPx(box.width / WEDGE_STEPS.length, dpi));
    const width = (patch * WEDGE_STEPS.length + 7) & ~7;
    const strip = { x: left, y: index * this.plan.stripRows, width, height: rows };
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
    const { region, bits: packed } = planeAlone({
      tone,
      width,
      rows: part.height,
      originX: part.x - printXPx,
      originY: part.y - printYPx,
      tile: plateTile(this.tiles, dpi, plate),
    });
    this.job.kernels.screenLayers(region);
    const rowBytes = (widthPx + 7) >> 3;
    for (let row = 0; row < part.height; row++) {
      const to = (part.y - strip.y + row) * rowBytes + left / 8;
      for (let k = 0; k < width / 8; k++) bits[to + k]! |= packed[(row * width) / 8 + k]!;
    }
  }
}

/** Has a part of a strip laid: the bits of some plates where they belong. */
type LayPart = (
  rect: Rect,
  wanted: readonly Plate[],
  make: (targets: readonly BitTarget[]) => readonly LaidTone[],
) => void;

function copyTo(clear: (bytes: number) => Uint8Array, bits: Uint8Array): Uint8Array {
  const copy = clear(bits.length);
  copy.set(bits);
  return copy;
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
