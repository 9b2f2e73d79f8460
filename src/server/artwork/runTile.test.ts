import { expect, test } from '@jest/globals';
import { RunTile } from './runTile';

const WIDTH = 300;
const HEIGHT = 12;

/** Stripes of a few colours, wider from row to row; the first row is all of one. */
function drawing(): Uint8Array {
  const words = Uint32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    return y === 0 ? 0 : [0, 0xff0000ff, 0xffffffff, 0x80402010][Math.floor(x / (17 * y)) % 4]!;
  });
  return new Uint8Array(words.buffer);
}

test.each([
  [0, WIDTH],
  [0, 1],
  [WIDTH - 1, WIDTH],
  [16, 17],
  [17, 204],
])('gives back the pixels of columns %d to %d', (from, to) => {
  const pixels = drawing();
  const words = new Uint32Array(pixels.buffer);
  const tile = RunTile.of(pixels, WIDTH)!;
  for (let y = 0; y < HEIGHT; y++) {
    const out = new Uint32Array(to - from + 4).fill(7);
    tile.copyRow(y, from, to, out, 2);
    expect([...out.subarray(0, 2), ...out.subarray(-2)]).toEqual([7, 7, 7, 7]);
    expect(out.subarray(2, -2)).toEqual(words.subarray(y * WIDTH + from, y * WIDTH + to));
  }
});

test('is none where pixels change too often to be worth it', () => {
  const noise = Uint32Array.from({ length: WIDTH * HEIGHT }, (_, i) => Math.imul(i, 0x9e3779b1) >>> 0);
  expect(RunTile.of(new Uint8Array(noise.buffer), WIDTH)).toBeNull();
});
