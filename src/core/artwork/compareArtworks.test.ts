import { labFromRgb8 } from '../colour';
import { type ArtworkSamples, coloursBefore, compareArtworks, sampleArtwork } from './compareArtworks';

const SIDE = 40;
const RED = 0xff2e10c8;
const BLUE = 0xff794e1f;
const CLEAR = 0;

function samples(at: (x: number, y: number) => number): ArtworkSamples {
  const pixels = Uint32Array.from({ length: SIDE * SIDE }, (_, i) => at(i % SIDE, Math.floor(i / SIDE)));
  return { columns: SIDE, rows: SIDE, pixels };
}

const disc = (x: number, y: number, colour: number) => (Math.hypot(x - 12, y - 12) < 8 ? colour : CLEAR);

test('artwork that is drawn half a pixel aside has not changed', () => {
  const before = samples((x, y) => disc(x, y, RED));
  const after = samples((x, y) => disc(x + 0.5, y + 0.5, RED));
  expect(compareArtworks(before, after)).toMatchObject({ share: 0, places: [] });
});

test('what was added, recoloured and taken away is told with its place', () => {
  const before = samples((x, y) => (x > 30 && y > 30 ? BLUE : disc(x, y, RED)));
  const after = samples((x, y) => (x > 29 && y < 6 ? RED : disc(x, y, BLUE)));
  const { places, share, mask } = compareArtworks(before, after);
  expect(places).toHaveLength(3);
  // The recoloured disc is the largest of them.
  expect(places[0]!.left * SIDE).toBeCloseTo(5, 0);
  expect(places[0]!.width * SIDE).toBeCloseTo(15, 0);
  expect(share).toBeCloseTo(mask.filter((each) => each === 1).length / SIDE ** 2, 9);
  expect(share * SIDE ** 2).toBeGreaterThan(Math.PI * 64 * 0.9 + 60 + 60);
});

test('a pixel that differs alone does not count', () => {
  const before = samples(() => RED);
  const after = samples((x, y) => (x === 7 && y === 9 ? BLUE : RED));
  expect(compareArtworks(before, after).share).toBe(0);
});

test('a colour comes after the one that stood on most of its area, and after none where several did', () => {
  const before = samples((x) => (x < 20 ? RED : BLUE));
  const after = samples((x, y) => (y < 5 ? CLEAR : y < 20 ? (x < 16 ? BLUE : CLEAR) : RED));
  const labs = [labFromRgb8([0xc8, 0x10, 0x2e]), labFromRgb8([0x1f, 0x4e, 0x79])];
  // Blue stands where red was; red stands half on each.
  expect(coloursBefore(before, after, labs, [labs[1]!, labs[0]!], 5)).toEqual([0, null]);
});

test('samples lie in the middle of their cells', () => {
  const art = {
    width: 4,
    height: 2,
    read: ({ y }: { y: number }) => ({
      rect: { x: 0, y, width: 4, height: 1 },
      data: Uint8Array.from({ length: 16 }, (_, i) => (i % 4 === 0 ? 10 * y + (i >> 2) : 255)),
    }),
  };
  const { pixels } = sampleArtwork(art, 2, 1);
  expect([...pixels].map((pixel) => pixel & 255)).toEqual([11, 13]);
});
