import type { LabelMap } from './cellMixtures';

/** A colour that counts only inside an outline: there it takes over from the colour that it was split from. */
export interface LocalColour {
  /** Label that it takes. */
  readonly label: number;
  /** Label of the same colour everywhere else. */
  readonly from: number;
  /** Closed polygon as fractions of the artwork, 0..1 and a little beyond. */
  readonly outline: readonly (readonly [x: number, y: number])[];
}

/**
 * Gives the pixels of a label inside outlines to their own labels; the map is changed. A pixel is inside when its centre is, by the
 * even-odd rule.
 */
export function relabelWithin(
  map: LabelMap,
  colours: readonly LocalColour[],
  printWidth: number,
  printHeight: number,
): void {
  const { rect } = map;
  for (const { label, from, outline } of colours) {
    const points = outline.map(([x, y]) => [x * printWidth - rect.x, y * printHeight - rect.y] as const);
    for (let y = 0; y < rect.height; y++) {
      const crossings = crossingsOf(points, y + 0.5);
      for (let k = 0; k + 1 < crossings.length; k += 2) {
        const first = Math.max(0, Math.ceil(crossings[k]! - 0.5));
        const end = Math.min(rect.width, Math.ceil(crossings[k + 1]! - 0.5));
        for (let i = y * rect.width + first; i < y * rect.width + end; i++) {
          if (map.first[i] === from) map.first[i] = label;
          if (map.second[i] === from) map.second[i] = label;
        }
      }
    }
  }
}

function crossingsOf(points: readonly (readonly [number, number])[], y: number): number[] {
  const found: number[] = [];
  points.forEach(([ax, ay], k) => {
    const [bx, by] = points[(k + 1) % points.length]!;
    if (ay > y !== by > y) found.push(ax + ((y - ay) / (by - ay)) * (bx - ax));
  });
  return found.sort((p, q) => p - q);
}
