import { formatHexColour, linearFromRgb8, nameColour, parseHexColour, rgb8FromLinear } from '../colour';
import { planPress } from '../press';
import {
  type NamedCandidate,
  type PlateInk,
  chooseInkSet,
  inkCandidates,
  runsOn,
  stackLimit,
  unique,
} from '../separation';
import { type Ink, type JobSheet, LIMITS, fullToneLayer, tonedGarments, withoutSpecials } from '../sheet';
import {
  type Closeness,
  type ClosenessByGround,
  type InkSearch,
  type InkSet,
  CUSTOM_OPACITY,
  chooseInks,
  customInk,
  measure,
  scoreOf,
  swapEach,
  withoutEach,
} from '../solving';
import { type ArtworkColours, coloursKey } from './artworkColours';

/** Inks that were found for a number of screens, in print order, and how near they come to the artwork. */
export interface InkOffer extends ClosenessByGround {
  readonly inks: readonly PlateInk[];
}

/** What one of a job's plates is worth. */
export interface PlateWorth {
  readonly plateId: string;
  /** The job without it, its other plates solved for again; null where it is the last one, or a white that another stands on. */
  readonly without: Closeness | null;
  /** The ink from stock that serves best in its place; null where there is none. */
  readonly swap: (Closeness & { readonly ink: Ink }) | null;
}

/** How near a job's inks come to the artwork, and what each is worth. */
export interface PresentInks extends Closeness {
  readonly plates: readonly PlateWorth[];
}

/** The most screens that inks are chosen for. */
export const MOST_SCREENS = 10;

/** A sheet whose inks are looked for, what is in stock, and the artwork's colours. */
export interface InkQuestion {
  readonly sheet: JobSheet;
  readonly stock: readonly Ink[];
  readonly colours: ArtworkColours;
}

interface NamedSearch extends InkSearch {
  readonly candidates: readonly NamedCandidate[];
}

function searchFor(
  { sheet, stock, colours }: InkQuestion,
  plates: JobSheet['plates'],
  banned: readonly string[],
): NamedSearch {
  const candidates = inkCandidates({ ...sheet, plates }, stock, banned);
  const layer = fullToneLayer(sheet);
  const pinned = layer?.pinned ?? [];
  const together = layer?.together === true;
  return {
    grounds: tonedGarments(sheet).map(({ colour, without }) => ({
      garment: linearFromRgb8(parseHexColour(colour)),
      without: together
        ? [...candidates.keys()].filter((k) => isWithout(candidates[k]!, colour, without, plates))
        : [],
    })),
    candidates,
    ...stackLimit(sheet),
    pinned: [...candidates.keys()].filter((k) => pinned.includes(candidates[k]!.ink.name)),
    ...colours,
  };
}

/** Whether a candidate does not run for a garment: of the job's plates as it says, of others as is usual. */
function isWithout(
  candidate: NamedCandidate,
  colour: string,
  without: readonly string[],
  plates: JobSheet['plates'],
): boolean {
  const plate = plates.find((each) => isSameInk(candidate, each));
  return plate ? without.includes(plate.id) : !runsOn(candidate, colour);
}

/** Equal for two questions that get the same offers. */
export function offersKey({ sheet, stock }: Omit<InkQuestion, 'colours'>): string {
  const layer = fullToneLayer(sheet);
  const candidates = inkCandidates(sheet, stock, layer?.banned ?? []);
  const pinned = layer?.pinned.filter((name) => candidates.some(({ ink }) => ink.name === name));
  const garments = tonedGarments(sheet).map(({ colour }) => colour);
  return JSON.stringify([coloursKey(sheet), garments, candidates, pinned, stackLimit(sheet)]);
}

/** Equal for two questions whose own inks are worth the same. */
export function presentKey(question: Omit<InkQuestion, 'colours'>): string {
  const { plates } = withoutSpecials(question.sheet);
  return `${offersKey(question)}|${JSON.stringify([plates.map(({ id, role, ink }) => [id, role, ink]), tonedGarments(question.sheet)])}`;
}

const closenessOf = ({ mean, p95, wander, register }: Closeness): Closeness => ({
  mean,
  p95,
  wander,
  register,
});

function offerOf({ candidates }: NamedSearch, set: InkSet): InkOffer {
  return {
    ...closenessOf(set),
    grounds: set.grounds,
    inks: set.inks.map((k) => ({ role: candidates[k]!.role, ink: candidates[k]!.ink })),
  };
}

/**
 * The best inks for 1, 2, 3 … screens, from stock and those of the job; pinned inks are in all sets, banned ones in none.
 *
 * @returns yields each offer when it is found, once more where a better one of as many screens is, and null between them where the search can be put off.
 */
export function* inkOffers(question: InkQuestion, most = MOST_SCREENS): Generator<InkOffer | null, void> {
  const sheet = withoutSpecials(question.sheet);
  const search = searchFor(question, sheet.plates, fullToneLayer(sheet)?.banned ?? []);
  const count = Math.min(most, LIMITS.maxPlates);
  for (const set of chooseInks(search, count)) yield set && offerOf(search, set);
}

