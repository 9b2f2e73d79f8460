import { KerameusError } from '../units';
import {
  type DotShape,
  type ScreenGeometry,
  type Square,
  findLattice,
  findSquare,
  gcd,
  ofLattice,
  ofSquare,
} from './screenLattice';
import { MASK_SIDE, voidAndClusterOrder } from './voidAndCluster';

/**
 * A halftone screen as repeating rows of thresholds. Dots on a grid repeat in a tile of N = A² + B² device
 * pixels; with gcd(A, B) = 1 the tile is one row, and each device row is the same row shifted on. Dispersed dots have as many rows
 * as their mask, none shifted.
 */
export interface ThresholdTile {
  /** Pixels in a row, before it repeats. */
  readonly length: number;
  readonly rows: number;
  /** Values from one row to the next: the row and what stands again behind it. */
  readonly stride: number;
  /** How far the row moves on from each device row to the next. */
  readonly shift: number;
  /** 1..65535; ink where the tone (0..65535) is at least this. Each row has `length` values and again the first ones, for one contiguous read. */
  readonly thresholds: Uint16Array;
  /** How many values stand behind `length` again. */
  readonly wrap: number;
  /** What the tile's geometry really gives. */
  readonly lpi: number;
  readonly angleDeg: number;
}

/** Dots of one size, strewn without a pattern. */
export interface DispersedGeometry {
  readonly dpi: number;
  /** Side of a dot; on film it is a whole number of device pixels. */
  readonly dotUm: number;
}

/** The inverse of `value` modulo `modulus`; both coprime. */
function inverseModulo(value: number, modulus: number): number {
  let [r0, r1] = [modulus, ((value % modulus) + modulus) % modulus];
  let [t0, t1] = [0, 1];
  while (r1 !== 0) {
    const q = Math.floor(r0 / r1);
    [r0, r1] = [r1, r0 - q * r1];
    [t0, t1] = [t1, t0 - q * t1];
  }
  return ((t0 % modulus) + modulus) % modulus;
}

/** Small dots of the usual ellipse are this much longer than wide. */
const USUAL_RATIO = 1.175;

/** The weight of the axis across in the elliptical spot function, from the ratio of the axes of small dots; 0.5 is round. */
function acrossWeight(ratio: number): number {
  return (ratio * ratio) / (1 + ratio * ratio);
}

/** Distance from the middle of the cell along one axis, -0.5..0.5, for a cell coordinate of any size. */
function fromMiddle(u: number): number {
  return u - Math.round(u);
}

/**
 * Spot functions on cell coordinates (periods of 1): -1..1, higher is inked sooner. The elliptical dot joins first along
 * one axis, then along the other, so that no tone takes one sudden step.
 */
const SPOTS: Readonly<Record<DotShape | 'sectors', (u: number, v: number, across: number) => number>> = {
  ellipse: (u, v, across) => (1 - across) * Math.cos(2 * Math.PI * u) + across * Math.cos(2 * Math.PI * v),
  round: (u, v) => 1 - 4 * (fromMiddle(u) ** 2 + fromMiddle(v) ** 2),
  'square-round': (u, v) => (Math.cos(2 * Math.PI * u) + Math.cos(2 * Math.PI * v)) / 2,
  diamond: (u, v) => 1 - 2 * (Math.abs(fromMiddle(u)) + Math.abs(fromMiddle(v))),
  line: (_, v) => 1 - 4 * Math.abs(fromMiddle(v)),
  // Round the middle of the cell: each tone, and each stretch of tones, is a sector, which a mesh holds better than a ring.
  sectors: (u, v) => Math.atan2(fromMiddle(v), fromMiddle(u)) / Math.PI,
};

const RANK_BITS = 20;

/** Positions in the order in which they are inked: by the spot function, ties spread over the tile. */
function rankBySpot(length: number, spotAt: (position: number) => number): Uint32Array {
  const levels = 1 << RANK_BITS;
  const level = new Uint32Array(length);
  const starts = new Uint32Array(levels + 1);
  for (let k = 0; k < length; k++) {
    const spot = Math.min(1, Math.max(-1, spotAt(k)));
    const darkness = Math.min(levels - 1, Math.floor(((1 - spot) / 2) * levels));
    level[k] = darkness;
    starts[darkness + 1]!++;
  }
  for (let k = 0; k < levels; k++) starts[k + 1]! += starts[k]!;
  const stride = goldenStride(length);
  const rank = new Uint32Array(length);
  for (let k = 0, position = 0; k < length; k++) {
    rank[position] = starts[level[position]!]!++;
    position = (position + stride) % length;
  }
  return rank;
}

