import { randomOf } from '../../../tests/testSheet';
import {
  type Lab,
  type LinearRgb,
  ciede2000,
  labFromLinear,
  labFromRgb8,
  linearFromRgb8,
  parseHexColour,
} from '../colour';
import { finished } from '../units';
import {
  ColourCount,
  type Ground,
  type InkCandidate,
  type InkSearch,
  type InkSet,
  type WeighedColour,
  StackModel,
  chooseInks,
  customInk,
  judgeInks,
  measure,
  scoreOf,
  swapEach,
  withoutEach,
} from '.';

const light = (hex: string): LinearRgb => linearFromRgb8(parseHexColour(hex));
const ink = (hex: string, opacity = 0.75): InkCandidate => ({
  colour: light(hex),
  opacity,
  cost: 'none',
  after: null,
});
const GROUND: Ground = { garment: light('#17171b'), without: [] };

/** White, yellow, orange, red, pink, blue, turquoise, green, brown; a white on top. */
const CANDIDATES: readonly InkCandidate[] = [
  ink('#f6f6f3', 0.85),
  ink('#fcdc14', 0.7),
  ink('#ee6a1f'),
  ink('#de2224'),
  ink('#d61878', 0.65),
  ink('#183aaa'),
  ink('#00a4be'),
  ink('#008842'),
  ink('#9a7b56'),
  { ...ink('#f6f6f3', 0.85), cost: 'spare', after: 0 },
];

/** Colours that some candidates print on black in amounts by chance, over a full white where `based`. */
function printsOf(inks: readonly number[], count: number, seed: number): WeighedColour[] {
  const random = randomOf(seed);
  const model = new StackModel({ grounds: [GROUND], inks: inks.map((k) => CANDIDATES[k]!) });
  const out = new Float64Array(3);
  return Array.from({ length: count }, () => {
    model.print(
      Float64Array.from(inks, () => (random() < 0.3 ? 0 : random())),
      out,
    );
    return { lab: labFromLinear([out[0]!, out[1]!, out[2]!]), share: 1 / count };
  });
}

const searchFor = (colours: readonly WeighedColour[], pinned: readonly number[] = []): InkSearch => ({
  grounds: [GROUND],
  candidates: CANDIDATES,
  pinned,
  few: colours,
  many: colours,
});

/** The sets by their size; of one size the last that was found. */
function setsOf(search: InkSearch, most: number): InkSet[] {
  const bySize = new Map<number, InkSet>();
  for (const set of chooseInks(search, most)) if (set) bySize.set(set.inks.length, set);
  return [...bySize.values()].sort((p, q) => p.inks.length - q.inks.length);
}

test('colours that three inks printed are printed by three inks again', () => {
  for (const [seed, inks] of [
    [1, [0, 3, 6]],
    [2, [0, 1, 5]],
    [3, [0, 4, 7]],
  ] as const) {
    const sets = setsOf(searchFor(printsOf(inks, 60, seed)), 4);
    // The solver's small costs keep it from nought.
    expect(sets[2]!.mean).toBeLessThan(0.6);
    expect(sets[1]!.mean).toBeGreaterThan(sets[2]!.mean + 1);
  }
});

test('no set of as many screens is much nearer: all of them are tried', () => {
  // An exhaustive search of all sets beside the one that adds and swaps.
  const random = randomOf(9);
  const colours: WeighedColour[] = Array.from({ length: 40 }, () => ({
    lab: [15 + 75 * random(), 100 * random() - 50, 100 * random() - 50] as Lab,
    share: 1 / 40,
  }));
  const search = searchFor(colours);
  const sets = setsOf(search, 3);
  for (const size of [1, 2, 3]) {
    let least = Infinity;
    for (let bits = 1; bits < 1 << CANDIDATES.length; bits++) {
      const inks = CANDIDATES.flatMap((_, k) => ((bits >> k) & 1 ? [k] : []));
      if (inks.length !== size || (inks.includes(9) && !inks.includes(0))) continue;
      least = Math.min(least, scoreOf(measure(search, inks)));
    }
    expect(scoreOf(sets[size - 1]!)).toBeLessThan(least * 1.03);
  }
});

