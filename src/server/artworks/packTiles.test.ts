import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { gunzipSync } from 'node:zlib';
import { RASTER_TILE, tilePixels } from '@/protocol/tiles';
import type { ArtworkSource } from '../artwork';
import { PackedTiles } from './packTiles';

const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-tiles-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Pixels that tell level, column and row by their bytes. @param fails the row of the finest level from which on nothing can be read. */
function sourceOf(width: number, height: number, fails = Infinity): ArtworkSource {
  const reader = (level: number) => ({
    width: width >> level,
    height: height >> level,
    read: (rect: Rect) => {
      if (level === 0 && rect.y >= fails) throw new Error('the disk is gone');
      const data = new Uint8Array(rect.width * rect.height * 4);
      for (let i = 0; i < data.length; i += 4) {
        const [x, y] = [rect.x + ((i / 4) % rect.width), rect.y + Math.floor(i / 4 / rect.width)];
        data.set([level, x & 255, y & 255, (x >> 8) + 16 * (y >> 8)], i);
      }
      return { rect, data };
    },
  });
  return { reader } as unknown as ArtworkSource;
}

interface Stored {
  readonly level: number;
  readonly row: number;
  readonly column: number;
  readonly bytes: Buffer;
}

function databaseInto(stored: Stored[]) {
  const values = (rows: Stored[]) => Promise.resolve(void stored.push(...rows));
  return { insert: () => ({ values }) } as unknown as Parameters<PackedTiles['store']>[0];
}

test('tiles are stored while they are packed, and once more after that, each as it was read', async () => {
  const [width, height] = [RASTER_TILE * 2 + 30, RASTER_TILE + 10];
  const source = sourceOf(width, height);
  const tiles = new PackedTiles(path.join(folder, 'whole.gz'), source, 2);
  for (let time = 0; time < 2; time++) {
    const stored: Stored[] = [];
    const heard: number[] = [];
    await tiles.store(databaseInto(stored), 'sha', (done) => heard.push(done));
    expect(heard.at(-1)).toBe(1);
    expect(stored.map(({ level, row, column }) => [level, row, column])).toEqual([
      ...[0, 1].flatMap((row) => [0, 1, 2].map((column) => [0, row, column])),
      ...[0, 1].map((column) => [1, 0, column]),
    ]);
    for (const { level, row, column, bytes } of stored) {
      const [x, y] = [column * RASTER_TILE, row * RASTER_TILE];
      const rect = {
        x,
        y,
        width: Math.min(RASTER_TILE, (width >> level) - x),
        height: Math.min(RASTER_TILE, (height >> level) - y),
      };
      const pixels = tilePixels(gunzipSync(bytes));
      const data = Buffer.from(pixels.buffer, pixels.byteOffset, pixels.byteLength);
      expect(data.equals(Buffer.from(source.reader(level).read(rect).data))).toBe(true);
    }
  }
});

test('what cannot be packed fails whoever stores it', async () => {
  const tiles = new PackedTiles(path.join(folder, 'broken.gz'), sourceOf(40, RASTER_TILE + 9, 1), 1);
  await expect(tiles.store(databaseInto([]), 'sha', () => undefined)).rejects.toThrow('the disk is gone');
});

test('a signal ends it with its reason', async () => {
  const ended = AbortSignal.abort(new Error('cancelled'));
  const tiles = new PackedTiles(path.join(folder, 'ended.gz'), sourceOf(40, 40), 1, ended);
  await expect(tiles.store(databaseInto([]), 'sha', () => undefined)).rejects.toThrow('cancelled');
});
