import { BARE, type LabelMap } from '../separation';
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
/** A share below this prints nothing that anybody could see or hold. */
const LEAST_TONE = 128;

/**
 * Sorts a label map into plates: each palette colour goes to its plate with its tint; what has no plate is left
 * bare. Where the artwork has tone, each plate gets its share of the mixture.
 */
export function platesFromLabels(labels: LabelMap, sheet: JobSheet): DraftPlane[] {
  const count = labels.first.length;
  const colourPlates = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const plateOf = new Int8Array(256).fill(NO_PLATE);
  const tintOf = new Float64Array(256);
  sheet.palette.forEach((entry, index) => {
    plateOf[index] = colourPlates.findIndex((plate) => plate.id === entry.plateId && entry.tint > 0);
    tintOf[index] = entry.tint * 65535;
  });
  plateOf[BARE] = NO_PLATE;
  const drafts: DraftPlane[] = colourPlates.map((plate, index) => {
    const tints = sheet.palette.filter((_, k) => plateOf[k] === index).map((entry) => entry.tint);
    return {
      plate,
      shape: new Uint8Array(count),
      tone: null,
      edgeTone: Math.round(65535 * Math.max(0, ...tints)),
    };
  });
  const add = (index: number, i: number, tone: number): void => {
    const draft = drafts[index]!;
    const before = draft.shape[i] === 0 ? 0 : draft.tone ? draft.tone[i]! : 65535;
    const sum = Math.min(65535, before + tone);
    if (sum < LEAST_TONE) return;
    draft.shape[i] = 255;
    if (sum < 65535 && !draft.tone) draft.tone = new Uint16Array(count).fill(65535);
    if (draft.tone) draft.tone[i] = sum;
  };
  for (let i = 0; i < count; i++) {
    const p1 = plateOf[labels.first[i]!]!;
    const share = labels.share[i]!;
    if (p1 !== NO_PLATE) add(p1, i, Math.round((tintOf[labels.first[i]!]! * share) / 65535));
    if (share === 65535) continue;
    const p2 = plateOf[labels.second[i]!]!;
    if (p2 !== NO_PLATE) add(p2, i, Math.round((tintOf[labels.second[i]!]! * (65535 - share)) / 65535));
  }
  return drafts;
}

/** Where no plate prints: 255 = bare garment. */
export function bareGarment(drafts: readonly DraftPlane[], count: number): Uint8Array {
  const bare = new Uint8Array(count).fill(255);
  for (const { shape } of drafts) {
    for (let i = 0; i < count; i++) if (shape[i] !== 0) bare[i] = 0;
  }
  return bare;
}
