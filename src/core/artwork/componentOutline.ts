/** A point in pixels; (0, 0) is the top left corner of the plane. */
export type OutlinePoint = readonly [x: number, y: number];

/** How far an outline keeps off the component, so that the same shape at another resolution lies inside it. */
const MARGIN_PX = 2;
/** An outline may leave out corners that stand out less than this; below the margin, so nothing of the component is lost. */
const SLACK_PX = 1;

/**
 * The outline round the connected area of one label that a place belongs to, a little outside it; holes are not cut out.
 *
 * @param labels width * height.
 * @returns a closed polygon in pixels, or null when the place lies outside the plane.
 */
export function componentOutline(
  labels: Uint8Array,
  width: number,
  height: number,
  x: number,
  y: number,
): OutlinePoint[] | null {
  if (x < 0 || y < 0 || x >= width || y >= height) return null;
  const component = floodFill(labels, width, height, y * width + x);
  // A margin of its own round the plane, so that the outline may run beyond it.
  const wide = width + 2 * MARGIN_PX + 2;
  const high = height + 2 * MARGIN_PX + 2;
  const grown = growMask(component, width, height, wide, high);
  const corners = traceCracks(grown, wide, high);
  const offset = MARGIN_PX + 1;
  return simplify(corners, SLACK_PX).map(([px, py]) => [px - offset, py - offset]);
}

/** Pixels of the same label that hang together with one, side by side. */
function floodFill(labels: Uint8Array, width: number, height: number, seed: number): Uint8Array {
  const found = new Uint8Array(width * height);
  const label = labels[seed]!;
  const stack = [seed];
  found[seed] = 1;
  const visit = (i: number): void => {
    if (found[i] !== 0 || labels[i] !== label) return;
    found[i] = 1;
    stack.push(i);
  };
  while (stack.length > 0) {
    const i = stack.pop()!;
    const column = i % width;
    if (column > 0) visit(i - 1);
    if (column + 1 < width) visit(i + 1);
    if (i >= width) visit(i - width);
    if (i + width < found.length) visit(i + width);
  }
  return found;
}

function growMask(mask: Uint8Array, width: number, height: number, wide: number, high: number): Uint8Array {
  const across = new Uint8Array(wide * high);
  const offset = MARGIN_PX + 1;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (mask[y * width + x] === 0) continue;
      const at = (y + offset) * wide + x + offset;
      across.fill(1, at - MARGIN_PX, at + MARGIN_PX + 1);
    }
  }
  const grown = new Uint8Array(wide * high);
  // The component keeps off the plane's border by more than the margin, so no row above or below is missed.
  for (let y = MARGIN_PX; y < high - MARGIN_PX; y++) {
    for (let x = 0; x < wide; x++) {
      if (across[y * wide + x] === 0) continue;
      for (let dy = -MARGIN_PX; dy <= MARGIN_PX; dy++) grown[(y + dy) * wide + x] = 1;
    }
  }
  return grown;
}

// Right, down, left, up: the steps along pixel edges, and the pixel that lies to the right of each.
const STEPS = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
] as const;

/** Follows the outer edge of a mask between pixels, with the mask at the right hand; corners only. */
function traceCracks(mask: Uint8Array, width: number, height: number): OutlinePoint[] {
  const at = (x: number, y: number) =>
    x >= 0 && y >= 0 && x < width && y < height && mask[y * width + x] !== 0;
  const start = mask.indexOf(1);
  const [startX, startY] = [start % width, Math.floor(start / width)];
  // The two pixels ahead of a corner: left and right of the way.
  const ahead = (x: number, y: number, direction: number): [boolean, boolean] => {
    if (direction === 0) return [at(x, y - 1), at(x, y)];
    if (direction === 1) return [at(x, y), at(x - 1, y)];
    if (direction === 2) return [at(x - 1, y), at(x - 1, y - 1)];
    return [at(x - 1, y - 1), at(x, y - 1)];
  };
  const corners: OutlinePoint[] = [];
  let [x, y, direction] = [startX, startY, 0];
  do {
    const step = STEPS[direction]!;
    x += step[0];
    y += step[1];
    const [left, right] = ahead(x, y, direction);
    const turn = left ? 3 : right ? 0 : 1;
    if (turn !== 0) corners.push([x, y]);
    direction = (direction + turn) % 4;
  } while (x !== startX || y !== startY || direction !== 0);
  return corners;
}

/** Leaves out points that lie nearer than `slack` to the line of their neighbours. Douglas and Peucker, Cartographica 10 (1973). */
function simplify(points: readonly OutlinePoint[], slack: number): OutlinePoint[] {
  if (points.length < 4) return [...points];
  const keep = new Uint8Array(points.length);
  const far = farthest(points, points[0]!);
  keep[0] = 1;
  keep[far] = 1;
  const spans: [number, number][] = [
    [0, far],
    [far, points.length],
  ];
  while (spans.length > 0) {
    const [from, to] = spans.pop()!;
    const a = points[from]!;
    const b = points[to % points.length]!;
    let worst = slack;
    let index = -1;
    for (let k = from + 1; k < to; k++) {
      const distance = fromSegment(points[k]!, a, b);
      if (distance > worst) {
        worst = distance;
        index = k;
      }
    }
    if (index < 0) continue;
    keep[index] = 1;
    spans.push([from, index], [index, to]);
  }
  return points.filter((_, k) => keep[k] === 1);
}

function farthest(points: readonly OutlinePoint[], from: OutlinePoint): number {
  let best = 0;
  points.forEach((point, k) => {
    const here = Math.hypot(point[0] - from[0], point[1] - from[1]);
    if (here > Math.hypot(points[best]![0] - from[0], points[best]![1] - from[1])) best = k;
  });
  return best;
}

function fromSegment(p: OutlinePoint, a: OutlinePoint, b: OutlinePoint): number {
  const dx = b[0] - a[0];
  const dy = b[1] - a[1];
  const length = dx * dx + dy * dy;
  const t = length > 0 ? Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / length)) : 0;
  return Math.hypot(p[0] - a[0] - t * dx, p[1] - a[1] - t * dy);
}