/**
 * Where the cell of a place comes in the order in which cells get their dots: evenly without a pattern.
 *
 * @param offset 0 for cells round the middles of dots, 0.5 for cells round the middles of openings.
 */
function cellOrder(n: number, u: number, v: number, offset: number): number {
  const column = ((Math.round(u + offset) % n) + n) % n;
  const row = ((Math.round(v + offset) % n) + n) % n;
  return voidAndClusterOrder()[(row % MASK_SIDE) * MASK_SIDE + (column % MASK_SIDE)]!;
}

/**
 * Has the places of ranks from (included) to (excluded) inked cell by cell instead of a little in every cell: between the two tones
 * dots, or openings, keep their size and become more. Every tone keeps its coverage.
 */
function thinOut(rank: Uint32Array, from: number, to: number, cellOf: (position: number) => number): void {
  const places: number[] = [];
  for (let x = 0; x < rank.length; x++) if (rank[x]! >= from && rank[x]! < to) places.push(x);
  const keys = Float64Array.from(places, (x) => cellOf(x) * rank.length + rank[x]!);
  const order = Uint32Array.from(places, (_, k) => k).sort((p, q) => keys[p]! - keys[q]!);
  order.forEach((k, position) => (rank[places[k]!] = from + position));
}

function goldenStride(length: number): number {
  let stride = Math.max(1, Math.round(length * 0.6180339887498949));
  while (gcd(stride, length) !== 1) stride++;
  return stride;
}

/** Values that stand again behind the row: as many pixels as one read of a row may take. */
const WRAP = 1 << 15;

/**
 * Builds the tile of a screen. The thresholds are ranks over the whole tile, so each tone
 * covers its share of the tile exactly to one pixel.
 *
 * Throws KerameusError `screen-too-fine` when a cell has fewer than four device pixels across.
 */
export function buildThresholdTile(geometry: ScreenGeometry): ThresholdTile {
  if (geometry.dpi / geometry.lpi < 4) {
    throw new KerameusError({
      code: 'screen-too-fine',
      parameter: 'lpi',
      message: `A screen of ${geometry.lpi} lpi has fewer than 4 dots across a cell at ${geometry.dpi} dpi.`,
      remedy: `Use at most ${Math.floor(geometry.dpi / 4)} lpi, or a finer film resolution.`,
    });
  }
  const along = findSquare(geometry);
  if (along) return buildSquareTile(geometry, along);
  const lattice = findLattice(geometry);
  const { a, b, n } = lattice;
  const { lpi, angleDeg, pixels: length } = ofLattice(geometry, lattice);
  // Cell coordinates at (X, Y), y down: u = n(XA - YB)/N and v = n(XB + YA)/N. So (X, Y) is the same place as
  // (X - Y * shift, 0) with shift * A = B modulo N.
  const shift = Number((BigInt(b) * BigInt(inverseModulo(a, length))) % BigInt(length));
  const down = (length - shift) % length;
  const rank = rankPlaces(geometry, length, n, (x) => [
    (n * ((x * a) % length)) / length,
    (n * ((x * b) % length)) / length,
  ]);
  const thresholds = new Uint16Array(length + WRAP);
  for (let k = 0; k < length; k++) thresholds[k] = thresholdOf(rank[k]!, length);
  for (let k = 0; k < WRAP; k++) thresholds[length + k] = thresholds[k % length]!;
  return {
    length,
    rows: 1,
    stride: 0,
    shift: down,
    thresholds,
    wrap: WRAP,
    lpi,
    angleDeg,
  };
}

function thresholdOf(rank: number, count: number): number {
  return Math.floor((rank * 65535) / count) + 1;
}

/** The order in which the places of a tile of n cells are inked. */
function rankPlaces(
  geometry: ScreenGeometry,
  length: number,
  n: number,
  placeOf: (position: number) => [number, number],
): Uint32Array {
  const spot = SPOTS[geometry.shape ?? 'ellipse'];
  const across = acrossWeight(geometry.ratio ?? USUAL_RATIO);
  const rank = rankBySpot(length, (x) => spot(...placeOf(x), across));
  // Lines hold however thin they are; they have no cells along them. Sectors are never alone in their cell.
  const { smallest = 0, largest = 1 } =
    geometry.shape === 'line' || geometry.shape === 'sectors' ? {} : geometry;
  if (smallest > 0) thinOut(rank, 0, Math.round(smallest * length), (x) => cellOrder(n, ...placeOf(x), 0));
  // Openings stand at the corners of the cells, half a cell away from the dots; the last ones to close are inked last.
  if (largest < 1) {
    thinOut(rank, Math.round(largest * length), length, (x) => cellOrder(n, ...placeOf(x), 0.5));
  }
  return rank;
}

