import type { Rect } from '../geometry';
import type { Expansion } from '../raster';
import type { CellKinds } from '../separation';
import type { Plate } from '../sheet';

/** Columns, or rows, that are looked at together; a multiple of 8. */
const BLOCK_SIDE = 64;
/** Edges of this width are looked at in bands: what lies round small pieces costs more than they do. */
const WORTH_BANDS = 512;

/** A part of a region, and what its plates depend on. */
export interface BlockRun {
  readonly rect: Rect;
  /**
   * `bare`: nothing prints. `tones`: plates are tones and nothing else. `base`: so are colours, and fit has work to do on the base.
   * `edges`: it has on all plates.
   */
  readonly kind: 'bare' | 'tones' | 'base' | 'edges';
}

/** What a block of tones is by what the stages of fit may change in it. */
export const KIND_OF = { nothing: 'tones', base: 'base', everything: 'edges' } as const;

/** The columns of a region that are nothing but tone, and the tones of the plates there. */
export interface TonePlanes {
  /** Pixels in a row of the planes; those that count, from `left` on. */
  readonly stride: number;
  readonly left: number;
  readonly pixels: number;
  /** How a region's columns and rows lie on them, the columns from `left` on. */
  readonly across: Expansion;
  readonly down: Expansion;
  /** Tones of a plate, 0..65535, row after row; null where it does not print at all. */
  tonesOf(plate: Plate): Uint16Array | null;
}

export interface ToneBlocks {
  /** Of the cells of raster artwork. */
  readonly kinds?: CellKinds;
  /** The parts of a region by what they are, none over another. */
  runs(region: Rect): Generator<BlockRun>;
  /** @param rect a part of a run of kind `tones`, or `base` for the colours. */
  planesOf(rect: Rect): TonePlanes;
  /** Ids of the plates that print all over a rectangle and as far round it as fit looks, where nothing else is near; null where that is not known. */
  printingAllOver?(rect: Rect): readonly string[] | null;
}

type KindOf = (block: Rect) => BlockRun['kind'];

/**
 * A region's columns by what they are; where there is something to fit, in bands of rows, since only some of them may have it.
 *
 * @param print blocks end where it does, in columns as near to its sides as whole bytes of the region allow; null where that does not
 * matter.
 */
export function partsOf(region: Rect, kindOf: KindOf, print: Rect | null = null): Generator<BlockRun> {
  if (!print) return inParts(region, kindOf, [], []);
  const bytes = (pixels: number) => region.x + Math.ceil(pixels / 8) * 8;
  const sides = [bytes(print.x - region.x), bytes(print.x + print.width - 7 - region.x)];
  return inParts(region, kindOf, sides, [print.y, print.y + print.height]);
}

function* inParts(
  region: Rect,
  kindOf: KindOf,
  sides: readonly number[],
  ends: readonly number[],
): Generator<BlockRun> {
  for (const run of columnsOf(region, kindOf, sides)) {
    const isFitted = run.kind === 'edges' || run.kind === 'base';
    if (isFitted && run.rect.width >= WORTH_BANDS) yield* bandsOf(run, kindOf, sides, ends);
    else yield run;
  }
}

/** Where a block ends that begins at `from`. */
function blockEnd(from: number, end: number, cuts: readonly number[]): number {
  return Math.min(end, from + BLOCK_SIDE, ...cuts.filter((cut) => cut > from));
}

/** The columns of a run, block by block, whose edges are whole bytes of it. */
export function* blocksOf(run: Rect): Generator<Rect> {
  for (let x = run.x; x < run.x + run.width; x += BLOCK_SIDE) {
    yield { ...run, x, width: Math.min(BLOCK_SIDE, run.x + run.width - x) };
  }
}

/** From left to right; what is next to each other differs in kind. */
function* columnsOf(region: Rect, kindOf: KindOf, sides: readonly number[]): Generator<BlockRun> {
  const end = region.x + region.width;
  let run = null as BlockRun | null;
  for (let x = region.x, to = x; x < end; x = to) {
    to = blockEnd(x, end, sides);
    const rect: Rect = { ...region, x, width: to - x };
    const kind = kindOf(rect);
    if (run?.kind === kind) run = { kind, rect: { ...run.rect, width: to - run.rect.x } };
    else {
      if (run) yield run;
      run = { kind, rect };
    }
  }
  if (run) yield run;
}

/** From top to bottom; bands that are what all of them were taken for stay together. */
function* bandsOf(
  { kind, rect: region }: BlockRun,
  kindOf: KindOf,
  sides: readonly number[],
  ends: readonly number[],
): Generator<BlockRun> {
  const end = region.y + region.height;
  let top = region.y;
  for (let y = region.y, to = y; y < end; y = to) {
    to = blockEnd(y, end, ends);
    const runs = [...columnsOf({ ...region, y, height: to - y }, kindOf, sides)];
    if (runs.length === 1 && runs[0]!.kind === kind) continue;
    if (y > top) yield { kind, rect: { ...region, y: top, height: y - top } };
    yield* runs;
    top = to;
  }
  if (end > top) yield { kind, rect: { ...region, y: top, height: end - top } };
}
