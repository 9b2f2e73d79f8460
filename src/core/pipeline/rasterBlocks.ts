import {
  NOTHING_NEAR,
  type ReadyStage,
  ToneRows,
  draftSetting,
  fitGrowthMm,
  isOfBase,
  labelTables,
  shapeStages,
  touchedBy,
} from '../fit';
import { type Rect, containsRect, expandRect, rectsMeet } from '../geometry';
import { DARK, INKED, LIT, PARTLY, THIN, UNBASED, UNLIT, labelsIn } from '../raster';
import { BARE, type CellKinds, MIXED, cellKinds, pixelSpan, toneExpansion } from '../separation';
import { type Plate, halftoneWhite, isInk, paletteOf, withoutSpecials } from '../sheet';
import { type PlateJob, labelsMargin } from './evaluatePlates';
import type { PrintGrid } from './printGrid';
import { keptTones } from './fullTone';
import { type RegionShares, outlineBoxes } from './regionShares';
import { type BlockRun, KIND_OF, type ToneBlocks, type TonePlanes, partsOf } from './toneBlocks';

/** The cell of an artwork pixel is an edge. */
const EDGE = 128;

/** Blocks of raster artwork. */
export class RasterBlocks implements ToneBlocks {
  readonly kinds: CellKinds;
  private readonly job: PlateJob;
  private readonly grid: PrintGrid;
  private readonly region: RegionShares;
  private readonly margin: number;
  private readonly whole: Rect;
  private readonly outlines: readonly Rect[];
  private readonly stages: readonly ReadyStage[];
  /** A stage works where one colour is all there is, too. */
  private readonly fitsAll: boolean;
  /** What is not spread stays inside the print, and where its colour is. */
  private readonly stays: boolean;
  /** Of each colour plate that prints here, then of the base, then the share of dark inks without base. */
  private readonly planes: readonly Uint16Array[];
  private readonly order: readonly Plate[];
  private readonly flags: Uint8Array;
  private columns: readonly FlagColumns[] = [];
  /** One is known by its flags; where several print, each may end beside the other. */
  private readonly severalHighlights: boolean;

  constructor(job: PlateJob, grid: PrintGrid, region: RegionShares) {
    const { width, height } = region.shares;
    this.job = job;
    this.grid = grid;
    this.region = region;
    this.margin = labelsMargin(job, grid);
    this.whole = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
    this.outlines = outlineBoxes(job.sheet, grid);
    this.kinds = cellKinds(region.shares, job.kernels, job.memory);
    this.stages = shapeStages(job.sheet);
    this.stays = fitGrowthMm(job.sheet) === 0;
    this.fitsAll = touchedBy(this.stages, NOTHING_NEAR) === 'everything' || halftoneWhite(job.sheet) !== null;
    const { fields } = region;
    this.order = fields ? job.sheet.plates.filter(isInk) : printingHere(job, region);
    this.severalHighlights = this.order.filter(({ role }) => role === 'highlight').length > 1;
    if (fields) {
      const base = job.sheet.plates.filter(({ role }) => role === 'underbase');
      this.planes = [...this.order, ...base].map(({ id }) => fields.get(id)!);
      this.flags = this.fieldFlags();
      this.flagEdges();
      return;
    }
    const setting = draftSetting(job.sheet);
    const order = setting.plates.filter(
      (draft) => isOfBase(draft) || this.order.some((plate) => plate.id === draft.id),
    );
    const rows = new ToneRows(region.shares, labelTables(setting, order), order);
    const planes = Array.from({ length: order.length + 2 }, () => job.memory.words(width * height, 'any'));
    this.flags = job.memory.bytes(width * height, 'any');
    job.kernels.tonePlanes(rows.arguments(planes, this.flags));
    const own = order.findIndex(isOfBase);
    this.planes = planes.filter((_, k) => k !== own);
    // Where the base fades out by itself it is made of two planes, of which the larger counts at the print's pixels.
    planes[own]?.forEach((tone, i) => {
      if (tone > 0 && tone < 65535) this.flags[i]! |= EDGE;
    });
    this.flagEdges();
  }

  /** Of artwork that prints by its tones: all inside of it may print, and near its end the base is choked. */
  private fieldFlags(): Uint8Array {
    const { label, tone } = this.region.shares;
    const lit = this.order.some(({ role }) => role === 'highlight') ? LIT : 0;
    const inside = INKED | lit;
    const flags = this.job.memory.bytes(label.length, 'any');
    const { plates } = withoutSpecials(this.job.sheet);
    const kept = keptTones(this.job.sheet).map((tones) =>
      [...this.order, ...plates.filter(({ role }) => role === 'underbase')].map(
        (plate) => tones[plates.indexOf(plate)]!,
      ),
    );
    for (let i = 0; i < label.length; i++) {
      const tones = kept[label[i]!];
      if (tones) {
        const prints = tones.some((each) => each > 0);
        // Near its edge other tones go on below it: there it is the edge that ends them.
        const isAlone = this.planes.every((plane, k) => plane[i] === tones[k]!);
        flags[i] = (prints ? inside : THIN) | (isAlone ? 0 : EDGE);
      } else if (label[i] !== BARE) flags[i] = label[i] === MIXED && tone[i] === 0 ? inside | PARTLY : inside;
      // Beyond a hard edge tones go on for a few pixels: it is the edge that ends them.
      else flags[i] = this.planes.some((plane) => plane[i] !== 0) ? THIN | EDGE : THIN;
    }
    return flags;
  }

