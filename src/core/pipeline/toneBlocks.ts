import type { Rect } from '../geometry';
import type { Expansion } from '../raster';
import type { CellKinds } from '../separation';
import type { Plate } from '../sheet';

/** Columns that are looked at together; a multiple of 8. */
export const BLOCK_WIDTH = 64;

/** Some columns of a region, and what their plates depend on. */
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
  /** Tones of a plate, 0..65535, row after row. */
  tonesOf(plate: Plate): Uint16Array;
}

export interface ToneBlocks {
  /** Of the cells of raster artwork. */
  readonly kinds?: CellKinds;
  /** A region's columns, from left to right; what is next to each other differs in kind. */
  runs(region: Rect): Generator<BlockRun>;
  /** @param rect a part of a run of kind `tones`. */
  planesOf(rect: Rect): TonePlanes;
}

export function* mergedRuns(region: Rect, kindOf: (block: Rect) => BlockRun['kind']): Generator<BlockRun> {
  const end = region.x + region.width;
  for (let x = region.x; x < end;) {
    const blockAt = (left: number): Rect => ({
      ...region,
      x: left,
      width: Math.min(BLOCK_WIDTH, end - left),
    });
    const kind = kindOf(blockAt(x));
    let to = x + BLOCK_WIDTH;
    while (to < end && kindOf(blockAt(to)) === kind) to += BLOCK_WIDTH;
    yield { kind, rect: { ...region, x, width: Math.min(to, end) - x } };
    x = to;
  }
}