/** Offers with one more, in the order of their screens; of as many screens the one that was found last counts. */
export function withOffer(offers: readonly InkOffer[], offer: InkOffer): InkOffer[] {
  const others = offers.filter(({ inks }) => inks.length !== offer.inks.length);
  return [...others, offer].sort((p, q) => p.inks.length - q.inks.length);
}

/**
 * What all inks of stock together would reach: no set of fewer comes nearer.
 *
 * @param near the largest offer: all inks are begun where it ended, too, since with so many the solver may end in a worse place.
 */
export function allInks(question: InkQuestion, near: InkOffer | null): Closeness {
  const search = searchFor(question, [], fullToneLayer(question.sheet)?.banned ?? []);
  const { candidates } = search;
  const isIn = (k: number) => near?.inks.some((each) => isSameInk(candidates[k]!, each)) === true;
  const all = [...candidates.keys()];
  return closenessOf(measure(search, all, all.filter(isIn)));
}

function isSameInk(one: PlateInk, other: PlateInk): boolean {
  return one.role === other.role && one.ink.name === other.ink.name;
}

/** How near a job's own inks come, and what each of them is worth; null where it has none. Yields null where the work can be put off. */
export function* presentInks(question: InkQuestion): Generator<null, PresentInks | null> {
  const sheet = withoutSpecials(question.sheet);
  if (sheet.plates.length === 0) return null;
  const { search, own } = presentSearch(question);
  const without = yield* withoutEach(search, own);
  const swaps = yield* swapEach(search, own);
  return {
    ...closenessOf(measure(search, own)),
    plates: sheet.plates.map(({ id }, k): PlateWorth => {
      const swap = swaps[k];
      const less = without[k];
      return {
        plateId: id,
        without: less ? closenessOf(less) : null,
        swap: swap ? { ...closenessOf(swap), ink: search.candidates[swap.in]!.ink } : null,
      };
    }),
  };
}

/** A search from a job's own inks, and their places in it by plate; what the job has is in it whatever is banned. */
function presentSearch(question: InkQuestion): { readonly search: NamedSearch; readonly own: number[] } {
  const { plates } = withoutSpecials(question.sheet);
  const names = new Set(plates.map(({ ink }) => ink.name));
  const banned = fullToneLayer(question.sheet)?.banned.filter((name) => !names.has(name)) ?? [];
  const search = searchFor(question, plates, banned);
  const own = plates.map((plate) => search.candidates.findIndex((candidate) => isSameInk(candidate, plate)));
  return { search, own };
}

/** An ink that no stock has, in the place of one of a job's. */
export interface InkIdea extends Closeness {
  readonly plateId: string;
  readonly ink: Ink;
}

/**
 * The ink of any colour that would bring a job nearest to its artwork in the place of one of its own that is not pinned; null where none is worth mixing.
 *
 * @returns yields null where the search can be put off.
 */
export function* inkIdea(question: InkQuestion): Generator<null, InkIdea | null> {
  const { plates } = question.sheet;
  const { search, own } = presentSearch(question);
  const places = own.filter((k) => search.candidates[k]!.role === 'colour' && !search.pinned.includes(k));
  const found = yield* customInk(search, own, places);
  if (!found) return null;
  const rgb = rgb8FromLinear(found.colour);
  const taken = new Set([...plates.map(({ ink }) => ink.name), ...question.stock.map(({ name }) => name)]);
  const name = unique(`mixed ${nameColour(rgb)}`, taken, ' ');
  const ink = { name, colour: formatHexColour(rgb), opacity: CUSTOM_OPACITY };
  return { ...closenessOf(found), plateId: plates[own.indexOf(found.out)]!.id, ink };
}

/** Whether inks find heads and flashes on the job's press, in one turn. */
export function fitsPress(sheet: JobSheet, { inks }: Pick<InkOffer, 'inks'>): boolean {
  const { headsUsed, flashesUsed } = planPress(chooseInkSet(sheet, inks));
  return headsUsed <= sheet.press.heads && flashesUsed <= sheet.press.flashes;
}

/** From this much in the score on a screen more is worth its cost. */
const WORTH_A_SCREEN = 0.3;

/** Screens that together buy less than this (CIEDE2000) are followed by none that is worth one. */
const WORTH_LOOKING_ON = WORTH_A_SCREEN / 6;
const LAST_SCREENS = 2;

/**
 * Whether `bestOffer` would choose the same if more screens were looked at: the last two buy next to nothing, and inks that are found later are worth
 * less than those found before.
 */
export function isOfferedEnough(offers: readonly InkOffer[]): boolean {
  const most = Math.max(0, ...offers.map(({ inks }) => inks.length));
  const least = (screens: number) =>
    Math.min(...offers.filter(({ inks }) => inks.length <= screens).map(scoreOf));
  return most > LAST_SCREENS + 1 && least(most - LAST_SCREENS) - least(most) < WORTH_LOOKING_ON;
}

/** Of offers that fit on the job's press the one with the fewest screens that no larger one beats by what is worth a screen. */
export function bestOffer(sheet: JobSheet, offers: readonly InkOffer[]): InkOffer | null {
  const fitting = offers.filter((offer) => fitsPress(sheet, offer));
  const least = Math.min(...fitting.map(scoreOf));
  return fitting.find((offer) => scoreOf(offer) < least + WORTH_A_SCREEN) ?? null;
}
