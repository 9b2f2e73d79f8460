import { testSheet } from '../../../tests/testSheet';
import type { PlatePlanes } from '../fit';
import { shiftPlanes, shiftReach } from '.';

const sheet = testSheet();
const [one, other] = sheet.plates;
const SIDE = 200;
const GRID = { widthPx: SIDE, heightPx: SIDE, pxPerMm: 10 };

/** Two plates with one dot each, at the same place. */
function planesWith(x: number, y: number): PlatePlanes {
  const rect = { x: -20, y: -20, width: SIDE + 40, height: SIDE + 40 };
  const shape = new Uint8Array(rect.width * rect.height);
  for (let dy = 0; dy < 3; dy++) {
    for (let dx = 0; dx < 3; dx++) shape[(y + 20 + dy) * rect.width + x + 20 + dx] = 255;
  }
  const tone = Uint16Array.from(shape, (ink) => (ink === 0 ? 0 : 40000));
  return {
    rect,
    planes: [
      { plate: one!, shape, tone: null },
      { plate: other!, shape: shape.slice(), tone },
    ],
  };
}

/** Middle of a plate's ink, in pixels of the print. */
function middle({ rect, planes }: PlatePlanes, k: number): [number, number] {
  let [sx, sy, n] = [0, 0, 0];
  planes[k]!.shape.forEach((ink, i) => {
    if (ink === 0) return;
    sx += (i % rect.width) + rect.x + 0.5;
    sy += Math.floor(i / rect.width) + rect.y + 0.5;
    n++;
  });
  return [sx / n, sy / n];
}

test('a screen that is moved brings its plate along, shape and tone, and leaves the others', () => {
  const planes = planesWith(50, 60);
  const moved = shiftPlanes(planes, GRID, { [other!.id]: { xMm: 0.7, yMm: -1.2, deg: 0 } });
  expect(moved.planes[0]).toBe(planes.planes[0]);
  expect(middle(moved, 1)).toEqual([51.5 + 7, 61.5 - 12]);
  const { shape, tone } = moved.planes[1]!;
  expect(tone!.every((value, i) => value === (shape[i] === 0 ? 0 : 40000))).toBe(true);
});

test('a screen that is turned turns counter-clockwise round the middle of the print', () => {
  // To the right of the middle: turned that way it goes up.
  const turned = shiftPlanes(planesWith(180, 99), GRID, { [one!.id]: { xMm: 0, yMm: 0, deg: 5 } });
  const [x, y] = middle(turned, 0);
  const arm = 181.5 - SIDE / 2;
  expect(Math.abs(SIDE / 2 + arm * Math.cos((5 * Math.PI) / 180) - x)).toBeLessThan(1);
  expect(Math.abs(SIDE / 2 - arm * Math.sin((5 * Math.PI) / 180) - y)).toBeLessThan(1);
});

test('how far shifts reach: the farthest corner of the print', () => {
  expect(shiftReach({}, GRID)).toBe(0);
  expect(shiftReach({ [one!.id]: { xMm: 0.3, yMm: 0.4, deg: 0 } }, GRID)).toBe(5);
  const turn = shiftReach({ [one!.id]: { xMm: 0, yMm: 0, deg: 1 } }, GRID);
  expect(turn).toBe(Math.ceil((Math.PI / 180) * Math.hypot(100, 100)));
});
