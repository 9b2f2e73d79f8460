import { ENCLOSED, OUTER, type OuterMap, isOuter } from '../artwork';
import type { Rect } from '../geometry';
import { BARE } from '../raster';

/**
 * Leaves a ground that is dropped bare: what has its label and lies outside of the design.
 *
 * @param map what lies outside; null: the ground does everywhere.
 * @param level the whole artwork at the plane's level, to place it on the map.
 */
export function dropOutside(
  { width, height, x: left, y: top }: Rect,
  dropped: number,
  map: OuterMap | null,
  level: { readonly levelWidth: number; readonly levelHeight: number },
  label: Uint8Array,
): void {
  if (!map) {
    for (let i = label.indexOf(dropped); i >= 0; i = label.indexOf(dropped, i + 1)) label[i] = BARE;
    return;
  }
  const perPixelX = map.width / level.levelWidth;
  for (let y = 0; y < height; y++) {
    const v = (top + y + 0.5) / level.levelHeight;
    const row = Math.min(map.height - 1, Math.max(0, Math.floor(v * map.height))) * map.width;
    const end = (y + 1) * width;
    for (let i = label.indexOf(dropped, y * width); i >= 0 && i < end; i++) {
      if (label[i] !== dropped) {
        i = label.indexOf(dropped, i);
        if (i < 0 || i >= end) break;
      }
      const x = left + i - y * width + 0.5;
      const cell = map.cells[row + Math.min(map.width - 1, Math.max(0, Math.floor(x * perPixelX)))]!;
      // Nearly every pixel of the background stands on a cell of the background.
      if (cell === OUTER || (cell !== ENCLOSED && isOuter(map, x / level.levelWidth, v))) label[i] = BARE;
    }
  }
}
