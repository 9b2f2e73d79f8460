import { type Expansion, blend, expandRow } from '../raster';
import { type ThresholdTile, tilePosition } from './thresholdTile';

/** A finished plate, to be screened row by row; the screen stands at its corner. */
export interface ScreenedPlate {
  /** Device pixels in a row of the film. */
  readonly width: number;
  /** Pixels in a row of the plate. */
  readonly pixels: number;
  /** Across: one for each device pixel of a row, a multiple of 16 of them, at least `width`. Down: for all device rows. */
  readonly across: Expansion;
  readonly down: Expansion;
  readonly tile: ThresholdTile;
  readonly rows: ToneRows | CodeRows;
}

/** Rows of tones, interpolated where the expansions say so. */
export interface ToneRows {
  readonly kind: 'tones';
  /** Writes one row of the plate: coverage 0..65535 as it shall stand on film. */
  readonly rowOf: (y: number, into: Uint16Array) => void;
}

/** Rows of a plate of bytes, each device pixel its nearest one. */
export interface CodeRows {
  readonly kind: 'codes';
  /** Some rows of the plate, one after another. */
  readonly rowsOf: (first: number, count: number) => Uint8Array;
  /** What takes a threshold's place: `firstCodes`. */
  readonly first: Uint8Array;
}

/**
 * For each threshold 0..65535 the first byte whose tone reaches it. With it bytes are screened without looking up their tones, at half the
 * memory, and come out the same.
 *
 * @param tones of the 256 bytes, rising, the first 0 and the last 65535.
 */
export function firstCodes(tones: Uint16Array): Uint8Array {
  const first = new Uint8Array(65536);
  for (let code = 1; code < 256; code++) first.fill(code, tones[code - 1]! + 1, tones[code]! + 1);
  return first;
}

/**
 * Rows of a film: ink where the tone reaches the threshold. Tones between the plate's pixels are interpolated first across, then down, so
 * that neither edges nor dots show those pixels.
 *
 * @returns rows * ceil(width / 8) bytes; the most significant bit is the leftmost pixel, 1 = ink.
 */
export function screenPlate(plate: ScreenedPlate, firstRow: number, rows: number): Uint8Array {
  const { width, tile } = plate;
  const rowBytes = Math.ceil(width / 8);
  const out = new Uint8Array(rows * rowBytes);
  const isInked = plate.rows.kind === 'tones' ? toneTest(plate, plate.rows) : codeTest(plate, plate.rows);
  for (let row = 0; row < rows; row++) {
    const y = firstRow + row;
    for (let x = 0; x < width; x++) {
      if (isInked(x, y, tile.thresholds[tilePosition(tile, x, y)]!)) {
        out[row * rowBytes + (x >> 3)]! |= 128 >> (x & 7);
      }
    }
  }
  return out;
}

type InkTest = (x: number, y: number, threshold: number) => boolean;

function toneTest({ pixels, across, down }: ScreenedPlate, { rowOf }: ToneRows): InkTest {
  const width = across.from.length;
  const source = new Uint16Array(pixels);
  const kept = [new Uint16Array(width), new Uint16Array(width)] as const;
  const held = [-1, -1];
  const rowAt = (y: number): Uint16Array => {
    const slot = y & 1;
    if (held[slot] !== y) {
      rowOf(y, source);
      expandRow(source, across, kept[slot]!);
      held[slot] = y;
    }
    return kept[slot]!;
  };
  return (x, y, threshold) => {
    const part = down.part?.[y] ?? 0;
    const from = down.from[y]!;
    const above = rowAt(from)[x]!;
    return (part > 0 ? blend(above, rowAt(from + 1)[x]!, part) : above) >= threshold;
  };
}

function codeTest({ across, down }: ScreenedPlate, { rowsOf, first }: CodeRows): InkTest {
  return (x, y, threshold) => rowsOf(down.from[y]!, 1)[across.from[x]!]! >= first[threshold]!;
}
