/** Side of the mask in dots; a power of two. */
export const MASK_SIDE = 128;

const COUNT = MASK_SIDE * MASK_SIDE;
/** Width of the filter by which clusters and voids are judged, in dots; the paper finds 1.5 to work best. */
const SIGMA = 1.5;
const REACH = 7;
/** Share of dots in the pattern to begin with. */
const BEGIN = 0.1;

/** How crowded each place is: a Gaussian round every dot, on a torus. */
class Crowding {
  readonly energy = new Float64Array(COUNT);
  private readonly weights: readonly { dx: number; dy: number; weight: number }[];

  constructor() {
    const weights = [];
    for (let dy = -REACH; dy <= REACH; dy++) {
      for (let dx = -REACH; dx <= REACH; dx++) {
        weights.push({ dx, dy, weight: Math.exp(-(dx * dx + dy * dy) / (2 * SIGMA * SIGMA)) });
      }
    }
    this.weights = weights;
  }

  change(at: number, sign: 1 | -1): void {
    const x = at % MASK_SIDE;
    const y = Math.floor(at / MASK_SIDE);
    for (const { dx, dy, weight } of this.weights) {
      const to = ((y + dy) & (MASK_SIDE - 1)) * MASK_SIDE + ((x + dx) & (MASK_SIDE - 1));
      this.energy[to]! += sign * weight;
    }
  }

  /** The dot in the tightest cluster. */
  cluster(dots: Uint8Array): number {
    let found = -1;
    for (let k = 0; k < COUNT; k++) {
      if (dots[k] === 1 && (found < 0 || this.energy[k]! > this.energy[found]!)) found = k;
    }
    return found;
  }

  /** The free place in the largest void. */
  void(dots: Uint8Array): number {
    let found = -1;
    for (let k = 0; k < COUNT; k++) {
      if (dots[k] === 0 && (found < 0 || this.energy[k]! < this.energy[found]!)) found = k;
    }
    return found;
  }
}

let kept: Uint16Array | null = null;

/**
 * The order in which the places of a mask are inked, 0..side² - 1: at every tone the dots stand as evenly as dots without a pattern
 * can. Ulichney, The void-and-cluster method for dither array generation, Proc. SPIE 1913 (1993). Always the same mask; about a
 * second to make, once.
 */
export function voidAndClusterOrder(): Uint16Array {
  if (kept) return kept;
  const dots = new Uint8Array(COUNT);
  const crowding = new Crowding();
  // Numerical Recipes' constants; any seed will do, as long as it is always this one.
  let state = 20;
  const first = Math.round(COUNT * BEGIN);
  for (let placed = 0; placed < first;) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const at = state >>> (32 - Math.log2(COUNT));
    if (dots[at] === 1) continue;
    dots[at] = 1;
    crowding.change(at, 1);
    placed++;
  }
  for (;;) {
    const from = crowding.cluster(dots);
    dots[from] = 0;
    crowding.change(from, -1);
    const to = crowding.void(dots);
    dots[to] = 1;
    crowding.change(to, 1);
    if (to === from) break;
  }
  const order = new Uint16Array(COUNT);
  const begun = dots.slice();
  for (let rank = first - 1; rank >= 0; rank--) {
    const at = crowding.cluster(dots);
    dots[at] = 0;
    crowding.change(at, -1);
    order[at] = rank;
  }
  for (let at = 0; at < COUNT; at++) if (begun[at] === 1) crowding.change(at, 1);
  dots.set(begun);
  for (let rank = first; rank < COUNT; rank++) {
    const at = crowding.void(dots);
    dots[at] = 1;
    crowding.change(at, 1);
    order[at] = rank;
  }
  kept = order;
  return order;
}
