/** The store of decoded artwork, with a server that only notes what it is asked for. */
import { gzipSync } from 'node:zlib';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { TileStore } from '@/browser/tileStore';
import { RunTile } from '@/core/artwork';
import type { ArtworkNeed } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { RASTER_TILE, RUN_TILE_TYPE, VECTOR_TILE_HEIGHT, VECTOR_TILE_WIDTH } from '@/protocol/tiles';

const TILE_BYTES = RASTER_TILE * RASTER_TILE * 4;
const sheet = { artwork: { kind: 'raster', sha256: 'abc' } } as JobSheet;
/** A level of five by five tiles. */
const SIDE = 5 * RASTER_TILE;

function needOf(column: number, row: number): ArtworkNeed {
  const rect = { x: column * RASTER_TILE + 10, y: row * RASTER_TILE + 10, width: 30, height: 20 };
  return { rect, level: 0, levelWidth: SIDE, levelHeight: SIDE };
}

let asked: string[] = [];
const { fetch } = globalThis;

beforeEach(() => {
  asked = [];
  globalThis.fetch = (async (url: string) => {
    const [, row, column] = /row=(\d+)&column=(\d+)/.exec(url)!;
    asked.push(`${column},${row}`);
    return new Response(
      new Uint8Array(gzipSync(new Uint8Array(TILE_BYTES).fill(Number(row) * 5 + Number(column)))),
    );
  }) as unknown as typeof globalThis.fetch;
});

afterEach(() => {
  globalThis.fetch = fetch;
});

test('fetches what lies round a region once, and not beyond the artwork', async () => {
  const store = new TileStore(20 * TILE_BYTES);
  await store.use(sheet, needOf(0, 2), () => undefined);
  await store.fetchAround(sheet, needOf(0, 2), () => false);
  expect(asked[0]).toBe('0,2');
  // The corners come last.
  expect([...asked.slice(1, 4)].sort()).toEqual(['0,1', '0,3', '1,2']);
  expect([...asked].sort()).toEqual(['0,1', '0,2', '0,3', '1,1', '1,2', '1,3']);
  const plane = await store.use(sheet, needOf(1, 3), ({ data }) => data.slice());
  expect(asked).toHaveLength(6);
  expect(new Set(plane)).toEqual(new Set([16]));
});

test('stops when something else is wanted', async () => {
  const store = new TileStore(20 * TILE_BYTES);
  await store.use(sheet, needOf(2, 2), () => undefined);
  await store.fetchAround(sheet, needOf(2, 2), () => asked.length >= 3);
  expect(asked).toHaveLength(3);
});

test('keeps what is in view, however little it may keep', async () => {
  const store = new TileStore(3 * TILE_BYTES);
  await store.use(sheet, needOf(4, 4), () => undefined);
  await store.use(sheet, needOf(2, 2), () => undefined);
  await store.fetchAround(sheet, needOf(2, 2), () => false);
  expect(asked).toHaveLength(4);
  await store.use(sheet, needOf(2, 2), () => undefined);
  expect(asked).toHaveLength(4);
  // What was looked at before had to go.
  await store.use(sheet, needOf(4, 4), () => undefined);
  expect(asked).toHaveLength(5);
});

/** A colour for each pixel of a drawing: blocks of 64 by 16 on the left, another one in every pixel further right. */
function colourAt(x: number, y: number): number {
  return x < VECTOR_TILE_WIDTH ? (x >> 6) * 1009 + (y >> 4) : x * 65537 + y;
}

test('reads a drawing over the borders of its tiles, whether they come as runs or as pixels', async () => {
  globalThis.fetch = (async (url: string) => {
    const [, row, column] = /row=(\d+)&column=(\d+)/.exec(url)!.map(Number) as [number, number, number];
    asked.push(`${column},${row}`);
    const [left, top] = [column * VECTOR_TILE_WIDTH, row * VECTOR_TILE_HEIGHT];
    const words = Uint32Array.from({ length: VECTOR_TILE_WIDTH * VECTOR_TILE_HEIGHT }, (_, i) =>
      colourAt(left + (i % VECTOR_TILE_WIDTH), top + Math.floor(i / VECTOR_TILE_WIDTH)),
    );
    const runs = RunTile.of(words, VECTOR_TILE_WIDTH);
    expect(runs === null).toBe(column > 0);
    return runs
      ? new Response(runs.bytes(), { headers: { 'content-type': RUN_TILE_TYPE } })
      : new Response(new Uint8Array(gzipSync(new Uint8Array(words.buffer), { level: 1 })));
  }) as unknown as typeof globalThis.fetch;
  const drawing = { artwork: { kind: 'vector', sha256: 'abc' } } as JobSheet;
  const rect = { x: VECTOR_TILE_WIDTH - 37, y: VECTOR_TILE_HEIGHT - 9, width: 80, height: 20 };
  const need = { rect, level: 0, levelWidth: 3000, levelHeight: 600 };
  const data = await new TileStore(1e6).use(drawing, need, (plane) => plane.data.slice());
  const expected = Uint32Array.from({ length: rect.width * rect.height }, (_, i) =>
    colourAt(rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)),
  );
  expect(new Uint32Array(data.buffer)).toEqual(expected);
  expect([...asked].sort()).toEqual(['0,0', '0,1', '1,0', '1,1']);
});
