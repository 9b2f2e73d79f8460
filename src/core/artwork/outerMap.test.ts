import type { Rgb8 } from '../colour';
import { buildOuterMap, enclosedShare } from '.';

const WHITE: Rgb8 = [255, 255, 255];
const CREAM: Rgb8 = [244, 237, 224];
const NAVY: Rgb8 = [22, 50, 79];
const SIDE = 100;

/** White paper with a navy square of 60 pixels that has a hole of a colour, so many pixels on a side. */
function art(hole: Rgb8, side: number) {
  const at = (x: number, y: number): Rgb8 => {
    if (x < 20 || y < 20 || x >= 80 || y >= 80) return WHITE;
    return x >= 50 && y >= 50 && x < 50 + side && y < 50 + side ? hole : NAVY;
  };
  return {
    width: SIDE,
    height: SIDE,
    read: (rect: { x: number; y: number; width: number; height: number }) => {
      const data = new Uint8Array(rect.width * rect.height * 4).fill(255);
      for (let i = 0; i < rect.width * rect.height; i++)
        data.set(at(rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)), i * 4);
      return { rect, data };
    },
  };
}

function share(hole: Rgb8, side: number, others: readonly Rgb8[], purity = 2.5): number {
  const picture = art(hole, side);
  return enclosedShare(picture, buildOuterMap(picture, WHITE, purity), WHITE, others, purity);
}

test('paper that is enclosed by the design is counted', () => {
  expect(share(WHITE, 10, [NAVY])).toBeCloseTo(100 / SIDE ** 2, 10);
  expect(share(WHITE, 0, [NAVY])).toBe(0);
});

test('a pale colour of the design is no paper, however near it is to it', () => {
  expect(share(CREAM, 10, [NAVY, CREAM])).toBe(0);
});

test('specks of paper count in a clean picture, and are noise in one that compression has damaged', () => {
  expect(share(WHITE, 4, [NAVY])).toBeCloseTo(16 / SIDE ** 2, 10);
  expect(share(WHITE, 4, [NAVY], 6)).toBe(0);
  expect(share(WHITE, 5, [NAVY], 6)).toBeCloseTo(25 / SIDE ** 2, 10);
});
