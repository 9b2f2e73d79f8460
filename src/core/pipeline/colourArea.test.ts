import { colourArea } from './colourArea';

const grid = { widthPx: 60, heightPx: 40, pxPerMm: 2 };
const code = (r: number, g: number, b: number) => (r | (g << 8) | (b << 16) | 0xff000000) >>> 0;

/** A red square whose red goes on slowly, another red one that does not touch it, on blue. */
const codes = Uint32Array.from({ length: 60 * 40 }, (_, i) => {
  const [x, y] = [i % 60, Math.floor(i / 60)];
  if (x >= 10 && x < 30 && y >= 10 && y < 30) return code(200 + (x - 10), 30, 30);
  return x >= 40 && x < 50 && y >= 10 && y < 30 ? code(205, 30, 30) : code(30, 30, 160);
});

const boxOf = (outline: readonly (readonly [number, number])[]) => {
  const [xs, ys] = [outline.map(([x]) => x * 60), outline.map(([, y]) => y * 40)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
};

test('what touches a place in like colours is outlined, a little outside of it, and nothing beyond', () => {
  const outline = colourArea(grid, codes, { xMm: 8, yMm: 10 }, 15)!;
  const [left, top, right, bottom] = boxOf(outline);
  // The square lies at 10 to 30; the outline keeps two pixels off.
  expect([left, top, right, bottom].every((each, k) => Math.abs(each! - [8, 8, 32, 32][k]!) <= 1)).toBe(true);
});

test('less of it is alike where colours must be closer', () => {
  const [, , right] = boxOf(colourArea(grid, codes, { xMm: 6, yMm: 10 }, 3)!);
  expect(right).toBeLessThan(28);
});

test('beyond the print there is nothing to outline', () => {
  expect(colourArea(grid, codes, { xMm: 40, yMm: 10 }, 15)).toBeNull();
});
