/** For each device pixel along one side the plane's pixel that it takes, and how much of the next one. */
export interface Expansion {
  readonly from: Int32Array;
  /** In 256ths, 0..255: the rest belongs to `from`. Where it is above 0, `from` + 1 is inside the plane. Null: every pixel is its nearest one. */
  readonly part: Uint16Array | null;
}

/**
 * How `pixels` of a plane are spread over `count` device pixels, centres on centres.
 *
 * @param padded so many entries; those beyond `count` repeat the last one.
 */
export function expansion(
  count: number,
  pixels: number,
  edges: 'nearest' | 'linear',
  padded = count,
): Expansion {
  const from = new Int32Array(padded);
  const part = edges === 'linear' ? new Uint16Array(padded) : null;
  for (let k = 0; k < padded; k++) {
    const at = ((Math.min(k, count - 1) + 0.5) * pixels) / count;
    if (!part) {
      from[k] = Math.min(pixels - 1, Math.floor(at));
      continue;
    }
    const centre = Math.min(pixels - 1, Math.max(0, at - 0.5));
    placeBetween(from, part, k, Math.floor(centre), centre - Math.floor(centre));
  }
  return { from, part };
}

/** Notes where a pixel lies, `beyond` (0..1) a pixel of the plane; next to the following one it is there. */
export function placeBetween(
  from: Int32Array,
  part: Uint16Array,
  k: number,
  pixel: number,
  beyond: number,
): void {
  const parts = Math.round(beyond * 256);
  from[k] = parts === 256 ? pixel + 1 : pixel;
  part[k] = parts & 255;
}

/** From one tone to the next by 256ths, in whole numbers. */
export function blend(a: number, b: number, part: number): number {
  return a + (((b - a) * part + 128) >> 8);
}

/** @param out as many as `from` has; of the row's kind. */
export function expandRow<T extends Uint8Array | Uint16Array>(
  row: T,
  { from, part }: Expansion,
  out: T,
): void {
  for (let x = 0; x < out.length; x++) {
    const at = from[x]!;
    const value = row[at]!;
    out[x] = part && part[x]! > 0 ? blend(value, row[at + 1]!, part[x]!) : value;
  }
}
