import { forEachRun, isEmpty, keepIn, orInto, clearFrom } from '../raster';
import { copyOf } from './choke';
import { complementOf } from './openings';
import { shapeStage } from './shapeStage';
import { strokeCores, strokeCoresHalo } from './strokeCores';
import { strongPart } from './strongPart';

/**
 * Grows lines and dots of colours that are thinner than a width until they have it: into bare garment, and over colours that print before them. What is wider
 * stays as it is, and so is what fades out.
 */
export const THICKEN = shapeStage<{ readonly mm: number }>({
  name: 'thicken',
  setting: ({ fit }) => (fit.thickenMm > 0 ? { mm: fit.thickenMm } : null),
  looks: ({ mm }, pxPerMm) => {
    const px = mm * pxPerMm;
    return { inks: strokeCoresHalo(0, px) + Math.ceil(px / 2) + 1, base: 0 };
  },
  writes: ['inks', 'highlights', 'base'],
  growsMm: ({ mm }) => mm / 2,
  baseAlone: false,
  touches: ({ bareNear, edgeNear, toned }) => (bareNear || edgeNear || toned ? 'everything' : 'nothing'),
  apply({ inks, highlights, base }, { mm }, { width, height, pxPerMm, kernels, memory }) {
    const px = mm * pxPerMm;
    const bare = copyOf(inks.bare, memory);
    const based = copyOf(inks.based, memory);
    const dark = copyOf(inks.dark, memory);
    const strength = base && memory.words(width * height);
    strength?.set(base!.strength);
    const taken = memory.bytes(width * height);
    const drafts = inks.drafts.map((draft, k) => {
      const { shape, tone, edgeTone, baseTone } = draft;
      if (!(edgeTone > 0) || isEmpty(shape)) return draft;
      const grown = copyOf(shape, memory);
      const own = tone && memory.words(shape.length);
      own?.set(tone!);
      memory.scratch(() => {
        const strong = strongPart(draft, memory);
        const discs = strokeCores(complementOf(strong, memory), width, height, 0, px, kernels);
        if (discs.length === 0) return;
        for (let i = 2; i < discs.length; i += 3) discs[i] = px / 2;
        const wide = memory.bytes(width * height);
        kernels.stampDiscs(discs, width, height, wide);
        const free = copyOf(inks.bare, memory);
        for (const before of inks.drafts.slice(0, k)) orInto(free, before.shape);
        keepIn(wide, free);
        clearFrom(wide, shape);
        forEachRun(wide, (from, to) => own?.fill(edgeTone, from, to));
        orInto(grown, wide);
        keepIn(wide, inks.bare);
        orInto(taken, wide);
        if (!(baseTone > 0)) return;
        orInto(based, wide);
        forEachRun(wide, (from, to) => {
          if (strength) for (let i = from; i < to; i++) strength[i] = Math.max(strength[i]!, baseTone);
        });
      });
      return { ...draft, shape: grown, tone: own ?? null };
    });
    clearFrom(bare, taken);
    clearFrom(dark, based);
    return {
      inks: { drafts, bare, based, dark },
      highlights: highlights.map((highlight) => {
        const { shape } = drafts.find(({ id }) => id === highlight.id)!;
        // Where it was drawn back from its own edge that is the new one.
        return {
          ...highlight,
          shape,
          outline: highlight.outline === highlight.shape ? shape : highlight.outline,
        };
      }),
      base: strength && { shape: based, strength },
    };
  },
});
