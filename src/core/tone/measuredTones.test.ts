import { filmToneTable, inverseOf, monotoneCurve, parseReadings, risingTones, type TonePair } from '.';

const WEDGE: TonePair[] = [
  [0, 0],
  [0.1, 0.18],
  [0.25, 0.41],
  [0.5, 0.7],
  [0.75, 0.9],
  [1, 1],
];

test('a curve goes through its points and rises between them', () => {
  const curve = monotoneCurve(WEDGE);
  for (const [film, print] of WEDGE) expect(curve(film)).toBeCloseTo(print, 12);
  let before = -1;
  for (let k = 0; k <= 1000; k++) {
    expect(curve(k / 1000)).toBeGreaterThanOrEqual(before);
    before = curve(k / 1000);
  }
});

// Data on which an ordinary cubic overshoots: flat, a step, flat (after Fritsch and Carlson 1980, figures 1 to 3).
test('a curve stays flat where its points do, and never leaves their range', () => {
  const curve = monotoneCurve([
    [0, 0.1],
    [0.2, 0.1],
    [0.4, 0.1],
    [0.5, 0.8],
    [0.6, 0.8],
    [1, 0.8],
  ]);
  for (let k = 0; k <= 400; k++) expect(curve(k / 1000)).toBeCloseTo(0.1, 12);
  for (let k = 0; k <= 1000; k++) {
    expect(curve(k / 1000)).toBeLessThanOrEqual(0.8 + 1e-12);
    expect(curve(k / 1000)).toBeGreaterThanOrEqual(0.1 - 1e-12);
  }
});

test('a straight line stays one', () => {
  const curve = monotoneCurve([
    [0, 0],
    [0.3, 0.3],
    [0.4, 0.4],
    [1, 1],
  ]);
  for (let k = 0; k <= 100; k++) expect(curve(k / 100)).toBeCloseTo(k / 100, 12);
});

test('film made by readings prints what is wanted', () => {
  const table = filmToneTable({ gain: 0, measured: WEDGE });
  const curve = monotoneCurve(WEDGE);
  for (const wanted of [0.05, 0.2, 0.41, 0.55, 0.7, 0.85, 0.97]) {
    expect(curve(table[Math.round(wanted * 65535)]! / 65535)).toBeCloseTo(wanted, 3);
  }
  expect(table[Math.round(0.7 * 65535)]! / 65535).toBeCloseTo(0.5, 3);
});

test("the film printer's own gain is made up for behind the press's", () => {
  const printer: TonePair[] = [
    [0, 0],
    [0.25, 0.32],
    [0.5, 0.6],
    [1, 1],
  ];
  const both = filmToneTable({ gain: 0.2, printer });
  const press = filmToneTable({ gain: 0.2 });
  const asked = inverseOf(monotoneCurve(printer));
  for (const tone of [8000, 20000, 32768, 50000]) {
    expect(both[tone]! / 65535).toBeCloseTo(asked(press[tone]! / 65535), 3);
  }
});

test('small dips of the instrument are averaged, contradictions are told', () => {
  const rising = risingTones([
    [0.5, 0.7],
    [0.25, 0.42],
    [0.3, 0.41],
  ]);
  expect(rising.map(([film]) => film)).toEqual([0, 0.25, 0.3, 0.5, 1]);
  expect(rising[1]![1]).toBeCloseTo(0.415, 9);
  expect(rising[2]![1]).toBeCloseTo(0.415, 9);
  expect(() => parseReadings('10 20\n20 15\n50 70')).toThrow('At 20 % the wedge reads 15 %');
  expect(() => parseReadings('10 20')).toThrow('two steps');
  expect(() => parseReadings('10 20\n10 21\n50 70')).toThrow('two readings at 10 %');
  expect(() => parseReadings('10 twenty')).toThrow('is not a pair of numbers');
  expect(parseReadings('# note\n25%; 41%\r\n50,70')).toEqual([
    [0, 0],
    [0.25, 0.41],
    [0.5, 0.7],
    [1, 1],
  ]);
});
