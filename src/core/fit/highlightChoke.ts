import { isEmpty, nearBoundaryHalo } from '../raster';
import { chokeShape, copyOf } from './choke';
import { shapeStage } from './shapeStage';

/** Draws a highlight white back from its edge: white squeezes out. */
export const HIGHLIGHT_CHOKE = shapeStage<{ readonly mm: number }>({
  name: 'highlight choke',
  setting: ({ fit }) => (fit.highlightChokeMm > 0 ? { mm: fit.highlightChokeMm } : null),
  looks: ({ mm }, pxPerMm) => ({ highlights: nearBoundaryHalo(mm * pxPerMm) }),
  writes: ['highlights'],
  baseAlone: false,
  touches: ({ highlightEnds, lit, bareNear }) =>
    highlightEnds || (lit && bareNear) ? 'everything' : 'nothing',
  apply({ highlights }, { mm }, { width, height, pxPerMm, kernels, memory }) {
    return {
      highlights: highlights.map((highlight) => {
        const { shape, outline } = highlight;
        if (isEmpty(shape)) return highlight;
        const choked = copyOf(shape, memory);
        chokeShape(choked, outline, width, height, mm * pxPerMm, kernels, memory);
        return { ...highlight, shape: choked };
      }),
    };
  },
});
