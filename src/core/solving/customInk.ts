import { type Lab, type LinearRgb, labFromLinear, linearFromRgb8 } from '../colour';
import { type InkCandidate, type InkSearch, type InkSet, measure, scoreOf, solveNear } from './chooseInks';

/** An ink of a colour that no stock need have, in the place of one of a set. */
export interface CustomInk extends InkSet {
  readonly colour: LinearRgb;
  /** Place among the candidates of the ink that it stands for. */
  readonly out: number;
}

/** A custom ink hides as the usual opaque ones do. */
export const CUSTOM_OPACITY = 0.75;
/** What it must gain in the score: a mixture is work. */
const WORTH_A_MIXTURE = 0.3;

/** Codes of the colours that are tried first: all that sRGB has, in steps of a quarter. */
const CODES = [8, 72, 136, 200, 250];
/** Then codes around the best, in steps that get smaller. */
const STEPS = [32, 16, 8];

/** From this lightness (L*) down dots of an ink are seen in light tones. */
const DARK = 40;

type Codes = readonly [number, number, number];

/**
 * The ink of any colour that brings a set nearest to the artwork in the place of one of its inks; null where none is worth mixing. Colours of a coarse grid are tried
 * for each place, and the best is moved in smaller and smaller steps.
 *
 * @param places of the set's inks that may go.
 * @returns yields null where the search can be put off.
 */
export function* customInk(
  search: InkSearch,
  inks: readonly number[],
  places: readonly number[],
): Generator<null, CustomInk | null> {
  const present = measure(search, inks);
  const held = solveNear(search, inks);
  const tryInk = (out: number, codes: Codes): Tried => ({
    out,
    codes,
    score: scoreOf(solveNear(withCustom(search, out, codes), inks, held.tones)),
  });
  let best: Tried | null = null;
  for (const out of places) {
    best = CODES.flatMap((r) => CODES.flatMap((g) => CODES.map((b) => tryInk(out, [r, g, b])))).reduce(
      nearer,
      best ?? tryInk(out, [0, 0, 0]),
    );
    yield null;
  }
  if (!best) return null;
  for (const step of STEPS) {
    for (let score = Infinity; best.score < score;) {
      score = best.score;
      best = beside(best.codes, step)
        .map((codes) => tryInk(best!.out, codes))
        .reduce(nearer, best);
      yield null;
    }
  }
  const { out, codes } = best;
  const measured = measure(withCustom(search, out, codes), inks);
  if (scoreOf(measured) > scoreOf(present) - WORTH_A_MIXTURE) return null;
  return { ...measured, colour: linearFromRgb8(codes), out };
}

interface Tried {
  readonly out: number;
  readonly codes: Codes;
  readonly score: number;
}

const nearer = (best: Tried, each: Tried): Tried => (each.score < best.score ? each : best);

/** Codes a step away in one channel. */
function beside([r, g, b]: Codes, step: number): Codes[] {
  const moved = (code: number, way: number) => Math.min(255, Math.max(0, code + way));
  return [-step, step].flatMap((way): Codes[] => [
    [moved(r, way), g, b],
    [r, moved(g, way), b],
    [r, g, moved(b, way)],
  ]);
}

/** The search with an ink of some codes in the place of a candidate. */
function withCustom(search: InkSearch, out: number, codes: Codes): InkSearch {
  const colour = linearFromRgb8(codes);
  const lab: Lab = labFromLinear(colour);
  const custom: InkCandidate = {
    ...search.candidates[out]!,
    colour,
    opacity: CUSTOM_OPACITY,
    cost: lab[0] < DARK ? 'dark' : 'none',
  };
  const candidates = search.candidates.map((each, k) => (k === out ? custom : each));
  return { ...search, candidates };
}
