import { type ToneStageSetting, curveSchema, mostTone, stageTable, stagedTone } from '.';

const curve = (...points: [number, number][]): ToneStageSetting => ({ kind: 'curve', points });

describe('a tone curve', () => {
  it('goes through its points, is level beyond them, and never falls between', () => {
    const setting = curve([0.1, 0.2], [0.4, 0.35], [0.5, 0.35], [0.9, 0.8]);
    for (const [x, y] of setting.points) expect(stagedTone([setting], x)).toBeCloseTo(y, 12);
    expect(stagedTone([setting], 0.05)).toBe(0.2);
    expect(stagedTone([setting], 1)).toBe(0.8);
    const table = stageTable([setting])!;
    for (let tone = 1; tone < 65535; tone++) expect(table[tone]! >= table[tone - 1]!).toBe(true);
    // Flat between two equal points: Fritsch and Carlson (1980) do not overshoot.
    expect(stagedTone([setting], 0.45)).toBeCloseTo(0.35, 12);
  });

  it('leaves nothing as nothing, whatever it lifts', () => {
    expect(stagedTone([curve([0, 0.3], [1, 1])], 0)).toBe(0);
    expect(stageTable([curve([0, 0.3], [1, 1])])![0]).toBe(0);
  });

  it.each([
    ['one point', [[0.5, 0.5]]],
    ['none', []],
    [
      'a tone twice',
      [
        [0, 0],
        [0.5, 0.2],
        [0.5, 0.4],
        [1, 1],
      ],
    ],
    [
      'a fall',
      [
        [0, 0],
        [0.5, 0.6],
        [1, 0.5],
      ],
    ],
    [
      'more than all',
      [
        [0, 0],
        [1, 1.2],
      ],
    ],
  ])('with %s is refused', (_name, points) => {
    expect(curveSchema.safeParse({ kind: 'curve', points }).success).toBe(false);
  });
});

test('stages that change nothing have no table', () => {
  expect(stageTable([])).toBeNull();
  expect(stageTable([curve([0, 0], [1, 1])])).toBeNull();
  expect(stageTable([curve([0, 0], [0.5, 0.51], [1, 1])])).not.toBeNull();
});

test('where solid prints as less, it is tone: it comes in below solid and goes out as the curve says', () => {
  const light = [curve([0, 0], [1, 0.8])];
  expect(mostTone(light)).toBeLessThan(65535);
  expect(stageTable(light)![mostTone(light)]! / 65535).toBeCloseTo(0.8, 3);
  expect(mostTone([curve([0, 0], [0.8, 1])])).toBe(65535);
});

test('what is too little to print is nothing', () => {
  const table = stageTable([curve([0.2, 0], [1, 1])])!;
  expect(table[Math.round(0.2 * 65535)]).toBe(0);
  expect(table.some((tone) => tone > 0 && tone < 128)).toBe(false);
});
