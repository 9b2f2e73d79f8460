import { open } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { ArtworkReader } from '@/core/artwork';
import { RASTER_TILE, tileForPacking } from '@/protocol/tiles';
import type { ArtworkSource } from '../artwork';
import type { Database } from '../db/database';
import { artworkTiles } from '../db/schema';

export const pack = promisify(gzip);

/** A row of tiles of a level. */
interface PackedRow {
  readonly level: number;
  readonly row: number;
  /** Of its tiles in the file, from left to right, in bytes. */
  readonly lengths: readonly number[];
  /** Where the first one lies in the file, in bytes. */
  readonly offset: number;
}

/** Gzipped tiles of a picture, which come to lie one after another in a file while somebody may store those that are ready. */
export class PackedTiles {
  private readonly ready: PackedRow[] = [];
  private readonly count: number;
  /** Rejects where they cannot be packed. */
  readonly done: Promise<void>;
  private wake: () => void = () => undefined;

  /**
   * Packs all levels of a picture into a file; memory stays bounded by a row of tiles. A signal ends it with its reason.
   *
   * @param path of the file, which is written anew.
   */
  constructor(
    private readonly path: string,
    source: ArtworkSource,
    levels: number,
    signal?: AbortSignal,
  ) {
    const readers = Array.from({ length: levels }, (_, level) => source.reader(level));
    this.count = readers.reduce((sum, { height }) => sum + Math.ceil(height / RASTER_TILE), 0);
    this.done = this.pack(readers, signal);
    // Whoever stores them hears of it.
    this.done.catch(() => undefined);
  }

  private async pack(readers: readonly ArtworkReader[], signal?: AbortSignal): Promise<void> {
    const output = await open(this.path, 'w');
    let offset = 0;
    try {
      for (const [level, reader] of readers.entries()) {
        for (let y = 0; y < reader.height; y += RASTER_TILE) {
          signal?.throwIfAborted();
          const height = Math.min(RASTER_TILE, reader.height - y);
          const tiles: Buffer[] = [];
          // One after another: the other processor looks for the artwork's colours meanwhile.
          for (let x = 0; x < reader.width; x += RASTER_TILE) {
            const width = Math.min(RASTER_TILE, reader.width - x);
            tiles.push(await pack(tileForPacking(reader.read({ x, y, width, height }).data), { level: 1 }));
          }
          const lengths = tiles.map(({ length }) => length);
          await output.write(Buffer.concat(tiles));
          this.ready.push({ level, row: y / RASTER_TILE, lengths, offset });
          offset += lengths.reduce((sum, length) => sum + length, 0);
          this.wake();
        }
      }
    } finally {
      await output.close();
    }
  }

  /** Stores all of them, a row at a time as they become ready; `heard` is told how much is done, 0..1. Throws the signal's reason. */
  async store(
    database: Pick<Database, 'insert'>,
    sha256: string,
    heard: (done: number) => void,
    signal?: AbortSignal,
  ): Promise<void> {
    await this.rowAt(0);
    const input = await open(this.path);
    try {
      for (let k = 0; k < this.count; k++) {
        const { level, row, lengths, offset } = await this.rowAt(k);
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
        heard((k + 1) / this.count);
      }
    } finally {
      await input.close();
    }
  }

  /** Waits until a row is ready. */
  private async rowAt(k: number): Promise<PackedRow> {
    while (this.ready.length <= k)
      await Promise.race([new Promise<void>((resolve) => (this.wake = resolve)), this.done]);
    return this.ready[k]!;
  }
}
