import { type Allocator, type RasterKernels, TONED } from '../raster';
import { type LabelMap, pixelSpan, toneExpansion } from '../separation';
import type { DraftSetting } from './draftSetting';
import type { FitState } from './fitState';

/**
 * Plates before fit whose tones stand in fields: the base is one of them, and where the artwork ends the garment is bare.
 *
 * @param labels TONED inside of the artwork, with fields of all plates.
 * @param wanted all plates, or the base alone.
 */
export function platesFromFields(
  { label, rect, tones: source }: LabelMap,
  setting: DraftSetting,
  kernels: RasterKernels,
  memory: Allocator,
  wanted: 'all' | 'base',
): FitState {
  const { shares, mapping, fields } = source!;
  const { scaleX, scaleY, offsetX, offsetY } = mapping;
  const count = label.length;
  const plates = setting.plates.filter(({ role }) => wanted === 'all' || role === 'underbase');
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
  const nowhere = memory.bytes(count);
  const base = plates.findIndex(({ role }) => role === 'underbase');
  const drafts = plates.flatMap(({ id, role, baseTone }, k) =>
    role === 'underbase' ? [] : [{ id, role, baseTone, shape: shapes[k]!, tone: tones[k]!, edgeTone: 65535 }],
  );
  return {
    inks: { drafts, bare, based: shapes[base] ?? nowhere, dark: nowhere },
    highlights: drafts.flatMap(({ id, role, shape }) =>
      role === 'highlight' ? [{ id, shape, outline: inside }] : [],
    ),
    base: base < 0 ? null : { shape: shapes[base]!, strength: tones[base]! },
  };
}
