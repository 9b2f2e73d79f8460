import { type OuterMap, type RgbaPlane, componentOutline } from '../artwork';
import {
  type FitStages,
  type PlatePlanes,
  cropPlanes,
  draftSetting,
  fitGrowthMm,
  fitHalo,
  fitPlates,
  shapeStages,
} from '../fit';
import { type Rect, expandRect, intersectRects, unionRects } from '../geometry';
import { type Kernels, PLAIN_KERNELS } from '../kernels';
import { type Allocator, FRESH_MEMORY, nearBoundaryHalo } from '../raster';
import {
  BARE,
  type CellKinds,
  GROUND_PURITY,
  type LabelMap,
  type LookedUp,
  PaletteLookup,
  type ToneSource,
  bareLabelMap,
  copyShares,
  fadesOf,
  waysOf,
} from '../separation';
import { stageTable } from '../stages';
import { type JobSheet, dropsBackground, isSimulated, stagesOf } from '../sheet';
import { type ArtworkNeed, type PrintGrid, artworkNeed, isDrawnAtPrint } from './printGrid';
import { mapTones } from './filmTones';
import { fieldsKey } from './fullTone';
import { type RegionShares, evaluateShares, fillLabels } from './regionShares';

/** A job made ready for evaluating regions; cheap to make, worth keeping while the sheet stays. */
export interface PlateJob {
  readonly sheet: JobSheet;
  readonly lookup: PaletteLookup;
  /** Needed when the sheet drops its background. */
  readonly outerMap: OuterMap | null;
  readonly kernels: Kernels;
  /** Where planes get their memory; an arena when they are not kept. */
  readonly memory: Allocator;
  /** Whether every plate is evaluated at the grid's resolution everywhere: what faster ways must give the same bits as. */
  readonly reference: boolean;
}

/** @param before the job as it was, whose look-ups are used again where they are the same: they have learnt many colours. */
export function preparePlateJob(
  sheet: JobSheet,
  outerMap: OuterMap | null,
  kernels: Kernels,
  memory: Allocator = FRESH_MEMORY,
  before: PlateJob | null = null,
): PlateJob {
  const wanted = lookedUp(sheet);
  const same = before !== null && lookUpKey(lookedUp(before.sheet)) === lookUpKey(wanted);
  const lookup = same ? before.lookup : new PaletteLookup(wanted);
  return { sheet, lookup, outerMap, kernels, memory, reference: false };
}

/** The job as its own reference: every stage touches everything, by the plain kernels. */
export function referenceJob(job: PlateJob): PlateJob {
  return { ...job, kernels: PLAIN_KERNELS, reference: true };
}

/** A map is no JSON. */
function lookUpKey(looked: LookedUp): string {
  return JSON.stringify({ ...looked, fades: [...looked.fades] });
}

function lookedUp(sheet: JobSheet): LookedUp {
  const { palette, purity, transitions } = sheet;
  const colours = isSimulated(sheet)
    ? groundOf(sheet)
    : palette.map(({ colour, closeness, within }) => ({
        colour,
        purity: within ? null : (closeness ?? purity),
      }));
  return {
    colours,
    transitions,
    ways: waysOf(sheet),
    fades: fadesOf(sheet),
    edges: !isDrawnAtPrint(sheet),
  };
}

/** By tones no colours are told apart but a ground that is left to the garment. */
function groundOf(sheet: JobSheet): LookedUp['colours'] {
  return dropsBackground(sheet) ? [{ colour: sheet.background.colour, purity: GROUND_PURITY }] : [];
}

/** What a region depends on, so that the host can fetch it first. */
export function plateArtworkNeed(job: PlateJob, grid: PrintGrid, region: Rect): ArtworkNeed {
  return artworkNeed(job.sheet, grid, region, fitHalo(job.sheet, grid.pxPerMm));
}

/**
 * All plates in a region of the print, shape and tone, in print order: the same whatever region they are part of.
 *
 * @param art the plane that `plateArtworkNeed` asked for.
 */
export function evaluatePlates(job: PlateJob, grid: PrintGrid, region: Rect, art: RgbaPlane): PlatePlanes {
  const { sheet, kernels, memory } = job;
  const labels = labelsForPlates(job, grid, region, art);
  const fitted = fitPlates(labels, sheet, grid.pxPerMm, kernels, memory);
  return stagePlanes(cropPlanes(fitted, region, memory), memory);
}

/**
 * The plates of a region inside the one whose artwork's pixels are given; they are right as far as those reach.
 *
 * @param kinds of the cells of raster artwork, where they are known.
 * @param wanted as for `fitPlates`.
 */
export function platesOfShares(
  job: PlateJob,
  grid: PrintGrid,
  region: Rect,
  shares: RegionShares,
  kinds?: CellKinds,
  wanted: 'all' | 'base' = 'all',
): PlatePlanes {
  const { sheet, kernels, memory } = job;
  const labels = bareLabelMap(labelsRect(job, grid, region), memory);
  fillLabels(job, grid, shares, labels, kinds);
  const fitted = fitPlates(labels, sheet, grid.pxPerMm, kernels, memory, undefined, wanted);
  return stagePlanes(cropPlanes(fitted, region, memory), memory);
}

