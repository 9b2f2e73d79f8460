import { painting } from '../../../tests/painting';
import { type ArtworkReader, type Faintness, findFaintness, findPalette, flatShare, inFull } from '.';

function readerOf(width: number, height: number, data: Uint8Array): ArtworkReader {
  return {
    width,
    height,
    read: ({ x, y, width: columns, height: rows }) => {
      expect([x, columns]).toEqual([0, width]);
      return {
        rect: { x, y, width, height: rows },
        data: data.subarray(y * width * 4, (y + rows) * width * 4),
      };
    },
  };
}

/** Artwork of two flat halves, red above yellow, with alpha by pixel. */
function halves(alphaOf: (x: number, y: number) => number): ArtworkReader {
  const [width, height] = [40, 600];
  const data = Uint8Array.from({ length: width * height * 4 }, (_, i) => {
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
    return i % 4 === 3 ? alphaOf(x, y) : (y < 300 ? [200, 56, 46] : [242, 209, 58])[i % 4]!;
  });
  return readerOf(width, height, data);
}

const coloursOf = (art: ArtworkReader) =>
  findPalette(art, { drawing: false, lossy: false, thinLines: true, piece: 100 }).colours;

test('artwork of which a fiftieth is opaque is none, wherever that stands, nor is what prints nothing', () => {
  expect(findFaintness(halves(() => 255))).toBeNull();
  expect(findFaintness(halves((_, y) => (y >= 585 ? 250 : 150)))).toBeNull();
  expect(findFaintness(halves((_, y) => (y >= 585 ? 250 : 0)))).toBeNull();
  expect(findFaintness(halves(() => 0))).toBeNull();
  expect(findFaintness(halves(() => 5))).toBeNull();
});

test('faint artwork has the alpha that half of what prints has or exceeds', () => {
  expect(findFaintness(halves(() => 153))).toEqual({ alpha: 153, transparentShare: 1 });
  // A tenth of it opaque along a line of four pixels in 600, the rest in three strengths; what is empty does not count.
  const found = findFaintness(halves((x, y) => (y < 4 ? 255 : x < 10 ? 0 : x < 20 ? 60 : x < 25 ? 90 : 180)));
  expect(found).toEqual({ alpha: 180, transparentShare: 1 - 4 / 600 });
});

test('in full its colours are those of the same artwork that is opaque, and none without that', () => {
  const faint = halves((_, y) => (y % 7 === 0 ? 151 : 153));
  expect(coloursOf(faint)).toEqual([]);
  const full = coloursOf(inFull(faint, findFaintness(faint)!));
  expect(full).toEqual(coloursOf(halves(() => 255)));
  expect(full.map(({ rgb }) => rgb)).toEqual([
    [200, 56, 46],
    [242, 209, 58],
  ]);
});

test('a painting that was exported at 60 % is told from flat artwork as the painting itself is', () => {
  const [width, height] = [240, 180];
  const { data } = painting(width, height, 7, 'none');
  const shareOf = (alpha: number, faint: Faintness | null) => {
    const art = readerOf(
      width,
      height,
      data.map((code, i) => (i % 4 === 3 ? alpha : code)),
    );
    expect(findFaintness(art)).toEqual(faint);
    const full = faint ? inFull(art, faint) : art;
    return flatShare(
      full,
      coloursOf(full).map(({ rgb }) => rgb),
    );
  };
  const own = shareOf(255, null);
  expect(own).toBeLessThan(0.5);
  expect(shareOf(153, { alpha: 153, transparentShare: 1 })).toBe(own);
});
