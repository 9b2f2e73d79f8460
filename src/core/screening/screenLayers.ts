import { type Expansion, blend, expandRow } from '../raster';
import type { ThresholdTile } from './thresholdTile';
import { tilePosition } from './screenStrip';

const FULL = 65535;

/** Where a region's bits go; the most significant bit is the leftmost pixel, 1 = ink. */
export interface BitTarget {
  readonly bits: Uint8Array;
  /** Where the first row begins, and from each row to the next. */
  readonly at: number;
  readonly rowBytes: number;
  /** What of the region is kept: so many bytes of each row, so many rows. */
  readonly bytes: number;
  readonly rows: number;
}

/** Puts a region's rows of bits, `madeBytes` each, where they go. */
export function pasteBits(
  made: Uint8Array,
  madeBytes: number,
  { bits, at, rowBytes, bytes, rows }: BitTarget,
): void {
  for (let row = 0; row < rows; row++) {
    const from = row * madeBytes;
    const to = at + row * rowBytes;
    // A view of a few bytes costs more than they do.
    if (bytes > FEW_BYTES) bits.set(made.subarray(from, from + bytes), to);
    else for (let k = 0; k < bytes; k++) bits[to + k] = made[from + k]!;
  }
}

const FEW_BYTES = 64;

/** One plate of a region whose tones are interpolated between the artwork's pixels. */
export interface ToneLayer {
  /** Tones at the artwork's pixels, row after row, 0..65535. */
  readonly tones: Uint16Array;
  readonly tile: ThresholdTile;
  /** Where the region's first pixel lies, from the corner at which the screen is anchored. */
  readonly originX: number;
  readonly originY: number;
  /** Null for a layer by itself. */
  readonly stack: ToneStack | null;
  /** Null where the bits are not wanted. */
  readonly out: BitTarget | null;
}

/** What is to be known of a layer that divides each cell with others. */
export interface ToneStack {
  /** Layers of the same number take their parts of the cells in their order. */
  readonly group: number;
  /** What each tone takes, 65536 of them; the first is 0, the last 65535. */
  readonly onFilm: Uint16Array;
}

/** A region that is nothing but tone. */
export interface LayerArguments {
  /** Artwork pixels in a row of the tones; those that count, from `left` on. */
  readonly stride: number;
  readonly left: number;
  readonly pixels: number;
  /** One for each device column of the region, a multiple of 8 of them, and for each row. */
  readonly across: Expansion;
  readonly down: Expansion;
  readonly layers: readonly ToneLayer[];
}

/** What a layer's tones come to, before they are looked up as they stand on film. */
export interface LaidTone {
  /** Coverage as a sum over device pixels. */
  readonly sum: number;
  /** Whether any place is neither bare nor solid. */
  readonly screened: boolean;
}

/** Of the tones that count: some are 0, some are between, some are 65535. */
export const NONE = 1;
export const BETWEEN = 2;
export const ALL = 4;

/** How many device pixels each pixel of a plane stands for, in 256ths. */
export function deviceWeights({ from, part }: Expansion, pixels: number): Int32Array {
  const weights = new Int32Array(pixels);
  for (let k = 0; k < from.length; k++) {
    const next = part ? part[k]! : 0;
    weights[from[k]!]! += 256 - next;
    if (next > 0) weights[from[k]! + 1]! += next;
  }
  return weights;
}

/**
 * @param sum of tones times their weights both ways.
 * @param found NONE, BETWEEN and ALL; between nothing and all there is tone only where it is interpolated.
 */
export function laidTone(
  sum: number,
  found: number,
  { across, down }: Pick<LayerArguments, 'across' | 'down'>,
): LaidTone {
  const interpolated = across.part !== null || down.part !== null;
  const screened = (found & BETWEEN) !== 0 || (interpolated && found === (NONE | ALL));
  return { sum: sum / (65535 * 65536), screened };
}

/** What tones come to that lie on the device's pixels as those of a layer do. */
export function weighTones({
  tones,
  stride,
  left,
  pixels,
  across,
  down,
}: Omit<LayerArguments, 'layers'> & { readonly tones: Uint16Array }): LaidTone {
  const columns = deviceWeights(across, pixels);
  let sum = 0;
  let found = 0;
  deviceWeights(down, tones.length / stride).forEach((weight, y) => {
    if (weight === 0) return;
    let line = 0;
    for (let x = 0, i = y * stride + left; x < pixels; x++, i++) {
      if (columns[x] === 0) continue;
      const tone = tones[i]!;
      line += columns[x]! * tone;
      found |= tone === 0 ? NONE : tone === FULL ? ALL : BETWEEN;
    }
    sum += weight * line;
  });
  return laidTone(sum, found, { across, down });
}

/**
 * Ink as `screenStrip` lays it, for tones that are interpolated, first across, then down: the plates need not be there at the film's
 * resolution.
 */
export function screenLayers({ stride, left, pixels, across, down, layers }: LayerArguments): LaidTone[] {
  const width = across.from.length;
  const takenBy = new Map<number, Uint16Array>();
  for (const { tones, tile, originX, originY, stack, out } of layers) {
    if (stack && !takenBy.has(stack.group)) {
      takenBy.set(stack.group, new Uint16Array(width * down.from.length));
    }
    const taken = stack && takenBy.get(stack.group)!;
    const rows = [new Uint16Array(width), new Uint16Array(width)] as const;
    const expanded = (y: number): Uint16Array => {
      const at = y * stride + left;
      expandRow(tones.subarray(at, at + pixels), across, rows[y & 1]!);
      return rows[y & 1]!;
    };
    down.from.forEach((from, row) => {
      const part = down.part?.[row] ?? 0;
      const above = expanded(from);
      const below = part > 0 ? expanded(from + 1) : above;
      for (let x = 0; x < width; x += 8) {
        let byte = 0;
        const position = tilePosition(tile, originX + x, originY + row);
        for (let bit = 0; bit < 8; bit++) {
          const i = row * width + x + bit;
          const start = taken ? taken[i]! : 0;
          const tone = blend(above[x + bit]!, below[x + bit]!, part);
          const end = start + (stack ? stack.onFilm[tone]! : tone);
          const threshold = tile.thresholds[position + bit]!;
          if ((start < threshold && end >= threshold) || end - FULL >= threshold) byte |= 128 >> bit;
          if (taken) taken[i] = end % FULL;
        }
        if (out && row < out.rows && x >> 3 < out.bytes) {
          out.bits[out.at + row * out.rowBytes + (x >> 3)] = byte;
        }
      }
    });
  }
  return layers.map(({ tones }) => weighTones({ tones, stride, left, pixels, across, down }));
}

/**
 * A tile for tones as they are wanted instead of as they stand on film: its thresholds are the first tone that reaches each of them there.
 * So screening gives the same bits without looking a tone up.
 *
 * @param onFilm what stands on film for each of 65536 tones, none less for a darker one; the last is 65535.
 */
export function foldTile(tile: ThresholdTile, onFilm: Uint16Array): ThresholdTile {
  const first = new Uint16Array(65536);
  for (let threshold = 1, tone = 0; threshold < 65536; threshold++) {
    while (onFilm[tone]! < threshold) tone++;
    first[threshold] = tone;
  }
  return { ...tile, thresholds: tile.thresholds.map((threshold) => first[threshold]!) };
}
