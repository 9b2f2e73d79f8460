import { type LinearRgb, ciede2000, labFromLinear, linearFromRgb8, parseHexColour } from '../colour';
import type { Ink } from '../sheet';

/** A part of a mixture. */
export interface InkPart {
  readonly ink: Ink;
  /** Of the mixture's weight, 0..1. */
  readonly part: number;
}

/** Inks that mixed together have a colour nearly. */
export interface InkMix {
  /** The largest first; the parts add up to 1. */
  readonly parts: readonly InkPart[];
  /** CIEDE2000 between the mixture and the colour that is wanted, by the model. */
  readonly difference: number;
}

/** No ink is darker or lighter than this in a channel, 0..1: absorption would have no end. */
const LEAST = 0.004;

/** Absorption to scattering of a layer that nothing shines through: (1 − R)² / 2R (Kubelka and Munk 1931). */
function absorption(light: number): number {
  const r = Math.min(1 - LEAST, Math.max(LEAST, light));
  return (1 - r) ** 2 / (2 * r);
}

/**
 * Light of a mixture of inks, linear: the ratios of absorption to scattering add up by the parts, channel by channel (Duncan 1940, with one constant for each ink, as if all
 * scattered alike). A model only: strengths of real pigments differ, so a mixture is tried on cloth before it is made.
 */
export function mixLight(parts: readonly { readonly light: LinearRgb; readonly part: number }[]): LinearRgb {
  const channel = (c: 0 | 1 | 2) => {
    const ratio = parts.reduce((sum, { light, part }) => sum + part * absorption(light[c]), 0);
    return 1 + ratio - Math.sqrt(ratio * ratio + 2 * ratio);
  };
  return [channel(0), channel(1), channel(2)];
}

/** Parts are looked for in tenths, then in steps of these around the best. */
const FINER = [0.05, 0.02, 0.01];
const MOST_INKS = 3;
/** Mixtures that are looked at more finely. */
const KEPT = 6;

/** The mixture of up to three inks that comes nearest to a colour; null where there are no inks. */
export function mixInk(colour: string, inks: readonly Ink[]): InkMix | null {
  const target = labFromLinear(linearFromRgb8(parseHexColour(colour)));
  const lights = inks.map((ink) => linearFromRgb8(parseHexColour(ink.colour)));
  const differenceOf = (places: readonly number[], parts: readonly number[]) =>
    ciede2000(
      labFromLinear(mixLight(places.map((place, k) => ({ light: lights[place]!, part: parts[k]! })))),
      target,
    );
  let kept: { places: readonly number[]; parts: readonly number[]; difference: number }[] = [];
  const keep = (places: readonly number[], parts: readonly number[]) => {
    const difference = differenceOf(places, parts);
    if (kept.length === KEPT && difference >= kept.at(-1)!.difference) return;
    kept = [...kept, { places, parts, difference }]
      .sort((p, q) => p.difference - q.difference)
      .slice(0, KEPT);
  };
  for (let a = 0; a < inks.length; a++) {
    keep([a], [1]);
    for (let b = a + 1; b < inks.length; b++) {
      for (let p = 1; p < 10; p++) keep([a, b], [p / 10, 1 - p / 10]);
      for (let c = b + 1; c < inks.length && MOST_INKS > 2; c++) {
        for (let p = 1; p < 9; p++)
          for (let q = 1; p + q < 10; q++) keep([a, b, c], [p / 10, q / 10, (10 - p - q) / 10]);
      }
    }
  }
  const found = kept.map((each) => FINER.reduce((mix, step) => refined(mix, step, differenceOf), each));
  const best = found.sort((p, q) => p.difference - q.difference)[0];
  if (!best) return null;
  const parts = best.places
    .map((place, k) => ({ ink: inks[place]!, part: Math.round(best.parts[k]! * 100) / 100 }))
    .filter(({ part }) => part > 0)
    .sort((p, q) => q.part - p.part);
  return { parts, difference: best.difference };
}

interface Found {
  readonly places: readonly number[];
  readonly parts: readonly number[];
  readonly difference: number;
}

/** Moves a step from one part to another for as long as that comes nearer. */
function refined(
  first: Found,
  step: number,
  differenceOf: (places: readonly number[], parts: readonly number[]) => number,
): Found {
  let best = first;
  for (let better = true; better;) {
    better = false;
    for (let from = 0; from < best.parts.length; from++) {
      for (let to = 0; to < best.parts.length; to++) {
        if (from === to || best.parts[from]! < step) continue;
        const parts = best.parts.map((part, k) => part + (k === to ? step : k === from ? -step : 0));
        const difference = differenceOf(best.places, parts);
        if (difference >= best.difference - 1e-9) continue;
        best = { ...best, parts, difference };
        better = true;
      }
    }
  }
  return best;
}
