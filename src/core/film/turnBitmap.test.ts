import { invertBits, mirrorRows, turnClockwise } from './turnBitmap';

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

test.each([
  [8, 8],
  [13, 5],
  [40, 17],
  [3, 70],
])('a bitmap of %d x %d pixels is turned a quarter clockwise, pixel by pixel', (width, height) => {
  const rows = Array.from({ length: height }, (_, y) =>
    Array.from({ length: width }, (_, x) => ((x * 7 + y * 13 + x * y) % 5 < 2 ? '#' : '.')).join(''),
  );
  const rowBytes = Math.ceil(width / 8);
  // What stands left in the first column from the bottom upwards is the first row.
  const turned = Array.from({ length: width }, (_, x) =>
    Array.from({ length: height }, (_, k) => rows[height - 1 - k]![x]).join(''),
  );
  const found = turnClockwise(write(rows), rowBytes, height);
  expect([...found.subarray(0, width * Math.ceil(height / 8))]).toEqual([...write(turned)]);
  // Beyond the bitmap's width there is nothing.
  expect(found.subarray(width * Math.ceil(height / 8)).every((byte) => byte === 0)).toBe(true);
});
