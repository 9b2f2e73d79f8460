import { randomOf } from '../../../tests/testSheet';
import {
  type Rect,
  byteColumns,
  containsRect,
  crossingsOf,
  ellipseBetween,
  expandRect,
  intersectRects,
  rectsMeet,
  unionRects,
} from '.';

const random = randomOf(3);
const whole = (most: number) => Math.floor(random() * most);
const rects = Array.from({ length: 60 }, (): Rect => ({
  x: whole(20) - 10,
  y: whole(20) - 10,
  width: whole(12),
  height: whole(12),
}));
const inside = ({ x, y, width, height }: Rect, px: number, py: number) =>
  px >= x && py >= y && px < x + width && py < y + height;

test('what two rectangles share, and what holds both, agree with their pixels', () => {
  for (const [k, one] of rects.entries()) {
    const other = rects[(k * 7 + 3) % rects.length]!;
    const [shared, both] = [intersectRects(one, other), unionRects(one, other)];
    let [common, wrong] = [0, 0];
    for (let y = -30; y < 40; y++) {
      for (let x = -30; x < 40; x++) {
        const [a, b] = [inside(one, x, y), inside(other, x, y)];
        if (a && b) common++;
        if (inside(shared, x, y) !== (a && b) || ((a || b) && !inside(both, x, y))) wrong++;
      }
    }
    expect(wrong).toBe(0);
    expect(rectsMeet(one, other)).toBe(common > 0);
    expect(containsRect(both, one) && containsRect(both, other)).toBe(true);
    if (containsRect(one, other)) expect(common).toBe(other.width * other.height);
  }
});

test('a rectangle grows on every side, and shrinks by less than nothing', () => {
  expect(expandRect({ x: 5, y: 6, width: 3, height: 2 }, 4)).toEqual({ x: 1, y: 2, width: 11, height: 10 });
  expect(expandRect({ x: 1, y: 2, width: 11, height: 10 }, -4)).toEqual({ x: 5, y: 6, width: 3, height: 2 });
});

test.each([
  [1000, 300],
  [8, 256],
  [4097, 4096],
  [77, 16],
])(
  'columns of %d pixels, %d at most, are whole bytes, cover all of it, and none lies over another',
  (width, most) => {
    const columns = [...byteColumns({ x: 3, y: 0, width, height: 2 }, most)];
    let at = 3;
    for (const [k, column] of columns.entries()) {
      expect(column.x).toBe(at);
      if (k < columns.length - 1) expect(column.width % 8).toBe(0);
      expect(column.width).toBeLessThanOrEqual(Math.ceil(most / 8) * 8);
      at += column.width;
    }
    expect(at).toBe(3 + width);
  },
);

test('a line is inside of a polygon from each crossing to the next', () => {
  // A star of five points, drawn in one go: its middle is gone round twice, so by the even-odd rule it is outside.
  const star = Array.from({ length: 5 }, (_, k) => {
    const turn = (k * 4 * Math.PI) / 5 - Math.PI / 2;
    return [50 + 40 * Math.cos(turn), 50 + 40 * Math.sin(turn)] as const;
  });
  const crossings = crossingsOf(star, 50.001);
  expect(crossings).toHaveLength(4);
  expect([...crossings].sort((p, q) => p - q)).toEqual(crossings);
  const isInside = (x: number) => crossings.filter((each) => each < x).length % 2 === 1;
  expect([isInside(50), isInside(30), isInside(70), isInside(5)]).toEqual([false, true, true, false]);
  // Symmetric about the middle.
  expect(crossings[0]! + crossings[3]!).toBeCloseTo(100, 9);
  expect(crossingsOf(star, 200)).toEqual([]);
});

test('an ellipse between two corners fills their rectangle, whichever they are', () => {
  for (const [one, other] of [
    [
      [10, 20],
      [50, 30],
    ],
    [
      [50, 20],
      [10, 30],
    ],
  ] as const) {
    const corners = ellipseBetween(one, other);
    const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
    expect([Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]).toEqual([10, 50, 20, 30]);
    for (const [x, y] of corners) expect(((x - 30) / 20) ** 2 + ((y - 25) / 5) ** 2).toBeCloseTo(1, 9);
    // The area of the polygon, by the shoelace formula, against that of the ellipse.
    const twice = corners.reduce((sum, [x, y], k) => {
      const [nx, ny] = corners[(k + 1) % corners.length]!;
      return sum + x * ny - nx * y;
    }, 0);
    expect(Math.abs(twice / 2 / (Math.PI * 20 * 5) - 1)).toBeLessThan(0.001);
  }
});
