import { EMPTY_ALPHA, OPAQUE_ALPHA, type RgbaPlane } from '../artwork';
import { type Allocator, BARE, MIXED, type RasterKernels, TONED } from '../raster';
import type { PixelShares } from './pixelShares';

/**
 * Where artwork that prints by its tones is, and where it ends: its opacity as shares of TONED and bare garment. Where it ends within an edge's
 * width that is a shape; where it fades out wider it is tone.
 *
 * @param edgeRadiusPx as for `pixelShares`.
 */
export function silhouetteShares(
  { rect, data }: RgbaPlane,
  edgeRadiusPx: number,
  kernels: RasterKernels,
  memory: Allocator,
): PixelShares {
  const { width, height } = rect;
  const pixels = width * height;
  const label = memory.bytes(pixels, 'any').fill(TONED);
  const words = new Uint32Array(data.buffer, data.byteOffset, pixels);
  let count = 0;
  for (let i = 0; i < pixels; i++) {
    const alpha = words[i]! >>> 24;
    if (alpha >= OPAQUE_ALPHA) continue;
    label[i] = alpha <= EMPTY_ALPHA ? BARE : MIXED;
    if (label[i] === MIXED) count++;
  }
  const tone = memory.bytes(pixels);
  if (count > 0) kernels.markTone(label, width, height, edgeRadiusPx, edgeRadiusPx + 2, tone);
  const mixed = memory.ints(count, 'any');
  const mixAt = memory.ints(count > 0 ? pixels : 0, 'any');
  const mixLabels = memory.bytes(count * 3, 'any').fill(BARE);
  const mixShares = memory.words(count * 3);
  for (let i = label.indexOf(MIXED), k = 0; i >= 0; i = label.indexOf(MIXED, i + 1), k++) {
    const share = Math.round((data[i * 4 + 3]! * 65535) / 255);
    mixed[k] = i;
    mixAt[i] = k;
    mixLabels[k * 3] = TONED;
    mixShares[k * 3] = share;
    mixShares[k * 3 + 2] = 65535 - share;
  }
  return { width, height, label, mixed, mixAt, mixLabels, mixShares, tone };
}

/** How far beyond a hard edge colours are continued: what is interpolated at the edge looks one pixel farther. */
const CONTINUED = 3;

/** What a pixel is, or the first of what it is mixed of: a kept colour where it has any. */
function ownLabel({ label, mixAt, mixLabels }: Labelled, i: number): number {
  return label[i] === MIXED ? mixLabels[mixAt[i]! * 3]! : label[i]!;
}

/** Whether a pixel is a colour that is told from the tones, or is mixed with one. */
function isKept(shares: Labelled, i: number): boolean {
  return ownLabel(shares, i) < TONED;
}

type Labelled = Pick<PixelShares, 'label' | 'mixAt' | 'mixLabels'>;

/**
 * The colours that print by their tones at each pixel, codes of sRGB with red in the lowest byte. A fade is mixed with the garment, as programs that draw mix; beyond a
 * hard edge the colours inside of it go on for a few pixels, since tones are interpolated there; so they do below colours that are kept.
 *
 * @param garment codes of sRGB; null: a fade keeps the colour that fades out.
 * @param printing takes 1 where the pixel has a colour, else 0.
 */
export function silhouetteColours(
  { rect, data }: RgbaPlane,
  shares: PixelShares,
  garment: readonly [number, number, number] | null,
  printing: Uint8Array,
  memory: Allocator,
): Uint32Array {
  const { width, height } = rect;
  const { label, tone, mixed } = shares;
  if (mixed.length === 0 && label.every((each) => each === TONED)) {
    printing.fill(1);
    return new Uint32Array(data.buffer, data.byteOffset, width * height);
  }
  const codes = memory.ints(width * height, 'any');
  const colours = new Uint32Array(codes.buffer, codes.byteOffset, width * height);
  const words = new Uint32Array(data.buffer, data.byteOffset, width * height);
  colours.set(words);
  printing.fill(1);
  let ends = false;
  for (let i = 0; i < label.length; i++) {
    if (label[i] === BARE || isKept(shares, i)) {
      printing[i] = 0;
      ends = true;
    } else if (tone[i] === 1 && garment) colours[i] = mixedWith(garment, words[i]!);
  }
  if (ends) continueEdges(colours, printing, tone, width, height, memory);
  return colours;
}

