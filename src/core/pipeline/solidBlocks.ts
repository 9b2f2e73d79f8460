import {
  NOTHING_NEAR,
  type ReadyStage,
  draftSetting,
  fitGrowthMm,
  labelTables,
  shapeStages,
  touchedBy,
} from '../fit';
import { type Rect, expandRect, intersectRects, rectsMeet } from '../geometry';
import { BARE, MIXED } from '../separation';
import { NO_PLATE } from '../raster';
import { type Plate, halftoneWhite, isInk } from '../sheet';
import { type PlateJob, labelsMargin } from './evaluatePlates';
import type { PrintGrid } from './printGrid';
import { type RegionShares, outlineBoxes } from './regionShares';
import { type BlockRun, KIND_OF, type ToneBlocks, type TonePlanes, partsOf } from './toneBlocks';

/** Blocks of artwork whose pixels are the print's own: those of one colour are tones that never change. */
export class SolidBlocks implements ToneBlocks {
  private readonly region: RegionShares;
  private readonly margin: number;
  private readonly whole: Rect;
  private readonly order: readonly Plate[];
  private readonly base: Plate | null;
  private readonly tables: ReturnType<typeof labelTables>;
  private readonly outlines: readonly Rect[];
  /** Nothing is spread: a colour prints where it is. */
  private readonly stays: boolean;
  private readonly stages: readonly ReadyStage[];
  /** A stage works where one colour is all there is, too. */
  private readonly fitsAll: boolean;
  private readonly lit: boolean;

  constructor(job: PlateJob, grid: PrintGrid, region: RegionShares) {
    this.region = region;
    this.margin = labelsMargin(job, grid);
    this.whole = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
    this.order = job.sheet.plates.filter(isInk);
    this.base = job.sheet.plates.find(({ role }) => role === 'underbase') ?? null;
    const setting = draftSetting(job.sheet);
    const order = setting.plates.filter(({ role }) => role !== 'underbase');
    this.tables = labelTables(setting, order);
    this.outlines = outlineBoxes(job.sheet, grid);
    this.stages = shapeStages(job.sheet);
    this.stays = fitGrowthMm(job.sheet) === 0;
    this.fitsAll = touchedBy(this.stages, NOTHING_NEAR) === 'everything' || halftoneWhite(job.sheet) !== null;
    this.lit = this.order.some(({ role }) => role === 'highlight');
  }

  runs(region: Rect): Generator<BlockRun> {
    return partsOf(region, (block) => this.kindOf(block), this.stays ? this.whole : null);
  }

  private kindOf(block: Rect): BlockRun['kind'] {
    const wide = expandRect(block, this.margin);
    if (this.outlines.some((box) => rectsMeet(box, wide))) return 'edges';
    const own = this.labelOf(block);
    if (own === MIXED) return 'edges';
    const isBare = own === BARE || this.tables.plateOf[own] === NO_PLATE;
    if (isBare && this.stays) return 'bare';
    if (this.labelOf(wide) === own) return isBare ? 'bare' : this.fitsAll ? 'edges' : 'tones';
    // Something else is near, and what it is does not matter to drawings: their blocks are found fast enough.
    const touched = touchedBy(this.stages, {
      bareNear: true,
      edgeNear: true,
      toned: false,
      lit: this.lit,
      highlightEnds: this.lit,
      darkBesideBased: this.tables.darkOf.includes(1),
    });
    return KIND_OF[touched];
  }

  printingAllOver(rect: Rect): readonly string[] | null {
    const wide = expandRect(rect, this.margin);
    if (this.outlines.some((box) => rectsMeet(box, wide))) return null;
    const label = this.labelOf(wide);
    if (label === MIXED) return null;
    const { plateOf, strengthOf } = this.tables;
    const index = plateOf[label]!;
    if (label === BARE || index === NO_PLATE) return [];
    const base = strengthOf[label]! > 0 && this.base ? [this.base.id] : [];
    // Behind the inks stands what the base prints itself.
    const ink = this.order[index];
    return ink ? [ink.id, ...base] : base;
  }

  /** The label of all pixels of a rectangle, or MIXED. */
  private labelOf(wide: Rect): number {
    const { need, shares } = this.region;
    const { x, y, width, height } = intersectRects(wide, this.whole);
    // Beyond the print it is bare.
    const first = width < wide.width || height < wide.height ? BARE : -1;
    if (width === 0 || height === 0) return BARE;
    const start = (y - need.rect.y) * shares.width + x - need.rect.x;
    const label = first < 0 ? shares.label[start]! : first;
    for (let row = 0; row < height; row++) {
      const at = start + row * shares.width;
      for (let i = at; i < at + width; i++) if (shares.label[i] !== label) return MIXED;
    }
    return label;
  }

  planesOf(rect: Rect): TonePlanes {
    const { need, shares } = this.region;
    // Whole bytes lie in one block each.
    const pixels = rect.width / 8;
    const row = (rect.y - need.rect.y) * shares.width + rect.x - need.rect.x;
    const labels = Array.from({ length: pixels }, (_, k) => shares.label[row + k * 8]!);
    const { plateOf, tintOf, strengthOf } = this.tables;
    const printing = new Set(labels.map((label) => plateOf[label]!));
    return {
      stride: pixels,
      left: 0,
      pixels,
      across: {
        from: Int32Array.from({ length: rect.width }, (_, x) => x >> 3),
        part: null,
      },
      down: { from: new Int32Array(rect.height), part: null },
      tonesOf: ({ id }) => {
        const index = this.order.findIndex((plate) => plate.id === id);
        // The base: the inks that are here are found by their places.
        if (index < 0) return Uint16Array.from(labels, (label) => strengthOf[label]!);
        if (!printing.has(index)) return null;
        return Uint16Array.from(labels, (label) => (plateOf[label] === index ? tintOf[label]! : 0));
      },
    };
  }
}
