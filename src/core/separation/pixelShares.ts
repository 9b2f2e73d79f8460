import { EMPTY_ALPHA, OPAQUE_ALPHA, type OuterMap, type RgbaPlane, isParted } from '../artwork';
import type { Rect } from '../geometry';
import { type Allocator, BARE, type RasterKernels } from '../raster';
import { DUST_HALO, removeDust } from './dust';
import { EDGE_LABELS_HALO, markEdgePixels } from './edgeLabels';
import { closeGaps, gapsHalo } from './gaps';
import { dropOutside } from './dropOutside';
import type { Mixture, PaletteLookup } from './palette';

/** What each artwork pixel is made of: one palette colour, or shares of up to three. */
export interface PixelShares {
  readonly width: number;
  readonly height: number;
  /** Palette index, BARE, or MIXED. */
  readonly label: Uint8Array;
  /** The MIXED pixels, in ascending order. */
  readonly mixed: Int32Array;
  /** For MIXED pixels the index into the arrays below; means nothing elsewhere. */
  readonly mixAt: Int32Array;
  /** Three labels for each mixed pixel; unused places hold BARE with share 0. */
  readonly mixLabels: Uint8Array;
  /** Their shares, 0..65535, summing to 65535; those of two inks in a transition to that at least. */
  readonly mixShares: Uint16Array;
  /** 1 where the pixel lies in a transition too wide to be an edge: its shares are tone. */
  readonly tone: Uint8Array;
}

export interface SharesContext {
  readonly palette: PaletteLookup;
  /** Set when a background colour is dropped: outside of the design, or everywhere where there is no map of that. */
  readonly outside: { readonly map: OuterMap | null; readonly label: number } | null;
  /** Size of the whole level, to place the plane on the map of the outside. */
  readonly levelWidth: number;
  readonly levelHeight: number;
  /** A mixed pixel with no pure one within this many pixels belongs to a transition of tone. */
  readonly edgeRadiusPx: number;
  /** Pieces of at most so many pixels are dust and go to what is round them; 0: none are. */
  readonly dustPx: number;
  /** Bare gaps narrower than this are closed; below 1: none are. */
  readonly gapPx: number;
  /** Whether only colours found within three pixels may explain a mixed pixel of an edge. */
  readonly localCandidates: boolean;
  readonly kernels: RasterKernels;
  readonly memory: Allocator;
}

const SEED_RADIUS = 3;

/** How far `pixelShares` looks beyond a pixel. */
export function pixelSharesHalo(edgeRadiusPx: number, gapPx = 0): number {
  return (
    Math.max(SEED_RADIUS, edgeRadiusPx) +
    growth(edgeRadiusPx) +
    Math.max(EDGE_LABELS_HALO, DUST_HALO) +
    gapsHalo(gapPx) +
    1
  );
}

function growth(edgeRadiusPx: number): number {
  return edgeRadiusPx + 2;
}

/**
 * Names every pixel of a plane: pure where it is within the palette's purity of one colour, else unmixed into
 * shares of the colours near it. The fraction in an edge pixel is area and is marked as such (tone 0); only
 * where no pure pixel is near does it count as tone.
 */
export function pixelShares(art: RgbaPlane, context: SharesContext): PixelShares {
  const { width, height } = art.rect;
  const { memory, palette, kernels } = context;
  const { data } = art;
  const pixels = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
  const raw = memory.bytes(width * height, 'any');
  const opaque = OPAQUE_ALPHA;
  const named =
    palette.count === 0
      ? nothing(raw)
      : kernels.namePixels({ pixels, empty: EMPTY_ALPHA, opaque, known: palette.names, label: raw });
  const count = named + (palette.hasSmoothEdges ? markEdgePixels(raw, pixels, width, height, palette) : 0);
  if (context.dustPx > 0) removeDust(raw, width, height, context.dustPx);
  const tone = memory.bytes(width * height);
  const { edgeRadiusPx } = context;
  if (count > 0) kernels.markTone(raw, width, height, edgeRadiusPx, growth(edgeRadiusPx), tone);

  const label = context.outside ? memory.bytes(raw.length, 'any') : raw;
  if (context.outside) {
    label.set(raw);
    dropOutside(art.rect, context.outside.label, context.outside.map, context, label);
  }
  if (context.gapPx > 0) closeGaps(label, width, height, context.gapPx);
  const mixed = memory.ints(count, 'any');
  const mixAt = memory.ints(count > 0 ? width * height : 0, 'any');
  const mixLabels = memory.bytes(count * 3, 'any').fill(BARE);
  const mixShares = memory.words(count * 3);
  const left = memory.ints(count, 'any');
  const leaveEdges = context.localCandidates;
  const mixtures = { mixed, mixAt, mixLabels, mixShares, left };
  const lefts =
    count === 0
      ? 0
      : kernels.mixPixels({
          pixels,
          label: raw,
          opaque,
          tone,
          leaveEdges,
          known: palette.mixtures,
          ...mixtures,
        });
  const mix: Mixture = { first: 0, second: 0, share: 0, rest: 0 };
  for (let each = 0; each < lefts; each++) {
    const k = left[each]!;
    const i = mixed[k]!;
    const alpha = data[i * 4 + 3]!;
    const seeds = leaveEdges && tone[i] === 0 ? seedsNear(raw, width, height, i) : null;
    palette.mixture(data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!, seeds, alpha, mix);
    // In an edge the opacity is area; where it is wide, it is what the ink must look like.
    const faded = tone[i] === 1 ? palette.fade(mix.first, alpha) : Math.round((alpha / 255) * 65535);
    const ink = alpha >= opaque ? 65535 : faded;
    const first = Math.round((ink * mix.share) / 65535);
    // Both inks of a transition may print on the same place.
    const second = mix.share + mix.rest === 65535 ? ink - first : Math.round((ink * mix.rest) / 65535);
    mixLabels[k * 3] = mix.first;
    mixShares[k * 3] = first;
    mixLabels[k * 3 + 1] = mix.second;
    mixShares[k * 3 + 1] = second;
    mixShares[k * 3 + 2] = 65535 - ink;
  }
  if (context.outside) dropOutsideShares(art.rect, context, label, mixed, mixLabels);
  return { width, height, label, mixed, mixAt, mixLabels, mixShares, tone };
}