/** Planes whose tones went through the stages of their plates; the tones that came in are left alone. */
function stagePlanes({ rect, planes }: PlatePlanes, memory: Allocator): PlatePlanes {
  return {
    rect,
    planes: planes.map((plane) => {
      const table = plane.tone && stageTable(stagesOf(plane.plate));
      return table ? { ...plane, tone: mapTones(plane.tone!, table, plane.shape, memory) } : plane;
    }),
  };
}

/** What the plates of a region depend on. Of the garment round the print a little stands for all: it is bare. */
function labelsRect({ sheet }: PlateJob, { widthPx, heightPx, pxPerMm }: PrintGrid, region: Rect): Rect {
  const print: Rect = { x: 0, y: 0, width: widthPx, height: heightPx };
  const round = expandRect(print, nearBoundaryHalo(fitGrowthMm(sheet) * pxPerMm));
  return intersectRects(expandRect(region, fitHalo(sheet, pxPerMm)), unionRects(round, region));
}

/** The labels that the plates of a region are made from: the region and what fit looks at beyond it. */
export function labelsForPlates(job: PlateJob, grid: PrintGrid, region: Rect, art: RgbaPlane): LabelMap {
  const halo = fitHalo(job.sheet, grid.pxPerMm);
  return evaluateLabels(job, grid, expandRect(region, halo), plateArtworkNeed(job, grid, region), art);
}

/** How far labels must reach beyond a region for its plates. */
export function labelsMargin(job: PlateJob, grid: PrintGrid): number {
  return fitHalo(job.sheet, grid.pxPerMm);
}

/**
 * The plates of labels, as large as they are; right only where the labels reach `labelsMargin` further.
 *
 * @param stages begin at what the last state of the job made from the same labels.
 */
export function platesOfLabels(
  job: PlateJob,
  grid: PrintGrid,
  labels: LabelMap,
  stages?: FitStages,
): PlatePlanes {
  const { sheet, kernels, memory } = job;
  return stagePlanes(fitPlates(labels, sheet, grid.pxPerMm, kernels, memory, stages), memory);
}

/** Equal for two states of a job whose labels are equal. */
export function labelsKey(sheet: JobSheet): string {
  const { artwork, print, background, palette, purity, transitions, fit } = sheet;
  const colours = palette.map(({ colour, closeness, within }) => [colour, closeness, within]);
  const { widthMm, heightMm } = print;
  const place = [widthMm, heightMm, background?.colour, background?.drop, fit.closeGapsMm];
  const tones = isSimulated(sheet) ? fieldsKey(sheet) : null;
  return JSON.stringify([artwork.sha256, place, colours, purity, transitions, inksBetween(sheet), tones]);
}

/** What the ways between the colours of transitions depend on. */
function inksBetween(sheet: JobSheet): unknown {
  if (!sheet.transitions || sheet.transitions.length === 0) return null;
  const inks = sheet.plates.map(({ id, role, ink, baseStrength, screen }) => [
    id,
    role,
    ink,
    baseStrength,
    screen.interlock,
  ]);
  return [inks, sheet.palette.map(({ plateId, tint }) => [plateId, tint]), sheet.garment.colour];
}

/** Equal for two states of a job whose plates are equal. */
export function platesKey(sheet: JobSheet): string {
  const fit = shapeStages(sheet).map(({ key }) => key);
  return JSON.stringify([labelsKey(sheet), draftSetting(sheet), fit, sheet.plates.map(stagesOf)]);
}

function evaluateLabels(
  job: PlateJob,
  grid: PrintGrid,
  target: Rect,
  need: ArtworkNeed,
  art: RgbaPlane,
): LabelMap {
  const { memory } = job;
  const map = bareLabelMap(target, memory);
  if (need.rect.width === 0 || need.rect.height === 0) return map;
  memory.scratch(() => {
    fillLabels(job, grid, evaluateShares(job, grid, need, art), map);
    if (map.tones) map.tones = keptTones(map.tones);
  });
  return map;
}

/** Tones in memory of their own. */
function keptTones(tones: ToneSource): ToneSource {
  const fields = tones.fields && new Map([...tones.fields].map(([id, field]) => [id, field.slice()]));
  return { ...tones, shares: copyShares(tones.shares, FRESH_MEMORY), fields };
}

/**
 * The outline of the area of one colour that a place of the print belongs to, as fractions of the artwork, and the colour's
 * index; null where no colour stands.
 *
 * @param labels of the whole grid.
 */
export function outlineAt(
  grid: PrintGrid,
  labels: Uint8Array,
  xMm: number,
  yMm: number,
): { readonly label: number; readonly outline: [number, number][] } | null {
  const x = Math.floor(xMm * grid.pxPerMm);
  const y = Math.floor(yMm * grid.pxPerMm);
  if (x < 0 || y < 0 || x >= grid.widthPx || y >= grid.heightPx) return null;
  const label = labels[y * grid.widthPx + x]!;
  const points = label >= BARE ? null : componentOutline(labels, grid.widthPx, grid.heightPx, x, y);
  if (!points) return null;
  return { label, outline: points.map(([px, py]) => [px / grid.widthPx, py / grid.heightPx]) };
}
