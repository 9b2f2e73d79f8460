import { type Rect, expandRect } from '../geometry';
import { type Allocator, type RasterKernels, isEmpty, nearBoundaryHalo, orInto } from '../raster';
import { type JobSheet, type Plate, type Texture, effectiveChokeMm, isWhiteBelow } from '../sheet';
import { TILE_MM } from './ownTextures';
import { type TextureTile, tileOf } from './textureTile';

/** The print as a raster, as far as textures need it. */
interface WornGrid {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly pxPerMm: number;
}

type WornSheet = Pick<JobSheet, 'texture' | 'plates' | 'fit' | 'press'>;

/** Plates that a texture leaves alone: those that the job spares, and all whose dots interlock with theirs, since these divide each cell. */
export function sparedPlates({ texture, plates }: Pick<JobSheet, 'texture' | 'plates'>): ReadonlySet<string> {
  const spared = plates.filter(({ id }) => texture?.spared.includes(id));
  const groups = new Set(spared.map(({ screen }) => screen.interlock));
  const isSpared = (plate: Plate) =>
    spared.includes(plate) || (plate.screen.interlock !== null && groups.has(plate.screen.interlock));
  return new Set(plates.filter(isSpared).map(({ id }) => id));
}

/** Holes of a texture in a region: 255 = nothing prints, 0 elsewhere. Null: there is none on that plate. */
export interface Wear {
  readonly rect: Rect;
  holesOf(plateId: string): Uint8Array | null;
}

/** How far the base is drawn back from the holes in the colours on it, in mm: as from bare garment. */
export function baseWearMm(sheet: Pick<JobSheet, 'fit' | 'press' | 'plates'>): number {
  return effectiveChokeMm(sheet) + sheet.fit.spreadMm;
}

/** Gives what was made before under a name where its key is the same, else what `make` makes. */
export type Keep = <T>(name: string, key: string, make: (memory: Allocator) => T) => T;

/** Pixels to which what is sampled round a region is rounded up, so that it serves nearby chokes as well. */
const HALO_STEP = 8;

/**
 * What a job's texture takes away of its plates in a region of the print, the same whatever region it is part of. All worn plates have the same holes, a base
 * holes that are wider by what it is choked, so that no white shows in them. Null where the job has no texture.
 *
 * @param memory where masks lie from when they are first asked for: not in a part of it that is given back before they are done with.
 * @param keep for holes that may be asked for again in the same region; left out: they are made anew.
 */
export function wearOf(
  sheet: WornSheet,
  grid: WornGrid,
  rect: Rect,
  kernels: RasterKernels,
  memory: Allocator,
  keep: Keep | null = null,
): Wear | null {
  const { texture } = sheet;
  if (!texture || !(texture.strength > 0)) return null;
  const spared = sparedPlates(sheet);
  const bases = sheet.plates.filter(isWhiteBelow).map(({ id }) => id);
  const radius = bases.length > 0 ? baseWearMm(sheet) * grid.pxPerMm : 0;
  // Most blocks have some of the plates only: each mask is made when it is first asked for.
  let own: Uint8Array | null = null;
  let wide: Uint8Array | null = null;
  // Holes of colours and those of the base come from the same samples.
  const halo = radius > 0 ? Math.ceil(nearBoundaryHalo(radius) / HALO_STEP) * HALO_STEP : 0;
  const around = expandRect(rect, halo);
  const key = JSON.stringify([texture, grid, around]);
  const made: Keep = keep ?? ((_name, _key, make) => make(memory));
  let samples: Uint8Array | null = null;
  const sample = () => (samples ??= made('holes', key, (place) => sampled(texture, grid, around, place)));
  const holes = () =>
    (own ??=
      halo === 0
        ? sample()
        : made('holes of colours', key, (place) => cropped(sample(), around, rect, place)));
  // Another choke has the same boundary of the holes, which is most of the work where there are many.
  const lines = () =>
    keep?.('boundary of holes', key, () => kernels.boundaryLines(sample(), around.width, around.height)) ??
    null;
  const ofBase = () =>
    (wide ??=
      radius > 0
        ? made('holes of the base', `${key} ${radius}`, (place) =>
            widened({ holes: sample(), lines: lines() }, around, rect, radius, kernels, place),
          )
        : holes());
  return {
    rect,
    holesOf: (id) => (spared.has(id) ? null : bases.includes(id) ? ofBase() : holes()),
  };
}

