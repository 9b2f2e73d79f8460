import { randomOf, testSheet } from '../../../tests/testSheet';
import { type Lab } from '../colour';
import { addGarment, chooseInkSet, setTogether, toSimulated, wishInk } from '../separation';
import { START_STOCK } from '../sheet';
import { finished } from '../units';
import type { ArtworkColours } from './artworkColours';
import {
  type InkOffer,
  bestOffer,
  fitsPress,
  inkIdea,
  inkOffers,
  isOfferedEnough,
  offersKey,
  presentInks,
  presentKey,
  withOffer,
} from './inkAdvice';

const BLACK = { name: 'Pitch black', colour: '#17171b' };
const WHITE = { name: 'White', colour: '#fafaf8' };
const stock = START_STOCK.inks;
const toned = toSimulated(testSheet({ garment: BLACK }), { background: null });

/** Artwork of calm colours by chance. */
function colours(seed: number): ArtworkColours {
  const random = randomOf(seed);
  const list = Array.from({ length: 40 }, () => ({
    lab: [20 + 60 * random(), 70 * random() - 35, 70 * random() - 35] as Lab,
    share: 1 / 40,
  }));
  return { few: list, many: list };
}

function offersOf(sheet: typeof toned, most: number): InkOffer[] {
  let offers: InkOffer[] = [];
  for (const offer of inkOffers({ sheet, stock, colours: colours(4) }, most))
    if (offer) offers = withOffer(offers, offer);
  return offers;
}

/** So many screens that come so near. */
const offer = (screens: number, mean: number): InkOffer => ({
  mean,
  p95: 0,
  wander: 0,
  register: 0,
  grounds: [],
  inks: stock.slice(2, 2 + screens).map((ink) => ({ role: 'colour', ink })),
});

test('offers go from one screen to many, in print order, with the wishes of the job', () => {
  const wished = wishInk(wishInk(toned, 'Rust', 'pin'), 'Base white', 'ban');
  const offers = offersOf(wished, 4);
  expect(offers.map(({ inks }) => inks.length)).toEqual([1, 2, 3, 4]);
  for (const { inks } of offers) {
    const names = inks.map(({ ink }) => ink.name);
    expect(names).toContain('Rust');
    expect(names).not.toContain('Base white');
  }
  const free = offersOf(toned, 4);
  expect(free[3]!.inks[0]!.role).toBe('underbase');
  expect(free[3]!.mean).toBeLessThan(offers[3]!.mean);
});

test('the best offer is the smallest that no larger one beats by what a screen is worth, and fits on the press', () => {
  const offers = [offer(2, 6), offer(4, 2.1), offer(5, 1.9), offer(6, 1.85)];
  expect(bestOffer(toned, offers)).toBe(offers[1]);
  const small = { ...toned, press: { ...toned.press, heads: 3 } };
  expect(fitsPress(small, offers[1]!)).toBe(false);
  expect(bestOffer(small, offers)).toBe(offers[0]);
  expect(bestOffer({ ...toned, press: { ...toned.press, heads: 1 } }, offers)).toBeNull();
});

test('the search for a new job ends where the last two screens bought next to nothing', () => {
  const offers = [offer(1, 8), offer(2, 4), offer(3, 2), offer(4, 1.8), offer(5, 1.79), offer(6, 1.785)];
  expect(isOfferedEnough([])).toBe(false);
  expect(isOfferedEnough(offers.slice(0, 5))).toBe(false);
  expect(isOfferedEnough(offers)).toBe(true);
  // A screen that serves only beside another one still to come: its partner is waited for.
  expect(isOfferedEnough([...offers.slice(0, 4), offer(5, 1.79), offer(6, 1.4)])).toBe(false);
});

test('what the job has is measured whatever is banned, and a pinned ink is not swapped for an idea', () => {
  const question = { sheet: toned, stock, colours: colours(4) };
  const present = finished(presentInks(question))!;
  const banned = finished(presentInks({ ...question, sheet: wishInk(toned, 'Lagoon', 'ban') }))!;
  expect(banned.mean).toBeCloseTo(present.mean, 9);
  expect(present.plates.map(({ plateId }) => plateId)).toEqual(toned.plates.map(({ id }) => id));
  // A ban takes an ink out of what could be swapped in.
  const [swap] = present.plates.flatMap(({ swap }) => (swap ? [swap.ink.name] : []));
  const without = finished(presentInks({ ...question, sheet: wishInk(toned, swap!, 'ban') }))!;
  expect(without.plates.map((each) => each.swap?.ink.name)).not.toContain(swap);
});

test('an idea is an ink of its own name that comes nearer than the one it stands for', () => {
  // Two inks far from the colours: something nearer is easily found.
  const few = chooseInkSet(toned, [
    { role: 'colour', ink: stock.find(({ name }) => name === 'Lemon sail')! },
    { role: 'colour', ink: stock.find(({ name }) => name === 'Signal scarlet')! },
  ]);
  const question = { sheet: few, stock, colours: colours(4) };
  const idea = finished(inkIdea(question))!;
  expect(stock.map(({ name }) => name)).not.toContain(idea.ink.name);
  expect(idea.mean).toBeLessThan(finished(presentInks(question))!.mean);
  expect(few.plates.map(({ id }) => id)).toContain(idea.plateId);
});

test('questions that get the same answers have the same keys, and others have not', () => {
  // Sets that were proposed stand in the order of the stock's inks.
  const sets = offersOf(toned, 5).map(({ inks }) => chooseInkSet(toned, inks));
  const [sheet, fewer] = [sets[4]!, sets[2]!];
  const one = offersKey({ sheet, stock });
  const named = { ...sheet, name: 'Other', film: { ...sheet.film, dpi: 1440 } };
  expect(offersKey({ sheet: named, stock })).toBe(one);
  // Fewer inks of stock in the job are the same question for offers, another for what it has.
  expect(offersKey({ sheet: fewer, stock })).toBe(one);
  expect(presentKey({ sheet: fewer, stock })).not.toBe(presentKey({ sheet, stock }));
  expect(offersKey({ sheet: wishInk(sheet, 'Rust', 'ban'), stock })).not.toBe(one);
  expect(offersKey({ sheet: setTogether(addGarment(sheet, WHITE), true), stock })).not.toBe(one);
});
