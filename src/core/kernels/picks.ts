import type { Expansion } from '../raster';

/** How some device pixels at a time take theirs out of sixteen bytes of a row. */
export interface Picks {
  /** Where those bytes begin, in pixels. */
  readonly bases: Int32Array;
  /** Sixteen for each time: which of them each byte is. */
  readonly picks: Uint8Array;
}

/**
 * @param together device pixels at a time: 16 of a byte or 8 of a word.
 * @returns null where so many device pixels lie on more pixels of the row, as on a film coarser than its plate.
 */
export function picksOf({ from, part }: Expansion, together: 8 | 16): Picks | null {
  const times = Math.ceil(from.length / together);
  const size = 16 / together;
  const bases = new Int32Array(times);
  const picks = new Uint8Array(times * 16);
  for (let k = 0; k < times; k++) {
    bases[k] = from[k * together]!;
    for (let j = 0; j < together; j++) {
      const step = from[Math.min(from.length - 1, k * together + j)]! - bases[k]!;
      if (step + (part ? 1 : 0) >= together) return null;
      for (let byte = 0; byte < size; byte++) picks[k * 16 + j * size + byte] = step * size + byte;
    }
  }
  return { bases, picks };
}
