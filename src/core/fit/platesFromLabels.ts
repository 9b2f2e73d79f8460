import { type Allocator, type LabelTables, type RasterKernels, labelsIn, sortLabels } from '../raster';
import { type LabelMap, type ToneSource, pixelSpan, toneExpansion } from '../separation';
import type { Rect } from '../geometry';
import { type DraftPlate, type DraftSetting, colourPlates, isOfBase, labelTables } from './draftSetting';
import type { DraftInk, FitState } from './fitState';
import { ToneRows } from './toneRows';

/**
 * Sorts a label map into plates: each palette colour goes to its plate with its tint; what has no plate is left
 * bare. Where the artwork has tone, each plate gets its share of every pixel, interpolated between the artwork's.
 *
 * A tint is dots of ink over a full base, so a tint does not weaken the base; where the artwork fades out, the base fades
 * before it.
 *
 * @param wanted all plates, or the base alone.
 */
export function platesFromLabels(
  labels: LabelMap,
  setting: DraftSetting,
  kernels: RasterKernels,
  memory: Allocator,
  wanted: 'all' | 'base',
): FitState {
  const { label, rect, tones } = labels;
  const count = label.length;
  const plates = colourPlates(setting);
  const tables = labelTables(setting, plates);
  const rows = tones && new ToneRows(tones.shares, tables, plates);
  const spans = tones && spansOf(tones, rect);
  const draft = (): readonly (DraftInk | null)[] => {
    const toned = rows && spans ? rows.printing(spans.across, spans.down) : [];
    return draftInks(plates, tables, toned, label, memory, wanted);
  };
  // Of the base alone only what it prints itself is a plate.
  const made = wanted === 'all' || plates.some(isOfBase) ? draft() : [];
  const drafts = made.filter((each) => each !== null);
  const bare = memory.bytes(count);
  const based = memory.bytes(count);
  const dark = memory.bytes(count);
  const baseStrength = memory.words(count);
  const planes = {
    label,
    shapes: plates.map((_, index) => made[index]?.shape ?? null),
    tones: plates.map((_, index) => made[index]?.tone ?? null),
    bare,
    based,
    dark,
    baseStrength,
  };
  sortLabels({ ...tables, ...planes });
  if (tones && rows && spans) {
    const { shares, mapping } = tones;
    const [left, right] = spans.across;
    const pixels = right - left + 1;
    kernels.layTones({
      ...planes,
      width: rect.width,
      height: rect.height,
      pixels,
      rowOf: (y, into) => rows.fill(left, y, pixels, into),
      across: toneExpansion(rect.x, rect.width, mapping.scaleX, mapping.offsetX - left, pixels),
      down: toneExpansion(rect.y, rect.height, mapping.scaleY, mapping.offsetY, shares.height),
    });
  }
  return {
    inks: { drafts, bare, based, dark },
    highlights: drafts.flatMap(({ id, role, shape }) =>
      role === 'highlight' ? [{ id, shape, outline: shape }] : [],
    ),
    base: setting.plates.some(({ role }) => role === 'underbase')
      ? { shape: based, strength: baseStrength }
      : null,
  };
}

/** @param toned for each plate whether it has tone in the region. */
function draftInks(
  plates: readonly DraftPlate[],
  { plateOf, tintOf }: LabelTables,
  toned: readonly boolean[],
  labels: Uint8Array,
  memory: Allocator,
  wanted: 'all' | 'base',
): (DraftInk | null)[] {
  const count = labels.length;
  const seen = labelsIn(labels);
  // Most plates are nowhere near: one plane, which nothing is written to, stands for all of them.
  let nowhere: Uint8Array | null = null;
  return plates.map((plate, index): DraftInk | null => {
    if (wanted === 'base' && !isOfBase(plate)) return null;
    const tints = tintOf.filter((_, k) => plateOf[k] === index);
    const isHere = toned[index] === true || seen.some((each, k) => each !== 0 && plateOf[k] === index);
    if (!isHere) nowhere ??= memory.bytes(count);
    const hasTone = toned[index] === true || (isHere && tints.some((tint) => tint < 65535));
    return {
      id: plate.id,
      role: plate.role,
      baseTone: plate.baseTone,
      shape: isHere ? memory.bytes(count) : nowhere!,
      tone: hasTone ? memory.words(count).fill(65535) : null,
      edgeTone: Math.max(0, ...tints),
    };
  });
}

/** The pixels of the artwork that a region's tones come from. */
function spansOf({ shares, mapping }: ToneSource, rect: Rect) {
  const { scaleX, scaleY, offsetX, offsetY } = mapping;
  return {
    across: pixelSpan(rect.x, rect.width, scaleX, offsetX, shares.width),
    down: pixelSpan(rect.y, rect.height, scaleY, offsetY, shares.height),
  };
}
