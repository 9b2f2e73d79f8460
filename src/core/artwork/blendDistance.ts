import { LINEAR_OF_CODE8, type Lab, type Rgb8, deltaE76, encodeSrgb8, labFromRgb8 } from '../colour';

/** The share of p on the way from q to p that comes nearest to a colour; neither end. */
function shareOf(colour: Rgb8, p: Rgb8, q: Rgb8, of: (code: number) => number): number {
  let dot = 0;
  let length = 0;
  for (let c = 0; c < 3; c++) {
    const d = of(p[c]!) - of(q[c]!);
    dot += (of(colour[c]!) - of(q[c]!)) * d;
    length += d * d;
  }
  return length > 0 ? Math.min(15 / 16, Math.max(1 / 16, dot / length)) : 0.5;
}

const coded = (code: number): number => code;
const light = (code: number): number => LINEAR_OF_CODE8[code]!;

/** The CIELAB distance of a colour from the mixtures of two others, mixed in coded or in linear light, whichever is smaller. */
export function distanceFromBlend(lab: Lab, rgb: Rgb8, p: Rgb8, q: Rgb8): number {
  const t = shareOf(rgb, p, q, coded);
  const mixed = p.map((code, c) => Math.round(q[c]! + (code - q[c]!) * t)) as unknown as Rgb8;
  const u = shareOf(rgb, p, q, light);
  const lit = p.map((code, c) =>
    Math.round(encodeSrgb8(light(q[c]!) + (light(code) - light(q[c]!)) * u)),
  ) as unknown as Rgb8;
  return Math.min(deltaE76(lab, labFromRgb8(mixed)), deltaE76(lab, labFromRgb8(lit)));
}