function sampled(texture: Texture, grid: WornGrid, rect: Rect, memory: Allocator): Uint8Array {
  const holes = memory.bytes(rect.width * rect.height);
  sampleHoles(texture, grid, rect, holes);
  return holes;
}

/** The part of a mask that lies in a smaller region, in memory of its own. */
function cropped(mask: Uint8Array, around: Rect, rect: Rect, memory: Allocator): Uint8Array {
  const out = memory.bytes(rect.width * rect.height, 'any');
  crop(mask, around, rect, out);
  return out;
}

/** Writes the part of a mask that lies in a smaller region. */
function crop(mask: Uint8Array, around: Rect, rect: Rect, out: Uint8Array): void {
  for (let row = 0; row < rect.height; row++) {
    const from = (row + rect.y - around.y) * around.width + rect.x - around.x;
    out.set(mask.subarray(from, from + rect.width), row * rect.width);
  }
}

/** Holes with all that lies within a radius of them, from those of a region that reaches as far beyond. @param lines their boundary, where it is known. */
function widened(
  { holes, lines }: { readonly holes: Uint8Array; readonly lines: Float64Array | null },
  around: Rect,
  rect: Rect,
  radiusPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): Uint8Array {
  if (isEmpty(holes)) return memory.bytes(rect.width * rect.height);
  const out = memory.bytes(rect.width * rect.height, 'any');
  memory.scratch(() => {
    const near = memory.bytes(around.width * around.height, 'any');
    if (lines) kernels.markNearLines(lines, around.width, around.height, radiusPx, near);
    else kernels.markNearBoundary(holes, around.width, around.height, radiusPx, near);
    orInto(near, holes);
    crop(near, around, rect, out);
  });
  return out;
}

/** Part of the print's shorter side over which wear of the edges fades out. */
const EDGE_REACH = 0.3;

/** Marks where a texture has holes, at the middle of each pixel. @param out one byte for each pixel of the region, all 0. */
export function sampleHoles(texture: Texture, grid: WornGrid, rect: Rect, out: Uint8Array): void {
  const tile = tileOf(texture);
  for (const turn of texture.secondDeg === null ? [0] : [0, texture.secondDeg]) {
    const place = placeOf(texture, turn, grid.pxPerMm, tile);
    if (texture.kind === 'edges') edgeHoles(texture, tile, place, grid, rect, out);
    else evenHoles(texture, tile, place, rect, out);
  }
}

/** What is known of a square of a tile whose corners are pixels' middles: nothing of it is a hole, all of it is, or a part. */
const WHOLE = 1;
const PART = 2;

/** Holes up to one value everywhere. Between pixels values are bilinear, so a square whose corners are all holes is one. */
function evenHoles(
  { strength }: Texture,
  tile: TextureTile,
  { ux, uy, vx, vy, u0, v0 }: TilePlace,
  rect: Rect,
  out: Uint8Array,
): void {
  const limit = tile.limitOf(strength);
  const squares = squaresOf(tile, limit);
  const mask = tile.side - 1;
  const shift = Math.log2(tile.side);
  for (let row = 0; row < rect.height; row++) {
    const y = rect.y + row + 0.5;
    const [uRow, vRow] = [u0 + uy * y, v0 + vy * y];
    for (let column = 0, i = row * rect.width; column < rect.width; column++, i++) {
      const x = rect.x + column + 0.5;
      const u = uRow + ux * x;
      const v = vRow + vx * x;
      const square = squares[((Math.floor(v) & mask) << shift) | (Math.floor(u) & mask)]!;
      if (square === WHOLE || (square === PART && valueAt(tile, u, v) < limit)) out[i] = 255;
    }
  }
}

