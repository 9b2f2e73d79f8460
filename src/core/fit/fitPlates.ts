import { labFromRgb8, parseHexColour } from '../colour';
import { type RasterKernels, nearBoundaryHalo } from '../raster';
import type { LabelMap } from '../separation';
import { type JobSheet, type Plate, effectiveChokeMm } from '../sheet';
import type { PlatePlane, PlatePlanes } from './platePlane';
import { type DraftPlane, bareGarment, platesFromLabels } from './platesFromLabels';
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

/** From this lightness (L*) down, an ink without base counts as dark: base may run under it unseen. */
const DARK_LIGHTNESS = 40;

function isDarkUnbased(plate: Plate): boolean {
  return plate.baseStrength === 0 && labFromRgb8(parseHexColour(plate.ink.colour))[0] < DARK_LIGHTNESS;
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
): PlatePlanes {
  const { width, height } = labels.rect;
  const radii = fitRadii(sheet, pxPerMm);
  const drafts = platesFromLabels(labels, sheet);
  const bare = bareGarment(drafts, width * height);
  if (radii.spread > 0) spreadIntoBare(drafts, bare, width, height, radii.spread, kernels);
  const basePlate = sheet.plates.find((plate) => plate.role === 'underbase');
  const base = basePlate ? makeBase(labels, sheet, drafts, bare, radii, kernels) : null;
  if (radii.highlightChoke > 0) {
    for (const draft of drafts) {
      if (draft.plate.role === 'highlight') {
        choke(draft, width, height, radii.highlightChoke, kernels);
      }
    }
  }
  const planes = sheet.plates.map((plate): PlatePlane => {
    const made = plate.role === 'underbase' ? base! : drafts.find((draft) => draft.plate === plate)!;
    return { plate, shape: made.shape, tone: made.tone };
  });
  return { rect: labels.rect, planes };
}

function choke(draft: DraftPlane, width: number, height: number, radiusPx: number, kernels: RasterKernels): void {
  const near = new Uint8Array(width * height);
  kernels.markNearBoundary(draft.shape, width, height, radiusPx, near);
  for (let i = 0; i < near.length; i++) if (near[i] !== 0) draft.shape[i] = 0;
}

/** Grows every colour into bare garment; where two reach the same place, the one printed first takes it. */
function spreadIntoBare(
  drafts: readonly DraftPlane[],
  bare: Uint8Array,
  width: number,
  height: number,
  radiusPx: number,
  kernels: RasterKernels,
): void {
  const near = new Uint8Array(width * height);
  for (const draft of drafts) {
    if (draft.edgeTone === 0 || draft.plate.role === 'highlight') continue;
    kernels.markNearBoundary(draft.shape, width, height, radiusPx, near);
    if (draft.edgeTone < 65535 && !draft.tone) draft.tone = new Uint16Array(width * height).fill(65535);
    for (let i = 0; i < near.length; i++) {
      if (near[i] === 0 || bare[i] === 0 || draft.shape[i] !== 0) continue;
      draft.shape[i] = 255;
      if (draft.tone) draft.tone[i] = draft.edgeTone;
    }
  }
  for (const { shape } of drafts) {
    for (let i = 0; i < bare.length; i++) if (shape[i] !== 0) bare[i] = 0;
  }
}

interface MadeBase {
  readonly shape: Uint8Array;
  readonly tone: Uint16Array | null;
}

