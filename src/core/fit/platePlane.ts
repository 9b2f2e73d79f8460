import type { Rect } from '../geometry';
import type { Allocator } from '../raster';
import type { Plate } from '../sheet';

/** One plate in a region of the print. */
export interface PlatePlane {
  readonly plate: Plate;
  /** 0 = no ink, 255 = ink may go here. */
  readonly shape: Uint8Array;
  /** Coverage intended in print, 0..65535; null where the whole region is solid. */
  readonly tone: Uint16Array | null;
}

export interface PlatePlanes {
  readonly rect: Rect;
  /** In print order. */
  readonly planes: readonly PlatePlane[];
}

/** Cuts a region out of planes; the region must lie inside them. */
export function cropPlanes(planes: PlatePlanes, rect: Rect, memory: Allocator): PlatePlanes {
  const { rect: outer } = planes;
  const cut = <T extends Uint8Array | Uint16Array>(source: T, target: T): T => {
    for (let row = 0; row < rect.height; row++) {
      const from = (rect.y - outer.y + row) * outer.width + (rect.x - outer.x);
      target.set(source.subarray(from, from + rect.width), row * rect.width);
    }
    return target;
  };
  const count = rect.width * rect.height;
  // Plates that are nowhere near share a plane.
  const shapes = new Map<Uint8Array, Uint8Array>();
  const shapeOf = (shape: Uint8Array): Uint8Array => {
    const known = shapes.get(shape);
    if (known) return known;
    const own = cut(shape, memory.bytes(count));
    shapes.set(shape, own);
    return own;
  };
  return {
    rect,
    planes: planes.planes.map(({ plate, shape, tone }) => ({
      plate,
      shape: shapeOf(shape),
      tone: tone ? cut(tone, memory.words(count)) : null,
    })),
  };
}