const known = new WeakMap<TextureTile, { readonly limit: number; readonly squares: Uint8Array }>();

function squaresOf(tile: TextureTile, limit: number): Uint8Array {
  const last = known.get(tile);
  if (last?.limit === limit) return last.squares;
  const { side, values } = tile;
  const squares = new Uint8Array(side * side);
  for (let y = 0, i = 0; y < side; y++) {
    const below = ((y + 1) & (side - 1)) * side;
    for (let x = 0; x < side; x++, i++) {
      const right = (x + 1) & (side - 1);
      const upper = +(values[i]! < limit) + +(values[y * side + right]! < limit);
      const holes = upper + +(values[below + x]! < limit) + +(values[below + right]! < limit);
      squares[i] = holes === 4 ? WHOLE : holes > 0 ? PART : 0;
    }
  }
  known.set(tile, { limit, squares });
  return squares;
}

/** Holes up to a value that falls from the print's border inwards. */
function edgeHoles(
  { strength }: Texture,
  tile: TextureTile,
  { ux, uy, vx, vy, u0, v0 }: TilePlace,
  { widthPx, heightPx }: WornGrid,
  rect: Rect,
  out: Uint8Array,
): void {
  const reach = EDGE_REACH * Math.min(widthPx, heightPx);
  for (let row = 0; row < rect.height; row++) {
    const y = rect.y + row + 0.5;
    const [uRow, vRow] = [u0 + uy * y, v0 + vy * y];
    for (let column = 0, i = row * rect.width; column < rect.width; column++, i++) {
      const x = rect.x + column + 0.5;
      const inwards = Math.max(0, Math.min(y, heightPx - y, x, widthPx - x)) / reach;
      if (inwards >= 1) continue;
      const limit = strength * 65536 * (1 - inwards);
      if (valueAt(tile, uRow + ux * x, vRow + vx * x) < limit) out[i] = 255;
    }
  }
}

interface TilePlace {
  readonly ux: number;
  readonly uy: number;
  readonly vx: number;
  readonly vy: number;
  readonly u0: number;
  readonly v0: number;
}

/** How pixels of the print lie on a tile. Angles are counter-clockwise as seen on the print. */
function placeOf(
  { scale, angleDeg, xMm, yMm }: Texture,
  turnDeg: number,
  pxPerMm: number,
  { side, aspect, corner }: TextureTile,
) {
  const radians = ((angleDeg + turnDeg) * Math.PI) / 180;
  const step = 1 / (pxPerMm * TILE_MM * scale);
  const [cos, sin] = [Math.cos(radians) * step, Math.sin(radians) * step];
  // The place that was moved to is the corner of the tile; a second layer begins elsewhere on it.
  const [x, y] = [xMm * pxPerMm, yMm * pxPerMm];
  const away = turnDeg === 0 ? 0 : side * 0.37;
  return {
    ux: cos,
    uy: -sin,
    vx: sin / aspect,
    vy: cos / aspect,
    u0: -cos * x + sin * y + away - corner,
    v0: (-sin * x - cos * y) / aspect + away - corner,
  };
}

/** A tile between its pixels' middles, which lie at whole numbers. */
function valueAt({ side, values }: TextureTile, u: number, v: number): number {
  const [x, y] = [Math.floor(u), Math.floor(v)];
  const [fx, fy] = [u - x, v - y];
  const mask = side - 1;
  const top = (y & mask) * side;
  const low = ((y + 1) & mask) * side;
  const left = x & mask;
  const right = (x + 1) & mask;
  const upper = values[top + left]! + fx * (values[top + right]! - values[top + left]!);
  const lower = values[low + left]! + fx * (values[low + right]! - values[low + left]!);
  return upper + fy * (lower - upper);
}
