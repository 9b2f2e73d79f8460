import type { ThresholdTile } from './thresholdTile';

/** A strip of one plate to be turned into bits. */
export interface ScreenArguments {
  /** 0 = out, 255 = in; width * rows. */
  readonly shape: Uint8Array;
  /** Coverage 0..65535 as it shall stand on film; null is solid. */
  readonly tone: Uint16Array | null;
  /** A multiple of 8. */
  readonly width: number;
  readonly rows: number;
  /** Where the strip's first pixel lies, from the corner of the print at which the screen is anchored. */
  readonly originX: number;
  readonly originY: number;
  readonly tile: ThresholdTile;
  /**
   * For plates that divide each cell among them, with a tone: up to which threshold each place was taken by the plates before this one,
   * 0..65534. The plate takes what follows, beginning anew where it gets to the last threshold; then its own is added.
   */
  readonly taken?: Uint16Array | null;
  /** rows * width / 8 bytes, written in full; the most significant bit is the leftmost pixel, 1 = ink. */
  readonly out: Uint8Array;
}

function modulo(value: number, by: number): number {
  return ((value % by) + by) % by;
}

/** Position in the tile's thresholds of a device pixel, for any sign of its coordinates. */
export function tilePosition(tile: ThresholdTile, x: number, y: number): number {
  const turned = (modulo(y, tile.length) * tile.shift) % tile.length;
  return modulo(y, tile.rows) * tile.stride + modulo((x % tile.length) + turned, tile.length);
}

const FULL = 65535;

/** Ink where the shape is in and the tone reaches the threshold. A tone of 65535 is solid under any screen. */
export function screenStrip(args: ScreenArguments): void {
  const { shape, tone, width, rows, tile, out } = args;
  const taken = args.taken ?? null;
  for (let row = 0; row < rows; row++) {
    const base = row * width;
    for (let x = 0; x < width; x += 8) {
      let byte = 0;
      const position = tilePosition(tile, args.originX + x, args.originY + row);
      for (let bit = 0; bit < 8; bit++) {
        const i = base + x + bit;
        if (shape[i] === 0) continue;
        const start = taken ? taken[i]! : 0;
        const end = start + (tone ? tone[i]! : FULL);
        const threshold = tone ? tile.thresholds[position + bit]! : 1;
        if ((start < threshold && end >= threshold) || end - FULL >= threshold) byte |= 128 >> bit;
        if (taken) taken[i] = end % FULL;
      }
      out[(base + x) >> 3] = byte;
    }
  }
}
