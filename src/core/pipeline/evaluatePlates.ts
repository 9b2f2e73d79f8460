import { type OuterMap, type RgbaPlane, componentOutline } from '../artwork';
import {
  type FitStages,
  type PlatePlanes,
  bandRound,
  cropPlanes,
  draftSetting,
  fitGrowthMm,
  fitHalo,
  fitPlates,
  rowsOf,
  shapeStages,
  specialPlates,
} from '../fit';
import { type Rect, expandRect, intersectRects, unionRects } from '../geometry';
import { type Kernels, PLAIN_KERNELS } from '../kernels';
import { type Allocator, FRESH_MEMORY, maskWithout, nearBoundaryHalo } from '../raster';
import {
  BARE,
  type CellKinds,
  type LabelMap,
  PaletteLookup,
  type ToneSource,
  bareLabelMap,
  copyShares,
} from '../separation';
import { stageTable } from '../stages';
import { type JobSheet, isSupplied, stagesOf } from '../sheet';
import { type Keep, type Wear, baseWearMm, sparedPlates, wearOf } from '../texture';
import { type ArtworkNeed, type PrintGrid, artworkNeed } from './printGrid';
import { mapTones } from './filmTones';
import { keyOf, labelsKey, sourceSetting } from './sourceSetting';
import { wantedChannels } from './suppliedPlates';
import { type RegionShares, evaluateShares, fillLabels } from './regionShares';

/** A job made ready for evaluating regions; cheap to make, worth keeping while the sheet stays. */
export interface PlateJob {
  readonly sheet: JobSheet;
  readonly lookup: PaletteLookup;
  /** Of the colours that are kept out of the tones; null: none are. */
  readonly kept: PaletteLookup | null;
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
  const { looked, kept: told } = sourceSetting(sheet);
  const was = before && sourceSetting(before.sheet);
  const same = was && keyOf({ looked: was.looked }) === keyOf({ looked });
  const lookup = same ? before.lookup : new PaletteLookup(looked);
  const sameKept = was && keyOf({ kept: was.kept }) === keyOf({ kept: told });
  const kept = sameKept ? before.kept : told && new PaletteLookup(told.looked);
  return { sheet, lookup, kept, outerMap, kernels, memory, reference: false };
}

/** The job as its own reference: every stage touches everything, by the plain kernels. */
export function referenceJob(job: PlateJob): PlateJob {
  return { ...job, kernels: PLAIN_KERNELS, reference: true };
}

/** What a region depends on, so that the host can fetch it first. */
export function plateArtworkNeed(job: PlateJob, grid: PrintGrid, region: Rect): ArtworkNeed {
  const need = artworkNeed(job.sheet, grid, region, fitHalo(job.sheet, grid.pxPerMm));
  return isSupplied(job.sheet) ? { ...need, channels: wantedChannels(job.sheet) } : need;
}

/**
 * All plates in a region of the print, shape and tone, in print order: the same whatever region they are part of.
 *
 * @param art the plane that `plateArtworkNeed` asked for.
 * @param unworn as for `platesOfLabels`.
 */
export function evaluatePlates(
  job: PlateJob,
  grid: PrintGrid,
  region: Rect,
  art: RgbaPlane,
  unworn = false,
): PlatePlanes {
  return platesOfLabels(job, grid, labelsForPlates(job, grid, region, art), { region, unworn });
}

/**
 * The plates of a region inside the one whose artwork's pixels are given, without the holes of a texture; they are right as far as those reach.
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
  const labels = labelsOfShares(job, grid, region, shares, kinds);
  return platesOfLabels(job, grid, labels, { region, wanted, unworn: true });
}

/** The labels that the plates of a region inside the one whose artwork's pixels are given are made from. */
export function labelsOfShares(
  job: PlateJob,
  grid: PrintGrid,
  region: Rect,
  shares: RegionShares,
  kinds?: CellKinds,
): LabelMap {
  const labels = bareLabelMap(labelsRect(job, grid, region), job.memory);
  fillLabels(job, grid, shares, labels, kinds);
  return labels;
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

/** Planes with the holes of a texture in their shapes; those that came in are left alone. @param made as for `platesOfLabels`: plates that are as they were keep their holes. */
function wornPlanes(
  { rect, planes }: PlatePlanes,
  wear: Wear,
  memory: Allocator,
  made: FitStages | undefined,
): PlatePlanes {
  return {
    rect,
    planes: planes.map((plane) => {
      const rows = rowsOf(plane.shape, rect.width);
      const holes = rows && wear.holesOf(plane.plate.id);
      if (!holes) return plane;
      const wearOff = (own: Allocator) => {
        const shape = own.bytes(plane.shape.length);
        const band = bandRound(rows, rect.width, rect.height, 0);
        maskWithout(band.of(plane.shape), band.of(holes), band.of(shape));
        return shape;
      };
      const name = `worn ${plane.plate.id}`;
      const shape = made ? made.madeFrom(name, [plane.shape, holes], memory, wearOff) : wearOff(memory);
      return { ...plane, shape };
    }),
  };
}

/** What a texture's holes depend on. */
function wearKey(sheet: JobSheet) {
  return sheet.texture && [{ ...sheet.texture, spared: [...sparedPlates(sheet)] }, baseWearMm(sheet)];
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

/** What is wanted of the plates of labels. */
export interface LabelsRequest {
  /** The part that is wanted; left out: as much as there are labels. */
  readonly region?: Rect;
  /** As for `fitPlates`. */
  readonly wanted?: 'all' | 'base';
  /** What the last state of the job made from the same labels, to begin at. */
  readonly made?: FitStages;
  /** Whether the plates come as if the job had no texture: films take that away from their dots. */
  readonly unworn?: boolean;
}

/**
 * The plates of labels: fit, then the stages of each plate's tones, then the holes of the texture. Every plate that stands at a grid's resolution is made here, whoever asks for it and
 * whether the labels are the table's, which are kept, or those of a block of film. Right only where the labels reach `labelsMargin` further.
 */
export function platesOfLabels(
  { sheet, kernels, memory }: PlateJob,
  grid: PrintGrid,
  labels: LabelMap,
  { region, wanted = 'all', made, unworn = false }: LabelsRequest = {},
): PlatePlanes {
  const fitted = fitPlates(labels, sheet, grid.pxPerMm, kernels, memory, made, wanted);
  const planes = stagePlanes(region ? cropPlanes(fitted, region, memory) : fitted, memory);
  const keep: Keep | undefined = made && ((name, key, make) => made.stage(name, key, memory, make));
  const wear = unworn ? null : wearOf(sheet, grid, planes.rect, kernels, memory, keep);
  return wear ? wornPlanes(planes, wear, memory, made) : planes;
}

/** Equal for two states of a job whose plates are equal. */
export function platesKey(sheet: JobSheet): string {
  const fit = shapeStages(sheet).map(({ key }) => key);
  const specials = specialPlates(sheet).map(({ id, special }) => [id, special]);
  const own = [
    draftSetting(sheet),
    ...(specials.length > 0 ? [specials] : []),
    fit,
    sheet.plates.map(stagesOf),
    wearKey(sheet),
  ];
  return `${labelsKey(sheet)}|${JSON.stringify(own)}`;
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
