import { converter } from 'culori';
import { randomOf } from '../../../tests/testSheet';
import {
  type LinearRgb,
  ciede2000,
  labFromLinear,
  linearFromLab,
  linearFromRgb8,
  parseHexColour,
} from '../colour';
import { PROCESS_INKS } from '../sheet';
import { type InkStack, type StackInk, ColourSolver, StackModel, solveTable } from '.';

const light = (hex: string): LinearRgb => linearFromRgb8(parseHexColour(hex));
const INKS = PROCESS_INKS.map(({ ink }, k): StackInk => ({
  colour: light(ink.colour),
  opacity: ink.opacity,
  cost: k === 3 ? 'dark' : 'none',
  counted: true,
  ...(k === 3 ? { isBlack: true as const } : {}),
}));
const onWhite = (inkLimit: number): InkStack => ({
  grounds: [{ garment: light('#f4f4f2'), without: [] }],
  inks: INKS,
  inkLimit,
});

function solve(stack: InkStack, hex: string): number[] {
  const solver = new ColourSolver(stack);
  const found = [0.1, 0.4].map((start) => {
    const tones = new Float64Array(stack.inks.length).fill(start);
    return { tones, worth: solver.solve([labFromLinear(light(hex))], tones, null, 20) };
  });
  return [...found.sort((p, q) => p.worth - q.worth)[0]!.tones];
}

function print(stack: InkStack, tones: readonly number[]) {
  const out = new Float64Array(3);
  new StackModel(stack).print(Float64Array.from(tones), out);
  return labFromLinear([out[0]!, out[1]!, out[2]!]);
}

test('light of CIELAB is that of another library', () => {
  // culori's CIELAB is that of D50, as CSS Color 4 has it.
  const toLinear = converter('lrgb');
  for (const lab of [
    [50, 20, -30],
    [5, 2, 1],
    [92, -10, 40],
    [70, 0, 0],
  ] as const) {
    const { r, g, b } = toLinear({ mode: 'lab', l: lab[0], a: lab[1], b: lab[2] });
    [r, g, b].forEach((each, c) => expect(linearFromLab(lab)[c]).toBeCloseTo(each, 4));
  }
});

test('black comes in with darkness: none in light tones, most of what is dark and grey', () => {
  const black = (hex: string) => solve(onWhite(2.6), hex)[3]!;
  // Common practice, no source: a long black would make light tones grainy.
  expect(black('#e6dccf')).toBeLessThan(0.02);
  expect(black('#c83c28')).toBeLessThan(0.1);
  expect(black('#303030')).toBeGreaterThan(0.4);
  expect(black('#101010')).toBeGreaterThan(black('#404040'));
});

test('inks cover together what is allowed at most, everywhere in the table', () => {
  for (const limit of [1.8, 2.6]) {
    const table = solveTable(onWhite(limit));
    let most = 0;
    for (let node = 0; node < table.length; node += 4) {
      most = Math.max(most, table[node]! + table[node + 1]! + table[node + 2]! + table[node + 3]!);
    }
    expect(most).toBeLessThan(limit + 1e-9);
    expect(most).toBeGreaterThan(limit - 0.3);
  }
});

test('colours that the inks reach within their limit print as themselves', () => {
  const random = randomOf(4);
  const stack = onWhite(2.6);
  const differences = Array.from({ length: 100 }, () => {
    // Three colours and the black that such a darkness has.
    const [y, m, c] = [random(), random(), random()].map((each) => each * 0.8) as [number, number, number];
    const lab = print(stack, [y, m, c, 0]);
    const hex = `#${linearFromLab(lab)
      .map((each) => Math.round(255 * (each <= 0.0031308 ? 12.92 * each : 1.055 * each ** (1 / 2.4) - 0.055)))
      .map((code) => Math.min(255, Math.max(0, code)).toString(16).padStart(2, '0'))
      .join('')}`;
    return ciede2000(print(stack, solve(stack, hex)), labFromLinear(light(hex)));
  });
  expect(differences.reduce((sum, each) => sum + each, 0) / differences.length).toBeLessThan(0.6);
});

test('a base that is wished for less, or more, has less, or more, and the print hardly changes', () => {
  const stack = (bias: number): InkStack => ({
    grounds: [{ garment: light('#18181a'), without: [] }],
    inks: [
      { colour: light('#f6f6f3'), opacity: 0.85, cost: 'none', bias },
      ...['#fcdc14', '#de2224', '#183aaa'].map((hex): StackInk => ({
        colour: light(hex),
        opacity: 0.75,
        cost: 'none',
      })),
    ],
  });
  const colours = ['#7a3b10', '#506080', '#94702c', '#3c2850', '#a04040'];
  const judged = [-60, 0, 60].map((bias) => {
    const found = colours.map((hex) => ({ hex, tones: solve(stack(bias), hex) }));
    const mean = (of: (each: (typeof found)[number]) => number) =>
      found.reduce((sum, each) => sum + of(each), 0) / found.length;
    return {
      base: mean(({ tones }) => tones[0]!),
      off: mean(({ hex, tones }) => ciede2000(print(stack(bias), tones), labFromLinear(light(hex)))),
    };
  });
  const [more, plain, less] = judged as [(typeof judged)[0], (typeof judged)[0], (typeof judged)[0]];
  expect(less.base).toBeLessThan(plain.base - 0.03);
  expect(more.base).toBeGreaterThan(plain.base + 0.03);
  expect(less.off).toBeLessThan(plain.off + 2);
  expect(more.off).toBeLessThan(plain.off + 2);
});
