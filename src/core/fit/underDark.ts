import { forEachRun, isEmpty, keepIn, nearBoundaryHalo, orInto } from '../raster';
import { copyOf } from './choke';
import { shapeStage } from './shapeStage';

/** Lets the base run under dark inks that have none of their own. */
export const UNDER_DARK = shapeStage<{ readonly mm: number }>({
  name: 'under dark',
  setting: ({ fit }) => (fit.underDarkMm > 0 ? { mm: fit.underDarkMm } : null),
  looks: ({ mm }, pxPerMm) => ({ inks: nearBoundaryHalo(mm * pxPerMm), base: 0 }),
  writes: ['base'],
  baseAlone: false,
  touches: ({ darkBesideBased }) => (darkBesideBased ? 'everything' : 'nothing'),
  apply({ inks, base }, { mm }, { width, height, pxPerMm, kernels, memory }) {
    const { drafts, based, dark } = inks;
    if (!base || isEmpty(based) || isEmpty(dark)) return { base };
    const shape = copyOf(base.shape, memory);
    const strength = memory.words(base.strength.length);
    strength.set(base.strength);
    // From the weakest strength to the strongest, so that beside two of them the stronger one runs under.
    const steps = [...new Set(drafts.map(({ baseTone }) => baseTone))]
      .filter((each) => each > 0)
      .sort((p, q) => p - q);
    for (const step of steps) {
      memory.scratch(() => {
        const near = memory.bytes(width * height);
        const source = memory.bytes(width * height);
        for (const draft of drafts) if (draft.baseTone === step) orInto(source, draft.shape);
        kernels.markNearBoundary(source, width, height, mm * pxPerMm, near);
        keepIn(near, dark);
        orInto(shape, near);
        forEachRun(near, (from, to) => strength.fill(step, from, to));
      });
    }
    return { base: { shape, strength } };
  },
});
