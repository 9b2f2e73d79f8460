import { LEAST_TONE, MOSTLY, TONED } from './codes';
import { type Expansion, blend, expandRow } from './expansion';

/** The plates of labels, and what follows for the base. What is given as 0 is so where nothing was laid yet. */
export interface LabelPlanes {
  /** One for each pixel. */
  readonly label: Uint8Array;
  /** For each plate where it prints, 0 or 255; given as 0. Null for plates that only the other planes are made for. */
  readonly shapes: readonly (Uint8Array | null)[];
  /** How much, 0..65535; given as 65535. Null for plates with no tone, and with no shape. */
  readonly tones: readonly (Uint16Array | null)[];
  /** 255 where no plate prints, where one with base prints, where a dark one without does; given as 0. */
  readonly bare: Uint8Array;
  readonly based: Uint8Array;
  readonly dark: Uint8Array;
  /** How much base each place wants, 0..65535; given as 0. */
  readonly baseStrength: Uint16Array;
}

/** Only where a label is TONED anything is laid. */
export interface ToneArguments extends LabelPlanes {
  readonly width: number;
  readonly height: number;
  /** Artwork pixels in a row. */
  readonly pixels: number;
  /**
   * Writes one row of the artwork's pixels: for each plate its tone, then how much base is wanted, then the share of dark inks
   * without base, all 0..65535. Returns which of them are not all 0, the first as the lowest bit.
   */
  readonly rowOf: (y: number, into: readonly Uint16Array[]) => number;
  readonly across: Expansion;
  readonly down: Expansion;
}

/** Lays the plates where the artwork has tone: what stands at its pixels is interpolated, first across, then down. */
export function layTones(args: ToneArguments): void {
  const { label, width, across, down, shapes, tones, bare, based, dark, baseStrength } = args;
  const plates = shapes.length;
  const planes = plates + 2;
  const source = Array.from({ length: planes }, () => new Uint16Array(args.pixels));
  const rows = [0, 1].map(() => Array.from({ length: planes }, () => new Uint16Array(width)));
  const held = [-1, -1];
  const rowAt = (y: number): readonly Uint16Array[] => {
    const slot = y & 1;
    const expanded = rows[slot]!;
    if (held[slot] !== y) {
      args.rowOf(y, source);
      source.forEach((row, k) => expandRow(row, across, expanded[k]!));
    }
    held[slot] = y;
    return expanded;
  };
  for (let row = 0; row < args.height; row++) {
    const next = label.indexOf(TONED, row * width);
    if (next < 0) return;
    row = Math.floor(next / width);
    const part = down.part?.[row] ?? 0;
    const above = rowAt(down.from[row]!);
    const below = part > 0 ? rowAt(down.from[row]! + 1) : above;
    const toneAt = (plane: number, x: number) => blend(above[plane]![x]!, below[plane]![x]!, part);
    for (let x = 0, i = row * width; x < width; x++, i++) {
      if (label[i] !== TONED) continue;
      let printed = false;
      for (let k = 0; k < plates; k++) {
        const tone = toneAt(k, x);
        if (tone < LEAST_TONE) continue;
        printed = true;
        const shape = shapes[k]!;
        if (!shape) continue;
        shape[i] = 255;
        tones[k]![i] = tone;
      }
      if (!printed) bare[i] = 255;
      const base = toneAt(plates, x);
      if (base >= LEAST_TONE) {
        based[i] = 255;
        baseStrength[i] = base;
      } else if (toneAt(plates + 1, x) >= MOSTLY) dark[i] = 255;
    }
  }
}
