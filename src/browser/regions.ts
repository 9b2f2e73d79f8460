import { fitGrowthMm } from '@/core/fit';
import { type Rect, containsRect, expandRect, intersectRects } from '@/core/geometry';
import type { ViewLevel } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';

/** Pixels of a level that are evaluated round what is in view while it is moved. */
const ROOM_PX = 128;

/** Whether most of a region is in view already: then the next one will be near, too. */
export function isNear(seen: Rect, region: Rect): boolean {
  const common = intersectRects(seen, region);
  return common.width * common.height > 0.6 * region.width * region.height;
}

/** A region whose planes, with a margin all round, have rows of whole bytes once they are screened. */
export function inWholeBytes(region: Rect, margin: number): Rect {
  return { ...region, width: ((region.width + 2 * margin + 7) & ~7) - 2 * margin };
}

/** A level's region with room round it, as far as the print can show anything. */
export function roomy(sheet: JobSheet, { grid, region }: ViewLevel): Rect {
  const beyond = Math.ceil(fitGrowthMm(sheet) * grid.pxPerMm) + 4;
  const print = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
  const room = intersectRects(expandRect(region, ROOM_PX), expandRect(print, beyond));
  return containsRect(room, region) ? room : unite(room, region);
}

function unite(a: Rect, b: Rect): Rect {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}