function buildSquareTile(geometry: ScreenGeometry, square: Square): ThresholdTile {
  const { side, n, eighths } = square;
  const { lpi, angleDeg } = ofSquare(geometry, square);
  const count = side * side;
  // Whole numbers, so that what stands on the other side of the square is exactly the same place of a cell.
  const [cos, sin] = [Math.cos, Math.sin].map((f) => Math.round(f((eighths * Math.PI) / 4) * Math.SQRT2)) as [
    number,
    number,
  ];
  const rank = rankPlaces(geometry, count, n, (position) => {
    const x = (n * (position % side)) / side;
    const y = (n * Math.floor(position / side)) / side;
    // As on a slanted lattice, y down.
    return [x * cos - y * sin, x * sin + y * cos];
  });
  const stride = side + MASK_WRAP;
  const thresholds = new Uint16Array(side * stride);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < stride; x++) {
      thresholds[y * stride + x] = thresholdOf(rank[y * side + (x % side)]!, count);
    }
  }
  return {
    length: side,
    rows: side,
    stride,
    shift: 0,
    thresholds,
    wrap: MASK_WRAP,
    lpi,
    angleDeg,
  };
}

/** Pixels that one read of a row of dispersed dots may take beyond the row. */
const MASK_WRAP = 2048;

/** Side of a dispersed dot in device pixels. */
export function dispersedDotPx({ dpi, dotUm }: DispersedGeometry): number {
  return Math.max(1, Math.round((dotUm * dpi) / 25400));
}

/** Builds the tile of dispersed dots: a mask without a pattern, each of its places a square of the dot's size. */
export function buildDispersedTile(geometry: DispersedGeometry): ThresholdTile {
  const dot = dispersedDotPx(geometry);
  const order = voidAndClusterOrder();
  const length = MASK_SIDE * dot;
  const stride = length + MASK_WRAP;
  const thresholds = new Uint16Array(length * stride);
  for (let y = 0; y < length; y++) {
    const mask = Math.floor(y / dot) * MASK_SIDE;
    for (let x = 0; x < stride; x++) {
      const rank = order[mask + Math.floor((x % length) / dot)]!;
      thresholds[y * stride + x] = thresholdOf(rank, order.length);
    }
  }
  return { length, rows: length, stride, shift: 0, thresholds, wrap: MASK_WRAP, lpi: 0, angleDeg: 0 };
}

/** Where tiles may be kept from one time to the next. What it gives back must be what was put there. */
export interface TileStore {
  read(key: string): ThresholdTile | null;
  write(key: string, tile: ThresholdTile): void;
}

/** Tiles by their geometry, each built once. */
export class ThresholdTiles {
  private readonly tiles = new Map<string, ThresholdTile>();
  private readonly store: TileStore | null;

  constructor(store: TileStore | null = null) {
    this.store = store;
  }

  /** Throws what `buildThresholdTile` throws. */
  get(geometry: ScreenGeometry | DispersedGeometry): ThresholdTile {
    const key =
      'dotUm' in geometry
        ? `${geometry.dpi}/${dispersedDotPx(geometry)} px`
        : `${geometry.dpi}/${geometry.lpi}/${geometry.angleDeg}/${geometry.shape ?? 'ellipse'}/${geometry.ratio ?? USUAL_RATIO}/${(geometry.smallest ?? 0).toFixed(4)}/${geometry.largest ?? 1}`;
    let tile = this.tiles.get(key) ?? this.store?.read(key) ?? null;
    if (!tile) {
      tile = 'dotUm' in geometry ? buildDispersedTile(geometry) : buildThresholdTile(geometry);
      this.store?.write(key, tile);
    }
    this.tiles.set(key, tile);
    return tile;
  }
}

const SOLID_WRAP = 16384;

/** For plates without dots: ink wherever there is tone. */
export const SOLID_TILE: ThresholdTile = {
  length: 1,
  rows: 1,
  stride: 0,
  shift: 0,
  // As long as what is read at once.
  thresholds: new Uint16Array(1 + SOLID_WRAP).fill(1),
  wrap: SOLID_WRAP,
  lpi: 0,
  angleDeg: 0,
};

function modulo(value: number, by: number): number {
  return ((value % by) + by) % by;
}

/** Position in the tile's thresholds of a device pixel, for any sign of its coordinates. */
export function tilePosition(tile: ThresholdTile, x: number, y: number): number {
  const turned = (modulo(y, tile.length) * tile.shift) % tile.length;
  return modulo(y, tile.rows) * tile.stride + modulo((x % tile.length) + turned, tile.length);
}
