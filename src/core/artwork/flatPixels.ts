import type { Rgb8 } from '../colour';
import { type ArtworkReader, OPAQUE_ALPHA } from './rgbaPlane';

const BAND_ROWS = 256;
/** Rows beyond a band that looking at a pixel takes. */
const MARGIN = 4;

/** What compression and noise did to flat areas. */
export interface Damage {
  /** Codes by which neighbours in a flat area may differ. */
  readonly flatCodes: number;
  /** CIELAB distance within which a pixel counts as one of the colours. */
  readonly purity: number;
}

type VisitBand = (
  data: Uint8Array,
  rowPixels: number,
  top: number,
  firstRow: number,
  lastRow: number,
) => void;

/** Calls `visit` band by band with a margin of rows above and below; rows are counted inside the band. */
export function forEachBand(art: ArtworkReader, visit: VisitBand): void {
  for (let y = 0; y < art.height; y += BAND_ROWS) {
    const top = Math.max(0, y - MARGIN);
    const bottom = Math.min(art.height, y + BAND_ROWS + MARGIN);
    const plane = art.read({ x: 0, y: top, width: art.width, height: bottom - top });
    const last = Math.min(art.height, y + BAND_ROWS) - 1;
    visit(plane.data, art.width, top, y - top, last - top);
  }
}

function codeDistance(data: Uint8Array, i: number, j: number): number {
  const r = Math.abs(data[i]! - data[j]!);
  const g = Math.abs(data[i + 1]! - data[j + 1]!);
  const b = Math.abs(data[i + 2]! - data[j + 2]!);
  return r > g ? (r > b ? r : b) : g > b ? g : b;
}

/** Steps between neighbours that are noise, in codes: smaller ones are rounding, larger ones edges. */
const NOISE_FROM = 3;
const NOISE_TO = 12;

/** Whether a pixel stands out a little from both its neighbours to one side: noise does, a gradient goes on in one direction. */
function standsOut(data: Uint8Array, i: number): boolean {
  for (let c = 0; c < 3; c++) {
    const before = data[i + c]! - data[i + c - 4]!;
    const after = data[i + c]! - data[i + c + 4]!;
    if (before * after <= 0) continue;
    const least = Math.min(Math.abs(before), Math.abs(after));
    if (least >= NOISE_FROM && Math.max(Math.abs(before), Math.abs(after)) <= NOISE_TO) return true;
  }
  return false;
}

/** How far compression or noise has damaged flat areas. */
export function measureDamage(art: ArtworkReader, lossy: boolean): Damage {
  let still = 0;
  let small = 0;
  forEachBand(art, (data, width, _top, first, last) => {
    for (let y = first; y <= last; y++) {
      for (let x = 1; x + 1 < width; x++) {
        const i = (y * width + x) * 4;
        if (data[i + 3]! < OPAQUE_ALPHA || data[i + 7]! < OPAQUE_ALPHA || data[i - 1]! < OPAQUE_ALPHA)
          continue;
        if (codeDistance(data, i, i + 4) < NOISE_FROM) still++;
        else if (standsOut(data, i)) small++;
      }
    }
  });
  const share = small / Math.max(1, small + still);
  // Compression rings beside edges even where most of the picture is clean.
  if (share < 0.012 && !lossy) return { flatCodes: 2, purity: 2.5 };
  if (share < 0.05) return { flatCodes: 6, purity: 5 };
  if (share < 0.15) return { flatCodes: 9, purity: 7 };
  return { flatCodes: 12, purity: 9 };
}

const BIN_BITS = 6;
/** Bins of colours: six bits of each channel, red highest. */
export const BINS = 1 << (3 * BIN_BITS);

/** The bin of the pixel whose bytes begin at `i`. */
export function binOf(data: Uint8Array, i: number): number {
  return ((data[i]! >> 2) << 12) | ((data[i + 1]! >> 2) << 6) | (data[i + 2]! >> 2);
}

/** Whether the 2 by 2 block that starts here is of one colour. */
export function isFlat(data: Uint8Array, i: number, rowBytes: number, codes: number): boolean {
  return (
    data[i + 3]! >= OPAQUE_ALPHA &&
    data[i + 7]! >= OPAQUE_ALPHA &&
    data[i + rowBytes + 3]! >= OPAQUE_ALPHA &&
    codeDistance(data, i, i + 4) <= codes &&
    codeDistance(data, i, i + rowBytes) <= codes &&
    codeDistance(data, i, i + rowBytes + 4) <= codes
  );
}

/** Whether the pixels two steps away in the four directions have the same colour. */
function isCore(data: Uint8Array, i: number, rowBytes: number, codes: number): boolean {
  return (
    codeDistance(data, i, i - 8) <= codes &&
    codeDistance(data, i, i + 8) <= codes &&
    codeDistance(data, i, i - 2 * rowBytes) <= codes &&
    codeDistance(data, i, i + 2 * rowBytes) <= codes
  );
}

/** How many flat pixels each bin of colours has, and how many of them lie inside an area; and pixels in all. */
export interface Histogram {
  readonly flat: Uint32Array;
  readonly core: Uint32Array;
  opaque: number;
  flatTotal: number;
  empty: number;
}

/**
 * Counts the flat pixels of artwork.
 *
 * @param codes by which neighbours in a flat area may differ.
 */
export function histogramFlat(art: ArtworkReader, codes: number): Histogram {
  const flat = new Uint32Array(BINS);
  const core = new Uint32Array(BINS);
  let opaque = 0;
  let flatTotal = 0;
  let empty = 0;
  forEachBand(art, (data, width, _top, first, last) => {
    const rowBytes = width * 4;
    const rows = data.length / rowBytes;
    for (let y = first; y <= last; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * rowBytes + x * 4;
        if (data[i + 3]! < OPAQUE_ALPHA) {
          empty++;
          continue;
        }
        opaque++;
        if (x + 1 >= width || y + 1 >= rows || !isFlat(data, i, rowBytes, codes)) continue;
        const bin = binOf(data, i);
        flat[bin]!++;
        flatTotal++;
        if (x >= 2 && x + 2 < width && y >= 2 && y + 2 < rows && isCore(data, i, rowBytes, codes))
          core[bin]!++;
      }
    }
  });
  return { flat, core, opaque, flatTotal, empty };
}

/** The colour in the middle of a bin. */
export function binCentre(bin: number): Rgb8 {
  return [((bin >> 12) & 63) * 4 + 2, ((bin >> 6) & 63) * 4 + 2, (bin & 63) * 4 + 2];
}