function makeBase(
  labels: LabelMap,
  sheet: JobSheet,
  drafts: readonly DraftPlane[],
  bare: Uint8Array,
  radii: FitRadii,
  kernels: RasterKernels,
): MadeBase {
  const { width, height } = labels.rect;
  const count = width * height;
  const shape = new Uint8Array(count);
  const strengths = strengthsFromLabels(labels, sheet);
  let anyBase = false;
  for (const { plate, shape: ink } of drafts) {
    if (plate.baseStrength === 0) continue;
    const strength = Math.round(plate.baseStrength * 65535);
    for (let i = 0; i < count; i++) {
      if (ink[i] === 0) continue;
      anyBase = true;
      shape[i] = 255;
      // Ink that was spread here has no label of its own.
      if (strengths[i] === 0) strengths[i] = strength;
    }
  }
  if (!anyBase) return { shape, tone: null };
  const near = new Uint8Array(count);
  const based = radii.keep > 0 && radii.baseChoke > 0 ? shape.slice() : null;
  if (radii.underDark > 0) runUnderDark(drafts, shape, strengths, width, height, radii.underDark, kernels, near);
  if (radii.baseChoke > 0) {
    kernels.markNearBoundary(bare, width, height, radii.baseChoke, near);
    for (let i = 0; i < count; i++) if (near[i] !== 0) shape[i] = 0;
    if (based) keepCores(based, bare, shape, width, height, radii, kernels);
  }
  return { shape, tone: isAllSolid(shape, strengths) ? null : strengths };
}

/**
 * How much base each place wants. A tint is dots of ink over a full base, so a tint does not weaken it; where the
 * artwork fades out, the base fades with it.
 */
function strengthsFromLabels(labels: LabelMap, sheet: JobSheet): Uint16Array {
  const strengthOf = new Float64Array(256);
  sheet.palette.forEach((entry, index) => {
    const plate = sheet.plates.find((each) => each.id === entry.plateId);
    if (plate && entry.tint > 0) strengthOf[index] = plate.baseStrength;
  });
  const strengths = new Uint16Array(labels.first.length);
  for (let i = 0; i < strengths.length; i++) {
    const share = labels.share[i]!;
    const wanted =
      share * strengthOf[labels.first[i]!]! + (65535 - share) * strengthOf[labels.second[i]!]!;
    strengths[i] = Math.min(65535, Math.round(wanted));
  }
  return strengths;
}

function isAllSolid(shape: Uint8Array, tone: Uint16Array): boolean {
  for (let i = 0; i < shape.length; i++) if (shape[i] !== 0 && tone[i] !== 65535) return false;
  return true;
}

/** Lets the base run under dark inks that have none of their own. */
function runUnderDark(
  drafts: readonly DraftPlane[],
  shape: Uint8Array,
  strengths: Uint16Array,
  width: number,
  height: number,
  radiusPx: number,
  kernels: RasterKernels,
  near: Uint8Array,
): void {
  const count = width * height;
  const dark = new Uint8Array(count);
  let any = false;
  for (const { plate, shape: ink } of drafts) {
    if (!isDarkUnbased(plate)) continue;
    for (let i = 0; i < count; i++) {
      if (ink[i] !== 0 && shape[i] === 0) {
        dark[i] = 255;
        any = true;
      }
    }
  }
  if (!any) return;
  const grown = shape.slice();
  // From the weakest strength to the strongest, so that beside two of them the stronger one runs under.
  const steps = [...new Set(drafts.map(({ plate }) => plate.baseStrength))]
    .filter((strength) => strength > 0)
    .sort((p, q) => p - q);
  for (const strength of steps) {
    const source = new Uint8Array(count);
    for (const { plate, shape: ink } of drafts) {
      if (plate.baseStrength !== strength) continue;
      for (let i = 0; i < count; i++) if (ink[i] !== 0) source[i] = 255;
    }
    kernels.markNearBoundary(source, width, height, radiusPx, near);
    for (let i = 0; i < count; i++) {
      if (near[i] === 0 || dark[i] === 0) continue;
      grown[i] = 255;
      strengths[i] = Math.round(strength * 65535);
    }
  }
  shape.set(grown);
}

function keepCores(
  based: Uint8Array,
  bare: Uint8Array,
  shape: Uint8Array,
  width: number,
  height: number,
  radii: FitRadii,
  kernels: RasterKernels,
): void {
  const discs = strokeCores(bare, width, height, radii.baseChoke, radii.keep);
  if (discs.length === 0) return;
  const cores = new Uint8Array(width * height);
  kernels.stampDiscs(discs, width, height, cores);
  for (let i = 0; i < cores.length; i++) if (cores[i] !== 0 && based[i] !== 0) shape[i] = 255;
}
