import type { RgbaPlane } from '../artwork';
import type { PlatePlanes } from '../fit';
import { type Rect, byteColumns } from '../geometry';
import { type Plate, isInk, printsTones } from '../sheet';
import { type Wear, wearOf } from '../texture';
import { type PlateJob, labelsMargin, plateArtworkNeed, platesOfShares } from './evaluatePlates';
import { type PrintGrid, isDrawnAtPrint } from './printGrid';
import { RasterBlocks } from './rasterBlocks';
import { evaluateShares } from './regionShares';
import { SolidBlocks } from './solidBlocks';
import { type BlockRun, type ToneBlocks, type TonePlanes, blocksOf } from './toneBlocks';

/** Some plates in a block of the print, in the form that says it with the least. What is bare has no block. */
export interface PlateBlock {
  /** Of the print's grid; its width is a multiple of 8. */
  readonly rect: Rect;
  readonly plates: readonly Plate[];
  /**
   * `tones`: they print all over the block, each as much as its tones at the artwork's own pixels say, before the stages of the plate.
   * `planes`: shape and tone at the grid's resolution, behind the stages.
   */
  readonly views:
    | { readonly kind: 'tones'; readonly tones: TonePlanes }
    | { readonly kind: 'planes'; readonly planes: PlatePlanes };
  /** What the texture takes away of these plates' dots; null: nothing. It is not taken from the views. */
  readonly wear: Wear | null;
}

/** Pixels of the grid of which all plates are there at a time, with what lies round them: strips are made in columns, so that wide ones take no more memory. */
const PLANE_PIXELS = 2.5e5;
/** Where there is nothing but tone: rows of this width stay in a processor's cache, and many a plate has nothing in them. */
const TONE_WIDTH = 4096;
const LEAST_WIDTH = 256;

/**
 * Evaluates the plates of a part of the print: the one way from artwork to film, whatever is made of it. Where fit has nothing to do, plates stay tones at
 * the artwork's pixels; a reference job has all of them as planes.
 *
 * @param part of the print's grid; its width is a multiple of 8.
 * @param art the plane that `plateArtworkNeed` asks for; it is done with afterwards.
 * @param visit given block after block, none over another for one plate; what it is given holds until it returns.
 */
export function forEachPlateBlock(
  job: PlateJob,
  grid: PrintGrid,
  part: Rect,
  art: RgbaPlane,
  plates: readonly Plate[],
  visit: (block: PlateBlock) => void,
): void {
  const { memory } = job;
  const region = evaluateShares(job, grid, plateArtworkNeed(job, grid, part), art);
  const blocks: ToneBlocks =
    isDrawnAtPrint(job.sheet) && !printsTones(job.sheet)
      ? new SolidBlocks(job, grid, region)
      : new RasterBlocks(job, grid, region);
  const visitPlanes = (run: Rect, wantedPlates: readonly Plate[], wanted: 'all' | 'base'): void => {
    for (const rect of narrowColumns(job, grid, run, PLANE_PIXELS)) {
      memory.scratch(() => {
        const planes = platesOfShares(job, grid, rect, region, blocks.kinds, wanted);
        const wear = wearOf(job.sheet, grid, rect, job.kernels, memory);
        visit({ rect, plates: wantedPlates, views: { kind: 'planes', planes }, wear });
      });
    }
  };
  const bases = plates.filter(({ role }) => role === 'underbase');
  const colours = plates.filter(isInk);
  // What a special plate is made of may end anywhere where something prints: it is always made at the grid's resolution.
  const specials = plates.filter(({ role }) => role === 'special');
  const others = plates.filter(({ role }) => role !== 'special');
  const visitSpecials = (run: Rect): void => {
    let from = run.x;
    const evaluateUpTo = (end: number): void => {
      if (end > from) visitPlanes({ ...run, x: from, width: end - from }, specials, 'all');
    };
    for (const rect of blocksOf(run)) {
      const printing = blocks.printingAllOver?.(rect) ?? null;
      if (!printing) continue;
      evaluateUpTo(rect.x);
      from = rect.x + rect.width;
      const solid = specials.filter(
        ({ special }) =>
          special!.kind !== 'halftone' && printing.some((id) => special!.over?.includes(id) ?? true),
      );
      if (solid.length > 0) visitSolid(rect, solid);
    }
    evaluateUpTo(run.x + run.width);
  };
  const visitSolid = (rect: Rect, solid: readonly Plate[]): void =>
    memory.scratch(() => {
      const shape = memory.bytes(rect.width * rect.height, 'any').fill(255);
      const planes = { rect, planes: solid.map((plate) => ({ plate, shape, tone: null })) };
      const wear = wearOf(job.sheet, grid, rect, job.kernels, memory);
      visit({ rect, plates: solid, views: { kind: 'planes', planes }, wear });
    });
  const whole: readonly BlockRun[] = [{ rect: part, kind: 'edges' }];
  for (const { kind, rect: run } of job.reference ? whole : blocks.runs(part)) {
    if (specials.length > 0 && kind !== 'edges') visitSpecials(run);
    const toned = kind === 'tones' ? others : kind === 'base' ? colours : [];
    const fitted = kind === 'edges' ? plates : kind === 'base' ? bases : [];
    if (toned.length > 0) {
      for (const rect of byteColumns(run, TONE_WIDTH)) {
        const tones = blocks.planesOf(rect);
        memory.scratch(() => {
          const wear = wearOf(job.sheet, grid, rect, job.kernels, memory);
          visit({ rect, plates: toned, views: { kind: 'tones', tones }, wear });
        });
      }
    }
    if (fitted.length > 0) visitPlanes(run, fitted, kind === 'base' ? 'base' : 'all');
  }
}

/** Columns of whole bytes that have no more than so many pixels of the grid with what lies round them. */
export function narrowColumns(job: PlateJob, grid: PrintGrid, region: Rect, pixels: number): Generator<Rect> {
  const halo = labelsMargin(job, grid);
  const room = pixels / (region.height + 2 * halo) - 2 * halo;
  return byteColumns(region, Math.max(LEAST_WIDTH, room));
}
