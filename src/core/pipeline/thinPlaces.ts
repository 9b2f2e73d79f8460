import type { PrintPlace, ThinSurvey } from '../checks';
import type { PlatePlanes } from '../fit';
import { type Rect, expandRect, intersectRects } from '../geometry';
import { type RasterKernels, orInto } from '../raster';
import { type JobSheet, type Plate, isWhiteBelow } from '../sheet';
import { smallestDotUm } from './filmTones';
import type { PrintGrid } from './printGrid';

/** The tip of a corner is no line: a thin place is so many times as long as the limit is wide. */
const LEAST_LENGTH = 4;
/** What a disc does not reach in a corner of 90 degrees lies this many radii from what it does, and a pixel more. */
const CORNER = 1.5;

/** Width below which lines of a plate do not hold, in mm: the sheet's limit, else what its mesh holds. */
export function lineLimitMm({ limits }: JobSheet, { mesh }: Plate): number {
  return limits.lineMm ?? smallestDotUm(mesh) / 1000;
}

/** What is looked at: thin places of a mask. */
interface Part {
  readonly mask: Uint8Array;
  /** 255 where it prints strongly; undefined: wherever it prints. */
  readonly strong: Uint8Array | undefined;
  /** Whether ink lies inside of the mask or outside of it. */
  readonly prints: 'inside' | 'outside';
}

interface Found {
  lengthMm: number;
  longest: number;
  place: PrintPlace | null;
}

const nothing = (): Found => ({ lengthMm: 0, longest: 0, place: null });

/** Finds lines of plates that are too thin to hold, and openings to the garment that are so narrow that they fill, band by band. */
export class ThinCounter {
  private readonly lines: readonly Found[];
  private readonly openings = nothing();

  constructor(
    private readonly sheet: JobSheet,
    private readonly grid: PrintGrid,
    private readonly kernels: RasterKernels,
  ) {
    this.lines = sheet.plates.map(nothing);
  }

  /** How far round a place it is looked at, in pixels. */
  get halo(): number {
    const { limits, plates } = this.sheet;
    const widest = Math.max(limits.openingMm, ...plates.map((plate) => lineLimitMm(this.sheet, plate)));
    return haloOf(widest * this.grid.pxPerMm);
  }

  /**
   * @param planes of a band and `halo` round it, as they print without a texture.
   * @param strong where the planes have tones, for each of them 255 where it prints so strongly that its end is an edge: what ends otherwise is no line,
   * and what it ends at no opening.
   */
  add({ rect, planes }: PlatePlanes, band: Rect, strong?: readonly Uint8Array[]): void {
    const { pxPerMm } = this.grid;
    const printed = new Uint8Array(rect.width * rect.height);
    const strongly = strong && new Uint8Array(printed.length);
    planes.forEach(({ plate, shape }, k) => {
      if (shape.indexOf(255) < 0) return;
      if (plate.role !== 'special' || isWhiteBelow(plate)) {
        orInto(printed, shape);
        if (strongly) orInto(strongly, strong[k]!);
      }
      const limit = lineLimitMm(this.sheet, this.sheet.plates[k]!) * pxPerMm;
      this.note({ mask: shape, strong: strong?.[k], prints: 'inside' }, rect, band, limit, this.lines[k]!);
    });
    for (let i = 0; i < printed.length; i++) printed[i] = 255 - printed[i]!;
    const limit = this.sheet.limits.openingMm * pxPerMm;
    this.note({ mask: printed, strong: strongly, prints: 'outside' }, rect, band, limit, this.openings);
  }

  private note(part: Part, rect: Rect, band: Rect, limitPx: number, found: Found): void {
    const { mask, strong } = part;
    // On a grid as coarse as that every edge would be one.
    if (limitPx < 1 || mask.indexOf(255) < 0) return;
    const halo = haloOf(limitPx);
    for (const tile of tilesWithShortRuns(mask, rect, band, limitPx)) {
      const crop = intersectRects(expandRect(tile, halo), rect);
      const cut = {
        mask: cropped(mask, rect, crop),
        strong: strong && cropped(strong, rect, crop),
        prints: part.prints,
      };
      this.noteTile(cut, crop, tile, limitPx, found);
    }
  }

