import { type Allocator, forEachRun } from '../raster';
import type { DraftInk } from './fitState';

/** Where a plate prints at least half of what it does at its edges: where it fades out it has none. */
export function strongPart({ shape, tone, edgeTone }: DraftInk, memory: Allocator): Uint8Array {
  if (!tone) return shape;
  const strong = memory.bytes(shape.length);
  forEachRun(shape, (from, to) => {
    for (let i = from; i < to; i++) if (tone[i]! * 2 >= edgeTone) strong[i] = 255;
  });
  return strong;
}
