import { EMPTY_ALPHA, OPAQUE_ALPHA, type OuterMap, type RgbaPlane } from '../artwork';
import type { Rgb8 } from '../colour';
import { type Allocator, BARE, MIXED, type RasterKernels } from '../raster';
import { dropOutside } from './dropOutside';
import { DUST_HALO, removeDust } from './dust';
import type { PaletteLookup } from './palette';

/** CIELAB distance within which a pixel is of a ground that is left to the garment; the map of what lies outside is made with the same. */
export const GROUND_PURITY = 12;

/** Pixels of a hard edge's transition: those so near to the ground may be mixed with it. */
const EDGE_REACH = 2;
/** So far beyond, what they are mixed with is looked for. */
const INK_REACH = 2;

/** Pieces of at most so many pixels in the ground are specks. */
const SPECK_PIXELS = 3;

/** How far `cutGround` looks beyond a pixel. */
export const CUT_GROUND_HALO = EDGE_REACH + INK_REACH + DUST_HALO;

/** The name of all that is no ground, while specks are looked for. */
const DESIGN = 1;

/** From this opacity on an edge pixel is the artwork's own colour. */
const OWN = 0.9;

export interface GroundContext {
  /** Of the ground's colour alone, label 0. */
  readonly ground: PaletteLookup;
  readonly rgb: Rgb8;
  /** What lies outside of the design; null: the ground is left out everywhere. */
  readonly map: OuterMap | null;
  /** Size of the whole level, to place the plane on the map. */
  readonly levelWidth: number;
  readonly levelHeight: number;
  readonly kernels: RasterKernels;
  readonly memory: Allocator;
}

/**
 * A plane of artwork whose ground is transparent, as if the artwork had come without it: pixels of the ground are empty, and in those of a hard edge beside it,
 * which are mixed with it, the ground is taken out again: they get the colour that stands behind the edge, and as much opacity as its share was.
 * A design that fades out into its ground ends where it is nearer to the ground than `GROUND_PURITY`. The plane that
 * is given stays as it is.
 */
export function cutGround(art: RgbaPlane, context: GroundContext): RgbaPlane {
  const { width, height } = art.rect;
  const { kernels, memory, rgb } = context;
  const data = memory.bytes(art.data.length, 'any');
  data.set(art.data);
  memory.scratch(() => {
    const pixels = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
    const label = memory.bytes(width * height, 'any');
    const known = context.ground.names;
    kernels.namePixels({ pixels, empty: EMPTY_ALPHA, opaque: OPAQUE_ALPHA, known, label });
    // What came empty is none of the ground's.
    const seen = memory.bytes(width * height);
    for (let i = label.indexOf(BARE); i >= 0; i = label.indexOf(BARE, i + 1)) {
      seen[i] = 1;
      label[i] = MIXED;
    }
    dropOutside(art.rect, 0, context.map, context, label);
    // What compression left in the ground is none of the design.
    for (let i = 0; i < label.length; i++) if (label[i] !== BARE) label[i] = DESIGN;
    removeDust(label, width, height, SPECK_PIXELS);
    const edges: number[] = [];
    for (let i = label.indexOf(BARE); i >= 0; i = label.indexOf(BARE, i + 1)) {
      data[i * 4 + 3] = 0;
      if (!endsAt(i, label, width)) continue;
      forEachNear(i, width, height, EDGE_REACH, (j) => {
        if (label[j] === BARE || seen[j] === 1) return;
        seen[j] = 1;
        edges.push(j);
      });
    }
    const cut = edges.map((i) => withoutGround(i, pixels, label, rgb, width, height));
    edges.forEach((i, k) => (pixels[i] = cut[k]!));
  });
  return { rect: art.rect, data };
}

/** Whether something else than the ground stands beside a pixel of it. */
function endsAt(i: number, label: Uint8Array, width: number): boolean {
  const x = i % width;
  return (
    (x > 0 && label[i - 1] !== BARE) ||
    (x + 1 < width && label[i + 1] !== BARE) ||
    (i >= width && label[i - width] !== BARE) ||
    (i + width < label.length && label[i + width] !== BARE)
  );
}

/** The pixel of an edge without its share of the ground, as one word, red lowest. */
function withoutGround(
  i: number,
  pixels: Uint32Array,
  label: Uint8Array,
  ground: Rgb8,
  width: number,
  height: number,
): number {
  let farthest = 0;
  let ink = pixels[i]!;
  forEachNear(i, width, height, INK_REACH, (j) => {
    if (label[j] === BARE || pixels[j]! >>> 24 < OPAQUE_ALPHA) return;
    const distance = along(pixels[j]!, pixels[j]!, ground);
    if (distance > farthest) [farthest, ink] = [distance, pixels[j]!];
  });
  if (farthest === 0) return pixels[i]!;
  const share = Math.min(1, Math.max(0, along(pixels[i]!, ink, ground) / farthest));
  if (share >= OWN) return pixels[i]!;
  const alpha = Math.round((pixels[i]! >>> 24) * share);
  return ((ink & 0xffffff) | (alpha << 24)) >>> 0;
}

/** The scalar product of two colours' ways from the ground, in sRGB codes. */
function along(one: number, other: number, ground: Rgb8): number {
  let sum = 0;
  for (const c of [0, 1, 2] as const) {
    sum += (((one >> (c * 8)) & 255) - ground[c]) * (((other >> (c * 8)) & 255) - ground[c]);
  }
  return sum;
}

function forEachNear(
  i: number,
  width: number,
  height: number,
  reach: number,
  visit: (index: number) => void,
): void {
  const x = i % width;
  const y = (i / width) | 0;
  const x1 = Math.min(width - 1, x + reach);
  const y1 = Math.min(height - 1, y + reach);
  for (let row = Math.max(0, y - reach); row <= y1; row++) {
    for (let column = Math.max(0, x - reach); column <= x1; column++) visit(row * width + column);
  }
}
