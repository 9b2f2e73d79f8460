import { describe, expect, test } from '@jest/globals';
import { type ArtworkTile, PixelTile, RunTile } from './artworkTile';

const WIDTH = 300;
const HEIGHT = 12;

/** Stripes of a few colours, wider from row to row; the first row is all of one. */
function drawing(): Uint32Array {
  return Uint32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    return y === 0 ? 0 : [0, 0xff0000ff, 0xffffffff, 0x80402010][Math.floor(x / (17 * y)) % 4]!;
  });
}

function sent(tile: RunTile): RunTile {
  return RunTile.read(tile.bytes().buffer);
}

const KINDS: readonly (readonly [string, (words: Uint32Array) => ArtworkTile])[] = [
  ['runs', (words) => RunTile.of(words, WIDTH)!],
  ['runs that were sent', (words) => sent(RunTile.of(words, WIDTH)!)],
  ['pixels', (words) => new PixelTile(words, WIDTH)],
];

describe.each(KINDS)('a tile of %s', (_, make) => {
  test.each([
    [0, WIDTH],
    [0, 1],
    [WIDTH - 1, WIDTH],
    [16, 17],
    [17, 204],
  ])('gives back the pixels of columns %d to %d', (from, to) => {
    const words = drawing();
    const tile = make(words);
    for (let y = 0; y < HEIGHT; y++) {
      const out = new Uint32Array(to - from + 4).fill(7);
      tile.copyRow(y, from, to, out, 2);
      expect([...out.subarray(0, 2), ...out.subarray(-2)]).toEqual([7, 7, 7, 7]);
      expect(out.subarray(2, -2)).toEqual(words.subarray(y * WIDTH + from, y * WIDTH + to));
    }
  });
});

test('runs keep what a colour is turned into', () => {
  const tile = RunTile.of(drawing(), WIDTH, (colour) => colour ^ 0xff)!;
  const out = new Uint32Array(WIDTH);
  tile.copyRow(3, 0, WIDTH, out, 0);
  expect(out).toEqual(
    drawing()
      .subarray(3 * WIDTH, 4 * WIDTH)
      .map((colour) => colour ^ 0xff),
  );
});

test('is none where pixels change too often to be worth it', () => {
  const noise = Uint32Array.from({ length: WIDTH * HEIGHT }, (_, i) => Math.imul(i, 0x9e3779b1) >>> 0);
  expect(RunTile.of(noise, WIDTH)).toBeNull();
});
