import type { Rect } from '../geometry';
import type { RgbaPlane } from '../artwork';
import { type Allocator, BARE, MIXED, type RasterKernels, TONED } from '../raster';
import { markEdgePixels } from './edgeLabels';
import { PairMixer } from './pairMixer';
import type { Mixture, PaletteLookup } from './palette';
import type { PixelShares } from './pixelShares';
import { forEachInside } from './relabelWithin';

/** Flat colours that are told from the tones round them. */
export interface KeptColours {
  /** By label. */
  readonly lookup: PaletteLookup;
  readonly colours: readonly {
    readonly rgb: readonly [number, number, number];
    /** Where the colour counts, as fractions of the artwork; null: everywhere. */
    readonly within: readonly (readonly [number, number])[] | null;
  }[];
}

export interface KeptContext {
  /** Size of the whole level, for outlines. */
  readonly levelWidth: number;
  readonly levelHeight: number;
  /** As for `pixelShares`. */
  readonly edgeRadiusPx: number;
  readonly kernels: RasterKernels;
  readonly memory: Allocator;
}

/** Pieces of a colour that have fewer pixels are tones that happen to have it. */
const LEAST_PIECE = 9;
/** Tones between kept colours in pieces of fewer pixels are none: corners of letters, and what compression leaves beside edges. */
const LEAST_TONES = 9;
const LEAST_TONES_LOSSY = 40;
/** What a smooth edge is mixed with is looked for so far beyond it, in pixels. */
const BEYOND = 2;
/** Sides of an edge nearer to each other than this, in sRGB codes, are not told apart: the pixel is what it is named. */
const LEAST_APART = 24;
/** Between kept colours a pixel no farther than this, in sRGB codes, from one or from a mixture of two is that. */
const NOISE = 48;
const NOISE_LOSSY = 90;
/** An edge pixel with this much of one side is that side. */
const ALL_BUT = 0.97;

/** How far `keptShares` looks beyond a pixel: past a speck of tones, the edge round it, and a piece of a colour, each of which is taken for a large one where it is not whole. */
export function keptSharesHalo(edgeRadiusPx: number): number {
  return LEAST_PIECE + leastTones(edgeRadiusPx) + 2 * (reachOf(edgeRadiusPx) + BEYOND);
}

/** From this radius on compression smears edges. */
const LOSSY_RADIUS = 3;

/** Pixels beside a colour that may be its smooth edge. */
function reachOf(edgeRadiusPx: number): number {
  return edgeRadiusPx >= LOSSY_RADIUS ? edgeRadiusPx : Math.max(1, edgeRadiusPx >> 1);
}

function leastTones(edgeRadiusPx: number): number {
  return edgeRadiusPx >= LOSSY_RADIUS ? LEAST_TONES_LOSSY : LEAST_TONES;
}

/**
 * Shares of artwork that prints by its tones in which areas of some flat colours are told from the tones: their pixels get labels, and those of a smooth
 * edge the share of each side, as flat artwork has them. A colour counts where it stands in blocks of two by two pixels and in pieces that are
 * large enough to hold.
 *
 * @param art as it came, before its colours are changed.
 * @param shares the silhouette of the same pixels; its arrays are changed or replaced.
 */
export function keptShares(
  { rect, data }: RgbaPlane,
  shares: PixelShares,
  { lookup, colours }: KeptColours,
  context: KeptContext,
): PixelShares {
  const { width, height } = rect;
  const { memory, kernels } = context;
  const pixels = new Uint32Array(data.buffer, data.byteOffset, width * height);
  const edges: Edge[] = [];
  memory.scratch(() => {
    const name = memory.bytes(width * height, 'any');
    kernels.namePixels({ pixels, empty: 0, opaque: 0, known: lookup.names, label: name });
    for (let i = 0; i < name.length; i++) {
      if (shares.label[i] === BARE || shares.tone[i] === 1) name[i] = MIXED;
    }
    clearOutside(name, rect, colours, context);
    markEdgePixels(name, pixels, width, height, lookup);
    const goesOn = openSides(rect, context);
    keepPieces(name, width, height, goesOn);
    const { edgeRadiusPx } = context;
    const search: EdgeSearch = {
      ...{ width, height, goesOn, colours },
      reach: reachOf(edgeRadiusPx),
      enough: leastTones(edgeRadiusPx),
      noise: edgeRadiusPx >= LOSSY_RADIUS ? NOISE_LOSSY : NOISE,
    };
    findEdges(name, pixels, shares, search, edges);
    fillSpecks(name, pixels, shares, search, edges);
    for (let i = 0; i < name.length; i++) {
      if (name[i] === MIXED || shares.label[i] !== TONED) continue;
      shares.label[i] = name[i]!;
    }
    // Where the artwork ends in a kept colour.
    const { mixed, mixLabels } = shares;
    for (let k = 0; k < mixed.length; k++) {
      const own = name[mixed[k]!]!;
      if (own !== MIXED) mixLabels[k * 3] = own;
    }
  });
  return edges.length === 0 ? shares : withEdges(shares, edges, memory);
}

