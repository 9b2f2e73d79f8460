import { type Allocator, clearFrom, forEachRun } from '../raster';
import { copyOf } from './choke';
import type { DraftInk } from './fitState';

/** How far `crispTone` looks beyond a pixel. */
export const CRISP_HALO = 1;

/** From this tone on a plate is there to the eye, of 65535. */
export const SEEN = 6554;

/** The tones of a plate whose edges came with it as partly covered pixels. */
export interface CrispTone {
  /** Partly covered pixels of an edge as strong as what they are the edge of. */
  readonly strong: Uint16Array;
  /** 255: such a pixel. */
  readonly edge: Uint8Array;
}

/**
 * Tells edges of a plate from its tones: pixels that are weaker than one beside them, with a bare one beside them too, are such as an edge runs through. A tone
 * that fades out to nothing ends in them as well, and nothing is lost there: what ends is as faint as its neighbour.
 *
 * @param shape 255 where it prints, width * height. @param tone 0..65535 there.
 */
export function crispTone(
  shape: Uint8Array,
  tone: Uint16Array,
  width: number,
  height: number,
  memory: Allocator,
): CrispTone {
  const strong = memory.words(tone.length);
  strong.set(tone);
  const edge = memory.bytes(shape.length);
  forEachRun(shape, (from, to) => {
    for (let i = from; i < to; i++) {
      const own = tone[i]!;
      if (own === 65535) continue;
      const x = i % width;
      const y = (i / width) | 0;
      let most = own;
      let isBare = false;
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const at = v * width + u;
          if (shape[at] === 0) isBare = true;
          else if (tone[at]! > most) most = tone[at]!;
        }
      }
      if (!isBare || most === own) continue;
      strong[i] = most;
      edge[i] = 255;
    }
  });
  return { strong, edge };
}

/** A plate before fit, edges and tones told apart. */
export interface CrispDraft {
  /** With the pixels of its edges as strong as what they are the edge of. */
  readonly whole: DraftInk;
  /** Without them: what surely prints as strong as it says. */
  readonly sure: DraftInk;
}

export function crispDraft(draft: DraftInk, width: number, height: number, memory: Allocator): CrispDraft {
  const { shape, tone } = draft;
  if (!tone) return { whole: draft, sure: draft };
  const { strong, edge } = crispTone(shape, tone, width, height, memory);
  const inner = copyOf(shape, memory);
  clearFrom(inner, edge);
  return { whole: { ...draft, tone: strong }, sure: { ...draft, shape: inner } };
}