describe('inks of a night, for a black and a white garment', () => {
  // Black prints below the colours, which cover it: it is of use only where they are left out.
  const white = CANDIDATES[0]!;
  const black = ink('#16161a', 0.95);
  const navy = ink('#1c2f55', 0.85);
  const candidates = [white, black, ...CANDIDATES.slice(1, 9), navy];
  const random = randomOf(17);
  const colours: WeighedColour[] = Array.from({ length: 40 }, () => {
    const glow = random() ** 4;
    const blue = 25 + 40 * random();
    return { lab: labFromRgb8([0, Math.round(210 * glow), Math.round(blue + 170 * glow)]), share: 1 / 40 };
  });
  const search: InkSearch = {
    grounds: [
      { garment: light('#17171b'), without: [1] },
      { garment: light('#fafaf8'), without: [0] },
    ],
    candidates,
    pinned: [],
    few: colours,
    many: colours,
  };
  const all = [...candidates.keys()];

  test('of sets of three screens none that was not chosen is much nearer', () => {
    const sets = setsOf(search, 5);
    for (const size of [1, 2, 3]) {
      let least = Infinity;
      for (let bits = 1; bits < 1 << candidates.length; bits++) {
        const inks = all.filter((k) => (bits >> k) & 1);
        if (inks.length === size) least = Math.min(least, scoreOf(measure(search, inks)));
      }
      expect(scoreOf(sets[size - 1]!)).toBeLessThan(least * 1.03);
    }
  });

  test('more screens never print farther off, and all of stock prints no farther off than a few', () => {
    const sets = setsOf(search, 8);
    sets.slice(1).forEach((set, k) => expect(scoreOf(set)).toBeLessThan(scoreOf(sets[k]!) + 0.02));
    const largest = sets.at(-1)!;
    expect(scoreOf(measure(search, all, largest.inks))).toBeLessThan(scoreOf(largest) + 0.05);
  });
});

test('pinned inks are in every set, and a white on top only where one is below', () => {
  const colours = printsOf([0, 3, 6, 9], 50, 5);
  const sets = setsOf(searchFor(colours, [8, 2]), 6);
  expect(sets[0]!.inks).toEqual([2, 8]);
  for (const { inks } of sets) {
    expect(inks).toEqual(expect.arrayContaining([2, 8]));
    expect(inks.includes(9) && !inks.includes(0)).toBe(false);
  }
});

test('a set is measured by what its inks print: CIEDE2000 of each colour, weighed by its share', () => {
  const colours = printsOf([0, 1, 3], 30, 8).map((each, k) => ({ ...each, share: k === 0 ? 0.42 : 0.02 }));
  const inks = [0, 3].map((k) => CANDIDATES[k]!);
  const stack = { grounds: [GROUND], inks };
  const judged = judgeInks(stack, colours, { even: [0.15, 0.5], from: null }, 6);
  const model = new StackModel(stack);
  const out = new Float64Array(3);
  let [mean, below] = [0, 0];
  colours.forEach(({ lab, share }, i) => {
    model.print(judged.tones[i]!, out);
    const difference = ciede2000(labFromLinear([out[0]!, out[1]!, out[2]!]), lab);
    mean += share * difference;
    if (difference <= judged.p95) below += share;
  });
  expect(judged.mean).toBeCloseTo(mean, 9);
  // All but five hundredths of the print lie at or below it.
  expect(below).toBeGreaterThanOrEqual(0.95 - 1e-9);
  expect(judged.wander).toBeGreaterThan(0);
});

test('an ink that prints most is missed most; what is as good as another can take its place', () => {
  const colours = printsOf([0, 3], 40, 4);
  const search = searchFor(colours);
  const [, withoutRed, withoutGreen] = finished(withoutEach(search, [0, 3, 7]));
  expect(withoutRed!.mean).toBeGreaterThan(withoutGreen!.mean + 3);
  expect(withoutGreen!.mean).toBeLessThan(0.5);
  // Of a white below that another stands on nothing is told.
  expect(finished(withoutEach(search, [0, 3, 9]))[0]).toBeNull();
  expect(finished(withoutEach(search, [3]))).toEqual([null]);
  const swaps = finished(swapEach(search, [0, 3, 7]));
  expect(swaps[2]!.mean).toBeLessThan(0.6);
  expect(swaps.map((swap) => swap!.out)).toEqual([0, 3, 7]);
});

test('the same films print on a dark and on a light garment: whites stay off the one, black off the other', () => {
  // Black prints before the colours: dots of an ink on it look like those on a black garment.
  const candidates = [CANDIDATES[0]!, ink('#16161a', 0.95), ...CANDIDATES.slice(1, 9)];
  const random = randomOf(21);
  // Colours of a common painting: none of them out of what either garment reaches.
  const colours: WeighedColour[] = Array.from({ length: 60 }, () => ({
    lab: [25 + 50 * random(), 40 * random() - 20, 40 * random() - 20] as Lab,
    share: 1 / 60,
  }));
  const inks = [0, 1, 2, 4, 6, 7];
  const onDark = { garment: light('#17171b'), without: [1] };
  const onWhite = { garment: light('#fafaf8'), without: [0] };
  const search = (...grounds: readonly Ground[]): InkSearch => ({
    grounds,
    candidates,
    pinned: [],
    few: colours,
    many: colours,
  });
  const together = measure(search(onDark, onWhite), inks);
  const alone = [onDark, onWhite].map((ground) => measure(search(ground), inks));
  // One set of films costs little beside one for each garment (common practice, no source); and it wins nothing but by chance of the solver.
  expect(together.grounds).toHaveLength(2);
  together.grounds.forEach(({ mean }, k) => {
    expect(mean).toBeLessThan(alone[k]!.mean + 1);
    expect(mean).toBeGreaterThan(alone[k]!.mean - 0.3);
  });
  // Films that are solved for the black garment alone have no black for the white one.
  const chosen = inks.map((k) => candidates[k]!);
  const starts = { even: [0.15, 0.5], from: null };
  const { tones } = judgeInks({ grounds: [onDark], inks: chosen }, colours, starts, 8);
  const model = new StackModel({ grounds: [onWhite], inks: chosen });
  const out = new Float64Array(3);
  const off = colours.reduce((sum, { lab, share }, i) => {
    model.print(tones[i]!, out);
    return sum + share * ciede2000(labFromLinear([out[0]!, out[1]!, out[2]!]), lab);
  }, 0);
  expect(off).toBeGreaterThan(together.grounds[1]!.mean * 3);
});

