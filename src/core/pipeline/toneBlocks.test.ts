import type { Rect } from '../geometry';
import { type BlockRun, partsOf } from './toneBlocks';

const PRINT: Rect = { x: 0, y: 0, width: 1003, height: 300 };

/** How often each pixel of a region is part of a run, and of what kind the last one was. */
function painted(region: Rect, runs: Iterable<BlockRun>) {
  const times = new Uint8Array(region.width * region.height);
  const kinds = new Map<number, BlockRun['kind']>();
  for (const { rect, kind } of runs) {
    expect((rect.x - region.x) % 8).toBe(0);
    for (let y = rect.y; y < rect.y + rect.height; y++) {
      for (let x = rect.x; x < rect.x + rect.width; x++) {
        const i = (y - region.y) * region.width + x - region.x;
        times[i]!++;
        kinds.set(i, kind);
      }
    }
  }
  return { times, kindAt: (x: number, y: number) => kinds.get((y - region.y) * region.width + x - region.x) };
}

// What lies beyond the print is bare, what is near its border has only its base fitted.
const kindOf = ({ x, y, width, height }: Rect): BlockRun['kind'] => {
  if (x + width <= 0 || y + height <= 0 || x >= PRINT.width || y >= PRINT.height) return 'bare';
  if (x < 0 || y < 0 || x + width > PRINT.width || y + height > PRINT.height) return 'edges';
  return x < 20 || y < 20 || x + width > PRINT.width - 20 ? 'base' : 'tones';
};

test.each([PRINT, null])(
  'runs cover a region once, whether blocks end where the print does or not: %j',
  (print) => {
    const region = { x: -11, y: -3, width: 1032, height: 256 };
    const { times } = painted(region, partsOf(region, kindOf, print));
    expect(times.every((each) => each === 1)).toBe(true);
  },
);

test('blocks end where the print does, as near as whole bytes allow', () => {
  const region = { x: -11, y: -3, width: 1032, height: 256 };
  const { kindAt } = painted(region, partsOf(region, kindOf, PRINT));
  // Bytes begin at -11, -3, 5, ..., 997, 1005: none of them at the print's sides.
  expect(kindAt(-4, 100)).toBe('edges');
  expect(kindAt(4, 100)).toBe('edges');
  expect(kindAt(5, 100)).toBe('base');
  expect(kindAt(996, 100)).toBe('base');
  expect(kindAt(997, 100)).toBe('edges');
  // Rows end where they like.
  expect(kindAt(500, -1)).toBe('bare');
  expect(kindAt(500, 0)).toBe('base');
  expect(kindAt(500, 200)).toBe('tones');
});
