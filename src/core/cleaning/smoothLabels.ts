/** Pixels on each side that take part in the vote over one. */
export const VOTE_REACH = 2;

/**
 * Gives each pixel the label that most of the five by five around it have; its own where that is among several that most have. Pixels nearer to the plane's
 * edge than that keep theirs: callers cut them off.
 */
export function vote(label: Uint8Array, width: number, height: number): Uint8Array {
  const out = label.slice();
  const counts = new Int32Array(256);
  const present = [...new Set(label)];
  const near = nearOthers(label, width, height, VOTE_REACH);
  for (let y = VOTE_REACH; y < height - VOTE_REACH; y++) {
    for (let x = VOTE_REACH; x < width - VOTE_REACH; x++) {
      const i = y * width + x;
      if (!near[i]) continue;
      for (const each of present) counts[each] = 0;
      for (let row = -VOTE_REACH; row <= VOTE_REACH; row++) {
        const from = i + row * width;
        for (let at = from - VOTE_REACH; at <= from + VOTE_REACH; at++) counts[label[at]!]!++;
      }
      let best = label[i]!;
      for (const each of present) if (counts[each]! > counts[best]!) best = each;
      out[i] = best;
    }
  }
  return out;
}

/** Standard deviation of the blur that rounds what is left of pixels, in working pixels. */
const SIGMA = 1.5;
export const BLUR_REACH = 5;
const WEIGHTS = (() => {
  const raw = Array.from({ length: 2 * BLUR_REACH + 1 }, (_, k) =>
    Math.exp(-((k - BLUR_REACH) ** 2) / (2 * SIGMA * SIGMA)),
  );
  const sum = raw.reduce((total, weight) => total + weight, 0);
  return raw.map((weight) => weight / sum);
})();

/** Labels whose areas have smooth edges, and how clearly each pixel has its label. */
export interface SmoothLabels {
  readonly label: Uint8Array;
  /** By how much the share of a pixel's label exceeds the next one's, 0..255 for 0..1: where an edge lies between two pixels follows from theirs. */
  readonly margin: Uint8Array;
}

/**
 * Blurs the area of each label (Gauss) and gives each pixel to the one with most of it. Pixels nearer to the plane's edge than BLUR_REACH are blurred over what is
 * there.
 */
export function blurLabels(label: Uint8Array, width: number, height: number): SmoothLabels {
  const out = label.slice();
  const margin = new Uint8Array(label.length).fill(255);
  const present = [...new Set(label)];
  const shares = new Float64Array(256);
  const mixed = nearOthers(label, width, height, BLUR_REACH);
  for (let i = 0; i < label.length; i++) {
    if (!mixed[i]) continue;
    const x = i % width;
    const y = (i - x) / width;
    const [left, right] = [Math.max(0, x - BLUR_REACH), Math.min(width - 1, x + BLUR_REACH)];
    const [top, bottom] = [Math.max(0, y - BLUR_REACH), Math.min(height - 1, y + BLUR_REACH)];
    for (const each of present) shares[each] = 0;
    let whole = 0;
    for (let row = top; row <= bottom; row++) {
      const across = WEIGHTS[row - y + BLUR_REACH]!;
      for (let column = left; column <= right; column++) {
        const weight = across * WEIGHTS[column - x + BLUR_REACH]!;
        shares[label[row * width + column]!]! += weight;
        whole += weight;
      }
    }
    let [best, most, next] = [0, -1, 0];
    for (const each of present) {
      const share = shares[each]!;
      if (share > most) [best, next, most] = [each, Math.max(0, most), share];
      else if (share > next) next = share;
    }
    out[i] = best;
    margin[i] = Math.max(1, Math.round(((most - next) / whole) * 255));
  }
  return { label: out, margin };
}

/** Whether two labels meet within so many rows and columns of each pixel, and a pixel more. */
export function nearOthers(label: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const across = new Uint8Array(label.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const meets = (x > 0 && label[i] !== label[i - 1]) || (y > 0 && label[i] !== label[i - width]);
      if (!meets) continue;
      across.fill(1, i - Math.min(x, reach), i + Math.min(width - x, reach + 1));
    }
  }
  const near = new Uint8Array(label.length);
  for (let i = 0; i < label.length; i++) {
    if (!across[i]) continue;
    const y = Math.floor(i / width);
    const last = Math.min(height - 1, y + reach);
    for (let row = Math.max(0, y - reach); row <= last; row++) near[i + (row - y) * width] = 1;
  }
  return near;
}
