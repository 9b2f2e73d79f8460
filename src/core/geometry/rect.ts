/** A rectangle of whole pixels, origin top left, y down. Empty when a side is zero. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** The rectangle grown by `margin` pixels on every side. */
export function expandRect(rect: Rect, margin: number): Rect {
  return {
    x: rect.x - margin,
    y: rect.y - margin,
    width: rect.width + 2 * margin,
    height: rect.height + 2 * margin,
  };
}

/** What two rectangles share; width and height are zero when they share nothing. */
export function intersectRects(a: Rect, b: Rect): Rect {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(0, Math.min(a.x + a.width, b.x + b.width) - x),
    height: Math.max(0, Math.min(a.y + a.height, b.y + b.height) - y),
  };
}

/** The smallest rectangle that holds two. */
export function unionRects(a: Rect, b: Rect): Rect {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}

/** Whether two rectangles share anything. */
export function rectsMeet(a: Rect, b: Rect): boolean {
  const { width, height } = intersectRects(a, b);
  return width > 0 && height > 0;
}

/** Whether `outer` holds the whole of `inner`. */
export function containsRect(outer: Rect, inner: Rect): boolean {
  return (
    inner.x >= outer.x &&
    inner.y >= outer.y &&
    inner.x + inner.width <= outer.x + outer.width &&
    inner.y + inner.height <= outer.y + outer.height
  );
}

/** A region in columns of about the same width, at most so wide, each a multiple of 8 wide but for the last. */
export function* byteColumns(region: Rect, most: number): Generator<Rect> {
  const count = Math.ceil(region.width / most);
  const width = Math.ceil(region.width / count / 8) * 8;
  for (let left = 0; left < region.width; left += width) {
    yield { ...region, x: region.x + left, width: Math.min(width, region.width - left) };
  }
}
