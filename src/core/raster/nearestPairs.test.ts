import { nearestPairs } from './nearestPairs';

/** A plane with some set rows. */
function rowsSet(width: number, height: number, rows: readonly number[]): Uint8Array {
  const set = new Uint8Array(width * height);
  for (const row of rows) set.fill(255, row * width, (row + 1) * width);
  return set;
}

// By geometry: of a stripe between two straight edges the points as near to one as to the other are its middle line.
test('between two straight edges pairs lie on the middle line, one for each column', () => {
  const [width, height] = [60, 23];
  const pairs = nearestPairs(rowsSet(width, height, [0, 21]), width, height, 15);
  const wanted = Array.from({ length: width }, (_, x) => [10 * width + x, 11 * width + x, x, 21 * width + x]);
  expect(Array.from(pairs)).toEqual(wanted.flat());
});

test('along one straight edge there are none, nor where the other one is out of reach', () => {
  expect(nearestPairs(rowsSet(60, 23, [0]), 60, 23, 15)).toHaveLength(0);
  expect(nearestPairs(rowsSet(60, 23, [0, 21]), 60, 23, 9)).toHaveLength(0);
});

test('the end of a row and the beginning of the next are no neighbours, however narrow a plane is', () => {
  const [width, height] = [6, 9];
  const set = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) set[y * width] = set[y * width + 5] = 255;
  const pairs = nearestPairs(set, width, height, 7);
  const columns = Array.from({ length: pairs.length / 4 }, (_, k) => [pairs[4 * k]!, pairs[4 * k + 1]!]);
  // From the left edge's half to the right one's, in each row.
  const wanted = Array.from({ length: height }, (_, y) => [y * width + 2, y * width + 3]);
  expect(columns).toEqual(wanted);
});
