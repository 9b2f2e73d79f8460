import { compensateGain, dotGain, filmToneTable, smallestDot } from '.';

test('gain at the middle is the gain', () => {
  expect(dotGain(0.5, 0.2)).toBeCloseTo(0.7, 12);
});

// The gentle example of the trade: to print 65, 50 and 30 % make film of 50, 35 and 18 %. Common practice, no source.
test.each([
  [0.65, 0.5],
  [0.5, 0.35],
  [0.3, 0.18],
])('to print %d make film of about %d with a gain of 15 %%', (print, film) => {
  expect(Math.abs(compensateGain(print, 0.15) - film)).toBeLessThan(0.02);
});

test.each([0, 0.05, 0.15, 0.2, 0.3, 0.5])(
  'compensation with gain %d undoes the gain, and both keep order',
  (gain) => {
    let before = -1;
    for (let step = 0; step <= 200; step++) {
      const y = step / 200;
      const film = compensateGain(y, gain);
      expect(film).toBeGreaterThanOrEqual(before);
      before = film;
      if (y < 1) expect(dotGain(film, gain)).toBeCloseTo(y, 9);
    }
    expect(compensateGain(0, gain)).toBe(0);
    expect(compensateGain(1, gain)).toBe(1);
  },
);

// 155 µm on a 230 mesh: 6 % at 45 lpi, 9 % at 55. Common practice, no source.
test('the smallest dot that a mesh holds, as coverage', () => {
  expect(smallestDot(45, 155)).toBeCloseTo(0.06, 2);
  expect(smallestDot(55, 155)).toBeCloseTo(0.09, 2);
});

test('a table keeps nothing and solid, and never falls', () => {
  const table = filmToneTable({ gain: 0.2 });
  expect([table[0], table[65535]]).toEqual([0, 65535]);
  expect(table.every((film, tone) => tone === 0 || film >= table[tone - 1]!)).toBe(true);
  expect(filmToneTable({ gain: 0 }).every((film, tone) => film === tone)).toBe(true);
});
