import { type Allocator, type RasterKernels, isEmpty, keepIn } from '../raster';
import type { LabelMap } from '../separation';
import type { JobSheet } from '../sheet';
import { chokeBaseShape, chokeShape, copyOf } from './choke';
import { fitRadii } from './fitRadii';
import { FitStages } from './fitStages';
import type { PlatePlane, PlatePlanes } from './platePlane';
import { platesFromFields } from './platesFromFields';

/**
 * Plates whose tones do not come from labels: all of them have the shape of the artwork, the base choked where that ends, and a highlight white. Inside of
 * it each is where it has tone.
 */
export function fitFields(
  labels: LabelMap,
  sheet: JobSheet,
  pxPerMm: number,
  kernels: RasterKernels,
  memory: Allocator,
  stages: FitStages = new FitStages(),
  wanted: 'all' | 'base' = 'all',
): PlatePlanes {
  const { width, height } = labels.rect;
  const radii = fitRadii(sheet, pxPerMm);
  const plates = wanted === 'all' ? sheet.plates : sheet.plates.filter(({ role }) => role === 'underbase');
  stages.begin(labels);
  const key = plates.map(({ id, role }) => `${id} ${role}`).join();
  const made = stages.stage('fields', key, memory, (own) => platesFromFields(labels, plates, kernels, own));
  const highlight = stages.stage('highlights', `${key}|${radii.highlightChoke}`, memory, (own) => {
    if (!(radii.highlightChoke > 0) || isEmpty(made.inside)) return made.inside;
    const choked = copyOf(made.inside, own);
    chokeShape(choked, made.inside, width, height, radii.highlightChoke, kernels, own);
    return choked;
  });
  const base = stages.stage('base', `${key}|${radii.baseChoke}|${radii.keep}`, memory, (own) =>
    chokeBaseShape(made.inside, made.bare, made.inside, width, height, radii, kernels, own),
  );
  const fitted = { underbase: base, highlight, colour: null };
  const planes = stages.stage(
    'planes',
    `${key}|${radii.baseChoke}|${radii.keep}|${radii.highlightChoke}`,
    memory,
    (own) =>
      plates.map((plate, k): PlatePlane => {
        const within = fitted[plate.role];
        const shape = within ? copyOf(made.shapes[k]!, own) : made.shapes[k]!;
        if (within) keepIn(shape, within);
        return { plate, shape, tone: made.tones[k]! };
      }),
  );
  return { rect: labels.rect, planes };
}
