import { labFromRgb8, parseHexColour } from '../colour';
import { type Allocator, runEnd, wordsOf } from '../raster';
import type { LabelMap } from '../separation';
import type { JobSheet, Plate } from '../sheet';

/** Shape and tone of one colour plate before fit; both may be written by the steps that follow. */
export interface DraftPlane {
  readonly plate: Plate;
  shape: Uint8Array;
  tone: Uint16Array | null;
  /** Tone that ink added at its edges gets: the strongest tint on this plate. */
  readonly edgeTone: number;
}

const NO_PLATE = -1;
/** From this lightness (L*) down, an ink without base counts as dark: base may run under it unseen. */
const DARK_LIGHTNESS = 40;

/** Whether base may run under a plate unseen: a dark ink that has none of its own. */
export function isDarkUnbased(plate: Plate): boolean {
  return plate.baseStrength === 0 && labFromRgb8(parseHexColour(plate.ink.colour))[0] < DARK_LIGHTNESS;
}

/**
 * The base under a mixture of two labels. Where one of them has no base the base fades as the square of the ink, so
 * that its dots stay inside the ink's dots as a choked edge stays inside the ink's edge.
 */
function fadingBase(share: number, first: number, second: number): number {
  const s = share / 65535;
  if (first > 0 && second > 0) return Math.round(s * first + (1 - s) * second);
  return Math.round(first > 0 ? s * s * first : (1 - s) * (1 - s) * second);
}

/** A share below this prints nothing that anybody could see or hold. */
const LEAST_TONE = 128;

/** The plates before fit, and what follows from the labels for the base. */
export interface DraftPlates {
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
}

/**
 * Sorts a label map into plates: each palette colour goes to its plate with its tint; what has no plate is left
 * bare. Where the artwork has tone, each plate gets its share of the mixture.
 *
 * A tint is dots of ink over a full base, so a tint does not weaken the base; where the artwork fades out, the base fades
 * before it.
 */
export function platesFromLabels(labels: LabelMap, sheet: JobSheet, memory: Allocator): DraftPlates {
  const { first, second, share } = labels;
  const count = first.length;
  const colourPlates = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const plateOf = new Int8Array(256).fill(NO_PLATE);
  const tintOf = new Uint16Array(256);
  const strengthOf = new Uint16Array(256);
  const darkOf = new Uint8Array(256);
  sheet.palette.forEach((entry, index) => {
    const k = colourPlates.findIndex((plate) => plate.id === entry.plateId);
    if (k < 0 || entry.tint === 0) return;
    plateOf[index] = k;
    tintOf[index] = Math.round(entry.tint * 65535);
    strengthOf[index] = Math.round(colourPlates[k]!.baseStrength * 65535);
    darkOf[index] = isDarkUnbased(colourPlates[k]!) ? 1 : 0;
  });
  const drafts: DraftPlane[] = colourPlates.map((plate, index) => ({
    plate,
    shape: memory.bytes(count),
    tone: null,
    edgeTone: tintOf.reduce((most, tint, k) => (plateOf[k] === index ? Math.max(most, tint) : most), 0),
  }));
  const bare = memory.bytes(count);
  const based = memory.bytes(count);
  const dark = memory.bytes(count);
  const baseStrength = memory.words(count);
  const toned = (draft: DraftPlane): Uint16Array => (draft.tone ??= memory.words(count).fill(65535));
  const { width } = labels.rect;
  // Adds a share of a mixture to a plate; two of them may be on one.
  const add = (index: number, i: number, tone: number): boolean => {
    const draft = drafts[index]!;
    const before = draft.shape[i] === 0 ? 0 : draft.tone ? draft.tone[i]! : 65535;
    const sum = Math.min(65535, before + tone);
    if (sum < LEAST_TONE) return false;
    draft.shape[i] = 255;
    if (sum < 65535) toned(draft)[i] = sum;
    else if (draft.tone) draft.tone[i] = sum;
    return true;
  };
  /** Mixtures from one place on, as far as they follow each other in a row; returns the place behind the last. */
  const addMixtures = (from: number, end: number): number => {
    let i = from;
    for (; i < end; i++) {
      const part = share[i]!;
      if (part === 65535) break;
      const label = first[i]!;
      const other = second[i]!;
      const index = plateOf[label]!;
      const otherIndex = plateOf[other]!;
      let prints = false;
      if (index !== NO_PLATE) prints = add(index, i, Math.round((tintOf[label]! * part) / 65535));
      if (otherIndex !== NO_PLATE) {
        prints = add(otherIndex, i, Math.round((tintOf[other]! * (65535 - part)) / 65535)) || prints;
      }
      if (!prints) bare[i] = 255;
      const strength = fadingBase(part, strengthOf[label]!, strengthOf[other]!);
      baseStrength[i] = strength;
      if (strength > 0) based[i] = 255;
      else if (darkOf[label] !== 0) dark[i] = 255;
    }
    return i;
  };
  const view = wordsOf(first);
  for (let i = 0; i < count;) {
    const label = first[i]!;
    const index = plateOf[label]!;
    if (share[i] === 65535) {
      // Flat artwork comes in runs of one label.
      let end = runEnd(first, view, i, label);
      if (labels.toned) for (let k = i + 1; k < end; k++) if (share[k] !== 65535) end = k;
      if (index === NO_PLATE) bare.fill(255, i, end);
      else {
        const draft = drafts[index]!;
        draft.shape.fill(255, i, end);
        if (tintOf[label]! < 65535) toned(draft).fill(tintOf[label]!, i, end);
        if (strengthOf[label]! > 0) {
          baseStrength.fill(strengthOf[label]!, i, end);
          based.fill(255, i, end);
        } else if (darkOf[label] !== 0) dark.fill(255, i, end);
      }
      i = end;
      continue;
    }
    i = addMixtures(i, Math.min(count, i + width - (i % width)));
  }
  const solidBase = !labels.toned && strengthOf.every((strength) => strength === 0 || strength === 65535);
  return { drafts, bare, based, dark, baseStrength, solidBase };
}
