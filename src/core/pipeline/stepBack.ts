import { LINEAR_OF_CODE8, encodeSrgb8 } from '../colour';
import type { Pixels } from './predictPrint';
import type { View } from './view';

/** Full width at half maximum of what an eye of normal sight blurs to, in minutes of arc. */
const EYE_MINUTES = 1;
const FWHM_PER_SIGMA = 2 * Math.sqrt(2 * Math.LN2);

/** What the eye still tells apart at a distance, in millimetres: the width of its blur at half of its height. */
export function eyeBlurFwhmMm(distanceM: number): number {
  return distanceM * 1000 * Math.tan((EYE_MINUTES / 60) * (Math.PI / 180));
}

/** How far the eye blurs at a distance, as the standard deviation of a Gaussian, in millimetres. */
export function eyeBlurMm(distanceM: number): number {
  return eyeBlurFwhmMm(distanceM) / FWHM_PER_SIGMA;
}

/** Pixels that a blur looks at beyond a view, for a distance. */
export function stepBackMargin(view: View, distanceM: number): number {
  return Math.ceil(3 * eyeBlurMm(distanceM) * view.scale);
}

/** A view with so many pixels more on each side. */
export function widerView(view: View, margin: number): View {
  return {
    ...view,
    xMm: view.xMm - margin / view.scale,
    yMm: view.yMm - margin / view.scale,
    width: view.width + 2 * margin,
    height: view.height + 2 * margin,
  };
}

/**
 * A picture as it looks from a distance: blurred in linear light as the eye does, and without the margin that it needed for that.
 *
 * @param pixels of the wider view.
 * @param view without the margin.
 */
export function stepBack(pixels: Pixels, view: View, distanceM: number): Pixels {
  const margin = stepBackMargin(view, distanceM);
  const sigma = eyeBlurMm(distanceM) * view.scale;
  const weights = Float32Array.from({ length: 2 * margin + 1 }, (_, k) =>
    Math.exp(-((k - margin) ** 2) / (2 * sigma ** 2)),
  );
  const sum = weights.reduce((total, weight) => total + weight, 0);
  weights.forEach((weight, k) => (weights[k] = weight / sum));
  const { width, height } = view;
  const wide = width + 2 * margin;
  const out = new Uint8ClampedArray(width * height * 4);
  const light = new Float32Array(wide * (height + 2 * margin));
  const across = new Float32Array(width * (height + 2 * margin));
  const line = new Float32Array(width);
  for (let channel = 0; channel < 3; channel++) {
    for (let i = 0; i < light.length; i++) light[i] = LINEAR_OF_CODE8[pixels[i * 4 + channel]!]!;
    for (let y = 0; y < height + 2 * margin; y++) {
      for (let x = 0; x < width; x++) {
        let value = 0;
        for (let k = 0; k < weights.length; k++) value += weights[k]! * light[y * wide + x + k]!;
        across[y * width + x] = value;
      }
    }
    for (let y = 0; y < height; y++) {
      line.fill(0);
      for (let k = 0; k < weights.length; k++) {
        const from = (y + k) * width;
        for (let x = 0; x < width; x++) line[x]! += weights[k]! * across[from + x]!;
      }
      for (let x = 0; x < width; x++) out[(y * width + x) * 4 + channel] = encodeSrgb8(line[x]!);
    }
  }
  for (let i = 3; i < out.length; i += 4) out[i] = 255;
  return out;
}
