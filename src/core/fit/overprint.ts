import { clearFrom, forEachRun, isEmpty, nearBoundaryHalo, orInto } from '../raster';
import { overPairs } from '../separation';
import { copyOf } from './choke';
import type { DraftInk } from './fitState';
import { shapeStage } from './shapeStage';

interface Setting {
  /** The widest of the margins. */
  readonly mm: number;
  /** For each pair the plate that goes on, the one that prints over it, and how far it stays inside of that one's edges, in mm. */
  readonly pairs: readonly (readonly [under: string, over: string, mm: number])[];
}

/**
 * Lets a colour go on under another one that prints over it: below all of its solids, drawn back from where both end, so that it peeks out nowhere. The base stays
 * as it is.
 */
export const OVERPRINT = shapeStage<Setting>({
  name: 'overprint',
  setting(sheet) {
    const pairs = overPairs(sheet).map(({ under, over, mm }) => [under, over, mm] as const);
    return pairs.length > 0 ? { mm: Math.max(...pairs.map(([, , mm]) => mm)), pairs } : null;
  },
  looks: ({ mm }, pxPerMm) => ({ inks: nearBoundaryHalo(mm * pxPerMm) }),
  writes: ['inks'],
  baseAlone: false,
  // Where the colour above is all there is, too.
  touches: () => 'everything',
  apply({ inks }, { pairs }, { width, height, pxPerMm, kernels, memory }) {
    const draftOf = (id: string) => inks.drafts.find((draft) => draft.id === id);
    const grown = new Map<string, DraftInk>();
    for (const [id] of pairs) {
      const draft = draftOf(id);
      const isPrinting = pairs.some(
        ([under, over]) => under === id && !isEmpty(draftOf(over)?.shape ?? EMPTY),
      );
      if (!draft || !isPrinting || grown.has(id)) continue;
      // Where it does not stand itself it has no tones yet.
      const isToned = draft.tone !== null || draft.edgeTone < 65535;
      const tone = isToned ? memory.words(draft.shape.length).fill(65535) : null;
      if (draft.tone) tone!.set(draft.tone);
      grown.set(id, { ...draft, shape: copyOf(draft.shape, memory), tone });
    }
    memory.scratch(() => {
      const near = memory.bytes(width * height);
      for (const [from, to, mm] of pairs) {
        const [under, over, into] = [draftOf(from), draftOf(to), grown.get(from)];
        if (!under || !over || !into || isEmpty(over.shape)) continue;
        memory.scratch(() => {
          const both = copyOf(over.shape, memory);
          orInto(both, under.shape);
          kernels.markNearBoundary(both, width, height, mm * pxPerMm, near);
          const inner = copyOf(over.shape, memory);
          clearFrom(inner, near);
          clearFrom(inner, under.shape);
          forEachRun(inner, (start, end) => {
            for (let i = start; i < end; i++) {
              // Between dots it would be seen.
              if (over.tone && over.tone[i] !== 65535) continue;
              into.shape[i] = 255;
              if (into.tone) into.tone[i] = under.edgeTone;
            }
          });
        });
      }
    });
    return { inks: { ...inks, drafts: inks.drafts.map((draft) => grown.get(draft.id) ?? draft) } };
  },
});

const EMPTY = new Uint8Array(0);