/** Without a palette everything is bare. Returns how much is mixed. */
function nothing(label: Uint8Array): number {
  label.fill(BARE);
  return 0;
}

/** The same in memory of its own, for what is kept longer or changed. */
export function copyShares(shares: PixelShares, memory: Allocator): PixelShares {
  const bytes = (from: Uint8Array) => copyInto(from, memory.bytes(from.length));
  const ints = (from: Int32Array) => copyInto(from, memory.ints(from.length));
  return {
    width: shares.width,
    height: shares.height,
    label: bytes(shares.label),
    mixed: ints(shares.mixed),
    mixAt: ints(shares.mixAt),
    mixLabels: bytes(shares.mixLabels),
    mixShares: copyInto(shares.mixShares, memory.words(shares.mixShares.length)),
    tone: bytes(shares.tone),
  };
}

function copyInto<T extends Uint8Array | Uint16Array | Int32Array>(from: T, to: T): T {
  to.set(from);
  return to;
}

const seeds = new Uint32Array(2);

/** The colours that stand near a pixel, as 64 bits; overwritten by the next call. */
function seedsNear(label: Uint8Array, width: number, height: number, i: number): Uint32Array | null {
  const x = i % width;
  const y = (i / width) | 0;
  const x1 = Math.min(width - 1, x + SEED_RADIUS);
  const y1 = Math.min(height - 1, y + SEED_RADIUS);
  seeds.fill(0);
  for (let row = Math.max(0, y - SEED_RADIUS); row <= y1; row++) {
    for (let column = Math.max(0, x - SEED_RADIUS); column <= x1; column++) {
      const here = label[row * width + column]!;
      if (here < BARE) seeds[here >> 5]! |= 1 << (here & 31);
    }
  }
  return seeds[0] === 0 && seeds[1] === 0 ? null : seeds;
}

/** A share of the background in a mixed pixel is bare when the background beside it was dropped, or no edge parts it from what was. */
function dropOutsideShares(
  { x: left, y: top, width, height }: Rect,
  { outside, levelWidth, levelHeight }: SharesContext,
  label: Uint8Array,
  mixed: Int32Array,
  mixLabels: Uint8Array,
): void {
  const { map, label: dropped } = outside!;
  for (let k = 0; k < mixed.length; k++) {
    if (mixLabels[k * 3] !== dropped && mixLabels[k * 3 + 1] !== dropped) continue;
    const i = mixed[k]!;
    const x = i % width;
    const y = (i / width) | 0;
    let bare = 0;
    let kept = 0;
    for (let dy = -2; dy <= 2; dy++) {
      for (let dx = -2; dx <= 2; dx++) {
        if (x + dx < 0 || x + dx >= width || y + dy < 0 || y + dy >= height) continue;
        const here = label[i + dy * width + dx];
        if (here === BARE) bare++;
        else if (here === dropped) kept++;
      }
    }
    if (kept > bare) continue;
    if (bare === 0 && map && isParted(map, (left + x + 0.5) / levelWidth, (top + y + 0.5) / levelHeight)) {
      continue;
    }
    if (mixLabels[k * 3] === dropped) mixLabels[k * 3] = BARE;
    if (mixLabels[k * 3 + 1] === dropped) mixLabels[k * 3 + 1] = BARE;
  }
}
