/** A periodic picture: `side` * `side` values, its right border going on at its left one. */
export interface Field {
  readonly side: number;
  readonly values: Float32Array;
}

export function field(side: number): Field {
  return { side, values: new Float32Array(side * side) };
}

/** Scrambles integers (Wang's hash of 32 bits), so that the same place always has the same chance, on every machine. */
function hash(x: number, y: number, seed: number): number {
  let h = Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1) ^ Math.imul(seed + 1, 0x9e3779b1);
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** A chance of a place, 0 up to 1. */
export function chance(x: number, y: number, seed: number): number {
  return hash(x, y, seed) / 0x100000000;
}

/**
 * Adds smooth noise of one size to a field: gradients at the nodes of a grid, blended by 6t^5 - 15t^4 + 10t^3 (Perlin, Improving Noise, SIGGRAPH 2002).
 *
 * @param across, down periods of the grid on the whole field.
 * @param weight what it is multiplied by; by itself it reaches about -0.7 to 0.7.
 */
export function addNoise(
  { side, values }: Field,
  across: number,
  down: number,
  weight: number,
  seed: number,
): void {
  const columns = axisOf(side, across);
  const rows = axisOf(side, down);
  const gradients = new Float32Array(across * down * 2);
  for (let y = 0, at = 0; y < down; y++) {
    for (let x = 0; x < across; x++, at += 2) {
      const angle = chance(x, y, seed) * 2 * Math.PI;
      gradients[at] = Math.cos(angle);
      gradients[at + 1] = Math.sin(angle);
    }
  }
  for (let y = 0; y < side; y++) {
    const fy = rows.part[y]!;
    const sy = rows.blend[y]!;
    const above = rows.node[y]! * across;
    const below = ((rows.node[y]! + 1) % down) * across;
    for (let x = 0; x < side; x++) {
      const fx = columns.part[x]!;
      const left = columns.node[x]!;
      const right = left + 1 === across ? 0 : left + 1;
      const a = (above + left) * 2;
      const b = (above + right) * 2;
      const c = (below + left) * 2;
      const d = (below + right) * 2;
      const top = gradients[a]! * fx + gradients[a + 1]! * fy;
      const topRight = gradients[b]! * (fx - 1) + gradients[b + 1]! * fy;
      const low = gradients[c]! * fx + gradients[c + 1]! * (fy - 1);
      const lowRight = gradients[d]! * (fx - 1) + gradients[d + 1]! * (fy - 1);
      const upper = top + columns.blend[x]! * (topRight - top);
      const lower = low + columns.blend[x]! * (lowRight - low);
      values[y * side + x]! += weight * (upper + sy * (lower - upper));
    }
  }
}

/** Where each pixel of a side lies in a grid of nodes. */
function axisOf(side: number, nodes: number) {
  const node = new Int32Array(side);
  const part = new Float32Array(side);
  const blend = new Float32Array(side);
  for (let x = 0; x < side; x++) {
    const at = (x * nodes) / side;
    const t = at - Math.floor(at);
    node[x] = Math.floor(at);
    part[x] = t;
    blend[x] = t * t * t * (t * (t * 6 - 15) + 10);
  }
  return { node, part, blend };
}

/** Noise of halving sizes, each half as strong, from a number of periods to another. */
export function addCloud(target: Field, from: number, to: number, weight: number, seed: number): void {
  for (let periods = from, share = weight, k = 0; periods <= to; periods *= 2, share /= 2, k++) {
    addNoise(target, periods, periods, share, seed + k * 101);
  }
}

/** What a cell of scattered points says of a place. */
export interface Nearest {
  /** To the nearest point, in cells. */
  readonly first: number;
  /** To the second nearest. */
  readonly second: number;
  /** The cell of the nearest one, for chances of its own. */
  readonly cellX: number;
  readonly cellY: number;
}

/**
 * Goes through a field with one point scattered in each cell of a grid (Worley, A Cellular Texture Basis Function, SIGGRAPH 1996).
 *
 * @param cells along a side.
 * @param shiftOf moves the place that is looked from, in cells, so that what comes of it is not straight; null: nothing is moved.
 * @param visit given the index of each pixel; what it is told holds until it returns.
 */
export function forEachNearest(
  side: number,
  cells: number,
  seed: number,
  shiftOf: ((index: number) => number) | null,
  visit: (index: number, nearest: Nearest) => void,
): void {
  const px = new Float32Array(cells * cells);
  const py = new Float32Array(cells * cells);
  for (let y = 0; y < cells; y++) {
    for (let x = 0; x < cells; x++) {
      px[y * cells + x] = chance(x, y, seed);
      py[y * cells + x] = chance(x, y, seed + 1);
    }
  }
  const told = { first: 0, second: 0, cellX: 0, cellY: 0 };
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const shift = shiftOf ? shiftOf(y * side + x) : 0;
      const ux = (x * cells) / side + shift;
      const uy = (y * cells) / side - shift;
      const cx = Math.floor(ux);
      const cy = Math.floor(uy);
      let [first, second] = [Infinity, Infinity];
      for (let j = -1; j <= 1; j++) {
        const row = (((cy + j) % cells) + cells) % cells;
        for (let i = -1; i <= 1; i++) {
          const column = (((cx + i) % cells) + cells) % cells;
          const dx = cx + i + px[row * cells + column]! - ux;
          const dy = cy + j + py[row * cells + column]! - uy;
          const distance = dx * dx + dy * dy;
          if (distance < first) {
            second = first;
            first = distance;
            told.cellX = column;
            told.cellY = row;
          } else if (distance < second) second = distance;
        }
      }
      told.first = Math.sqrt(first);
      told.second = Math.sqrt(second);
      visit(y * side + x, told);
    }
  }
}
