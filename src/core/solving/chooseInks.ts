import type { Ground, InkStack, StackInk } from './inkStack';
import {
  type Closeness,
  type ClosenessByGround,
  type JudgedInks,
  MANY_STEPS,
  STARTS,
  judgeInks,
} from './judgeInks';
import type { WeighedColour } from './weighColours';

/** An ink that could print. */
export interface InkCandidate extends StackInk {
  /** Another candidate without which it is not taken: a white on top asks for one below. */
  readonly after: number | null;
}

export interface InkSearch {
  /** The garments, and which candidates do not print on each. */
  readonly grounds: readonly Ground[];
  /** In the order in which they would print. */
  readonly candidates: readonly InkCandidate[];
  /** See `InkStack`. */
  readonly inkLimit?: number;
  /** Candidates that are in every set. */
  readonly pinned: readonly number[];
  /** A few colours that stand for the artwork while sets are compared. */
  readonly few: readonly WeighedColour[];
  /** The colours that a set is measured with in the end. */
  readonly many: readonly WeighedColour[];
}

/** Inks that come nearest to the artwork of all that were tried with as many screens. */
export interface InkSet extends ClosenessByGround {
  /** Places among the candidates, rising. */
  readonly inks: readonly number[];
}

/** What a set is chosen by, the less the better: mean difference, with a little of its extremes and of what the press adds when its gain or a plate wanders. */
export function scoreOf({ mean, p95, wander, register }: Closeness): number {
  return mean + 0.05 * p95 + 0.1 * wander + 0.1 * register;
}

/** Steps of the solver while sets are compared. */
const FEW_STEPS = 5;
/**
 * A colour is begun where a similar set of inks ended, and once more without any ink where that leaves it farther off than this (CIEDE2000): an ink that prints below others
 * that cover it, such as a black below a navy, is found only from there.
 */
const NEAR_ENOUGH = 0.5;
const BARE = [0];
/** Of many inks that could join a set so many are tried with all steps: those that come nearest for a part of the colours, about so many of them, after fewer steps. */
const TRIED = 4;
const GLANCED = 32;
const GLANCE_STEPS = 4;
/** An ink that joins begins here. */
const JOINING = 0.1;
/** A swap that gains less than this is none. */
const LEAST_GAIN = 0.005;
const MOST_ROUNDS = 2;

interface Held {
  readonly inks: readonly number[];
  readonly judged: JudgedInks;
}

/**
 * The best sets of 1, 2, 3 … screens: to the best set of one less joins the ink that brings it nearest, then each ink is tried against every other that could
 * stand in its place, until no swap gains. Where a set without one of its inks is better than the one that was known of as many, it takes its place (sequential floating
 * forward selection: Pudil, Novovičová and Kittler 1994). Every set is solved by the print model itself, from where the set before it ended.
 *
 * @param most screens of the largest set.
 * @returns yields each set when it is found, once more where a better one of as many is found later, and null between them where the search can be put off; sets smaller than
 * the pinned inks are left out.
 */
export function* chooseInks(search: InkSearch, most: number): Generator<InkSet | null, void> {
  const { candidates, pinned, few } = search;
  const measured = new MeasuredSets(search);
  let held: Held = {
    inks: [],
    judged: judge(
      search,
      [],
      few.map(() => new Float64Array(0)),
    ),
  };
  for (const ink of [...pinned].sort((p, q) => p - q)) held = joined(search, held, ink);
  if (pinned.length > 0) yield measured.add(held.inks);
  const count = Math.min(most, candidates.length);
  const known: Held[] = [];
  while (held.inks.length < count) {
    const next = bestJoined(search, held, outside(search, held.inks));
    if (!next) return;
    yield null;
    known[held.inks.length] = held;
    held = yield* swapped(search, next);
    yield measured.add(held.inks);
    yield* improveSmaller(search, held, known, measured);
  }
}

