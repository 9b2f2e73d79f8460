import type { LumaMap } from '../artwork';
import { type Adjustment, type JobSheet, fullToneLayer, withLayer } from '../sheet';
import { throughStages } from '../stages';

const maps = new WeakMap<Adjustment, LumaMap>();

/** How a job changes the colours of its artwork before they are separated; null where it does not. */
export function lumaMapOf(sheet: Pick<JobSheet, 'layers'>): LumaMap | null {
  const adjustment = fullToneLayer(sheet)?.adjust ?? null;
  if (!adjustment) return null;
  const known = maps.get(adjustment) ?? makeMap(adjustment);
  maps.set(adjustment, known);
  return known;
}

/**
 * Contrast first, then the curve. More contrast leads towards the curve t²(3 − 2t), which leaves black, middle and white where they are; less towards half of each
 * distance from the middle.
 */
function makeMap({ contrast, saturation, curve }: Adjustment): LumaMap {
  const through = throughStages([{ kind: 'curve', points: curve }]);
  const luma = Float64Array.from({ length: 257 }, (_, code) => {
    const t = Math.min(255, code) / 255;
    const goal = contrast > 0 ? t * t * (3 - 2 * t) : 0.5 + (t - 0.5) / 2;
    return 255 * through(t + Math.abs(contrast) * (goal - t));
  });
  return { luma, saturation: 1 + saturation };
}

/** The sheet with its artwork's colours changed; null: as they are. A job of flat colours stays as it is. */
export function withAdjustment(sheet: JobSheet, adjust: Adjustment | null): JobSheet {
  const layer = fullToneLayer(sheet);
  if (!layer) return sheet;
  const isPlain =
    !adjust ||
    (adjust.contrast === 0 && adjust.saturation === 0 && JSON.stringify(adjust.curve) === '[[0,0],[1,1]]');
  return withLayer(sheet, { ...layer, adjust: isPlain ? null : adjust });
}
