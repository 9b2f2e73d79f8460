/** The store of decoded artwork, with a server that only notes what it is asked for. */
import { gzipSync } from 'node:zlib';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { TileStore } from '@/browser/tileStore';
import {
  type Drawing,
  type DrawingNode,
  PLAIN_DRAWING_KERNELS,
  VERB,
  listOf,
  storeDrawing,
} from '@/core/drawing';
import type { ArtworkNeed } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { RASTER_TILE } from '@/protocol/tiles';

const TILE_BYTES = RASTER_TILE * RASTER_TILE * 4;
const sheet = { artworks: [{ kind: 'raster', sha256: 'abc' }] } as JobSheet;
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
  const store = new TileStore(20 * TILE_BYTES, () => Promise.resolve(PLAIN_DRAWING_KERNELS));
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
  const store = new TileStore(20 * TILE_BYTES, () => Promise.resolve(PLAIN_DRAWING_KERNELS));
  await store.use(sheet, needOf(2, 2), () => undefined);
  await store.fetchAround(sheet, needOf(2, 2), () => asked.length >= 3);
  expect(asked).toHaveLength(3);
});

test('keeps what is in view, however little it may keep', async () => {
  const store = new TileStore(3 * TILE_BYTES, () => Promise.resolve(PLAIN_DRAWING_KERNELS));
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

/** A drawing of 100 by 50 units with a red rectangle in it, from 20, 10 to 60, 30. */
function rectangle(): Drawing {
  const verbs = Uint8Array.from([VERB.move, VERB.line, VERB.line, VERB.line, VERB.close]);
  const paths = { verbs, coords: Float32Array.from([20, 10, 60, 10, 60, 30, 20, 30]) };
  const shape: DrawingNode = {
    kind: 'shape',
    transform: null,
    verbFrom: 0,
    verbTo: verbs.length,
    coordFrom: 0,
    box: [20, 10, 60, 30],
    fill: { paint: { kind: 'colour', rgb: 0x0000ff }, opacity: 1, evenOdd: false },
    stroke: null,
    strokeFirst: false,
  };
  const none = { gradients: [], patterns: [], clips: [], masks: [], pictures: [] };
  return { width: 100, height: 50, paths, ...none, root: listOf([shape], paths, []) };
}

test('fetches a drawing once and draws every region and size of it', async () => {
  globalThis.fetch = (async (url: string) => {
    asked.push(url);
    return new Response(new Uint8Array(gzipSync(storeDrawing(rectangle()))));
  }) as unknown as typeof globalThis.fetch;
  const drawing = { artworks: [{ kind: 'vector', sha256: 'abc' }] } as JobSheet;
  const store = new TileStore(1e6, () => Promise.resolve(PLAIN_DRAWING_KERNELS));
  const rect = { x: 190, y: 95, width: 30, height: 20 };
  for (const scale of [10, 20]) {
    const need = { rect, level: 0, levelWidth: 100 * scale, levelHeight: 50 * scale };
    const data = await store.use(drawing, need, (plane) => plane.data.slice());
    const expected = Uint32Array.from({ length: rect.width * rect.height }, (_, i) => {
      const [x, y] = [rect.x + (i % rect.width) + 0.5, rect.y + Math.floor(i / rect.width) + 0.5];
      return x > 20 * scale && x < 60 * scale && y > 10 * scale && y < 30 * scale ? 0xff0000ff : 0;
    });
    expect(new Uint32Array(data.buffer)).toEqual(expected);
  }
  await store.fetchAround(drawing, { rect, level: 0, levelWidth: 1000, levelHeight: 500 }, () => false);
  expect(asked).toEqual(['/api/artwork/abc/drawing']);
});