/** Sets of fewer screens that a larger one without some of its inks leads to, where they are better than those that were known. */
function* improveSmaller(
  search: InkSearch,
  from: Held,
  known: Held[],
  measured: MeasuredSets,
): Generator<InkSet | null, void> {
  let larger = from;
  for (;;) {
    const less = best(smaller(search, larger));
    yield null;
    const before = less && known[less.inks.length];
    if (!less || !before || scoreOf(less.judged) >= scoreOf(before.judged) - LEAST_GAIN) return;
    larger = yield* swapped(search, less);
    known[less.inks.length] = larger;
    yield measured.add(larger.inks);
  }
}

/** The sets without one of a set's inks, but for those that are pinned or asked for by another. */
function smaller(search: InkSearch, { inks, judged }: Held): Held[] {
  return inks.flatMap((ink, place) => {
    const isAsked = inks.some((each) => search.candidates[each]!.after === ink);
    if (search.pinned.includes(ink) || isAsked || inks.length === 1) return [];
    const rest = inks.filter((each) => each !== ink);
    const from = judged.tones.map((tones) => tones.filter((_, k) => k !== place));
    return [{ inks: rest, judged: judge(search, rest, from) }];
  });
}

/**
 * What a set's inks are worth: the set without each of them; null for the last ink, and for one that another one asks for.
 *
 * @returns yields null where the work can be put off.
 */
export function* withoutEach(search: InkSearch, inks: readonly number[]): Generator<null, (InkSet | null)[]> {
  const found: (InkSet | null)[] = [];
  for (const ink of inks) {
    const rest = inks.filter((each) => each !== ink && search.candidates[each]!.after !== ink);
    const isSet = rest.length === inks.length - 1 && rest.length > 0;
    found.push(isSet ? measure(search, rest) : null);
    yield null;
  }
  return found;
}

/** A set that differs by one ink. */
export interface InkSwap extends InkSet {
  readonly out: number;
  readonly in: number;
}

/** For each ink of a set the one from outside that serves best in its place; yields null where the work can be put off. */
export function* swapEach(search: InkSearch, inks: readonly number[]): Generator<null, (InkSwap | null)[]> {
  const held = { inks, judged: solveNear(search, inks) };
  const found: (InkSwap | null)[] = [];
  for (const ink of inks) {
    yield null;
    const other = bestReplacement(search, held, ink);
    const joining = other?.inks.find((each) => !inks.includes(each));
    found.push(other && { ...measure(search, other.inks), out: ink, in: joining! });
  }
  return found;
}

/**
 * A set's closeness to all the artwork's colours.
 *
 * @param near a smaller set, from where it ends the solver begins once more; empty: from even coverages alone.
 */
export function measure(search: InkSearch, inks: readonly number[], near: readonly number[] = []): InkSet {
  const sets = new MeasuredSets(search);
  if (near.length > 0) sets.add(near);
  return sets.add(inks);
}

/** Measures sets one after another, each also from where the one before it ended, so that an ink more does not hide what fewer reach. */
class MeasuredSets {
  private readonly search: InkSearch;
  private last: Held | null = null;

  constructor(search: InkSearch) {
    this.search = search;
  }

  add(inks: readonly number[]): InkSet {
    const { search, last } = this;
    const from = last && tonesFor(inks, last);
    const judged = judgeInks(stackOf(search, inks), search.many, { even: STARTS, from }, MANY_STEPS);
    this.last = { inks, judged };
    const { tones: _, ...closeness } = judged;
    return { inks, ...closeness };
  }
}

/** The coverages of a set for the inks of another one, which prints none of those that the first has not. */
function tonesFor(inks: readonly number[], { inks: given, judged }: Held): Float64Array[] {
  const places = inks.map((ink) => given.indexOf(ink));
  return judged.tones.map((tones) => Float64Array.from(places, (k) => (k < 0 ? 0 : tones[k]!)));
}

/** The stack of some candidates. */
function stackOf({ grounds, candidates, inkLimit }: InkSearch, inks: readonly number[]): InkStack {
  return {
    ...(inkLimit === undefined ? {} : { inkLimit }),
    inks: inks.map((ink) => candidates[ink]!),
    grounds: grounds.map(({ garment, without }) => ({
      garment,
      without: inks.flatMap((ink, k) => (without.includes(ink) ? [k] : [])),
    })),
  };
}

