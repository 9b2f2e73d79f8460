import {
  type Allocator,
  type RasterKernels,
  clearFrom,
  forEachRun,
  isEmpty,
  keepIn,
  nearBoundaryHalo,
  orInto,
} from '../raster';
import type { LabelMap } from '../separation';
import { mostTone } from '../stages';
import { type JobSheet, stagesOf } from '../sheet';
import { chokeBaseShape, chokeShape, copyOf } from './choke';
import { fitFields } from './fitFields';
import { type FitRadii, fitRadii } from './fitRadii';
import { FitStages } from './fitStages';
import type { PlatePlane, PlatePlanes } from './platePlane';
import { type DraftPlane, type DraftPlates, isDarkUnbased, platesFromLabels } from './platesFromLabels';
import { strokeCoresHalo } from './strokeCores';

/** How far fit looks beyond a region, in pixels of its resolution. */
export function fitHalo(sheet: JobSheet, pxPerMm: number): number {
  const radii = fitRadii(sheet, pxPerMm);
  const base = Math.max(
    nearBoundaryHalo(radii.baseChoke),
    nearBoundaryHalo(radii.underDark),
    strokeCoresHalo(radii.baseChoke, radii.keep) + Math.ceil(radii.keep / 2),
  );
  return nearBoundaryHalo(radii.spread) + Math.max(nearBoundaryHalo(radii.highlightChoke), base);
}

/** How far from the print all garment is bare whatever fit does, in pixels. */
export function bareFrom(sheet: JobSheet, pxPerMm: number): number {
  return nearBoundaryHalo(fitRadii(sheet, pxPerMm).spread);
}

/**
 * From labels to fitted plates: colours are spread into bare garment, the base is made from the spread colours
 * and choked where it meets bare garment, the highlight white is choked. The labels must reach `fitHalo`
 * beyond what is wanted; the planes that come back have the labels' size.
 *
 * @param stages hold what was made before for the same labels; the planes that come back may be shared with it.
 */
export function fitPlates(
  labels: LabelMap,
  sheet: JobSheet,
  pxPerMm: number,
  kernels: RasterKernels,
  memory: Allocator,
  stages: FitStages = new FitStages(),
): PlatePlanes {
  if (labels.tones?.fields) return fitFields(labels, sheet, pxPerMm, kernels, memory, stages);
  const { width, height } = labels.rect;
  const radii = fitRadii(sheet, pxPerMm);
  stages.begin(labels);
  const spreadKey = `${draftsKey(sheet)}|${radii.spread}`;
  const made = stages.stage('drafts', spreadKey, memory, (own) => {
    const drafts = platesFromLabels(labels, sheet, kernels, own);
    if (radii.spread > 0) spreadIntoBare(drafts, width, height, radii.spread, kernels, own);
    return drafts;
  });
  const highlightKey = `${spreadKey}|${radii.highlightChoke}`;
  const chokedHighlights = stages.stage('highlights', highlightKey, memory, (own) =>
    made.drafts.map(({ plate, shape }) => {
      if (plate.role !== 'highlight' || !(radii.highlightChoke > 0) || isEmpty(shape)) return shape;
      const choked = copyOf(shape, own);
      chokeShape(choked, shape, width, height, radii.highlightChoke, kernels, own);
      return choked;
    }),
  );
  const base = (): MadeBase => {
    const underKey = `${spreadKey}|${radii.underDark}`;
    const under = stages.stage('under', underKey, memory, (own) =>
      runUnderDark(made, width, height, radii.underDark, kernels, own),
    );
    return stages.stage('base', `${underKey}|${radii.baseChoke}|${radii.keep}`, memory, (own) =>
      chokeBase(made, under, width, height, radii, kernels, own),
    );
  };
  const indexOf = new Map(made.drafts.map(({ plate }, index) => [plate.id, index]));
  const planes = sheet.plates.map((plate): PlatePlane => {
    if (plate.role === 'underbase') return { plate, ...base() };
    const index = indexOf.get(plate.id)!;
    return { plate, shape: chokedHighlights[index]!, tone: made.drafts[index]!.tone };
  });
  return { rect: labels.rect, planes };
}

/**
 * The base alone, as `fitPlates` makes it where nothing is spread and base runs under no dark ink.
 *
 * @param labels as for `fitPlates`.
 */
export function fitBase(
  labels: LabelMap,
  sheet: JobSheet,
  pxPerMm: number,
  kernels: RasterKernels,
  memory: Allocator,
): PlatePlanes {
  if (labels.tones?.fields) {
    return fitFields(labels, sheet, pxPerMm, kernels, memory, new FitStages(), 'base');
  }
  const { width, height } = labels.rect;
  const made = platesFromLabels(labels, sheet, kernels, memory, 'base');
  const wanted = { shape: made.based, strength: made.baseStrength };
  const base = chokeBase(made, wanted, width, height, fitRadii(sheet, pxPerMm), kernels, memory);
  const bases = sheet.plates.filter(({ role }) => role === 'underbase');
  return { rect: labels.rect, planes: bases.map((plate) => ({ plate, ...base })) };
}

