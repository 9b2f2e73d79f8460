import { expect, test } from '@jest/globals';
import { readSvg } from './readSvg';
import { VECTOR_TILE, VectorLevel, renderSvgTile } from './renderSvg';

/** Flat circles on the left; on the right colours that change from pixel to pixel, which are kept as they are. */
const DRAWING = readSvg(
  Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="200" height="40" viewBox="0 0 200 40">
<defs><linearGradient id="g"><stop offset="0" stop-color="#c8382e"/><stop offset="1" stop-color="#2e7d8c"/></linearGradient></defs>
<circle cx="30" cy="20" r="18" fill="#e8b23a"/><circle cx="34" cy="22" r="6" fill="#111111"/>
<rect x="120" width="80" height="40" fill="url(#g)"/></svg>`),
);
const [WIDTH, HEIGHT] = [3000, 600];

test('a drawing reads the pixels of its tiles, rendered before or not', async () => {
  const rect = { x: 1900, y: 180, width: 700, height: 300 };
  const read = new VectorLevel(DRAWING, WIDTH, HEIGHT).read(rect).data;
  const prepared = new VectorLevel(DRAWING, WIDTH, HEIGHT);
  await prepared.prepare(rect);
  expect(Buffer.compare(read, prepared.read(rect).data)).toBe(0);
  const expected = new Uint32Array(rect.width * rect.height);
  for (const [column, row] of [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ] as const) {
    const tile = renderSvgTile(DRAWING, { wholeWidth: WIDTH, wholeHeight: HEIGHT, column, row });
    const words = new Uint32Array(VECTOR_TILE.width);
    for (let y = 0; y < VECTOR_TILE.height; y++) {
      tile.copyRow(y, 0, VECTOR_TILE.width, words, 0);
      for (let x = 0; x < VECTOR_TILE.width; x++) {
        const u = column * VECTOR_TILE.width + x - rect.x;
        const v = row * VECTOR_TILE.height + y - rect.y;
        if (u < 0 || v < 0 || u >= rect.width || v >= rect.height) continue;
        expected[v * rect.width + u] = words[x]!;
      }
    }
  }
  expect(Buffer.compare(read, Buffer.from(expected.buffer))).toBe(0);
  expect(new Set(expected).size).toBeGreaterThan(50);
});