/** A pixel over the garment, both as codes with red in the lowest byte. */
function mixedWith(garment: readonly [number, number, number], pixel: number): number {
  const alpha = pixel >>> 24;
  const mix = (c: 0 | 1 | 2) => {
    const over = garment[c];
    return over + Math.round(((((pixel >> (c * 8)) & 255) - over) * alpha) / 255);
  };
  return mix(0) | (mix(1) << 8) | (mix(2) << 16);
}

/** Gives pixels beside those that have a colour and do not fade out the mean of theirs, ring after ring. */
function continueEdges(
  colours: Uint32Array,
  printing: Uint8Array,
  tone: Uint8Array,
  width: number,
  height: number,
  memory: Allocator,
): void {
  memory.scratch(() => {
    /** 1 where colours begin to be continued, 2 for the pixels beside those, and so on; 0 elsewhere. */
    const ring = memory.bytes(tone.length);
    for (let i = 0; i < ring.length; i++) if (printing[i] === 1 && tone[i] === 0) ring[i] = 1;
    let next: number[] = [];
    for (let i = 0; i < printing.length; i++) {
      if (printing[i] === 0 && hasBeside(ring, i, width, height)) next.push(i);
    }
    for (let pass = 1; pass <= CONTINUED; pass++) {
      const found = next;
      next = [];
      for (const i of found) {
        colours[i] = meanBeside(colours, ring, pass, i, width, height);
        printing[i] = 1;
      }
      for (const i of found) ring[i] = pass + 1;
      if (pass === CONTINUED) return;
      for (const i of found) {
        forEachBeside(i, width, height, (j) => {
          if (printing[j] !== 0 || ring[j] === WAITING) return;
          ring[j] = WAITING;
          next.push(j);
        });
      }
    }
  });
}

/** A pixel that the next ring takes. */
const WAITING = 255;

function hasBeside(ring: Uint8Array, i: number, width: number, height: number): boolean {
  const x = i % width;
  const [left, right] = [x > 0 ? -1 : 0, x < width - 1 ? 1 : 0];
  for (let row = i < width ? i : i - width; row <= i + width && row < width * height; row += width) {
    for (let j = row + left; j <= row + right; j++) if (ring[j] !== 0) return true;
  }
  return false;
}

/** The mean of the colours beside a pixel in rings up to one, as one word without alpha. */
function meanBeside(
  colours: Uint32Array,
  ring: Uint8Array,
  last: number,
  i: number,
  width: number,
  height: number,
): number {
  let [r, g, b, count] = [0, 0, 0, 0];
  forEachBeside(i, width, height, (j) => {
    if (ring[j] === 0 || ring[j]! > last) return;
    const colour = colours[j]!;
    r += colour & 255;
    g += (colour >> 8) & 255;
    b += (colour >> 16) & 255;
    count++;
  });
  const mean = (sum: number) => Math.round(sum / count);
  return mean(r) | (mean(g) << 8) | (mean(b) << 16);
}

/** The pixel itself and those round it. */
function forEachBeside(i: number, width: number, height: number, visit: (index: number) => void): void {
  const x = i % width;
  const [left, right] = [x > 0 ? -1 : 0, x < width - 1 ? 1 : 0];
  for (let row = i < width ? i : i - width; row <= i + width && row < width * height; row += width) {
    for (let j = row + left; j <= row + right; j++) visit(j);
  }
}
