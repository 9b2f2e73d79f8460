import { type Allocator, clearFrom, forEachRun, isEmpty, keepIn, nearBoundaryHalo, orInto } from '../raster';
import { hasFilePlates } from '../sheet';
import { copyOf } from './choke';
import { CRISP_HALO, SEEN, crispDraft } from './crispDraft';
import { isOfBase } from './draftSetting';
import type { DraftInk } from './fitState';
import { narrowPlaces, narrowPlacesHalo } from './openings';
import { type StagePlace, shapeStage } from './shapeStage';
import { strongPart } from './strongPart';

interface Setting {
  readonly mm: number;
  /** Openings of bare garment that are narrower stay as wide as they are; 0: they may fill. */
  readonly guardMm: number;
  /** Whether plates came with the file, edges and all: nothing tells where they end but their tones. */
  readonly isSupplied: boolean;
}

/** Grows every colour into bare garment; where two reach the same place, both print there. */
export const SPREAD = shapeStage<Setting>({
  name: 'spread',
  setting: (sheet) =>
    sheet.fit.spreadMm > 0
      ? { mm: sheet.fit.spreadMm, guardMm: sheet.fit.guardMm, isSupplied: hasFilePlates(sheet) }
      : null,
  looks: ({ mm, guardMm, isSupplied }, pxPerMm) => {
    const guarded = guardMm > 0 ? narrowPlacesHalo(guardMm * pxPerMm) : 0;
    const grown = Math.max(nearBoundaryHalo(mm * pxPerMm), isSupplied ? reachOf(mm * pxPerMm) : 0);
    return { inks: Math.max(grown, guarded) + (isSupplied ? CRISP_HALO : 0), base: 0 };
  },
  writes: ['inks', 'base'],
  growsMm: ({ mm }) => mm,
  baseAlone: false,
  touches: ({ bareNear }, { isSupplied }) => (bareNear || isSupplied ? 'everything' : 'nothing'),
  apply({ inks, base }, { mm, guardMm, isSupplied }, place) {
    const { width, height, pxPerMm, kernels, memory } = place;
    if (isSupplied) {
      const free = guardMm > 0 ? openTo(inks.bare, guardMm * pxPerMm, place) : inks.bare;
      // The base, and the bare garment that it is drawn back from, stay as they are: it has an edge of its own.
      return {
        inks: { ...inks, drafts: inks.drafts.map((draft) => grownCrisp(draft, free, mm, place)) },
        base,
      };
    }
    const bare = copyOf(inks.bare, memory);
    const based = copyOf(inks.based, memory);
    const strength = base && memory.words(width * height);
    strength?.set(base!.strength);
    const taken = memory.bytes(width * height);
    const free = guardMm > 0 ? openTo(inks.bare, guardMm * pxPerMm, place) : inks.bare;
    const drafts = inks.drafts.map((draft) => {
      const { edgeTone, role, shape, baseTone } = draft;
      // White is not to grow, whichever screen prints it.
      if (!(edgeTone > 0) || role === 'highlight' || isOfBase(draft) || isEmpty(shape)) return draft;
      const grown = copyOf(shape, memory);
      const tone = tonesOf(draft, memory);
      memory.scratch(() => {
        const near = memory.bytes(width * height);
        kernels.markNearBoundary(strongPart(draft, memory), width, height, mm * pxPerMm, near);
        keepIn(near, free);
        orInto(taken, near);
        orInto(grown, near);
        if (baseTone > 0) orInto(based, near);
        forEachRun(near, (from, to) => {
          tone?.fill(edgeTone, from, to);
          if (strength) for (let i = from; i < to; i++) strength[i] = Math.max(strength[i]!, baseTone);
        });
      });
      return { ...draft, shape: grown, tone };
    });
    // What one colour takes stands open to the others.
    clearFrom(bare, taken);
    return { inks: { ...inks, drafts, bare, based }, base: strength && { shape: based, strength } };
  },
});

function reachOf(spreadPx: number): number {
  return Math.ceil(spreadPx) + 1;
}

/**
 * A plate that came with the file, grown into bare garment as strongly as it is where it ends, tints too; what fades out until it is hardly seen ends nowhere, and stays.
 */
function grownCrisp(
  draft: DraftInk,
  free: Uint8Array,
  mm: number,
  { width, height, pxPerMm, kernels, memory }: StagePlace,
): DraftInk {
  if (draft.role === 'highlight' || isEmpty(draft.shape)) return draft;
  const shape = copyOf(draft.shape, memory);
  const tone = memory.words(shape.length);
  if (draft.tone) tone.set(draft.tone);
  else tone.fill(65535);
  memory.scratch(() => {
    const { whole, sure } = crispDraft(draft, width, height, memory);
    const strong = whole.tone ?? tone;
    const seen = memory.bytes(shape.length);
    forEachRun(shape, (from, to) => {
      for (let i = from; i < to; i++) if (strong[i]! >= SEEN) seen[i] = 255;
    });
    const near = memory.bytes(shape.length);
    kernels.markNearBoundary(seen, width, height, mm * pxPerMm, near);
    keepIn(near, free);
    if (isEmpty(near)) return;
    const nearest = memory.ints(shape.length);
    kernels.nearestSet(seen, width, height, reachOf(mm * pxPerMm), nearest);
    forEachRun(near, (from, to) => {
      for (let i = from; i < to; i++) {
        const at = nearest[i]!;
        if (at < 0) continue;
        shape[i] = 255;
        tone[i] = strong[at]!;
      }
    });
    // Partly covered pixels of an edge that has moved away.
    forEachRun(seen, (from, to) => {
      for (let i = from; i < to; i++)
        if (sure.shape[i] === 0 && isBeside(near, i, width, height)) tone[i] = strong[i]!;
    });
  });
  return { ...draft, shape, tone };
}

/** Whether one of the eight pixels round a pixel is set. */
function isBeside(set: Uint8Array, i: number, width: number, height: number): boolean {
  const [x, y] = [i % width, Math.floor(i / width)];
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++)
      if (set[v * width + u] !== 0) return true;
  }
  return false;
}

/** Bare garment without its narrow places. */
function openTo(
  bare: Uint8Array,
  guardPx: number,
  { width, height, kernels, memory }: Pick<StagePlace, 'width' | 'height' | 'kernels' | 'memory'>,
): Uint8Array {
  const wide = copyOf(bare, memory);
  memory.scratch(() => clearFrom(wide, narrowPlaces(bare, width, height, guardPx, kernels, memory)));
  return wide;
}

/** Tones that may be written; null where the colour is solid to its edges. */
function tonesOf({ tone, edgeTone, shape }: DraftInk, memory: Allocator): Uint16Array | null {
  if (!tone && edgeTone === 65535) return null;
  const own = memory.words(shape.length);
  if (tone) own.set(tone);
  else own.fill(65535);
  return own;
}
