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
  /** `bare`: nothing prints. `tones`: plates are tones and nothing else. `edges`: fit has work to do. */
  readonly kind: 'bare' | 'tones' | 'edges';
}

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
  /** @param rect a part of a run of kind `tones`. */
  planesOf(rect: Rect): TonePlanes;
}

type KindOf = (block: Rect) => BlockRun['kind'];

/** A region's columns by what they are; where there are edges, in bands of rows, since only some of them may have any. */
export function* partsOf(region: Rect, kindOf: KindOf): Generator<BlockRun> {
  for (const run of columnsOf(region, kindOf)) {
    if (run.kind === 'edges' && run.rect.width >= WORTH_BANDS) yield* bandsOf(run.rect, kindOf);
    else yield run;
  }
}

/** From left to right; what is next to each other differs in kind. */
function* columnsOf(region: Rect, kindOf: KindOf): Generator<BlockRun> {
  const end = region.x + region.width;
  for (let x = region.x; x < end;) {
    const blockAt = (left: number): Rect => ({ ...region, x: left, width: Math.min(BLOCK_SIDE, end - left) });
    const kind = kindOf(blockAt(x));
    let to = x + BLOCK_SIDE;
    while (to < end && kindOf(blockAt(to)) === kind) to += BLOCK_SIDE;
    yield { kind, rect: { ...region, x, width: Math.min(to, end) - x } };
    x = to;
  }
}

/** From top to bottom; bands that have edges from side to side stay together. */
function* bandsOf(region: Rect, kindOf: KindOf): Generator<BlockRun> {
  const end = region.y + region.height;
  let top = region.y;
  for (let y = region.y; y < end; y += BLOCK_SIDE) {
    const band = { ...region, y, height: Math.min(BLOCK_SIDE, end - y) };
    const runs = [...columnsOf(band, kindOf)];
    if (runs.length === 1 && runs[0]!.kind === 'edges') continue;
    if (y > top) yield { kind: 'edges', rect: { ...region, y: top, height: y - top } };
    yield* runs;
    top = y + band.height;
  }
  if (end > top) yield { kind: 'edges', rect: { ...region, y: top, height: end - top } };
}
