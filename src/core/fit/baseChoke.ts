import { isEmpty, keepIn, nearBoundaryHalo, orInto } from '../raster';
import { effectiveChokeMm, hasFilePlates } from '../sheet';
import { chokeShape, copyOf } from './choke';
import { shapeStage } from './shapeStage';
import { strokeCores, strokeCoresHalo } from './strokeCores';

interface Setting {
  /** From the edge of the ink on bare garment to the edge of the base. */
  readonly mm: number;
  /** The least width of base that a stroke keeps; 0: none. */
  readonly keepMm: number;
}

/** Draws the base back from bare garment; what is too fine for that keeps a core. */
export const BASE_CHOKE = shapeStage<Setting>({
  name: 'base choke',
  setting(sheet) {
    // The choke counts from the artwork's edge, so a spread adds to the difference between base and colour. Plates of a file spread and leave the bare garment as it is.
    const mm = effectiveChokeMm(sheet) + (hasFilePlates(sheet) ? 0 : sheet.fit.spreadMm);
    return mm > 0 ? { mm, keepMm: sheet.fit.keepMm } : null;
  },
  looks: ({ mm, keepMm }, pxPerMm) => {
    const [choke, keep] = [mm * pxPerMm, keepMm * pxPerMm];
    const cores = strokeCoresHalo(choke, keep) + Math.ceil(keep / 2);
    return { inks: Math.max(nearBoundaryHalo(choke), cores), base: 0 };
  },
  writes: ['base'],
  baseAlone: true,
  touches: ({ bareNear }) => (bareNear ? 'base' : 'nothing'),
  apply({ inks, base }, { mm, keepMm }, { width, height, pxPerMm, kernels, memory }) {
    const { bare, based } = inks;
    if (!base || isEmpty(bare) || isEmpty(base.shape)) return { base };
    const [choke, keep] = [mm * pxPerMm, keepMm * pxPerMm];
    const shape = copyOf(base.shape, memory);
    chokeShape(shape, bare, width, height, choke, kernels, memory);
    if (keep > 0) {
      memory.scratch(() => {
        const discs = strokeCores(bare, width, height, choke, keep, kernels);
        if (discs.length === 0) return;
        const cores = memory.bytes(width * height);
        kernels.stampDiscs(discs, width, height, cores);
        keepIn(cores, based);
        orInto(shape, cores);
      });
    }
    return { base: { ...base, shape } };
  },
});
