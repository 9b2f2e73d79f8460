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
import { type JobSheet, effectiveChokeMm } from '../sheet';
import type { PlatePlane, PlatePlanes } from './platePlane';
import { type DraftPlates, platesFromLabels } from './platesFromLabels';
import { strokeCores, strokeCoresHalo } from './strokeCores';

/** The distances of fit in pixels of the region's resolution. */
interface FitRadii {
  readonly spread: number;
  readonly highlightChoke: number;
  readonly underDark: number;
  /** From the edge of the ink on bare garment to the edge of the base. */
  readonly baseChoke: number;
  readonly keep: number;
}

function fitRadii(sheet: JobSheet, pxPerMm: number): FitRadii {
  return {
    spread: sheet.fit.spreadMm * pxPerMm,
    highlightChoke: sheet.fit.highlightChokeMm * pxPerMm,
    underDark: sheet.fit.underDarkMm * pxPerMm,
    // The choke counts from the artwork's edge, so a spread adds to the difference between base and colour.
    baseChoke: (effectiveChokeMm(sheet) + sheet.fit.spreadMm) * pxPerMm,
    keep: sheet.fit.keepMm * pxPerMm,
  };
}

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

/**
 * From labels to fitted plates: colours are spread into bare garment, the base is made from the spread colours
 * and choked where it meets bare garment, the highlight white is choked. The labels must reach `fitHalo`
 * beyond what is wanted; the planes that come back have the labels' size.
 */
export function fitPlates(
  labels: LabelMap,
  sheet: JobSheet,
  pxPerMm: number,
  kernels: RasterKernels,
  memory: Allocator,
): PlatePlanes {
  const { width, height } = labels.rect;
  const radii = fitRadii(sheet, pxPerMm);
  const made = platesFromLabels(labels, sheet, memory);
  const { drafts } = made;
  if (radii.spread > 0) spreadIntoBare(made, width, height, radii.spread, kernels, memory);
  const based = sheet.plates.some((plate) => plate.role === 'underbase');
  const base = based ? makeBase(made, width, height, radii, kernels, memory) : null;
  if (radii.highlightChoke > 0) {
    for (const draft of drafts) {
      if (draft.plate.role === 'highlight' && !isEmpty(draft.shape)) {
        chokeShape(draft.shape, draft.shape, width, height, radii.highlightChoke, kernels, memory);
      }
    }
  }
  const planes = sheet.plates.map((plate): PlatePlane => {
    const plane = plate.role === 'underbase' ? base! : drafts.find((draft) => draft.plate === plate)!;
    return { plate, shape: plane.shape, tone: plane.tone };
  });
  return { rect: labels.rect, planes };
}

/** Takes away from a shape what lies within a radius of the boundary of a mask. */
function chokeShape(
  shape: Uint8Array,
  boundary: Uint8Array,
  width: number,
  height: number,
  radiusPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): void {
  memory.scratch(() => {
    const near = memory.bytes(width * height);
    kernels.markNearBoundary(boundary, width, height, radiusPx, near);
    clearFrom(shape, near);
  });
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
  const grown: Uint8Array[] = [];
  for (const draft of drafts) {
    if (draft.edgeTone === 0 || draft.plate.role === 'highlight' || isEmpty(draft.shape)) continue;
    const near = memory.bytes(width * height);
    kernels.markNearBoundary(draft.shape, width, height, radiusPx, near);
    keepIn(near, bare);
    orInto(draft.shape, near);
    if (draft.plate.baseStrength > 0) orInto(made.based, near);
    if (draft.edgeTone < 65535) draft.tone ??= memory.words(width * height).fill(65535);
    const strength = Math.round(draft.plate.baseStrength * 65535);
    forEachRun(near, (from, to) => {
      draft.tone?.fill(draft.edgeTone, from, to);
      for (let i = from; i < to; i++) if (baseStrength[i]! < strength) baseStrength[i] = strength;
    });
    grown.push(near);
  }
  for (const near of grown) clearFrom(bare, near);
}

function copyOf(mask: Uint8Array, memory: Allocator): Uint8Array {
  const copy = memory.bytes(mask.length);
  copy.set(mask);
  return copy;
}

interface MadeBase {
  readonly shape: Uint8Array;
  readonly tone: Uint16Array | null;
}

function makeBase(
  made: DraftPlates,
  width: number,
  height: number,
  radii: FitRadii,
  kernels: RasterKernels,
  memory: Allocator,
): MadeBase {
  const { bare, baseStrength, based: shape } = made;
  if (isEmpty(shape)) return { shape, tone: null };
  const based = radii.keep > 0 && radii.baseChoke > 0 ? copyOf(shape, memory) : null;
  if (radii.underDark > 0) runUnderDark(made, shape, width, height, radii.underDark, kernels, memory);
  if (radii.baseChoke > 0 && !isEmpty(bare)) {
    chokeShape(shape, bare, width, height, radii.baseChoke, kernels, memory);
    if (based) memory.scratch(() => keepCores(based, bare, shape, width, height, radii, kernels, memory));
  }
  return { shape, tone: isAllSolid(shape, baseStrength) ? null : baseStrength };
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
  shape: Uint8Array,
  width: number,
  height: number,
  radiusPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): void {
  const { drafts, baseStrength } = made;
  const { dark } = made;
  if (isEmpty(dark)) return;
  // From the weakest strength to the strongest, so that beside two of them the stronger one runs under.
  const steps = [...new Set(drafts.map(({ plate }) => plate.baseStrength))]
    .filter((strength) => strength > 0)
    .sort((p, q) => p - q);
  for (const strength of steps) {
    memory.scratch(() => {
      const near = memory.bytes(width * height);
      const source = memory.bytes(width * height);
      for (const draft of drafts) {
        if (draft.plate.baseStrength === strength) orInto(source, draft.shape);
      }
      kernels.markNearBoundary(source, width, height, radiusPx, near);
      keepIn(near, dark);
      orInto(shape, near);
      forEachRun(near, (from, to) => baseStrength.fill(Math.round(strength * 65535), from, to));
    });
  }
}

/** Gives back to the base, where a stroke is too fine for the choke, a core of the width to keep. */
function keepCores(
  based: Uint8Array,
  bare: Uint8Array,
  shape: Uint8Array,
  width: number,
  height: number,
  radii: FitRadii,
  kernels: RasterKernels,
  memory: Allocator,
): void {
  const discs = strokeCores(bare, width, height, radii.baseChoke, radii.keep, kernels, memory);
  if (discs.length === 0) return;
  const cores = memory.bytes(width * height);
  kernels.stampDiscs(discs, width, height, cores);
  keepIn(cores, based);
  orInto(shape, cores);
}
