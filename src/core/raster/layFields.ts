import { type Expansion, blend, expandRow } from './expansion';
import { LEAST_TONE, TONED } from './layTones';

export interface FieldArguments {
  /** One for each pixel of the region; only where it is TONED anything is laid. */
  readonly label: Uint8Array;
  readonly width: number;
  readonly height: number;
  /** Tones at the artwork's pixels, 0..65535, one plane for each plate. */
  readonly fields: readonly Uint16Array[];
  /** Pixels in a row of the fields; those that count begin at `left`. */
  readonly stride: number;
  readonly left: number;
  readonly pixels: number;
  readonly across: Expansion;
  readonly down: Expansion;
  /** For each plate its tones in the region; given as 0. What is too little to print stays so. */
  readonly tones: readonly Uint16Array[];
}

/** Lays tones that stand at the artwork's pixels: interpolated first across, then down, as `layTones` does. */
export function layFields(args: FieldArguments): void {
  const { label, width, height, fields, stride, left, pixels, across, down, tones } = args;
  const rows = [0, 1].map(() => fields.map(() => new Uint16Array(width)));
  const held = [-1, -1];
  const rowAt = (y: number): readonly Uint16Array[] => {
    const slot = y & 1;
    const expanded = rows[slot]!;
    if (held[slot] !== y) {
      const from = y * stride + left;
      fields.forEach((field, k) => expandRow(field.subarray(from, from + pixels), across, expanded[k]!));
    }
    held[slot] = y;
    return expanded;
  };
  for (let row = 0; row < height; row++) {
    const start = row * width;
    const labels = label.subarray(start, start + width);
    const first = labels.indexOf(TONED);
    if (first < 0) continue;
    const end = labels.lastIndexOf(TONED) + 1;
    const part = down.part?.[row] ?? 0;
    const above = rowAt(down.from[row]!);
    const below = part > 0 ? rowAt(down.from[row]! + 1) : above;
    tones.forEach((plane, k) => {
      const [one, other] = [above[k]!, below[k]!];
      for (let x = first; x < end; x++) {
        if (labels[x] !== TONED) continue;
        const tone = blend(one[x]!, other[x]!, part);
        if (tone >= LEAST_TONE) plane[start + x] = tone;
      }
    });
  }
}