/** A pixel of a smooth edge: the share of a kept colour, and what the rest is. */
interface Edge {
  readonly at: number;
  readonly label: number;
  /** 0..1 */
  readonly share: number;
  /** TONED, or another kept colour. */
  readonly rest: number;
}

/** Colours with outlines count only inside of them. */
function clearOutside(
  name: Uint8Array,
  rect: Rect,
  colours: KeptColours['colours'],
  { levelWidth, levelHeight, memory }: KeptContext,
): void {
  colours.forEach(({ within }, label) => {
    if (!within) return;
    memory.scratch(() => {
      const inside = memory.bytes(name.length);
      forEachInside(within, rect, levelWidth, levelHeight, (first, end) => inside.fill(1, first, end));
      for (let i = name.indexOf(label); i >= 0; i = name.indexOf(label, i + 1)) {
        if (inside[i] === 0) name[i] = MIXED;
      }
    });
  });
}

/** Whether the artwork goes on beyond the pixels at a plane's border. */
type GoesOn = (i: number) => boolean;

function openSides({ x, y, width, height }: Rect, { levelWidth, levelHeight }: KeptContext): GoesOn {
  const [left, top] = [x > 0, y > 0];
  const [right, bottom] = [x + width < levelWidth, y + height < levelHeight];
  return (i) =>
    (left && i % width === 0) ||
    (right && i % width === width - 1) ||
    (top && i < width) ||
    (bottom && i >= width * (height - 1));
}

/** Takes back names that stand in no block of two by two, or in pieces that are too small; at a border beyond which the artwork goes on they may go on, too. */
function keepPieces(name: Uint8Array, width: number, height: number, goesOn: GoesOn): void {
  const inBlock = (i: number): boolean => {
    const own = name[i];
    const x = i % width;
    if (goesOn(i)) return true;
    for (const dx of [-1, 1]) {
      for (const dy of [-width, width]) {
        if (x + dx < 0 || x + dx >= width || i + dy < 0 || i + dy >= name.length) continue;
        if (name[i + dx] === own && name[i + dy] === own && name[i + dx + dy] === own) return true;
      }
    }
    return false;
  };
  const taken: number[] = [];
  for (let i = 0; i < name.length; i++) {
    if (name[i] === MIXED) continue;
    // Most pixels stand in a block to their right.
    const own = name[i];
    const isLast = i % width === width - 1;
    if (!isLast && name[i + 1] === own && name[i + width] === own && name[i + width + 1] === own) continue;
    if (!inBlock(i)) taken.push(i);
  }
  for (const i of taken) name[i] = MIXED;
  const piece: number[] = [];
  for (let i = 0; i < name.length; i++) {
    const own = name[i]!;
    // A piece is looked at from its first pixel; long runs belong to large ones.
    if (own === MIXED || (i % width > 0 && name[i - 1] === own) || name[i - width] === own) continue;
    if (isSmall(name, width, i, LEAST_PIECE, goesOn, piece)) for (const each of piece) name[each] = MIXED;
  }
}

