import { type Allocator, clearFrom, forEachRun, isEmpty, keepIn, nearBoundaryHalo, orInto } from '../raster';
import { copyOf } from './choke';
import { isOfBase } from './draftSetting';
import type { DraftInk } from './fitState';
import { narrowPlaces, narrowPlacesHalo } from './openings';
import { type StagePlace, shapeStage } from './shapeStage';
import { strongPart } from './strongPart';

interface Setting {
  readonly mm: number;
  /** Openings of bare garment that are narrower stay as wide as they are; 0: they may fill. */
  readonly guardMm: number;
}

/** Grows every colour into bare garment; where two reach the same place, both print there. */
export const SPREAD = shapeStage<Setting>({
  name: 'spread',
  setting: ({ fit }) => (fit.spreadMm > 0 ? { mm: fit.spreadMm, guardMm: fit.guardMm } : null),
  looks: ({ mm, guardMm }, pxPerMm) => {
    const guarded = guardMm > 0 ? narrowPlacesHalo(guardMm * pxPerMm) : 0;
    return { inks: Math.max(nearBoundaryHalo(mm * pxPerMm), guarded), base: 0 };
  },
  writes: ['inks', 'base'],
  growsMm: ({ mm }) => mm,
  baseAlone: false,
  touches: ({ bareNear }) => (bareNear ? 'everything' : 'nothing'),
  apply({ inks, base }, { mm, guardMm }, { width, height, pxPerMm, kernels, memory }) {
    const bare = copyOf(inks.bare, memory);
    const based = copyOf(inks.based, memory);
    const strength = base && memory.words(width * height);
    strength?.set(base!.strength);
    const taken = memory.bytes(width * height);
    const free =
      guardMm > 0 ? openTo(inks.bare, guardMm * pxPerMm, { width, height, kernels, memory }) : inks.bare;
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
