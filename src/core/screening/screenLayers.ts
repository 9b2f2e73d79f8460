import { type Expansion, LEAST_TONE, blend, expandRow, forEachRun } from '../raster';
import { type ThresholdTile, tilePosition } from './thresholdTile';

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

/** How much a layer prints where its shape is in. */
export type LayerTone =
  | { readonly kind: 'solid' }
  /** One value for each pixel of the region: coverage 0..65535 as it shall stand on film. */
  | { readonly kind: 'plane'; readonly values: Uint16Array }
  /** Values at the artwork's pixels, row after row, 0..65535, interpolated as the region's field says. */
  | { readonly kind: 'field'; readonly values: Uint16Array };

/** One plate of a region. */
export interface ScreenLayer {
  /** Where it prints, 0 = out, 255 = in, for each pixel of the region; null: everywhere. Only a layer of a field may have none. */
  readonly shape: Uint8Array | null;
  readonly tone: LayerTone;
  /** For a field its thresholds may be those of tones as they are wanted: see `foldTile`. */
  readonly tile: ThresholdTile;
  /** Where the region's first pixel lies, from the corner of the print at which the screen is anchored. */
  readonly originX: number;
  readonly originY: number;
  /** Null for a layer by itself. */
  readonly stack: ToneStack | null;
  /** Null where the bits are not wanted. */
  readonly out: BitTarget | null;
}

/** What is to be known of a layer that divides each cell with others. */
export interface ToneStack {
  /**
   * Layers of the same number take their parts of the cells in their order: each takes the thresholds behind those that were taken before it, beginning
   * anew where it gets to the last one.
   */
  readonly group: number;
  /** What each of 65536 tones of a field takes; the first is 0, the last 65535. Null: of a plane, whose values stand on film as they are. */
  readonly onFilm: Uint16Array | null;
}

/** How the pixels of a region lie on those of the artwork. */
export interface FieldMapping {
  /** Artwork pixels in a row of the values; those that count, from `left` on. */
  readonly stride: number;
  readonly left: number;
  readonly pixels: number;
  /** One for each column of the region, and for each row. */
  readonly across: Expansion;
  readonly down: Expansion;
}

export interface ScreenRegion {
  /** Of the region in device pixels; a multiple of 8. */
  readonly width: number;
  readonly rows: number;
  /** Null where no layer is a field. */
  readonly field: FieldMapping | null;
  readonly layers: readonly ScreenLayer[];
}

/** What a layer comes to: of a field before its values are looked up as they stand on film. */
export interface LaidTone {
  /** Coverage as a sum over device pixels. */
  readonly sum: number;
  /** Whether any place is neither bare nor solid. */
  readonly screened: boolean;
}

/** Of the tones that count: some are 0, some print as dots, some are 65535, some are too little to print. */
export const NONE = 1;
export const BETWEEN = 2;
export const ALL = 4;
const FAINT = 8;

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
 * @param found NONE, FAINT, BETWEEN and ALL; between nothing and all there is tone only where it is interpolated.
 */
export function laidTone(
  sum: number,
  found: number,
  { across, down }: Pick<FieldMapping, 'across' | 'down'>,
): LaidTone {
  const interpolated = across.part !== null || down.part !== null;
  const ends = (found & ALL) !== 0 && (found & (NONE | FAINT)) !== 0;
  const screened = (found & BETWEEN) !== 0 || (interpolated && ends);
  return { sum: sum / (65535 * 65536), screened };
}

/** What a field's values come to. */
export function weighField({
  tones,
  stride,
  left,
  pixels,
  across,
  down,
}: FieldMapping & { readonly tones: Uint16Array }): LaidTone {
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
      found |= tone === 0 ? NONE : tone < LEAST_TONE ? FAINT : tone === FULL ? ALL : BETWEEN;
    }
    sum += weight * line;
  });
  return laidTone(sum, found, { across, down });
}

/** What a plate comes to whose shape and tone stand at the device's pixels. @param tone null: solid. */
export function weighPlane(shape: Uint8Array, tone: Uint16Array | null): LaidTone {
  let sum = 0;
  let screened = false;
  forEachRun(shape, (from, to) => {
    if (!tone) {
      sum += (to - from) * FULL;
      return;
    }
    for (let i = from; i < to; i++) {
      const value = tone[i]!;
      if (value < FULL) screened = true;
      sum += value;
    }
  });
  return { sum: sum / FULL, screened };
}

