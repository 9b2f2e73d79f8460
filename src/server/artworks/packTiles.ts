import { open } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { RASTER_TILE } from '@/protocol/tiles';
import type { ArtworkSource } from '../artwork';
import type { Database } from '../db/database';
import { artworkTiles } from '../db/schema';

export const pack = promisify(gzip);

/** Gzipped tiles of a picture, one after another in a file. */
export interface PackedTiles {
  readonly path: string;
  /** Rows of tiles of all levels, the finest first. */
  readonly rows: readonly PackedRow[];
}

interface PackedRow {
  readonly level: number;
  readonly row: number;
  /** Where its tiles lie in the file, from left to right, in bytes. */
  readonly lengths: readonly number[];
  readonly offset: number;
}

/** Packs all levels of a picture into a file of a folder; memory stays bounded by a row of tiles. Throws the signal's reason. */
export async function packTiles(
  source: ArtworkSource,
  levels: number,
  folder: string,
  signal?: AbortSignal,
): Promise<PackedTiles> {
  const target = path.join(folder, 'tiles.gz');
  const output = await open(target, 'w');
  const rows: PackedRow[] = [];
  let offset = 0;
  try {
    for (let level = 0; level < levels; level++) {
      const reader = source.reader(level);
      for (let y = 0; y < reader.height; y += RASTER_TILE) {
        signal?.throwIfAborted();
        const height = Math.min(RASTER_TILE, reader.height - y);
        const tiles: Buffer[] = [];
        // One after another: the other processor looks for the artwork's colours meanwhile.
        for (let x = 0; x < reader.width; x += RASTER_TILE) {
          const width = Math.min(RASTER_TILE, reader.width - x);
          tiles.push(await pack(reader.read({ x, y, width, height }).data, { level: 1 }));
        }
        const lengths = tiles.map(({ length }) => length);
        await output.write(Buffer.concat(tiles));
        rows.push({ level, row: y / RASTER_TILE, lengths, offset });
        offset += lengths.reduce((sum, length) => sum + length, 0);
      }
    }
  } finally {
    await output.close();
  }
  return { path: target, rows };
}

/** Stores packed tiles, a row at a time; `heard` is told how much is done, 0..1. Throws the signal's reason. */
export async function storeTiles(
  database: Pick<Database, 'insert'>,
  sha256: string,
  { path: file, rows }: PackedTiles,
  heard: (done: number) => void,
  signal?: AbortSignal,
): Promise<void> {
  const input = await open(file);
  try {
    for (const [k, { level, row, lengths, offset }] of rows.entries()) {
      signal?.throwIfAborted();
      let at = offset;
      const values = [];
      for (const [column, length] of lengths.entries()) {
        const bytes = Buffer.alloc(length);
        await input.read(bytes, 0, length, at);
        at += length;
        values.push({ sha256, level, row, column, bytes });
      }
      await database.insert(artworkTiles).values(values);
      heard((k + 1) / rows.length);
    }
  } finally {
    await input.close();
  }
}
