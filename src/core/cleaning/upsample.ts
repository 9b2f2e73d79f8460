/** Source pixels on each side that an upsampled pixel is made of. */
export const LANCZOS_REACH = 3;
const TAPS = 2 * LANCZOS_REACH;

/** Lanczos' window of three lobes (Duchon 1979, "Lanczos filtering in one and two dimensions"), at a distance in source pixels. */
function lanczos3(x: number): number {
  if (x === 0) return 1;
  if (Math.abs(x) >= LANCZOS_REACH) return 0;
  const phase = Math.PI * x;
  return (LANCZOS_REACH * Math.sin(phase) * Math.sin(phase / LANCZOS_REACH)) / (phase * phase);
}

/** Makes the pixels of a picture of four channels finer, one at a time. */
export class Upsampler {
  /** For each of the places in a pixel, along one axis: the first tap's distance from the pixel, and the weights, which sum to 1. */
  private readonly phases: readonly { readonly first: number; readonly weights: Float64Array }[];
  private readonly rows: Float64Array;

  /** @param scale places to a pixel in each direction; whole, 1 or more. */
  constructor(private readonly scale: number) {
    this.rows = new Float64Array(TAPS * scale * 4);
    this.phases = Array.from({ length: scale }, (_, k) => {
      const centre = (k + 0.5) / scale - 0.5;
      const first = Math.floor(centre) - LANCZOS_REACH + 1;
      const raw = Float64Array.from({ length: TAPS }, (__, tap) => lanczos3(centre - (first + tap)));
      const sum = raw.reduce((total, weight) => total + weight, 0);
      return { first, weights: raw.map((weight) => weight / sum) };
    });
  }

  /**
   * Writes the `scale` x `scale` places of one pixel, row after row, four values each. Beyond its edges the picture goes on as its outermost pixels.
   *
   * @param picture four values a pixel, row after row.
   */
  pixel(
    picture: Float32Array,
    width: number,
    height: number,
    x: number,
    y: number,
    into: Float64Array,
  ): void {
    const { scale, phases, rows } = this;
    for (let down = 0; down < scale; down++) {
      const { first: top, weights: vertical } = phases[down]!;
      const isSame = down > 0 && phases[down - 1]!.first === top;
      for (let tap = 0; !isSame && tap < TAPS; tap++) {
        const from = Math.min(height - 1, Math.max(0, y + top + tap)) * width;
        for (let across = 0; across < scale; across++) {
          const { first: left, weights } = phases[across]!;
          let [r, g, b, a] = [0, 0, 0, 0];
          for (let k = 0; k < TAPS; k++) {
            const at = (from + Math.min(width - 1, Math.max(0, x + left + k))) * 4;
            const weight = weights[k]!;
            r += weight * picture[at]!;
            g += weight * picture[at + 1]!;
            b += weight * picture[at + 2]!;
            a += weight * picture[at + 3]!;
          }
          const to = (tap * scale + across) * 4;
          rows[to] = r;
          rows[to + 1] = g;
          rows[to + 2] = b;
          rows[to + 3] = a;
        }
      }
      for (let k = 0; k < scale * 4; k++) {
        let sum = 0;
        for (let tap = 0; tap < TAPS; tap++) sum += vertical[tap]! * rows[tap * scale * 4 + k]!;
        into[down * scale * 4 + k] = sum;
      }
    }
  }
}
