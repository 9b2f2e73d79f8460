import { fitPlace, printPoint, viewOf, zoomAt } from './tablePlace';

const size = { width: 800, height: 500 };
const place = { centreXMm: 120, centreYMm: 90, scale: 3 };

test('a fitted print is seen whole, in the middle, as large as there is room', () => {
  for (const [widthMm, heightMm] of [
    [254, 254],
    [300, 40],
    [30, 400],
  ] as const) {
    const fitted = fitPlace({ print: { widthMm, heightMm } }, size);
    const view = viewOf(fitted, size);
    expect(view.xMm).toBeLessThan(0);
    expect(view.yMm).toBeLessThan(0);
    expect(view.xMm + size.width / view.scale).toBeGreaterThan(widthMm);
    expect(view.yMm + size.height / view.scale).toBeGreaterThan(heightMm);
    expect([fitted.centreXMm, fitted.centreYMm]).toEqual([widthMm / 2, heightMm / 2]);
    const used = Math.max((widthMm * fitted.scale) / size.width, (heightMm * fitted.scale) / size.height);
    expect(used).toBeGreaterThan(0.8);
  }
});

test('the point under the pointer stays there while it is enlarged, up to the nearest and the farthest', () => {
  const before = printPoint(place, size, 640, 120);
  for (const factor of [1.5, 0.4, 7]) {
    const zoomed = zoomAt(place, size, factor, 640, 120);
    expect(zoomed.scale).toBeCloseTo(3 * factor, 9);
    const after = printPoint(zoomed, size, 640, 120);
    expect(after.xMm).toBeCloseTo(before.xMm, 9);
    expect(after.yMm).toBeCloseTo(before.yMm, 9);
  }
  const near = zoomAt(place, size, 1e6, 640, 120);
  expect(zoomAt(near, size, 2, 1, 1)).toEqual(near);
  const far = zoomAt(place, size, 1e-6, 640, 120);
  expect(far.scale).toBeGreaterThan(0);
  expect(zoomAt(far, size, 0.5, 1, 1)).toEqual(far);
});

test('the window begins at the point of its corner', () => {
  const view = viewOf(place, size);
  const corner = printPoint(place, size, 0, 0);
  expect([view.xMm, view.yMm]).toEqual([corner.xMm, corner.yMm]);
  const middle = printPoint(place, size, 400, 250);
  expect([middle.xMm, middle.yMm]).toEqual([120, 90]);
});