  private flagEdges(): void {
    const { width } = this.region.shares;
    const { cells, stride } = this.kinds;
    for (let at = cells.indexOf(MIXED); at >= 0; at = cells.indexOf(MIXED, at + 1)) {
      const x = at % stride;
      if (x < width) this.flags[((at / stride) | 0) * width + x]! |= EDGE;
    }
  }

  runs(region: Rect): Generator<BlockRun> {
    // What is spread goes beyond the print.
    return partsOf(region, (block) => this.kindOf(block), this.stays ? this.whole : null);
  }

  private kindOf(block: Rect): BlockRun['kind'] {
    const { stays, whole } = this;
    if (stays && !rectsMeet(whole, block)) return 'bare';
    const wide = expandRect(block, this.margin);
    if (this.outlines.some((box) => rectsMeet(box, wide))) return 'edges';
    const own = this.flagsIn(block);
    if (stays && (own & (EDGE | INKED)) === 0) return 'bare';
    const found = this.flagsIn(wide);
    if ((found & (EDGE | INKED)) === 0) return 'bare';
    if (this.fitsAll || (own & EDGE) !== 0 || !containsRect(whole, block)) return 'edges';
    const has = (flags: number) => (found & flags) === flags;
    // On an edge each place is one colour: what has a part there may be all there is, or nothing.
    const edge = (found & EDGE) !== 0;
    const touched = touchedBy(this.stages, {
      bareNear: has(THIN) || (edge && has(PARTLY)) || !containsRect(whole, wide),
      edgeNear: edge,
      toned: has(PARTLY),
      lit: has(LIT),
      highlightEnds: this.severalHighlights || (has(LIT) && (edge || has(UNLIT))),
      darkBesideBased: has(DARK) && (edge || has(UNBASED)),
    });
    return KIND_OF[touched];
  }

  /** All that is known of the pixels which a rectangle of the print depends on. */
  private flagsIn(rect: Rect): number {
    const { shares, mapping } = this.region;
    const { width, height } = shares;
    const [left, right] = pixelSpan(rect.x, rect.width, mapping.scaleX, mapping.offsetX, width);
    const [top, bottom] = pixelSpan(rect.y, rect.height, mapping.scaleY, mapping.offsetY, height);
    const columns = this.flagColumns(top, bottom);
    let found = 0;
    for (let x = left; x <= right; x++) found |= columns.at(x);
    return found;
  }

  /** Blocks beside each other ask for the same rows, with what lies round them and without. */
  private flagColumns(top: number, bottom: number): FlagColumns {
    const known = this.columns.find((each) => each.top === top && each.bottom === bottom);
    if (known) return known;
    const columns = new FlagColumns(this.flags, this.region.shares.width, top, bottom);
    this.columns = [columns, ...this.columns.slice(0, 1)];
    return columns;
  }

  planesOf(rect: Rect): TonePlanes {
    const { shares, mapping } = this.region;
    const [left, right] = pixelSpan(rect.x, rect.width, mapping.scaleX, mapping.offsetX, shares.width);
    const pixels = right - left + 1;
    return {
      stride: shares.width,
      left,
      pixels,
      across: toneExpansion(rect.x, rect.width, mapping.scaleX, mapping.offsetX - left, pixels),
      down: toneExpansion(rect.y, rect.height, mapping.scaleY, mapping.offsetY, shares.height),
      tonesOf: ({ id, role }) => {
        if (role === 'underbase') return this.planes[this.order.length]!;
        const index = this.order.findIndex((plate) => plate.id === id);
        return index < 0 ? null : this.planes[index]!;
      },
    };
  }
}

/** Columns of some rows that are looked at together. */
const FLAG_COLUMNS = 64;

/** What is known of the columns of some rows, found out where it is asked for. */
class FlagColumns {
  readonly top: number;
  readonly bottom: number;
  private readonly flags: Uint8Array;
  private readonly line: Uint8Array;
  private readonly known: Uint8Array;

  constructor(flags: Uint8Array, width: number, top: number, bottom: number) {
    this.flags = flags;
    this.top = top;
    this.bottom = bottom;
    this.line = new Uint8Array(width);
    this.known = new Uint8Array(Math.ceil(width / FLAG_COLUMNS));
  }

  at(x: number): number {
    const part = (x / FLAG_COLUMNS) | 0;
    if (this.known[part] === 0) this.findOut(part);
    return this.line[x]!;
  }

  private findOut(part: number): void {
    const { flags, line } = this;
    const width = line.length;
    const from = part * FLAG_COLUMNS;
    const to = Math.min(width, from + FLAG_COLUMNS);
    for (let y = this.top; y <= this.bottom; y++) {
      for (let x = from, i = y * width + from; x < to; x++, i++) line[x]! |= flags[i]!;
    }
    this.known[part] = 1;
  }
}

/** The colour plates whose colours stand in a part of the artwork. */
function printingHere({ sheet }: PlateJob, { shares }: RegionShares): readonly Plate[] {
  const seen = labelsIn(shares.label);
  const { mixLabels } = shares;
  for (let k = 0; k < mixLabels.length; k += 3) {
    // One and the next are mostly of the same colours.
    if (k > 0 && mixLabels[k] === mixLabels[k - 3] && mixLabels[k + 1] === mixLabels[k - 2]) continue;
    for (let each = k; each < k + 3; each++) seen[mixLabels[each]!] = 1;
  }
  return sheet.plates.filter(
    ({ id, role }) =>
      isInk({ role }) && paletteOf(sheet).some(({ plateId }, label) => plateId === id && seen[label] !== 0),
  );
}
