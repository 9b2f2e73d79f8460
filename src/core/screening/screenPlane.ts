import { type Expansion, blend, expandRow } from '../raster';
import type { ThresholdTile } from './thresholdTile';
import { tilePosition } from './screenStrip';

/** Some rows of a plane of tones at the device's resolution, to be turned into bits. */
export interface PlaneStripArguments {
  /** Pixels in a row of the plane. */
  readonly pixels: number;
  /** Writes one row of the plane: coverage 0..65535 as it shall stand on film. */
  readonly rowOf: (y: number, into: Uint16Array) => void;
  /** Across: one for each device pixel of a row, a multiple of 8 of them. Down: for all device rows. */
  readonly across: Expansion;
  readonly down: Expansion;
  readonly firstRow: number;
  readonly rows: number;
  readonly tile: ThresholdTile;
  /** rows * width / 8 bytes, written in full; the most significant bit is the leftmost pixel, 1 = ink. */
  readonly out: Uint8Array;
}

/**
 * Ink where the tone reaches the threshold. Tones between the plane's pixels are interpolated where the expansions say so, first across,
 * then down, so that neither edges nor dots show the plane's pixels; the screen stands at the plane's corner.
 */
export function screenPlane(args: PlaneStripArguments): void {
  const { across, down, tile, out } = args;
  const width = across.from.length;
  const source = new Uint16Array(args.pixels);
  const rows = [new Uint16Array(width), new Uint16Array(width)] as const;
  const held = [-1, -1];
  const rowAt = (y: number): Uint16Array => {
    const slot = y & 1;
    if (held[slot] !== y) {
      args.rowOf(y, source);
      expandRow(source, across, rows[slot]!);
    }
    held[slot] = y;
    return rows[slot]!;
  };
  for (let row = 0; row < args.rows; row++) {
    const y = args.firstRow + row;
    const part = down.part?.[y] ?? 0;
    const above = rowAt(down.from[y]!);
    const below = part > 0 ? rowAt(down.from[y]! + 1) : above;
    for (let x = 0; x < width; x += 8) {
      let byte = 0;
      const position = tilePosition(tile, x, y);
      for (let bit = 0; bit < 8; bit++) {
        const tone = blend(above[x + bit]!, below[x + bit]!, part);
        if (tone >= tile.thresholds[position + bit]!) byte |= 128 >> bit;
      }
      out[(row * width + x) >> 3] = byte;
    }
  }
}

/** Some rows of a plane of bytes, each device pixel its nearest one. */
export interface ByteStripArguments {
  readonly pixels: number;
  /** One row of the plane. */
  readonly rowOf: (y: number) => Uint8Array;
  /** Neither has parts. */
  readonly across: Expansion;
  readonly down: Expansion;
  readonly firstRow: number;
  readonly rows: number;
  readonly tile: ThresholdTile;
  /** What stands for the tile's thresholds: `byteThresholds`. */
  readonly thresholds: Uint8Array;
  /** As for `screenPlane`. */
  readonly out: Uint8Array;
}

/**
 * Thresholds for the bytes of a plane instead of their tones: the first byte whose tone reaches each threshold. So screening gives the
 * same bits without looking up a tone, at half the memory.
 *
 * @param tones of the 256 bytes, rising, the first 0 and the last 65535.
 */
export function byteThresholds(tile: ThresholdTile, tones: Uint16Array): Uint8Array {
  const first = new Uint8Array(65536);
  for (let threshold = 1, byte = 1; threshold < 65536; threshold++) {
    while (tones[byte]! < threshold) byte++;
    first[threshold] = byte;
  }
  const { thresholds } = tile;
  const bytes = new Uint8Array(thresholds.length);
  for (let k = 0; k < bytes.length; k++) bytes[k] = first[thresholds[k]!]!;
  return bytes;
}

/** Ink where a byte reaches its threshold. */
export function screenBytes(args: ByteStripArguments): void {
  const { across, down, tile, thresholds, out } = args;
  const width = across.from.length;
  for (let row = 0; row < args.rows; row++) {
    const y = args.firstRow + row;
    const source = args.rowOf(down.from[y]!);
    for (let x = 0; x < width; x += 8) {
      let byte = 0;
      const position = tilePosition(tile, x, y);
      for (let bit = 0; bit < 8; bit++) {
        if (source[across.from[x + bit]!]! >= thresholds[position + bit]!) byte |= 128 >> bit;
      }
      out[(row * width + x) >> 3] = byte;
    }
  }
}