/**
 * A set solved for the few colours.
 *
 * @param from coverages of a similar set to begin at; left out: from several even ones.
 */
export function solveNear(
  search: InkSearch,
  inks: readonly number[],
  from: readonly Float64Array[] | null = null,
): JudgedInks {
  return from
    ? judge(search, inks, from)
    : judgeInks(stackOf(search, inks), search.few, { even: STARTS, from: null }, MANY_STEPS);
}

function judge(
  search: InkSearch,
  inks: readonly number[],
  from: readonly Float64Array[],
  steps = FEW_STEPS,
): JudgedInks {
  const starts = { even: BARE, from, enough: NEAR_ENOUGH };
  return judgeInks(stackOf(search, inks), search.few, starts, steps);
}

/** Candidates that could join a set. */
function outside({ candidates }: InkSearch, inks: readonly number[]): number[] {
  return [...candidates.keys()].filter((ink) => {
    const { after } = candidates[ink]!;
    return !inks.includes(ink) && (after === null || inks.includes(after));
  });
}

function joined(search: InkSearch, { inks, judged }: Held, ink: number, steps = FEW_STEPS): Held {
  const place = inks.filter((each) => each < ink).length;
  const next = [...inks.slice(0, place), ink, ...inks.slice(place)];
  const from = judged.tones.map((tones) => {
    const more = new Float64Array(next.length);
    more.set(tones.subarray(0, place));
    more[place] = JOINING;
    more.set(tones.subarray(place), place + 1);
    return more;
  });
  return { inks: next, judged: judge(search, next, from, steps) };
}

function* swapped(search: InkSearch, first: Held): Generator<null, Held> {
  let held = first;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const before = held;
    for (const ink of before.inks) {
      if (search.pinned.includes(ink) || !held.inks.includes(ink)) continue;
      const other = bestReplacement(search, held, ink);
      yield null;
      if (other && scoreOf(other.judged) < scoreOf(held.judged) - LEAST_GAIN) held = other;
    }
    if (held === before) break;
  }
  return held;
}

/** The best set that has another ink in the place of one. */
function bestReplacement(search: InkSearch, { inks, judged }: Held, ink: number): Held | null {
  if (inks.some((each) => search.candidates[each]!.after === ink)) return null;
  const place = inks.indexOf(ink);
  const rest = inks.filter((each) => each !== ink);
  const tones = judged.tones.map((each) => each.filter((_, k) => k !== place));
  const without: Held = { inks: rest, judged: { ...judged, tones } };
  return bestJoined(
    search,
    without,
    outside(search, rest).filter((each) => each !== ink),
  );
}

/** The best set with one ink more of some. */
function bestJoined(search: InkSearch, held: Held, inks: readonly number[]): Held | null {
  return best(likely(search, held, inks).map((ink) => joined(search, held, ink)));
}

/** The inks whose sets are worth all steps of the solver. */
function likely(search: InkSearch, held: Held, inks: readonly number[]): readonly number[] {
  if (inks.length <= TRIED) return inks;
  const flat = search.few.filter(({ edge }) => !edge);
  const every = Math.max(1, Math.round(flat.length / GLANCED));
  const glanced = <T>(all: readonly T[]) => all.filter((_, k) => k % every === 0);
  const few = glanced(flat);
  const from = glanced(held.judged.tones.filter((_, k) => !search.few[k]!.edge));
  const glance = { ...search, few };
  const rough: Held = { ...held, judged: { ...held.judged, tones: from } };
  return inks
    .map((ink) => ({ ink, score: scoreOf(joined(glance, rough, ink, GLANCE_STEPS).judged) }))
    .sort((p, q) => p.score - q.score)
    .slice(0, TRIED)
    .map(({ ink }) => ink);
}

function best(sets: readonly Held[]): Held | null {
  return sets.reduce<Held | null>(
    (least, each) => (!least || scoreOf(each.judged) < scoreOf(least.judged) ? each : least),
    null,
  );
}
