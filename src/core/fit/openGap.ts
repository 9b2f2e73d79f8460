import { clearFrom, forEachRun, isEmpty, keepIn, nearBoundaryHalo, orInto } from '../raster';
import { gapPairs } from '../sheet';
import { copyOf } from './choke';
import { narrowPlaces, narrowPlacesHalo } from './openings';
import type { DraftInk } from './fitState';
import { type StagePlace, shapeStage } from './shapeStage';

interface Setting {
  /** The widest of the gaps. */
  readonly mm: number;
  /** Plates between which a gap stays open, by their ids, how wide it is, and below which width parts beside it are left clear, in mm. */
  readonly pairs: readonly (readonly [one: string, other: string, mm: number, clearMm: number])[];
}

/**
 * Keeps a gap of bare garment open between two colours that touch: each draws back from the other by half of it, and what is bare then is bare to the base as
 * well, which is choked from there on.
 */
export const OPEN_GAP = shapeStage<Setting>({
  name: 'open gap',
  setting(sheet) {
    const pairs = gapPairs(sheet).map(({ plateIds, mm, clearMm }) => [...plateIds, mm, clearMm] as const);
    return pairs.length > 0 ? { mm: Math.max(...pairs.map(([, , mm]) => mm)), pairs } : null;
  },
  looks: ({ pairs }, pxPerMm) => {
    const halos = pairs.map(([, , mm, clearMm]) => {
      const near = nearBoundaryHalo((mm / 2 + clearMm) * pxPerMm + 1);
      if (clearMm === 0) return near;
      return Math.max(near, nearBoundaryHalo((mm / 2) * pxPerMm) + narrowPlacesHalo(clearMm * pxPerMm));
    });
    return { inks: Math.max(...halos), base: 0 };
  },
  writes: ['inks', 'base'],
  baseAlone: false,
  touches: ({ edgeNear, toned }) => (edgeNear || toned ? 'everything' : 'nothing'),
  apply({ inks, base }, { pairs }, place) {
    const { width, height, pxPerMm, kernels, memory } = place;
    const draftOf = (id: string) => inks.drafts.find((draft) => draft.id === id);
    // Made first: what is only needed meanwhile lies behind them.
    const open = memory.bytes(width * height);
    const cut = new Map<string, Uint8Array>();
    for (const id of new Set(pairs.flatMap(([one, other]) => [one, other]))) {
      const draft = draftOf(id);
      if (draft && !isEmpty(draft.shape)) cut.set(id, copyOf(draft.shape, memory));
    }
    const bare = copyOf(inks.bare, memory);
    const [based, dark] = [copyOf(inks.based, memory), copyOf(inks.dark, memory)];
    const shape = base && copyOf(base.shape, memory);
    memory.scratch(() => {
      const near = memory.bytes(width * height);
      for (const [one, other, mm, clearMm] of pairs) {
        for (const [from, to] of [
          [one, other],
          [other, one],
        ] as const) {
          const own = cut.get(from);
          const neighbour = draftOf(to);
          if (!own || !neighbour || isEmpty(neighbour.shape)) continue;
          kernels.markNearBoundary(neighbour.shape, width, height, (mm / 2) * pxPerMm, near);
          keepIn(near, draftOf(from)!.shape);
          if (neighbour.tone) memory.scratch(() => clearFades(near, neighbour, (mm / 2) * pxPerMm, place));
          clearFrom(own, near);
          orInto(open, near);
          if (clearMm === 0) continue;
          memory.scratch(() => {
            const left = copyOf(draftOf(from)!.shape, memory);
            clearFrom(left, near);
            const narrow = narrowPlaces(left, width, height, clearMm * pxPerMm, kernels, memory);
            kernels.markNearBoundary(neighbour.shape, width, height, (mm / 2 + clearMm) * pxPerMm, near);
            keepIn(narrow, near);
            clearFrom(own, narrow);
            orInto(open, narrow);
          });
        }
      }
      // A third colour that prints there keeps its place.
      for (const { id, shape: other } of inks.drafts) clearFrom(open, cut.get(id) ?? other);
    });
    orInto(bare, open);
    for (const mask of [based, dark, shape]) if (mask) clearFrom(mask, open);
    const drafts = inks.drafts.map((draft) => ({ ...draft, shape: cut.get(draft.id) ?? draft.shape }));
    return { inks: { drafts, bare, based, dark }, base: base && { ...base, shape: shape! } };
  },
});

/** A colour that ends with less than this (of 65535) fades out: that is no edge, and a gap there would be a bright line in a gradient. */
const FADED = 8192;

/** Takes away from a mask what lies at places where a colour fades out. */
function clearFades(
  mask: Uint8Array,
  { shape, tone }: DraftInk,
  radiusPx: number,
  { width, height, kernels, memory }: StagePlace,
): void {
  const faint = memory.bytes(width * height);
  forEachRun(shape, (from, to) => {
    for (let i = from; i < to; i++) if (tone![i]! < FADED) faint[i] = 255;
  });
  if (isEmpty(faint)) return;
  const near = memory.bytes(width * height);
  kernels.markNearBoundary(faint, width, height, radiusPx + 1, near);
  clearFrom(mask, near);
  clearFrom(mask, faint);
}
