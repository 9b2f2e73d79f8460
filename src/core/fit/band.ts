import { wordsOf } from '../raster';

/** Some rows of planes of one width. */
export interface Band {
  /** The first row. */
  readonly from: number;
  readonly rows: number;
  /** A plane's part in these rows; the same memory. */
  of<T extends Uint8Array | Uint16Array>(plane: T): T;
}

/** Rows of a plane, the first one and the one behind the last. */
export type Rows = readonly [top: number, bottom: number];

/** The rows in which a mask has set pixels; null where nothing is set. */
export function rowsOf(mask: Uint8Array, width: number): Rows | null {
  const words = wordsOf(mask);
  let word = 0;
  while (word < words.length && words[word] === 0) word++;
  let first = word * 4;
  while (first < mask.length && mask[first] === 0) first++;
  if (first === mask.length) return null;
  // The last few pixels are no word.
  let end = mask.length;
  while (end > words.length * 4 && mask[end - 1] === 0) end--;
  if (end === words.length * 4) {
    word = words.length;
    while (words[word - 1] === 0) word--;
    end = word * 4;
  }
  return [Math.floor(first / width), Math.ceil(end / width)];
}

/** Bands begin at every fourth row: there a mask starts on a word, however wide it is. */
const STEP = 4;

/** Rows, and so many above and below, as far as planes of a height go. */
export function bandRound([top, bottom]: Rows, width: number, height: number, halo: number): Band {
  const from = Math.max(0, Math.floor((top - halo) / STEP) * STEP);
  const to = Math.min(height, bottom + halo);
  return {
    from,
    rows: to - from,
    of: <T extends Uint8Array | Uint16Array>(plane: T) => plane.subarray(from * width, to * width) as T,
  };
}