/** Equal for two states of a job that sort the same labels into the same plates. */
function draftsKey({ palette, plates }: JobSheet): string {
  const inks = palette.map(({ plateId, tint }) => [plateId, tint]);
  const roles = plates.map((plate) => [
    plate.id,
    plate.role,
    plate.baseStrength,
    isDarkUnbased(plate),
    mostTone(stagesOf(plate)),
  ]);
  return JSON.stringify([inks, roles]);
}

/** Grows every colour into bare garment; where two reach the same place, both print there. */
function spreadIntoBare(
  made: DraftPlates,
  width: number,
  height: number,
  radiusPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): void {
  const { drafts, bare, baseStrength } = made;
  const growing = drafts.filter(
    ({ edgeTone, plate, shape }) => edgeTone > 0 && plate.role !== 'highlight' && !isEmpty(shape),
  );
  for (const draft of growing) {
    if (draft.edgeTone < 65535) draft.tone ??= memory.words(width * height).fill(65535);
  }
  memory.scratch(() => {
    const taken = memory.bytes(width * height);
    for (const draft of growing) {
      memory.scratch(() => {
        const near = memory.bytes(width * height);
        kernels.markNearBoundary(strongPart(draft, memory), width, height, radiusPx, near);
        keepIn(near, bare);
        orInto(taken, near);
        orInto(draft.shape, near);
        if (draft.plate.baseStrength > 0) orInto(made.based, near);
        const strength = made.baseTone(draft.plate.baseStrength);
        forEachRun(near, (from, to) => {
          draft.tone?.fill(draft.edgeTone, from, to);
          for (let i = from; i < to; i++) if (baseStrength[i]! < strength) baseStrength[i] = strength;
        });
      });
    }
    // Only now, so that what one colour took stands open to the others.
    clearFrom(bare, taken);
  });
}

/** Where a plate prints at least half of what it does at its edges: where it fades out it has none. */
function strongPart({ shape, tone, edgeTone }: DraftPlane, memory: Allocator): Uint8Array {
  if (!tone) return shape;
  const strong = memory.bytes(shape.length);
  forEachRun(shape, (from, to) => {
    for (let i = from; i < to; i++) if (tone[i]! * 2 >= edgeTone) strong[i] = 255;
  });
  return strong;
}

interface MadeBase {
  readonly shape: Uint8Array;
  readonly tone: Uint16Array | null;
}

/** The base before its choke: where, and how strong. */
interface DraftBase {
  readonly shape: Uint8Array;
  readonly strength: Uint16Array;
}

function chokeBase(
  { bare, based, solidBase }: DraftPlates,
  under: DraftBase,
  width: number,
  height: number,
  radii: FitRadii,
  kernels: RasterKernels,
  memory: Allocator,
): MadeBase {
  const shape = chokeBaseShape(under.shape, bare, based, width, height, radii, kernels, memory);
  return { shape, tone: solidBase || isAllSolid(shape, under.strength) ? null : under.strength };
}

function isAllSolid(shape: Uint8Array, tone: Uint16Array): boolean {
  let solid = true;
  forEachRun(shape, (from, to) => {
    for (let i = from; i < to && solid; i++) if (tone[i] !== 65535) solid = false;
  });
  return solid;
}

/** Lets the base run under dark inks that have none of their own. */
function runUnderDark(
  made: DraftPlates,
  width: number,
  height: number,
  radiusPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): DraftBase {
  const { drafts, based, dark, baseStrength } = made;
  if (!(radiusPx > 0) || isEmpty(based) || isEmpty(dark)) return { shape: based, strength: baseStrength };
  const shape = copyOf(based, memory);
  const strength = memory.words(baseStrength.length);
  strength.set(baseStrength);
  // From the weakest strength to the strongest, so that beside two of them the stronger one runs under.
  const steps = [...new Set(drafts.map(({ plate }) => plate.baseStrength))]
    .filter((each) => each > 0)
    .sort((p, q) => p - q);
  for (const step of steps) {
    memory.scratch(() => {
      const near = memory.bytes(width * height);
      const source = memory.bytes(width * height);
      for (const draft of drafts) {
        if (draft.plate.baseStrength === step) orInto(source, draft.shape);
      }
      kernels.markNearBoundary(source, width, height, radiusPx, near);
      keepIn(near, dark);
      orInto(shape, near);
      forEachRun(near, (from, to) => strength.fill(made.baseTone(step), from, to));
    });
  }
  return { shape, strength };
}
