import { type Outline, type Rect, crossingsOf } from '../geometry';
import { MIXED } from '../raster';
import type { PixelShares } from './pixelShares';

/** A colour that counts only inside an outline: there it takes over from the colour that it was split from. */
export interface LocalColour {
  /** Label that it takes. */
  readonly label: number;
  /** Label of the same colour everywhere else. */
  readonly from: number;
  /** Closed polygon as fractions of the artwork, 0..1 and a little beyond. */
  readonly outline: Outline;
}

/**
 * Gives the pixels of a label inside outlines to their own labels; the labels are changed. A pixel is inside when its centre is, by the
 * even-odd rule.
 *
 * @param rect where the labels lie on the whole raster, which is `width` * `height`.
 */
export function relabelWithin(
  labels: Uint8Array,
  rect: Rect,
  colours: readonly LocalColour[],
  width: number,
  height: number,
): void {
  for (const { label, from, outline } of colours) {
    forEachInside(outline, rect, width, height, (first, end) => {
      for (let i = first; i < end; i++) if (labels[i] === from) labels[i] = label;
    });
  }
}

/** The same for the labels that pixels of the artwork are or are mixed of. */
export function relabelShares(
  shares: PixelShares,
  rect: Rect,
  colours: readonly LocalColour[],
  width: number,
  height: number,
): void {
  const { mixAt, mixLabels } = shares;
  for (const { label, from, outline } of colours) {
    forEachInside(outline, rect, width, height, (first, end) => {
      for (let i = first; i < end; i++) {
        if (shares.label[i] === from) shares.label[i] = label;
        if (shares.label[i] !== MIXED) continue;
        for (let k = mixAt[i]! * 3; k < mixAt[i]! * 3 + 3; k++)
          if (mixLabels[k] === from) mixLabels[k] = label;
      }
    });
  }
}

/** Calls back for runs of pixels of a rectangle inside an outline, from (included) to (excluded). */
export function forEachInside(
  outline: LocalColour['outline'],
  rect: Rect,
  width: number,
  height: number,
  visit: (first: number, end: number) => void,
): void {
  const points = outline.map(([x, y]) => [x * width - rect.x, y * height - rect.y] as const);
  for (let y = 0; y < rect.height; y++) {
    const crossings = crossingsOf(points, y + 0.5);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const first = Math.max(0, Math.ceil(crossings[k]! - 0.5));
      const end = Math.min(rect.width, Math.ceil(crossings[k + 1]! - 0.5));
      if (end > first) visit(y * rect.width + first, y * rect.width + end);
    }
  }
}
