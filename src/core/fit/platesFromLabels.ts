import { labFromRgb8, parseHexColour } from '../colour';
import type { Rect } from '../geometry';
import {
  type Allocator,
  LEAST_TONE,
  type LabelTables,
  NO_PLATE,
  type RasterKernels,
  labelsIn,
  sortLabels,
} from '../raster';
import { type LabelMap, type ToneSource, pixelSpan, toneExpansion } from '../separation';
import { mostTone } from '../stages';
import { type JobSheet, type Plate, stagesOf } from '../sheet';
import { ToneRows } from './toneRows';

/** Shape and tone of one colour plate before fit; both may be written by the steps that follow. */
export interface DraftPlane {
  readonly plate: Plate;
  shape: Uint8Array;
  tone: Uint16Array | null;
  /** Tone that ink added at its edges gets: the strongest tint on this plate. */
  readonly edgeTone: number;
}

/** From this lightness (L*) down, an ink without base counts as dark: base may run under it unseen. */
const DARK_LIGHTNESS = 40;

/** Whether base may run under a plate unseen: a dark ink that has none of its own. */
export function isDarkUnbased(plate: Plate): boolean {
  return plate.baseStrength === 0 && labFromRgb8(parseHexColour(plate.ink.colour))[0] < DARK_LIGHTNESS;
}

/** The plates before fit, and what follows from the labels for the base. */
export interface DraftPlates {
  /** None where only the base is asked for. */
  readonly drafts: DraftPlane[];
  /** 255 = bare garment: no plate prints here. */
  readonly bare: Uint8Array;
  /** 255 = an ink that wants a base prints here. */
  readonly based: Uint8Array;
  /** 255 = a dark ink without base prints here, and none that wants one. */
  readonly dark: Uint8Array;
  /** How much base each place wants, 0..65535. */
  readonly baseStrength: Uint16Array;
  /** Whether every place wants all of the base or none. */
  readonly solidBase: boolean;
  /** How much base, 0..65535, is laid for a strength of 0..1. */
  readonly baseTone: (strength: number) => number;
}

/**
 * Sorts a label map into plates: each palette colour goes to its plate with its tint; what has no plate is left
 * bare. Where the artwork has tone, each plate gets its share of every pixel, interpolated between the artwork's.
 *
 * A tint is dots of ink over a full base, so a tint does not weaken the base; where the artwork fades out, the base fades
 * before it.
 */
export function platesFromLabels(
  labels: LabelMap,
  sheet: JobSheet,
  kernels: RasterKernels,
  memory: Allocator,
  wanted: 'all' | 'base' = 'all',
): DraftPlates {
  const { label, rect, tones } = labels;
  const count = label.length;
  const colourPlates = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const tables = labelTables(sheet, colourPlates);
  const { strengthOf } = tables;
  const rows = tones && new ToneRows(tones.shares, tables, colourPlates);
  const spans = tones && spansOf(tones, rect);
  const draft = (): DraftPlane[] => {
    const toned = rows && spans ? rows.printing(spans.across, spans.down) : [];
    return draftPlanes(colourPlates, tables, toned, label, memory);
  };
  const drafts = wanted === 'all' ? draft() : [];
  const bare = memory.bytes(count);
  const based = memory.bytes(count);
  const dark = memory.bytes(count);
  const baseStrength = memory.words(count);
  const planes = {
    label,
    shapes: colourPlates.map((_, index) => drafts[index]?.shape ?? null),
    tones: colourPlates.map((_, index) => drafts[index]?.tone ?? null),
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
  const solidBase = !tones && strengthOf.every((strength) => strength === 0 || strength === 65535);
  return { drafts, bare, based, dark, baseStrength, solidBase, baseTone: baseTones(sheet) };
}

/** @param toned for each plate whether it has tone in the region. */
function draftPlanes(
  plates: readonly Plate[],
  { plateOf, tintOf }: LabelTables,
  toned: readonly boolean[],
  labels: Uint8Array,
  memory: Allocator,
): DraftPlane[] {
  const count = labels.length;
  const seen = labelsIn(labels);
  // Most plates are nowhere near: one plane, which nothing is written to, stands for all of them.
  let nowhere: Uint8Array | null = null;
  return plates.map((plate, index) => {
    const tints = tintOf.filter((_, k) => plateOf[k] === index);
    const isHere = toned[index] === true || seen.some((each, k) => each !== 0 && plateOf[k] === index);
    if (!isHere) nowhere ??= memory.bytes(count);
    const hasTone = toned[index] === true || (isHere && tints.some((tint) => tint < 65535));
    return {
      plate,
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

/** How much base, 0..65535, is laid for a strength of 0..1. */
function baseTones({ plates }: JobSheet): (strength: number) => number {
  const base = plates.find(({ role }) => role === 'underbase');
  const most = mostTone(base ? stagesOf(base) : []);
  return (strength) => Math.min(most, Math.round(strength * 65535));
}

export function labelTables(sheet: JobSheet, colourPlates: readonly Plate[]): LabelTables {
  const plateOf = new Int8Array(256).fill(NO_PLATE);
  const tintOf = new Uint16Array(256);
  const strengthOf = new Uint16Array(256);
  const darkOf = new Uint8Array(256);
  const baseTone = baseTones(sheet);
  sheet.palette.forEach((entry, index) => {
    const k = colourPlates.findIndex((plate) => plate.id === entry.plateId);
    if (k < 0) return;
    const tint = Math.min(mostTone(stagesOf(colourPlates[k]!)), Math.round(entry.tint * 65535));
    if (tint < LEAST_TONE) return;
    plateOf[index] = k;
    tintOf[index] = tint;
    strengthOf[index] = baseTone(colourPlates[k]!.baseStrength);
    darkOf[index] = isDarkUnbased(colourPlates[k]!) ? 1 : 0;
  });
  return { plateOf, tintOf, strengthOf, darkOf };
}
