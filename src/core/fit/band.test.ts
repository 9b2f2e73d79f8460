import { bandRound, rowsOf } from './band';

/** Rows with set pixels, looked for one by one. */
function rowsByHand(mask: Uint8Array, width: number): readonly [number, number] | null {
  const set = [...mask.keys()].filter((i) => mask[i] !== 0).map((i) => Math.floor(i / width));
  return set.length === 0 ? null : [set[0]!, set.at(-1)! + 1];
}

test.each([
  [5, 3],
  [7, 9],
  [16, 4],
  [1, 6],
  [33, 11],
])('rows of single pixels and of pairs in planes of %d x %d', (width, height) => {
  expect(rowsOf(new Uint8Array(width * height), width)).toBeNull();
  for (let one = 0; one < width * height; one++) {
    for (const other of [one, (one * 7 + 3) % (width * height)]) {
      const mask = new Uint8Array(width * height);
      mask[one] = mask[other] = 255;
      const [top, bottom] = rowsOf(mask, width)!;
      const [first, end] = rowsByHand(mask, width)!;
      expect(top).toBe(first);
      // Pixels are looked at four at a time: a row or a few more at most, never less.
      expect(bottom).toBeGreaterThanOrEqual(end);
      expect(bottom * width).toBeLessThan((end - 1) * width + 4 + 2 * width);
    }
  }
});

test('a band holds the rows with those round them, begins on a word and ends with the plane', () => {
  const plane = Uint16Array.from({ length: 7 * 30 }, (_, i) => i);
  const band = bandRound([13, 15], 7, 30, 4);
  expect(band.from).toBe(8);
  expect(band.rows).toBe(19 - 8);
  expect([...band.of(plane)]).toEqual([...plane.subarray(8 * 7, 19 * 7)]);
  expect(bandRound([1, 29], 7, 30, 40)).toMatchObject({ from: 0, rows: 30 });
  for (const top of [0, 3, 4, 9]) expect((bandRound([top, 12], 7, 30, 0).from * 7) % 4).toBe(0);
});
