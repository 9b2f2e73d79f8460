import { invertBits, mirrorRows } from './turnBitmap';

const write = (rows: readonly string[]): Uint8Array => {
  const rowBytes = Math.ceil(rows[0]!.length / 8);
  const bits = new Uint8Array(rows.length * rowBytes);
  rows.forEach((row, y) =>
    [...row].forEach((pixel, x) => {
      if (pixel === '#') bits[y * rowBytes + (x >> 3)]! |= 128 >> (x & 7);
    }),
  );
  return bits;
};

test.each([
  [['#..#....'], ['....#..#']],
  [
    ['##.......', '........#'],
    ['.......##', '#........'],
  ],
  [
    ['#.###......', '...........'],
    ['......###.#', '...........'],
  ],
])('rows %j are mirrored to the pixel', (before, after) => {
  const bits = write(before);
  mirrorRows(bits, before[0]!.length);
  expect([...bits]).toEqual([...write(after)]);
  mirrorRows(bits, before[0]!.length);
  expect([...bits]).toEqual([...write(before)]);
});

test('a negative is what the positive is not', () => {
  const bits = Uint8Array.from([0b10100000, 0, 255]);
  invertBits(bits);
  expect([...bits]).toEqual([0b01011111, 255, 0]);
});
