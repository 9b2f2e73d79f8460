import { type Rgb8, ciede2000, deltaE76, labFromRgb8 } from '../colour';
import { forEachBand, isFlat } from './flatPixels';
import { type ArtworkReader, OPAQUE_ALPHA } from './rgbaPlane';

/** A colour that stands in areas of exactly this code. */
export interface ExactColour {
  readonly rgb: Rgb8;
  /** Its pixels. */
  readonly count: number;
}

/** Colours that are looked at at all; artwork that has more has no flat colours. */
const MOST_COLOURS = 1 << 12;
/** Neighbours that differ by no more than this many codes are neighbours in a gradient. */
const STEP_CODES = 4;
/** Two codes nearer than this (CIEDE2000) are one colour with rounding. */
const SAME = 0.7;
/** A colour is flat, not a band of a gradient, where it has this many times the pixels of its neighbours in the gradient. */
const FLAT_AGAINST_BANDS = 3;

const NOT_LOOKED_AT = 65535;

/** Counts by sRGB code, red lowest. */
function countColours(art: ArtworkReader, smooth: boolean): Uint32Array {
  const counts = new Uint32Array(1 << 24);
  forEachBand(art, (data, width, _top, first, last) => {
    const words = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
    const rows = words.length / width;
    for (let y = first; y <= last; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        const word = words[i]!;
        if (word >>> 24 < OPAQUE_ALPHA) continue;
        // Edges of a smooth picture are no colours: what counts stands in blocks.
        if (smooth && !(x + 1 < width && y + 1 < rows && isFlat(data, i * 4, width * 4, 0))) continue;
        counts[word & 0xffffff]!++;
      }
    }
  });
  return counts;
}

export interface ExactColours {
  /** Largest first. */
  readonly colours: readonly ExactColour[];
  /** Pixels of colours that are bands of gradients. */
  readonly banded: number;
}

/**
 * The flat colours of artwork that nothing damaged, by their exact codes.
 *
 * @param smooth whether edges are smooth (a picture); a drawing is drawn without smoothing, and every pixel counts.
 * @param enough pixels from which on a colour counts.
 * @param paints colours that the artwork is known to paint flat, red lowest: none of them is a band or rounding.
 */
export function exactColours(
  art: ArtworkReader,
  smooth: boolean,
  enough: number,
  paints: ReadonlySet<number> = new Set(),
): ExactColours {
  const counts = countColours(art, smooth);
  const codes: number[] = [];
  for (let code = 0; code < counts.length; code++) if (counts[code]! >= enough) codes.push(code);
  codes.sort((p, q) => counts[q]! - counts[p]! || p - q);
  const looked = codes.slice(0, MOST_COLOURS);
  const kept = withoutBands(art, looked, counts, paints);
  const pixelsOf = (all: readonly number[]) => all.reduce((sum, code) => sum + counts[code]!, 0);
  const found: (ExactColour & { readonly lab: ReturnType<typeof labFromRgb8> })[] = [];
  for (const code of kept) {
    const rgb: Rgb8 = [code & 255, (code >> 8) & 255, code >> 16];
    const lab = labFromRgb8(rgb);
    const isRounding = found.some(
      (each) => deltaE76(each.lab, lab) < 5 && ciede2000(each.lab, lab) < SAME && !isOwn(each.count, code),
    );
    if (!isRounding) found.push({ rgb, count: counts[code]!, lab });
  }
  function isOwn(larger: number, code: number): boolean {
    // Rounding leaves a trace; two paints that near are both large.
    return paints.has(code) || counts[code]! > 0.2 * larger;
  }
  return { colours: found, banded: pixelsOf(looked) - pixelsOf(kept) };
}

/** Leaves out colours whose neighbours are mostly a few codes away and have as many pixels: bands of a gradient. */
function withoutBands(
  art: ArtworkReader,
  codes: readonly number[],
  counts: Uint32Array,
  paints: ReadonlySet<number>,
): number[] {
  const slotOf = new Uint16Array(1 << 24).fill(NOT_LOOKED_AT);
  codes.forEach((code, slot) => (slotOf[code] = slot));
  const steps = new Float64Array(codes.length);
  const edges = new Float64Array(codes.length);
  const meet = (word: number, other: number): void => {
    const code = word & 0xffffff;
    const slot = slotOf[code]!;
    if (slot === NOT_LOOKED_AT || word >>> 24 < OPAQUE_ALPHA) return;
    if (other >>> 24 < OPAQUE_ALPHA || apart(word, other) > STEP_CODES) {
      edges[slot]!++;
      return;
    }
    steps[slot]!++;
  };
  forEachBand(art, (data, width, _top, first, last) => {
    const words = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
    const rows = words.length / width;
    for (let y = first; y <= last; y++) {
      for (let i = y * width, end = i + width; i < end; i++) {
        const word = words[i]!;
        if (i + 1 < end && words[i + 1] !== word) {
          meet(word, words[i + 1]!);
          meet(words[i + 1]!, word);
        }
        if (y + 1 < rows && words[i + width] !== word) {
          meet(word, words[i + width]!);
          meet(words[i + width]!, word);
        }
      }
    }
  });
  return codes.filter(
    (code, slot) =>
      paints.has(code) ||
      steps[slot]! <= edges[slot]! ||
      counts[code]! > FLAT_AGAINST_BANDS * fullestNear(code, counts),
  );
}

/** Pixels of the fullest other colour within the steps of a gradient: bands of one come in turns of different width. */
function fullestNear(code: number, counts: Uint32Array): number {
  const [r, g, b] = [code & 255, (code >> 8) & 255, code >> 16];
  const from = (channel: number) => Math.max(0, channel - STEP_CODES);
  const to = (channel: number) => Math.min(255, channel + STEP_CODES);
  let most = 0;
  for (let blue = from(b); blue <= to(b); blue++) {
    for (let green = from(g); green <= to(g); green++) {
      for (let red = from(r); red <= to(r); red++) {
        const other = red | (green << 8) | (blue << 16);
        if (other !== code && counts[other]! > most) most = counts[other]!;
      }
    }
  }
  return most;
}

function apart(one: number, other: number): number {
  const r = Math.abs((one & 255) - (other & 255));
  const g = Math.abs(((one >>> 8) & 255) - ((other >>> 8) & 255));
  const b = Math.abs(((one >>> 16) & 255) - ((other >>> 16) & 255));
  return Math.max(r, g, b);
}
