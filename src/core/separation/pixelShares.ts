import { EMPTY_ALPHA, OPAQUE_ALPHA, OUTER, type OuterMap, type RgbaPlane, isOuter } from '../artwork';
import type { Allocator } from '../raster';
import { BARE, MIXED, type Mixture, type PaletteLookup } from './palette';

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
  /** Their shares, 0..65535, summing to 65535. */
  readonly mixShares: Uint16Array;
  /** 1 where the pixel lies in a transition too wide to be an edge: its shares are tone. */
  readonly tone: Uint8Array;
}

export interface SharesContext {
  readonly palette: PaletteLookup;
  /** Set when a background colour is dropped. */
  readonly outside: { readonly map: OuterMap; readonly label: number } | null;
  /** Size of the whole level, to place the plane on the map of the outside. */
  readonly levelWidth: number;
  readonly levelHeight: number;
  /** A mixed pixel with no pure one within this many pixels belongs to a transition of tone. */
  readonly edgeRadiusPx: number;
  /** Whether only colours found within three pixels may explain a mixed pixel of an edge. */
  readonly localCandidates: boolean;
  readonly memory: Allocator;
}

/** How far `pixelShares` looks beyond a pixel. */
export function pixelSharesHalo(edgeRadiusPx: number): number {
  return Math.max(3, edgeRadiusPx) + growth(edgeRadiusPx) + 1;
}

function growth(edgeRadiusPx: number): number {
  return edgeRadiusPx + 2;
}

const SEED_RADIUS = 3;

/**
 * Names every pixel of a plane: pure where it is within the palette's purity of one colour, else unmixed into
 * shares of the colours near it. The fraction in an edge pixel is area and is marked as such (tone 0); only
 * where no pure pixel is near does it count as tone.
 */
