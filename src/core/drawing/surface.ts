import type { Rect } from '../geometry';
import { blendOver, over } from './composite';
import type { BlendMode } from './drawing';
import type { Spans } from './spans';

/** Pixels that are drawn on: words of sRGB codes with straight alpha, red in the lowest byte. */
export interface Surface {
  readonly rect: Rect;
  readonly words: Uint32Array;
}

export function newSurface(rect: Rect): Surface {
  return { rect, words: new Uint32Array(rect.width * rect.height) };
}

/** Paints runs of a row; `from` and `to` are places in the surface's words, `x` is the column of the first. */
type PaintRun = (from: number, to: number, x: number, y: number) => void;

/** Where drawing may happen: a rectangle, and what of it, or all where `spans` is null. */
export interface Allowed {
  readonly rect: Rect;
  readonly spans: Spans | null;
}

/** Goes over the pixels of a shape that lie on the surface and are allowed. */
export function paintSpans(shape: Spans, allowed: Allowed, surface: Surface, paint: PaintRun): void {
  const { rect } = surface;
  const x0 = Math.max(rect.x, allowed.rect.x);
  const x1 = Math.min(rect.x + rect.width, allowed.rect.x + allowed.rect.width);
  const y0 = Math.max(rect.y, allowed.rect.y, shape.rect.y);
  const y1 = Math.min(
    rect.y + rect.height,
    allowed.rect.y + allowed.rect.height,
    shape.rect.y + shape.rect.height,
  );
  const { spans } = allowed;
  for (let y = y0; y < y1; y++) {
    const row = (y - rect.y) * rect.width - rect.x;
    let k = shape.rows[y - shape.rect.y]!;
    const last = shape.rows[y - shape.rect.y + 1]!;
    if (!spans) {
      for (; k < last; k++) {
        const from = Math.max(x0, shape.ends[2 * k]!);
        const to = Math.min(x1, shape.ends[2 * k + 1]!);
        if (to > from) paint(row + from, row + to, from, y);
      }
      continue;
    }
    let j = spans.rows[y - spans.rect.y]!;
    const lastJ = spans.rows[y - spans.rect.y + 1]!;
    while (k < last && j < lastJ) {
      const [endA, endB] = [shape.ends[2 * k + 1]!, spans.ends[2 * j + 1]!];
      const from = Math.max(x0, shape.ends[2 * k]!, spans.ends[2 * j]!);
      const to = Math.min(x1, endA, endB);
      if (to > from) paint(row + from, row + to, from, y);
      if (endA < endB) k++;
      else j++;
    }
  }
}

const SHORT_RUN = 12;

/** One colour. */
export function colourPaint({ words }: Surface, rgb: number, opacity: number): PaintRun {
  if (opacity >= 1) {
    const word = (rgb | 0xff000000) >>> 0;
    return (from, to) => {
      if (to - from < SHORT_RUN) for (let k = from; k < to; k++) words[k] = word;
      else words.fill(word, from, to);
    };
  }
  const [r, g, b] = [rgb & 255, (rgb >>> 8) & 255, (rgb >>> 16) & 255];
  let [under, result] = [0, over(0, r, g, b, opacity)];
  return (from, to) => {
    for (let k = from; k < to; k++) {
      const word = words[k]!;
      // Neighbours are mostly alike.
      if (word !== under) [under, result] = [word, over(word, r, g, b, opacity)];
      words[k] = result;
    }
  };
}

/** A colour that changes from pixel to pixel. */
export interface ColourField {
  /** Red, green, blue (0..255) and opacity (0..1) of the pixel that was asked for last; an array, since numbers in fields would be put apart each time. */
  readonly out: Float64Array;
  at(column: number, row: number): void;
}

export function picturePaint({ words }: Surface, colour: ColourField): PaintRun {
  const { out } = colour;
  return (from, to, x, y) => {
    for (let k = from; k < to; k++) {
      colour.at(x + k - from, y);
      words[k] = over(words[k]!, out[0]!, out[1]!, out[2]!, out[3]!);
    }
  };
}

/** What was drawn on another surface. */
export function surfacePaint(
  { words }: Surface,
  source: Surface,
  opacity: number,
  blend: BlendMode = 'normal',
): PaintRun {
  const { rect } = source;
  return (from, to, x, y) => {
    let at = (y - rect.y) * rect.width + (x - rect.x);
    for (let k = from; k < to; k++, at++) {
      const word = source.words[at]!;
      const alpha = ((word >>> 24) / 255) * opacity;
      if (alpha === 0) continue;
      const [r, g, b] = [word & 255, (word >>> 8) & 255, (word >>> 16) & 255];
      words[k] =
        blend === 'normal' ? over(words[k]!, r, g, b, alpha) : blendOver(blend, words[k]!, r, g, b, alpha);
    }
  };
}

/** Multiplies the opacity of a surface by what a mask lets through. */
export function applyMask(surface: Surface, mask: Surface, alphaOnly: boolean): void {
  const { words } = surface;
  for (let k = 0; k < words.length; k++) {
    const word = words[k]!;
    const alpha = word >>> 24;
    if (alpha === 0) continue;
    const m = mask.words[k]!;
    let through = (m >>> 24) / 255;
    // Luminance of coded sRGB, as SVG's masks have it (filter effects' luminanceToAlpha).
    if (!alphaOnly)
      through *= (0.2125 * (m & 255) + 0.7154 * ((m >>> 8) & 255) + 0.0721 * ((m >>> 16) & 255)) / 255;
    const code = Math.round(alpha * Math.min(1, through));
    words[k] = code === 0 ? 0 : ((word & 0xffffff) | (code << 24)) >>> 0;
  }
}