  private noteTile(
    { mask, strong, prints }: Part,
    rect: Rect,
    tile: Rect,
    limitPx: number,
    found: Found,
  ): void {
    const thin = this.thinParts(mask, rect, limitPx);
    const { width, height } = rect;
    const { pxPerMm } = this.grid;
    const cells: number[] = [];
    for (let first = thin.indexOf(1); first >= 0; first = thin.indexOf(1, first + 1)) {
      cells.length = 0;
      cells.push(first);
      thin[first] = 2;
      // Of pixels where it ends, those that are edges, and those where it fades out.
      let [sides, faint] = [0, 0];
      let [left, right, top, bottom] = [width, 0, height, 0];
      for (let k = 0; k < cells.length; k++) {
        const i = cells[k]!;
        const [x, y] = [i % width, Math.floor(i / width)];
        [left, right] = [Math.min(left, x), Math.max(right, x)];
        [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
        const isInTile = contains(tile, rect.x + x, rect.y + y);
        for (let dy = -1; dy <= 1; dy++) {
          for (let dx = -1; dx <= 1; dx++) {
            const [u, v] = [x + dx, y + dy];
            if (u < 0 || v < 0 || u >= width || v >= height) continue;
            const next = v * width + u;
            if (isInTile && mask[next] === 0 && (dx === 0) !== (dy === 0)) {
              if (strong && strong[prints === 'inside' ? i : next] === 0) faint++;
              else sides++;
            }
            if (thin[next] !== 1) continue;
            thin[next] = 2;
            cells.push(next);
          }
        }
      }
      if (Math.hypot(right - left + 1, bottom - top + 1) < LEAST_LENGTH * limitPx || sides <= faint) continue;
      // A line has two sides.
      found.lengthMm += sides / 2 / pxPerMm;
      if (cells.length <= found.longest) continue;
      found.longest = cells.length;
      const middle = cells[cells.length >> 1]!;
      found.place = {
        xMm: (rect.x + (middle % width) + 0.5) / pxPerMm,
        yMm: (rect.y + Math.floor(middle / width) + 0.5) / pxPerMm,
      };
    }
  }

  /** 1 for each pixel of a mask that a disc of a width does not reach inside of it (an opening: Serra, Image Analysis and Mathematical Morphology, 1982), nor lies in a corner. */
  private thinParts(mask: Uint8Array, { width, height }: Rect, limitPx: number): Uint8Array {
    const { markNearBoundary } = this.kernels;
    const near = new Uint8Array(mask.length);
    markNearBoundary(mask, width, height, limitPx / 2, near);
    const wide = new Uint8Array(mask.length);
    for (let i = 0; i < mask.length; i++) if (near[i] === 0) wide[i] = mask[i]!;
    near.fill(0);
    markNearBoundary(wide, width, height, (limitPx / 2) * CORNER + 1, near);
    const thin = new Uint8Array(mask.length);
    for (let i = 0; i < mask.length; i++) if (mask[i] !== 0 && wide[i] === 0 && near[i] === 0) thin[i] = 1;
    return thin;
  }

  result(): ThinSurvey {
    const { plates } = this.sheet;
    return {
      lines: this.lines.map(({ lengthMm, place }, k) => ({
        lengthMm,
        place,
        limitMm: lineLimitMm(this.sheet, plates[k]!),
      })),
      openings: { lengthMm: this.openings.lengthMm, place: this.openings.place },
    };
  }
}

function cropped(mask: Uint8Array, rect: Rect, crop: Rect): Uint8Array {
  const part = new Uint8Array(crop.width * crop.height);
  for (let row = 0; row < crop.height; row++) {
    const from = (crop.y - rect.y + row) * rect.width + crop.x - rect.x;
    part.set(mask.subarray(from, from + crop.width), row * crop.width);
  }
  return part;
}

/** Side of the squares that are looked at closely where they have short runs. */
const TILE = 96;
/** Beyond what the marking of boundaries looks at. */
const NEAR_HALO = 8;

/** A thin place is as long as that, seen from any part of it. */
const haloOf = (limitPx: number): number => Math.ceil(LEAST_LENGTH * limitPx + limitPx * CORNER) + NEAR_HALO;

const contains = ({ x, y, width, height }: Rect, u: number, v: number): boolean =>
  u >= x && v >= y && u < x + width && v < y + height;

/**
 * Squares of a band in which enough pixels lie in a row or a column of few: a line that is thinner than a limit has no others, whichever way it runs.
 *
 * @param rect where the mask lies.
 */
function tilesWithShortRuns(mask: Uint8Array, rect: Rect, band: Rect, limitPx: number): Rect[] {
  const longest = Math.ceil(limitPx * Math.SQRT2) + 1;
  const columns = Math.ceil(band.width / TILE);
  const counts = new Uint32Array(columns * Math.ceil(band.height / TILE));
  const count = (x: number, y: number): void => {
    counts[Math.floor((y - band.y) / TILE) * columns + Math.floor((x - band.x) / TILE)]!++;
  };
  const { width, height } = rect;
  const [left, top] = [band.x - rect.x, band.y - rect.y];
  for (let row = 0; row < height; row++) {
    const line = mask.subarray(row * width, (row + 1) * width);
    const below = row + 1 < height ? mask.subarray((row + 1) * width, (row + 2) * width) : null;
    const isIn = row >= top && row < top + band.height;
    for (let from = line.indexOf(255); from >= 0;) {
      const gap = line.indexOf(0, from);
      const end = gap < 0 ? width : gap;
      const [first, last] = [Math.max(from, left), Math.min(end, left + band.width)];
      if (isIn && end - from <= longest) {
        for (let u = first; u < last; u++) count(rect.x + u, rect.y + row);
      }
      // Columns that end here.
      for (let x = below ? below.indexOf(0, first) : first; x >= 0 && x < last;) {
        const start = columnStart(mask, width, x, row, longest);
        if (start >= 0) {
          for (let v = Math.max(start, top); v <= Math.min(row, top + band.height - 1); v++)
            count(rect.x + x, rect.y + v);
        }
        x = below ? below.indexOf(0, x + 1) : x + 1;
      }
      from = gap < 0 ? -1 : line.indexOf(255, gap);
    }
  }
  const tiles: Rect[] = [];
  counts.forEach((each, k) => {
    if (each === 0) return;
    const x = band.x + (k % columns) * TILE;
    const y = band.y + Math.floor(k / columns) * TILE;
    tiles.push({
      x,
      y,
      width: Math.min(TILE, band.x + band.width - x),
      height: Math.min(TILE, band.y + band.height - y),
    });
  });
  return tiles;
}

/** The row in which a column's run that ends in a row begins; -1 where it is longer than so many pixels. */
function columnStart(mask: Uint8Array, width: number, x: number, end: number, longest: number): number {
  let first = end;
  while (first > 0 && end - first < longest && mask[(first - 1) * width + x] !== 0) first--;
  return end - first === longest ? -1 : first;
}