test('an ink of its own colour is proposed where stock has none that serves as well, and none where it would gain little', () => {
  // Printed with a brownish pink that the candidates do not have.
  const own = ink('#c8607a');
  const model = new StackModel({ grounds: [GROUND], inks: [CANDIDATES[0]!, own] });
  const random = randomOf(31);
  const out = new Float64Array(3);
  const colours: WeighedColour[] = Array.from({ length: 60 }, () => {
    model.print(Float64Array.of(random(), random()), out);
    return { lab: labFromLinear([out[0]!, out[1]!, out[2]!]), share: 1 / 60 };
  });
  const found = finished(customInk(searchFor(colours), [0, 3], [3]))!;
  expect(found.out).toBe(3);
  expect(found.mean).toBeLessThan(0.8);
  const stock = finished(swapEach(searchFor(colours), [0, 3]))[1]!;
  expect(stock.mean).toBeGreaterThan(found.mean + 0.3);
  // With the ink that printed them nothing is gained.
  const candidates = [CANDIDATES[0]!, own];
  expect(finished(customInk({ ...searchFor(colours), candidates }, [0, 1], [1]))).toBeNull();
});

test('what a plate costs that lies off is what it costs when plates of a picture are really moved', () => {
  // A mosaic of flat cells; codes of which three bits tell all.
  const side = 48;
  const random = randomOf(5);
  const cells = Array.from({ length: 64 }, () => [0, 1, 2].map(() => Math.floor(random() * 8) * 32 + 15));
  const codes = Uint32Array.from({ length: side * side }, (_, i) => {
    const cell = cells[Math.floor((i % side) / 6) + 8 * Math.floor(i / side / 6)]!;
    return cell[0]! | (cell[1]! << 8) | (cell[2]! << 16) | 0xff000000;
  });
  const count = new ColourCount();
  const all = new Uint8Array(codes.length).fill(1);
  count.addEdges(codes, all, side);
  // A shift by half a pixel, of every edge.
  const edges = count.weighEdges(4000, 0, 0.5);
  const stack = { grounds: [GROUND], inks: [0, 3, 6, 8].map((k) => CANDIDATES[k]!) };
  const { register } = judgeInks(stack, edges, { even: [0.15, 0.5], from: null }, 6);

  const labOf = (code: number) => labFromRgb8([code & 255, (code >> 8) & 255, (code >> 16) & 255]);
  const known = [...new Set(codes)];
  const solved = judgeInks(
    stack,
    known.map((code) => ({ lab: labOf(code), share: 1 / known.length })),
    { even: [0.15, 0.5], from: null },
    6,
  );
  const tonesOf = (i: number) => solved.tones[known.indexOf(codes[i]!)]!;
  const model = new StackModel(stack);
  const out = new Float64Array(3);
  const printed = (tones: Float64Array) => {
    model.print(tones, out);
    return labFromLinear([out[0]!, out[1]!, out[2]!]);
  };
  let [sum, pixels] = [0, 0];
  for (const [dx, dy] of [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ] as const) {
    for (let y = 1; y < side - 1; y++) {
      for (let x = 1; x < side - 1; x++) {
        const here = tonesOf(y * side + x);
        const from = tonesOf((y + dy) * side + x + dx);
        pixels++;
        if (here === from) continue;
        const right = printed(here);
        here.forEach((_, k) => (sum += ciede2000(printed(here.with(k, from[k]!)), right) / here.length));
      }
    }
  }
  // The picture's borders have no neighbours; half of what a whole pixel changes.
  expect(register / ((0.5 * sum) / pixels)).toBeGreaterThan(0.93);
  expect(register / ((0.5 * sum) / pixels)).toBeLessThan(1.07);
  // A few edges stand for all.
  const few = judgeInks(stack, count.weighEdges(24, 0, 0.5), { even: [0.15, 0.5], from: null }, 6).register;
  expect(few / register).toBeGreaterThan(0.75);
  expect(few / register).toBeLessThan(1.33);
});
