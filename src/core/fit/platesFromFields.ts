import { type Allocator, TONED, layFields } from '../raster';
import { type LabelMap, pixelSpan, toneExpansion } from '../separation';
import type { Plate } from '../sheet';

/** Plates before fit whose tones stand in fields. */
export interface FieldPlates {
  /** 255 = inside of the artwork. */
  readonly inside: Uint8Array;
  /** 255 = beyond it. */
  readonly bare: Uint8Array;
  /** For each plate its tones, 0..65535; 0 beyond the artwork. */
  readonly tones: readonly Uint16Array[];
}

/** @param labels TONED inside of the artwork, with fields of all plates. */
export function platesFromFields(
  { label, rect, tones: source }: LabelMap,
  plates: readonly Plate[],
  memory: Allocator,
): FieldPlates {
  const { shares, mapping, fields } = source!;
  const { scaleX, scaleY, offsetX, offsetY } = mapping;
  const inside = memory.bytes(label.length);
  const bare = memory.bytes(label.length);
  for (let i = 0; i < label.length; i++) (label[i] === TONED ? inside : bare)[i] = 255;
  const tones = plates.map(() => memory.words(label.length));
  const [left, right] = pixelSpan(rect.x, rect.width, scaleX, offsetX, shares.width);
  const pixels = right - left + 1;
  layFields({
    label,
    width: rect.width,
    height: rect.height,
    fields: plates.map(({ id }) => fields!.get(id)!),
    stride: shares.width,
    left,
    pixels,
    across: toneExpansion(rect.x, rect.width, scaleX, offsetX - left, pixels),
    down: toneExpansion(rect.y, rect.height, scaleY, offsetY, shares.height),
    tones,
  });
  return { inside, bare, tones };
}
