import { type Allocator, type RasterKernels, TONED } from '../raster';
import { type LabelMap, pixelSpan, toneExpansion } from '../separation';
import type { Plate } from '../sheet';

/** Plates before fit whose tones stand in fields. */
export interface FieldPlates {
  /** 255 = inside of the artwork. */
  readonly inside: Uint8Array;
  /** 255 = beyond it. */
  readonly bare: Uint8Array;
  /** For each plate where it prints, 255, and how much, 0..65535; elsewhere tones mean nothing. */
  readonly shapes: readonly Uint8Array[];
  readonly tones: readonly Uint16Array[];
}

/** @param labels TONED inside of the artwork, with fields of all plates. */
export function platesFromFields(
  { label, rect, tones: source }: LabelMap,
  plates: readonly Plate[],
  kernels: RasterKernels,
  memory: Allocator,
): FieldPlates {
  const { shares, mapping, fields } = source!;
  const { scaleX, scaleY, offsetX, offsetY } = mapping;
  const count = label.length;
  const inside = memory.bytes(count);
  const bare = memory.bytes(count);
  for (let i = 0; i < count; i++) (label[i] === TONED ? inside : bare)[i] = 255;
  const shapes = plates.map(() => memory.bytes(count));
  const tones = plates.map(() => memory.words(count));
  const own = plates.map(({ id }) => fields!.get(id)!);
  const [left, right] = pixelSpan(rect.x, rect.width, scaleX, offsetX, shares.width);
  const pixels = right - left + 1;
  memory.scratch(() =>
    kernels.layTones({
      label,
      shapes,
      tones,
      // The base is one of the plates, and no ink goes without it on purpose: what follows from labels is not wanted.
      bare: memory.bytes(count),
      based: memory.bytes(count),
      dark: memory.bytes(count),
      baseStrength: memory.words(count),
      width: rect.width,
      height: rect.height,
      pixels,
      rowOf: (y, into) => {
        const from = y * shares.width + left;
        own.forEach((field, k) => into[k]!.set(field.subarray(from, from + pixels)));
        return (1 << own.length) - 1;
      },
      across: toneExpansion(rect.x, rect.width, scaleX, offsetX - left, pixels),
      down: toneExpansion(rect.y, rect.height, scaleY, offsetY, shares.height),
    }),
  );
  return { inside, bare, shapes, tones };
}
