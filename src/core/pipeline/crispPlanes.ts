import { type PlatePlanes, SEEN, crispTone } from '../fit';
import { type Allocator, forEachRun } from '../raster';

/** What ends as strong as this, from one pixel to the next, is an edge that shows; of 65535. */
const STRONG = 32768;

/** Planes of tones as shapes whose edges can be walked from. */
export interface CrispPlanes {
  /** Shapes are where a plate is seen at all, a pixel of an edge where at least half of it is covered. */
  readonly planes: PlatePlanes;
  /** In their order: 255 where a plate prints half and more. */
  readonly strong: readonly Uint8Array[];
}

/** Tells edges of plates that a file brings from tones: what fades out is there until it is hardly seen, and ends nowhere. */
export function crispPlanes({ rect, planes }: PlatePlanes, memory: Allocator): CrispPlanes {
  const strong: Uint8Array[] = [];
  return {
    planes: {
      rect,
      planes: planes.map((plane) => {
        const { shape, tone } = plane;
        if (!tone) {
          strong.push(shape);
          return plane;
        }
        const crisp = crispTone(shape, tone, rect.width, rect.height, memory).strong;
        const seen = memory.bytes(shape.length);
        const much = memory.bytes(shape.length);
        forEachRun(shape, (from, to) => {
          for (let i = from; i < to; i++) {
            if (crisp[i]! < SEEN || tone[i]! * 2 < crisp[i]!) continue;
            seen[i] = 255;
            if (crisp[i]! >= STRONG) much[i] = 255;
          }
        });
        strong.push(much);
        return { ...plane, shape: seen };
      }),
    },
    strong,
  };
}

/** What `PieceCounter` takes for a pixel whose piece is not counted. */
const FAINT = 128;

/** Shapes for counting pieces: those that are faint anywhere are tones of a picture, which is full of them. @param strong 255 where it prints half and more. */
export function withFaint(shape: Uint8Array, strong: Uint8Array, memory: Allocator): Uint8Array {
  const marked = memory.bytes(shape.length);
  for (let i = 0; i < shape.length; i++) if (shape[i] !== 0) marked[i] = strong[i] !== 0 ? 255 : FAINT;
  return marked;
}
