import type { PlatePlanes } from '../fit';
import type { Kernels } from '../kernels';
import { type Allocator, FRESH_MEMORY, isEmpty } from '../raster';
import { SOLID_TILE, type ThresholdTile, type ThresholdTiles } from '../screening';
import type { JobSheet, Plate } from '../sheet';
import { plateTile } from './filmTones';

/** How the plates of a region are to be screened. */
export interface BitsRequest {
  readonly sheet: JobSheet;
  /** All plates of the region; its width is a multiple of 8. */
  readonly planes: PlatePlanes;
  readonly tiles: ThresholdTiles;
  readonly kernels: Kernels;
  /** Where the bits and what leads to them get their memory; fresh memory when left out. */
  readonly memory?: Allocator;
  /** The tone of a plate that is screened: as it stands on film, or in print; it matters where the shape is in. */
  toneOf(plate: Plate, tone: Uint16Array, shape: Uint8Array): Uint16Array;
}

/**
 * Plates of a region as bits, 1 = ink, the most significant bit leftmost. Plates that interlock divide each cell among them: each takes
 * the thresholds behind those of the plates before it, so that their areas are exact and apart until they sum up to more than the
 * cell; what is beyond that lies on the first ones again. First come those that want a base, in the order of the sheet, then the
 * others. A base that interlocks with them has the lowest thresholds for its own, and so lies under those that want it.
 *
 * @param wanted in any order; the bits come in the same.
 *
 * Throws what `plateTile` throws.
 */
export function platesBits(request: BitsRequest, wanted: readonly Plate[]): Uint8Array[] {
  const { sheet, planes, tiles, kernels } = request;
  const { rect } = planes;
  const memory = request.memory ?? FRESH_MEMORY;
  const made = new Map<string, Uint8Array>();
  const taken = new Map<number, Uint16Array>();
  for (const plate of withThoseBefore(sheet, wanted)) {
    const plane = planes.planes.find((each) => each.plate.id === plate.id);
    if (!plane) continue;
    const tile = plane.tone ? plateTile(tiles, sheet.film.dpi, plate) : SOLID_TILE;
    const offset = plane.tone ? maskOffset(plate, tile) : { x: 0, y: 0 };
    const group = groupOf(plate);
    if (group !== null && !taken.has(group)) taken.set(group, memory.words(plane.shape.length));
    const out = memory.bytes((rect.width * rect.height) / 8);
    made.set(plate.id, out);
    if (isEmpty(plane.shape)) continue;
    memory.scratch(() =>
      kernels.screenStrip({
        shape: plane.shape,
        tone: plane.tone && request.toneOf(plate, plane.tone, plane.shape),
        width: rect.width,
        rows: rect.height,
        originX: rect.x + offset.x,
        originY: rect.y + offset.y,
        tile,
        taken: group === null ? null : taken.get(group)!,
        out,
      }),
    );
  }
  return wanted.map(({ id }) => made.get(id)!);
}

/** Plates that share this divide their cells. */
export function groupOf({ role, screen }: Plate): number | null {
  return screen.screening === 'grid' && role !== 'underbase' ? screen.interlock : null;
}

/** Some plates, and those that take their part of the cells before them do, in the order in which they take them. */
export function withThoseBefore(sheet: JobSheet, wanted: readonly Plate[]): readonly Plate[] {
  const onBase = (plate: Plate) => plate.baseStrength > 0;
  const stacked = [...sheet.plates.filter(onBase), ...sheet.plates.filter((plate) => !onBase(plate))];
  const order = new Map(stacked.map(({ id }, k) => [id, k]));
  const all = new Map(wanted.map((plate) => [plate.id, plate]));
  for (const plate of wanted) {
    const group = groupOf(plate);
    if (group === null) continue;
    for (const each of stacked.slice(0, order.get(plate.id))) {
      if (groupOf(each) === group && !all.has(each.id)) all.set(each.id, each);
    }
  }
  return [...all.values()].sort((p, q) => order.get(p.id)! - order.get(q.id)!);
}

/**
 * Where a plate's mask of dispersed dots lies: elsewhere for each plate, or their dots would lie on each other. It depends on the
 * plate alone, so that its film has the same dots whenever it is made.
 */
export function maskOffset({ id, screen }: Plate, tile: ThresholdTile): { x: number; y: number } {
  if (screen.screening !== 'dispersed') return { x: 0, y: 0 };
  // FNV-1a, by Fowler, Noll and Vo.
  let hash = 0x811c9dc5;
  for (let k = 0; k < id.length; k++) hash = Math.imul(hash ^ id.charCodeAt(k), 0x01000193);
  return { x: (hash >>> 16) % tile.length, y: (hash & 0xffff) % tile.rows };
}
