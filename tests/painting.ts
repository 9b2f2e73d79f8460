import type { RgbaPlane } from '@/core/artwork';

export type PaintingEnd = 'none' | 'oval';

/** A number 0..1 for each whole number: the finaliser of MurmurHash3 by Austin Appleby, in the public domain. */
function hashed(value: number): number {
  let h = Math.imul(value ^ (value >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}

/** Values 0..1 that change smoothly, over about `size` pixels. */
function cloud(width: number, size: number, seed: number): (x: number, y: number) => number {
  const cells = Math.ceil(width / size) + 2;
  const at = (x: number, y: number) => hashed(seed + x + y * cells * 7);
  const smooth = (t: number) => t * t * (3 - 2 * t);
  return (x, y) => {
    const [u, v] = [x / size, y / size];
    const [i, j] = [Math.floor(u), Math.floor(v)];
    const [s, t] = [smooth(u - i), smooth(v - j)];
    const top = at(i, j) + (at(i + 1, j) - at(i, j)) * s;
    const bottom = at(i, j + 1) + (at(i + 1, j + 1) - at(i, j + 1)) * s;
    return top + (bottom - top) * t;
  };
}

/**
 * Made-up full-tone artwork: hues, lightness and grain that wander.
 *
 * @param end `oval`: transparent beyond an oval that ends hard on its left half and fades out on its right one.
 */
export function painting(width: number, height: number, seed: number, end: PaintingEnd): RgbaPlane {
  const hue = cloud(width, width / 4, seed);
  const drift = cloud(width, width / 13, seed + 1e5);
  const colourful = cloud(width, width / 6, seed + 2e5);
  const light = cloud(width, width / 8, seed + 3e5);
  const grain = cloud(width, 6, seed + 4e5);
  const data = new Uint8Array(width * height * 4);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const turn = (hue(x, y) * 1.3 + drift(x, y) * 0.5) * 6;
      const strength = Math.min(1, colourful(x, y) * 1.4);
      const value = Math.min(1, Math.max(0, light(x, y) * 1.5 - 0.15 + grain(x, y) * 0.1));
      for (let c = 0; c < 3; c++) {
        const wave = Math.min(1, Math.max(0, Math.abs(((turn + c * 2) % 6) - 3) - 1));
        data[i + c] = Math.round(255 * value * (1 - strength + strength * wave));
      }
      const away = Math.hypot((x - width / 2) / (width / 2), (y - height / 2) / (height / 2));
      const opacity = x < width / 2 ? (away < 0.95 ? 1 : 0) : Math.min(1, Math.max(0, (0.98 - away) / 0.25));
      data[i + 3] = end === 'none' ? 255 : Math.round(opacity * 255);
    }
  }
  return { rect: { x: 0, y: 0, width, height }, data };
}

/** Reads parts of artwork as it is. */
export function planeReader({ rect: whole, data }: RgbaPlane) {
  return ({ rect }: { readonly rect: RgbaPlane['rect'] }): RgbaPlane => {
    const part = new Uint8Array(rect.width * rect.height * 4);
    for (let row = 0; row < rect.height; row++) {
      const from = ((rect.y + row) * whole.width + rect.x) * 4;
      part.set(data.subarray(from, from + rect.width * 4), row * rect.width * 4);
    }
    return { rect, data: part };
  };
}
