import { type Allocator, type RasterKernels, sortLabels } from '../raster';
import { type LabelMap, pixelSpan, toneExpansion } from '../separation';
import { type DraftSetting, labelTables } from './draftSetting';
import type { FitState } from './fitState';

/**
 * Plates before fit whose tones stand in fields: the base is one of them, and where the artwork ends the garment is bare. A colour that is kept out
 * of the tones is solid on its plate, over as much base as that wants, and nothing else prints there.
 *
 * @param labels TONED or a kept colour inside of the artwork, with fields of all plates.
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
  const shapes = plates.map(() => memory.bytes(count));
  const tones = plates.map(() => memory.words(count));
  const base = plates.findIndex(({ role }) => role === 'underbase');
  const nowhere = memory.bytes(count);
  memory.scratch(() => {
    const planeOf = <T>(planes: readonly T[]) =>
      setting.plates.map((plate) => planes[plates.indexOf(plate)] ?? null);
    const based = base < 0 ? memory.bytes(count) : shapes[base]!;
    const baseStrength = base < 0 ? memory.words(count) : tones[base]!;
    const kept = { shapes: planeOf(shapes), tones: planeOf(tones), bare, based, baseStrength };
    sortLabels({ ...labelTables(setting, setting.plates), label, ...kept, dark: memory.bytes(count) });
  });
  for (let i = 0; i < count; i++) if (bare[i] === 0) inside[i] = 255;
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
