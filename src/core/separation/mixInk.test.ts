import { formatHexColour, linearFromRgb8, parseHexColour, rgb8FromLinear } from '../colour';
import { START_STOCK } from '../sheet';
import { mixInk, mixLight } from '.';

const light = (hex: string) => linearFromRgb8(parseHexColour(hex));

test('a mixture of one ink, or of equal ones, is that ink', () => {
  const mixed = mixLight([
    { light: [0.3, 0.5, 0.1], part: 0.4 },
    { light: [0.3, 0.5, 0.1], part: 0.6 },
  ]);
  [0.3, 0.5, 0.1].forEach((each, c) => expect(mixed[c]).toBeCloseTo(each, 9));
});

test('ratios of absorption to scattering add up (Kubelka and Munk 1931; Duncan 1940)', () => {
  // R = 0.5 has 0.25, R = 0.2 has 1.6; half of each has 0.925: R = 1 + 0.925 - sqrt(0.925² + 2 · 0.925).
  const [r] = mixLight([
    { light: [0.5, 0.5, 0.5], part: 0.5 },
    { light: [0.2, 0.5, 0.5], part: 0.5 },
  ]);
  expect(r).toBeCloseTo(1.925 - Math.sqrt(0.925 ** 2 + 1.85), 12);
});

test('a little black darkens white more than its share (common practice, no source)', () => {
  const [grey] = mixLight([
    { light: light('#f6f6f3'), part: 0.9 },
    { light: light('#16161a'), part: 0.1 },
  ]);
  expect(grey).toBeLessThan(0.5 * light('#f6f6f3')[0]);
});

test('blue and yellow make a green', () => {
  const [r, g, b] = mixLight([
    { light: light('#00a4be'), part: 0.3 },
    { light: light('#fcdc14'), part: 0.7 },
  ]);
  expect(g).toBeGreaterThan(1.3 * r);
  expect(g).toBeGreaterThan(1.3 * b);
});

test('a colour that was mixed from stock is found again, in whole hundredths that add up', () => {
  const inks = START_STOCK.inks.slice(0, 12);
  for (const [a, b, c, p, q] of [
    [0, 1, 6, 0.5, 0.3],
    [3, 9, 11, 0.2, 0.45],
    [2, 5, 7, 0.62, 0.2],
  ] as const) {
    const wanted = mixLight([
      { light: light(inks[a]!.colour), part: p },
      { light: light(inks[b]!.colour), part: q },
      { light: light(inks[c]!.colour), part: 1 - p - q },
    ]);
    const { parts, difference } = mixInk(formatHexColour(rgb8FromLinear(wanted)), inks)!;
    // Half of a code, and hundredths.
    expect(difference).toBeLessThan(1);
    expect(parts.reduce((sum, { part }) => sum + part, 0)).toBeCloseTo(1, 9);
    expect(parts.length).toBeLessThanOrEqual(3);
  }
});

test('an ink of stock is itself; without inks there is no mixture', () => {
  const { parts, difference } = mixInk('#de2224', START_STOCK.inks)!;
  expect(difference).toBeLessThan(0.01);
  expect(parts).toMatchObject([{ ink: { name: 'Signal scarlet' }, part: 1 }]);
  expect(mixInk('#123456', [])).toBeNull();
});