/** Gathers a piece; false where it has enough pixels or may go on beyond the border. */
function isSmall(
  name: Uint8Array,
  width: number,
  first: number,
  enough: number,
  goesOn: GoesOn,
  piece: number[],
): boolean {
  piece.length = 0;
  piece.push(first);
  const own = name[first]!;
  for (let k = 0; k < piece.length; k++) {
    const i = piece[k]!;
    if (goesOn(i)) return false;
    const x = i % width;
    for (const [next, isBeside] of [
      [i - 1, x > 0],
      [i + 1, x < width - 1],
      [i - width, true],
      [i + width, true],
    ] as const) {
      if (!isBeside || name[next] !== own || piece.includes(next)) continue;
      if (piece.length + 1 >= enough) return false;
      piece.push(next);
    }
  }
  return true;
}

interface EdgeSearch {
  readonly width: number;
  readonly height: number;
  readonly goesOn: GoesOn;
  readonly reach: number;
  /** Pixels of a piece of tones that is large enough to be one. */
  readonly enough: number;
  /** See NOISE. */
  readonly noise: number;
  readonly colours: KeptColours['colours'];
}

/** Finds pixels beside kept colours that are mixed of them and of what stands on the other side. */
function findEdges(
  name: Uint8Array,
  pixels: Uint32Array,
  { label }: PixelShares,
  search: EdgeSearch,
  edges: Edge[],
): void {
  const { width, height, reach } = search;
  const isTone = (j: number) => name[j] === MIXED && label[j] === TONED;
  const beside = pixelsBeside(name, width, height, reach);
  for (let i = beside.indexOf(1); i >= 0; i = beside.indexOf(1, i + 1)) {
    if (!isTone(i)) continue;
    const near = namesNear(name, i, width, height, reach);
    // What stands behind the edge: tones that no kept colour is beside.
    const sums = [0, 0, 0, 0];
    forEachNear(i, width, height, reach + BEYOND, (j) => {
      if (beside[j] === 1 || !isTone(j)) return;
      for (const c of [0, 1, 2] as const) sums[c]! += (pixels[j]! >>> (c * 8)) & 255;
      sums[3]!++;
    });
    const count = sums[3]!;
    const tone = count > 0 ? ([sums[0]! / count, sums[1]! / count, sums[2]! / count] as const) : null;
    const edge = edgeOf(pixels[i]!, near, tone, search);
    if (edge) edges.push({ at: i, ...edge });
  }
}

/** Tones between kept colours in pieces too small to hold, such as those in the corners of letters, go to the colours beside them. */
function fillSpecks(
  name: Uint8Array,
  pixels: Uint32Array,
  { label }: PixelShares,
  search: EdgeSearch,
  edges: Edge[],
): void {
  const { width, height, goesOn, reach, enough } = search;
  const tone = new Uint8Array(name.length).fill(MIXED);
  for (let i = 0; i < name.length; i++) if (name[i] === MIXED && label[i] === TONED) tone[i] = TONED;
  for (const { at } of edges) tone[at] = MIXED;
  const piece: number[] = [];
  for (let i = 0; i < tone.length; i++) {
    if (tone[i] === MIXED || (i % width > 0 && tone[i - 1] === TONED) || tone[i - width] === TONED) continue;
    if (!isSmall(tone, width, i, enough, goesOn, piece)) continue;
    for (const at of piece) {
      tone[at] = MIXED;
      const near = namesNear(name, at, width, height, reach + BEYOND);
      if (near.length === 0) continue;
      const edge = edgeOf(pixels[at]!, near, null, search);
      if (!edge && piece.length >= LEAST_TONES) continue;
      edges.push({ at, ...(edge ?? { label: near[0]!, share: 1, rest: TONED }) });
    }
  }
  edges.sort((p, q) => p.at - q.at);
}

/** The names within some pixels of one. */
function namesNear(name: Uint8Array, i: number, width: number, height: number, reach: number): number[] {
  const near: number[] = [];
  forEachNear(i, width, height, reach, (j) => {
    const own = name[j]!;
    if (own !== MIXED && !near.includes(own)) near.push(own);
  });
  return near;
}

/**
 * What a pixel beside kept colours is mixed of; null where it is tone.
 *
 * @param near the kept colours.
 * @param tone mean of the tones near by, in sRGB codes. Null: there are none but beside the colours; then what is far from all of these is one, however
 * narrow it is.
 */
