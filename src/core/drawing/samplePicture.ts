import { LINEAR_OF_CODE8, encodeSrgb8 } from '../colour';
import { type Affine, invert } from './affine';
import type { DrawingPicture } from './drawing';

/** Halved copies of each picture, made when they are first wanted. */
const halves = new WeakMap<DrawingPicture, DrawingPicture>();

function half(picture: DrawingPicture): DrawingPicture {
  let made = halves.get(picture);
  if (!made) {
    made = makeHalf(picture);
    halves.set(picture, made);
  }
  return made;
}

/** The mean of 2 by 2 pixels in linear light, weighted by alpha. */
function makeHalf({ width, height, data }: DrawingPicture): DrawingPicture {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const out = new Uint8Array(w * h * 4);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let [alpha, count, r, g, b] = [0, 0, 0, 0, 0];
      for (let v = 2 * y; v < Math.min(height, 2 * y + 2); v++) {
        for (let u = 2 * x; u < Math.min(width, 2 * x + 2); u++) {
          const i = (v * width + u) * 4;
          const a = data[i + 3]!;
          count++;
          alpha += a;
          r += a * LINEAR_OF_CODE8[data[i]!]!;
          g += a * LINEAR_OF_CODE8[data[i + 1]!]!;
          b += a * LINEAR_OF_CODE8[data[i + 2]!]!;
        }
      }
      const o = (y * w + x) * 4;
      if (alpha === 0) continue;
      out[o] = encodeSrgb8(r / alpha);
      out[o + 1] = encodeSrgb8(g / alpha);
      out[o + 2] = encodeSrgb8(b / alpha);
      out[o + 3] = Math.round(alpha / count);
    }
  }
  return { width: w, height: h, data: out };
}

/** The colour of a picture at the centres of device pixels: Catmull-Rom between its pixels, or the nearest one. */
export class PictureColour {
  readonly out = new Float64Array(4);
  private readonly picture: DrawingPicture;
  private readonly back: Affine | null;
  private readonly smooth: boolean;

  /** @param map from the picture's pixels to device pixels. */
  constructor(picture: DrawingPicture, map: Affine, smooth: boolean) {
    let back = invert(map);
    let level = picture;
    if (back && smooth) {
      // Where several of its pixels fall on one, they are averaged first.
      let step = Math.sqrt(
        Math.max(back[0] * back[0] + back[1] * back[1], back[2] * back[2] + back[3] * back[3]),
      );
      while (step > 1.5 && (level.width > 1 || level.height > 1)) {
        const next = half(level);
        const [sx, sy] = [next.width / level.width, next.height / level.height];
        back = [back[0] * sx, back[1] * sy, back[2] * sx, back[3] * sy, back[4] * sx, back[5] * sy];
        level = next;
        step /= 2;
      }
    }
    this.picture = level;
    this.back = back;
    this.smooth = smooth;
  }

  at(column: number, row: number): void {
    const { back, picture } = this;
    this.out[3] = 0;
    if (!back) return;
    const x = back[0] * (column + 0.5) + back[2] * (row + 0.5) + back[4];
    const y = back[1] * (column + 0.5) + back[3] * (row + 0.5) + back[5];
    const { width, height, data } = picture;
    if (!this.smooth) {
      const i = (clamp(Math.floor(y), height) * width + clamp(Math.floor(x), width)) * 4;
      this.out[0] = data[i]!;
      this.out[1] = data[i + 1]!;
      this.out[2] = data[i + 2]!;
      this.out[3] = data[i + 3]! / 255;
      return;
    }
    const u = Math.floor(x - 0.5);
    const v = Math.floor(y - 0.5);
    const fx = x - 0.5 - u;
    const fy = y - 0.5 - v;
    let [r, g, b, a] = [0, 0, 0, 0];
    for (let j = 0; j < 4; j++) {
      const wy = weight(j, fy);
      const line = clamp(v - 1 + j, height) * width;
      for (let k = 0; k < 4; k++) {
        const i = (line + clamp(u - 1 + k, width)) * 4;
        const w = wy * weight(k, fx) * data[i + 3]!;
        a += w;
        r += w * data[i]!;
        g += w * data[i + 1]!;
        b += w * data[i + 2]!;
      }
    }
    if (!(a > 0)) return;
    this.out[0] = code(r / a);
    this.out[1] = code(g / a);
    this.out[2] = code(b / a);
    this.out[3] = Math.min(1, a / 255);
  }
}

function clamp(index: number, count: number): number {
  return index < 0 ? 0 : index >= count ? count - 1 : index;
}

function code(value: number): number {
  return value < 0 ? 0 : value > 255 ? 255 : value;
}

/** Catmull-Rom (1974) weight of the k-th of four neighbours, at a fraction behind the second. */
function weight(k: number, t: number): number {
  if (k === 0) return ((2 - t) * t - 1) * t * 0.5;
  if (k === 1) return (3 * t - 5) * t * t * 0.5 + 1;
  if (k === 2) return ((4 - 3 * t) * t + 1) * t * 0.5;
  return (t - 1) * t * t * 0.5;
}
