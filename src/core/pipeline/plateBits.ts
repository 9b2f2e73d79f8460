import type { PlatePlane, PlatePlanes } from '../fit';
import type { Kernels } from '../kernels';
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
  /** The tone of a plate that is screened: as it stands on film, or in print. */
  toneOf(plate: Plate, tone: Uint16Array): Uint16Array;
}

/**
 * One plate of a region as bits, 1 = ink, the most significant bit leftmost. Plates that interlock divide each cell among
 * them: in the order of the plates each takes the thresholds behind those of the plates before it, so that their areas are
 * exact and apart until they sum up to more than the cell; what is beyond that lies on the first ones again.
 *
 * Throws what `plateTile` throws.
 */
export function plateBits(request: BitsRequest, plate: Plate): Uint8Array {
  const { sheet, planes, tiles, kernels } = request;
  const { rect } = planes;
  const plane = planes.planes.find((each) => each.plate.id === plate.id)!;
  const tile = plane.tone ? plateTile(tiles, sheet.film.dpi, plate) : SOLID_TILE;
  const offset = plane.tone ? maskOffset(plate, tile) : { x: 0, y: 0 };
  const screen = (tone: Uint16Array | null, through: ThresholdTile): Uint8Array => {
    const out = new Uint8Array((rect.width * rect.height) / 8);
    kernels.screenStrip({
      shape: plane.shape,
      tone,
      width: rect.width,
      rows: rect.height,
      originX: rect.x + offset.x,
      originY: rect.y + offset.y,
      tile: through,
      out,
    });
    return out;
  };
  if (!plane.tone) return screen(null, tile);
  const own = request.toneOf(plate, plane.tone);
  const before = platesBefore(sheet, plate).flatMap(({ id }) =>
    planes.planes.filter((each) => each.plate.id === id),
  );
  const stack = before.length > 0 ? stackTones(request, before, own) : null;
  if (!stack) return screen(own, tile);
  const bits = screen(stack.upTo, tile);
  const taken = screen(stack.from, tile);
  for (let k = 0; k < bits.length; k++) bits[k]! &= ~taken[k]!;
  if (stack.again) {
    const again = screen(stack.again, tile);
    for (let k = 0; k < bits.length; k++) bits[k]! |= again[k]!;
  }
  return bits;
}

/**
 * Where a plate's mask of dispersed dots lies: elsewhere for each plate, or their dots would lie on each other. It depends on the
 * plate alone, so that its film has the same dots whenever it is made.
 */
function maskOffset({ id, screen }: Plate, tile: ThresholdTile): { x: number; y: number } {
  if (screen.screening !== 'dispersed') return { x: 0, y: 0 };
  // FNV-1a, by Fowler, Noll and Vo.
  let hash = 0x811c9dc5;
  for (let k = 0; k < id.length; k++) hash = Math.imul(hash ^ id.charCodeAt(k), 0x01000193);
  return { x: (hash >>> 16) % tile.length, y: (hash & 0xffff) % tile.rows };
}

/** The plates that take their part of the cells before a plate does. */
function platesBefore(sheet: JobSheet, plate: Plate): readonly Plate[] {
  const { interlock, screening } = plate.screen;
  if (interlock === null || screening !== 'grid') return [];
  const at = sheet.plates.findIndex((each) => each.id === plate.id);
  return sheet.plates
    .slice(0, at)
    .filter((each) => each.screen.interlock === interlock && each.screen.screening === 'grid');
}

const FULL = 65535;

/** Where a plate's stretch of thresholds begins and ends, and how much of it begins anew; null where nothing is before it. */
function stackTones(
  { toneOf }: BitsRequest,
  before: readonly PlatePlane[],
  own: Uint16Array,
): { from: Uint16Array; upTo: Uint16Array; again: Uint16Array | null } | null {
  const from = new Uint16Array(own.length);
  let any = false;
  for (const { plate, shape, tone } of before) {
    const coverage = tone && toneOf(plate, tone);
    for (let i = 0; i < own.length; i++) {
      if (shape[i] === 0) continue;
      const value = coverage ? coverage[i]! : FULL;
      if (value === 0) continue;
      any = true;
      from[i] = (from[i]! + value) % FULL;
    }
  }
  if (!any) return null;
  const upTo = new Uint16Array(own.length);
  let again: Uint16Array | null = null;
  for (let i = 0; i < own.length; i++) {
    const end = from[i]! + own[i]!;
    upTo[i] = Math.min(FULL, end);
    if (end > FULL) (again ??= new Uint16Array(own.length))[i] = end - FULL;
  }
  return { from, upTo, again };
}