function edgeOf(
  pixel: number,
  near: readonly number[],
  tone: readonly [number, number, number] | null,
  { colours, noise }: EdgeSearch,
): Omit<Edge, 'at'> | null {
  const sides = near.map((k) => colours[k]!.rgb);
  if (tone) sides.push(tone.map(Math.round) as [number, number, number]);
  const mixer = new PairMixer(sides);
  mixer.begin(pixel & 255, (pixel >>> 8) & 255, (pixel >>> 16) & 255);
  for (let i = 0; i < near.length; i++) {
    for (let j = i + 1; j < sides.length; j++) {
      const apart = Math.hypot(...[0, 1, 2].map((c) => sides[i]![c]! - sides[j]![c]!));
      if (apart >= LEAST_APART) mixer.tryPair(i, j);
    }
    if (!tone) mixer.tryAlone(i);
  }
  if (mixer.best > (tone ? Number.MAX_VALUE : noise * noise)) return null;
  const mixture: Mixture = { first: 0, second: 0, share: 0, rest: 0 };
  mixer.result(mixture);
  const [label, rest] = [mixture.first, mixture.second].map((side) => near[side] ?? TONED) as [
    number,
    number,
  ];
  const share = mixture.share / 65535;
  if (share > ALL_BUT) return { label, share: 1, rest: TONED };
  if (share >= 1 - ALL_BUT) return { label, share, rest };
  return rest === TONED ? null : { label: rest, share: 1, rest: TONED };
}

/** 1 for each pixel without a name that has one within some pixels. */
function pixelsBeside(name: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const beside = new Uint8Array(name.length);
  for (let i = 0; i < name.length; i++) {
    if (name[i] === MIXED) continue;
    // Most named pixels have names on all sides.
    const inside = name[i - 1] !== MIXED && name[i + 1] !== MIXED;
    if (inside && name[i - width] !== MIXED && name[i + width] !== MIXED) continue;
    forEachNear(i, width, height, reach, (j) => {
      if (name[j] === MIXED) beside[j] = 1;
    });
  }
  return beside;
}

/** The pixel itself and those round it. */
function forEachNear(
  i: number,
  width: number,
  height: number,
  reach: number,
  visit: (j: number) => void,
): void {
  const x = i % width;
  const y = (i / width) | 0;
  const right = Math.min(width - 1, x + reach);
  const bottom = Math.min(height - 1, y + reach);
  for (let row = Math.max(0, y - reach); row <= bottom; row++) {
    for (let column = Math.max(0, x - reach); column <= right; column++) visit(row * width + column);
  }
}

/** The shares with more pixels that are mixed. */
function withEdges(shares: PixelShares, edges: readonly Edge[], memory: Allocator): PixelShares {
  const mixing = edges.filter(({ share }) => share < 1);
  for (const { at, label, share } of edges) shares.label[at] = share < 1 ? MIXED : label;
  const count = shares.mixed.length + mixing.length;
  const mixed = memory.ints(count, 'any');
  const mixAt = memory.ints(count > 0 ? shares.label.length : 0, 'any');
  const mixLabels = memory.bytes(count * 3, 'any').fill(BARE);
  const mixShares = memory.words(count * 3);
  let [own, edge] = [0, 0];
  for (let k = 0; k < count; k++) {
    const next = mixing[edge];
    const isEdge = next !== undefined && (own >= shares.mixed.length || next.at < shares.mixed[own]!);
    const at = isEdge ? next.at : shares.mixed[own]!;
    mixed[k] = at;
    mixAt[at] = k;
    if (isEdge) {
      mixLabels[k * 3] = next.label;
      mixLabels[k * 3 + 1] = next.rest;
      mixShares[k * 3] = Math.round(next.share * 65535);
      mixShares[k * 3 + 1] = 65535 - mixShares[k * 3]!;
      edge++;
    } else {
      mixLabels.set(shares.mixLabels.subarray(own * 3, own * 3 + 3), k * 3);
      mixShares.set(shares.mixShares.subarray(own * 3, own * 3 + 3), k * 3);
      own++;
    }
  }
  return { ...shares, mixed, mixAt, mixLabels, mixShares };
}
