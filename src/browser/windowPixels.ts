import type { LinearRgb } from '@/core/colour';
import { type View, type ViewPart, encodeRgba } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import type { Surround } from './requests';

/** Garment that shows round the print. */
export const GARMENT_MARGIN_MM = 25;

/** Codes of the three surrounds. */
export const SURROUNDS: Readonly<Record<Surround, number>> = { light: 202, middle: 138, dark: 66 };

/** Fills a window with one colour. */
export function fillPixels(pixels: Uint8ClampedArray<ArrayBuffer>, colour: LinearRgb): void {
  const one = encodeRgba({ width: 1, height: 1, light: Float32Array.from(colour) });
  new Uint32Array(pixels.buffer).fill(new Uint32Array(one.buffer)[0]!);
}

/** Puts the part that was evaluated into its window. */
export function pastePixels(
  source: Uint8ClampedArray,
  part: ViewPart,
  target: Uint8ClampedArray,
  width: number,
): void {
  const rowBytes = part.view.width * 4;
  for (let row = 0; row < part.view.height; row++) {
    target.set(source.subarray(row * rowBytes, (row + 1) * rowBytes), ((part.y + row) * width + part.x) * 4);
  }
}

/** Paints the surround over what lies beyond the garment's margin. */
export function shadeBeyond(
  pixels: Uint8ClampedArray<ArrayBuffer>,
  sheet: JobSheet,
  view: View,
  surround: Surround,
): void {
  const words = new Uint32Array(pixels.buffer);
  const grey = (SURROUNDS[surround] * 0x010101) | 0xff000000;
  const clamp = (value: number, most: number) => Math.min(most, Math.max(0, Math.round(value)));
  const left = clamp((-GARMENT_MARGIN_MM - view.xMm) * view.scale, view.width);
  const right = clamp((sheet.print.widthMm + GARMENT_MARGIN_MM - view.xMm) * view.scale, view.width);
  const top = clamp((-GARMENT_MARGIN_MM - view.yMm) * view.scale, view.height);
  const bottom = clamp((sheet.print.heightMm + GARMENT_MARGIN_MM - view.yMm) * view.scale, view.height);
  words.fill(grey, 0, top * view.width);
  words.fill(grey, bottom * view.width);
  for (let y = top; y < bottom; y++) {
    words.fill(grey, y * view.width, y * view.width + left);
    words.fill(grey, y * view.width + right, (y + 1) * view.width);
  }
}