/** A plane that is screened by itself. */
export interface PlaneAlone {
  /** 0 = out, 255 = in; left out: everywhere. */
  readonly shape?: Uint8Array;
  /** Coverage 0..65535 as it shall stand on film; null: solid. */
  readonly tone: Uint16Array | null;
  /** A multiple of 8. */
  readonly width: number;
  readonly rows: number;
  readonly originX: number;
  readonly originY: number;
  readonly tile: ThresholdTile;
}

/** A region of one plane, and the bits that it comes to when it is screened, in rows of whole bytes. */
export function planeAlone({ shape, tone, width, rows, ...place }: PlaneAlone): {
  readonly region: ScreenRegion;
  readonly bits: Uint8Array;
} {
  const out = packedBits(width, rows);
  const layer: ScreenLayer = {
    shape: shape ?? new Uint8Array(width * rows).fill(255),
    tone: tone ? { kind: 'plane', values: tone } : { kind: 'solid' },
    ...place,
    stack: null,
    out,
  };
  return { region: { width, rows, field: null, layers: [layer] }, bits: out.bits };
}

/** Where bits that are no part of anything larger go: rows of width / 8 bytes. */
export function packedBits(width: number, rows: number): BitTarget {
  const rowBytes = width / 8;
  return { bits: new Uint8Array(rowBytes * rows), at: 0, rowBytes, bytes: rowBytes, rows };
}

/**
 * Ink of each layer where its shape is in and its tone reaches the threshold; a tone of 65535 is solid under any screen. Plates that are fields need not be
 * there at the film's resolution.
 *
 * @returns what each layer that is a field comes to; null for the others, whose tones may be those of the film already.
 */
export function screenLayers({ width, rows, field, layers }: ScreenRegion): (LaidTone | null)[] {
  const takenBy = new Map<number, Uint16Array>();
  for (const layer of layers) {
    const { shape, tile, originX, originY, stack, out } = layer;
    if (stack && !takenBy.has(stack.group)) takenBy.set(stack.group, new Uint16Array(width * rows));
    const taken = stack && takenBy.get(stack.group)!;
    const toneRow = toneRows(layer.tone, field, width);
    for (let row = 0; row < rows; row++) {
      const tones = toneRow(row);
      for (let x = 0; x < width; x += 8) {
        let byte = 0;
        const position = tilePosition(tile, originX + x, originY + row);
        for (let bit = 0; bit < 8; bit++) {
          const i = row * width + x + bit;
          if (shape && shape[i] === 0) continue;
          const start = taken ? taken[i]! : 0;
          const tone = tones ? tones[x + bit]! : FULL;
          const end = start + (stack?.onFilm ? stack.onFilm[tone]! : tone);
          const threshold = tile.thresholds[position + bit]!;
          if ((start < threshold && end >= threshold) || end - FULL >= threshold) byte |= 128 >> bit;
          if (taken) taken[i] = end % FULL;
        }
        if (out && row < out.rows && x >> 3 < out.bytes) {
          out.bits[out.at + row * out.rowBytes + (x >> 3)] = byte;
        }
      }
    }
  }
  return layers.map(({ tone }) =>
    tone.kind === 'field' ? weighField({ ...field!, tones: tone.values }) : null,
  );
}

/** The tones of a row of the region; null where it is solid. */
function toneRows(
  tone: LayerTone,
  field: FieldMapping | null,
  width: number,
): (row: number) => Uint16Array | null {
  if (tone.kind === 'solid') return () => null;
  if (tone.kind === 'plane') return (row) => tone.values.subarray(row * width, (row + 1) * width);
  const { stride, left, pixels, across, down } = field!;
  const spread = [new Uint16Array(width), new Uint16Array(width)] as const;
  const between = new Uint16Array(width);
  const expanded = (y: number): Uint16Array => {
    const at = y * stride + left;
    expandRow(tone.values.subarray(at, at + pixels), across, spread[y & 1]!);
    return spread[y & 1]!;
  };
  return (row) => {
    const part = down.part?.[row] ?? 0;
    const above = expanded(down.from[row]!);
    if (part === 0) return above;
    const below = expanded(down.from[row]! + 1);
    for (let x = 0; x < width; x++) between[x] = blend(above[x]!, below[x]!, part);
    return between;
  };
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
