import { maskPlane } from './maskPlane';

const plane = (x: number, y: number, width: number, height: number, alpha = 255) => ({
  rect: { x, y, width, height },
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => (i % 4 === 3 ? alpha : 90)),
});
const alphas = (data: Uint8Array) => data.filter((_, i) => i % 4 === 3);

/** By the shoelace formula. */
const areaOf = (outline: readonly (readonly [number, number])[]) =>
  Math.abs(
    outline.reduce((sum, [x, y], k) => {
      const [nextX, nextY] = outline[(k + 1) % outline.length]!;
      return sum + x * nextY - nextX * y;
    }, 0),
  ) / 2;

const KITE = [
  [3.2, 20.7],
  [30.4, 2.1],
  [51.9, 24.3],
  [28.8, 44.6],
] as const;

it('keeps of each pixel the share of it that lies inside', () => {
  const masked = maskPlane(plane(0, 0, 60, 50), KITE, true);
  const sum = alphas(masked.data).reduce((all, alpha) => all + alpha / 255, 0);
  expect(Math.abs(sum / areaOf(KITE) - 1)).toBeLessThan(0.001);
  const at = (x: number, y: number) => masked.data[(y * 60 + x) * 4 + 3];
  expect([at(28, 24), at(2, 2), at(58, 48)]).toEqual([255, 0, 0]);
  // Colours stay, also where nothing of them is seen.
  expect(masked.data[0]).toBe(90);
});

it('keeps pixels of a drawing whose centre lies inside, whole', () => {
  const masked = maskPlane(plane(0, 0, 60, 50, 200), KITE, false);
  expect([...new Set(alphas(masked.data))].sort()).toEqual([0, 200]);
  const sum = alphas(masked.data).reduce((all, alpha) => all + alpha / 200, 0);
  expect(Math.abs(sum / areaOf(KITE) - 1)).toBeLessThan(0.01);
});

it('is the same in a part of the plane as in all of it', () => {
  for (const smooth of [true, false]) {
    const whole = maskPlane(plane(0, 0, 60, 50), KITE, smooth);
    const part = maskPlane(plane(25, 13, 20, 18), KITE, smooth);
    for (let y = 0; y < 18; y++) {
      const from = ((y + 13) * 60 + 25) * 4;
      expect(part.data.subarray(y * 80, y * 80 + 80)).toEqual(whole.data.subarray(from, from + 80));
    }
  }
});

it('leaves out what an outline that crosses itself goes round twice', () => {
  const bow = [
    [0, 0],
    [40, 40],
    [40, 0],
    [0, 40],
  ] as const;
  const masked = maskPlane(plane(0, 0, 40, 40), bow, true);
  const at = (x: number, y: number) => masked.data[(y * 40 + x) * 4 + 3];
  expect([at(2, 20), at(38, 20), at(20, 2), at(20, 38)]).toEqual([255, 255, 0, 0]);
});