export function pixelShares(art: RgbaPlane, context: SharesContext): PixelShares {
  const { width, height } = art.rect;
  const { memory } = context;
  const raw = memory.bytes(width * height);
  const mixed = labelPure(art, context.palette, raw, memory);
  const tone = memory.bytes(width * height);
  if (mixed.length > 0) {
    memory.scratch(() => markTone(raw, width, height, mixed, context.edgeRadiusPx, tone, memory));
  }

  const label = context.outside ? memory.bytes(raw.length) : raw;
  if (context.outside) {
    label.set(raw);
    dropOutside(art, context, label);
  }
  const mixAt = memory.ints(mixed.length > 0 ? width * height : 0);
  const mixLabels = memory.bytes(mixed.length * 3).fill(BARE);
  const mixShares = memory.words(mixed.length * 3);
  const mix: Mixture = { first: 0, second: 0, share: 0 };

  const { data } = art;
  const pixels = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
  let last = -1;
  for (let k = 0; k < mixed.length; k++) {
    const i = mixed[k]!;
    mixAt[i] = k;
    const local = context.localCandidates && tone[i] === 0;
    // Tone comes in short runs of one colour.
    if (!local && last >= 0 && pixels[i] === pixels[last]) {
      const from = mixAt[last]! * 3;
      for (let each = 0; each < 3; each++) {
        mixLabels[k * 3 + each] = mixLabels[from + each]!;
        mixShares[k * 3 + each] = mixShares[from + each]!;
      }
    } else {
      const alpha = data[i * 4 + 3]!;
      const seeds = local ? seedsNear(raw, width, height, i) : 0;
      context.palette.mixture(data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!, seeds, alpha, mix);
      const ink = alpha >= OPAQUE_ALPHA ? 65535 : Math.round((alpha / 255) * 65535);
      const first = Math.round((ink * mix.share) / 65535);
      mixLabels[k * 3] = mix.first;
      mixShares[k * 3] = first;
      mixLabels[k * 3 + 1] = mix.second;
      mixShares[k * 3 + 1] = ink - first;
      mixShares[k * 3 + 2] = 65535 - ink;
    }
    last = local || context.outside ? -1 : i;
    if (context.outside) dropOutsideShares(context, label, width, height, i, k, mixLabels);
  }
  return { width, height, label, mixed, mixAt, mixLabels, mixShares, tone };
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

/** Writes the pure labels and returns the places of the others. */
function labelPure(art: RgbaPlane, palette: PaletteLookup, label: Uint8Array, memory: Allocator): Int32Array {
  const { data } = art;
  const pixels = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
  let mixed = memory.ints(1024);
  let count = 0;
  for (let i = 0; i < pixels.length;) {
    // Flat artwork comes in runs of one colour.
    const pixel = pixels[i]!;
    let end = i + 1;
    while (end < pixels.length && pixels[end] === pixel) end++;
    const p = i * 4;
    const named = namePixel(palette, data[p]!, data[p + 1]!, data[p + 2]!, data[p + 3]!);
    label.fill(named, i, end);
    if (named === MIXED) {
      if (count + end - i > mixed.length) {
        const larger = memory.ints(Math.max(2 * mixed.length, count + end - i));
        larger.set(mixed);
        mixed = larger;
      }
      for (let k = i; k < end; k++) mixed[count++] = k;
    }
    i = end;
  }
  return mixed.subarray(0, count);
}

function namePixel(palette: PaletteLookup, r: number, g: number, b: number, alpha: number): number {
  if (alpha <= EMPTY_ALPHA || palette.count === 0) return BARE;
  return alpha >= OPAQUE_ALPHA ? palette.pureLabel(r, g, b) : MIXED;
}

/** Marks mixed pixels with no pure one within the radius, and what of the transition is joined to them. */
function markTone(
  label: Uint8Array,
  width: number,
  height: number,
  mixed: Int32Array,
  radius: number,
  tone: Uint8Array,
  memory: Allocator,
): void {
  // Chessboard distance to the nearest pure pixel, in two passes; beyond the plane is unknown and counts as mixed. It is told up to one
  // beyond the limit: pixels at the limit are the rim of what is tone, from which it grows.
  const limit = radius + 1;
  const most = limit + 1;
  const distance = memory.bytes(width * height);
  const last = width - 1;
  for (let k = 0, row = 0, x = 0; k < mixed.length; k++) {
    const i = mixed[k]!;
    if (i - row >= width) row = i - (i % width);
    x = i - row;
    let d = most;
    if (x > 0) d = Math.min(d, distance[i - 1]! + 1);
    if (row > 0) {
      d = Math.min(d, distance[i - width]! + 1);
      if (x > 0) d = Math.min(d, distance[i - width - 1]! + 1);
      if (x < last) d = Math.min(d, distance[i - width + 1]! + 1);
    }
    distance[i] = d;
  }
  let [frontier, next] = [memory.ints(mixed.length), memory.ints(mixed.length)];
  let reached = 0;
  for (let k = mixed.length - 1, row = distance.length, x = 0; k >= 0; k--) {
    const i = mixed[k]!;
    if (i < row) row = i - (i % width);
    x = i - row;
    let d = distance[i]!;
    if (x < last) d = Math.min(d, distance[i + 1]! + 1);
    if (i + width < distance.length) {
      d = Math.min(d, distance[i + width]! + 1);
      if (x > 0) d = Math.min(d, distance[i + width - 1]! + 1);
      if (x < last) d = Math.min(d, distance[i + width + 1]! + 1);
    }
    distance[i] = d;
    if (d < limit) continue;
    tone[i] = 1;
    if (d === limit) frontier[reached++] = i;
  }
  for (let pass = 0; pass < growth(radius) && reached > 0; pass++) {
    let more = 0;
    for (let k = 0; k < reached; k++) {
      const i = frontier[k]!;
      const x = i % width;
      const [x0, x1] = [x > 0 ? -1 : 0, x + 1 < width ? 1 : 0];
      for (let row = Math.max(x, i - width); row <= i + width && row < label.length; row += width) {
        for (let j = row + x0; j <= row + x1; j++) {
          if (label[j] === MIXED && tone[j] === 0) {
            tone[j] = 1;
            next[more++] = j;
          }
        }
      }
    }
    [frontier, next] = [next, frontier];
    reached = more;
  }
}

function seedsNear(label: Uint8Array, width: number, height: number, i: number): number {
  const x = i % width;
  const y = (i / width) | 0;
  const x1 = Math.min(width - 1, x + SEED_RADIUS);
  const y1 = Math.min(height - 1, y + SEED_RADIUS);
  let seeds = 0;
  for (let row = Math.max(0, y - SEED_RADIUS); row <= y1; row++) {
    for (let column = Math.max(0, x - SEED_RADIUS); column <= x1; column++) {
      const here = label[row * width + column]!;
      if (here < BARE) seeds |= 1 << here;
    }
  }
  return seeds;
}

function dropOutside(art: RgbaPlane, context: SharesContext, label: Uint8Array): void {
  const { outside } = context;
  if (!outside) return;
  const { width, height, x: left, y: top } = art.rect;
  const { map } = outside;
  const perPixelX = map.width / context.levelWidth;
  for (let y = 0; y < height; y++) {
    const v = (top + y + 0.5) / context.levelHeight;
    const row = Math.min(map.height - 1, Math.max(0, Math.floor(v * map.height))) * map.width;
    const end = (y + 1) * width;
    for (let i = label.indexOf(outside.label, y * width); i >= 0 && i < end; i++) {
      if (label[i] !== outside.label) {
        i = label.indexOf(outside.label, i);
        if (i < 0 || i >= end) break;
      }
      const x = left + i - y * width + 0.5;
      const cell = map.cells[row + Math.min(map.width - 1, Math.max(0, Math.floor(x * perPixelX)))]!;
      // Nearly every pixel of the background stands on a cell of the background.
      if (cell === OUTER || (cell === 0 && isOuter(map, x / context.levelWidth, v))) label[i] = BARE;
    }
  }
}

/** A share of the background in an edge pixel is bare when the background beside it was dropped. */
function dropOutsideShares(
  context: SharesContext,
  label: Uint8Array,
  width: number,
  height: number,
  i: number,
  k: number,
  mixLabels: Uint8Array,
): void {
  const dropped = context.outside!.label;
  if (mixLabels[k * 3] !== dropped && mixLabels[k * 3 + 1] !== dropped) return;
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
  if (kept > bare) return;
  if (mixLabels[k * 3] === dropped) mixLabels[k * 3] = BARE;
  if (mixLabels[k * 3 + 1] === dropped) mixLabels[k * 3 + 1] = BARE;
}
