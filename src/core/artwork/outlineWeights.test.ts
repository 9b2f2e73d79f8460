import { outlineWeights } from '.';

const square = [
  [10, 10],
  [30, 10],
  [30, 26],
  [10, 26],
] as const;

function weights(
  corners: readonly (readonly [number, number])[],
  feather: number,
  rect = { x: 0, y: 0, width: 60, height: 40 },
) {
  const plane = new Float64Array(rect.width * rect.height);
  outlineWeights({ corners, feather }, rect, (i, weight) => (plane[i] = weight));
  return (x: number, y: number) => plane[(y - rect.y) * rect.width + x - rect.x]!;
}

test('a hard outline counts the pixels whose centres lie inside', () => {
  const at = weights(square, 0);
  let count = 0;
  for (let y = 0; y < 40; y++) for (let x = 0; x < 60; x++) count += at(x, y);
  expect(count).toBe(20 * 16);
  expect([at(9, 15), at(10, 15), at(29, 15), at(30, 15)]).toEqual([0, 1, 1, 0]);
});

test('a soft one rises evenly across the outline: half of it at the outline, by the distance from it', () => {
  const at = weights(square, 8);
  // Centres of pixels lie half a pixel beside the left edge at x = 10.
  for (const [x, away] of [
    [6, -3.5],
    [8, -1.5],
    [9, -0.5],
    [10, 0.5],
    [12, 2.5],
    [14, 4],
    [17, 4],
  ] as const) {
    expect(at(x, 18)).toBeCloseTo(0.5 + away / 8, 12);
  }
  // Beyond a corner the distance is that to the corner.
  expect(at(8, 8)).toBeCloseTo(0.5 - Math.hypot(1.5, 1.5) / 8, 12);
  expect(at(5, 5)).toBe(0);
});

test('every pixel has one weight, whatever rectangle is asked for', () => {
  const star = [
    [8, 5],
    [50, 12],
    [20, 36],
    [24, 2],
    [44, 33],
  ] as const;
  const whole = weights(star, 5);
  for (const rect of [
    { x: 13, y: 7, width: 20, height: 9 },
    { x: 0, y: 20, width: 60, height: 3 },
    { x: 30, y: 0, width: 1, height: 40 },
  ]) {
    const part = weights(star, 5, rect);
    for (let y = rect.y; y < rect.y + rect.height; y++)
      for (let x = rect.x; x < rect.x + rect.width; x++) expect(part(x, y)).toBe(whole(x, y));
  }
});

test('an outline beyond the rectangle reaches nothing of it', () => {
  const told: number[] = [];
  outlineWeights({ corners: square, feather: 4 }, { x: 40, y: 0, width: 10, height: 40 }, (i) =>
    told.push(i),
  );
  expect(told).toEqual([]);
});
