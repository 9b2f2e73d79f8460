import { mkdirSync, readFileSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import path from 'node:path';
import { type ThresholdTile, type TileStore, ThresholdTiles } from '@/core/screening';

/** Part of every key: to be raised when tiles come out otherwise for the same geometry. */
const TILE_VERSION = 2;

/** Tiles have two megabytes each; the oldest ones go. */
const MOST_FILES = 100;

type Facts = Omit<ThresholdTile, 'thresholds'>;

/**
 * Threshold tiles in files: building one takes up to two seconds, and shops use few screens. Each file holds its facts and a sum over
 * the whole, so that a damaged one is built anew; where the folder cannot be written, tiles are not kept.
 */
class TileFiles implements TileStore {
  private readonly folder: string;

  constructor(folder: string) {
    this.folder = folder;
  }

  private fileOf(key: string): string {
    return path.join(this.folder, `${TILE_VERSION}/${key}.tile`.replace(/[^\w.-]/g, '_'));
  }

  read(key: string): ThresholdTile | null {
    try {
      const bytes = readFileSync(this.fileOf(key));
      const headEnd = bytes.indexOf(10);
      const { sum, ...facts } = JSON.parse(bytes.toString('latin1', 0, headEnd)) as Facts & { sum: number };
      const values = bytes.subarray(headEnd + 1);
      const thresholds = new Uint16Array(values.length / 2);
      new Uint8Array(thresholds.buffer).set(values);
      return sumOf(facts, thresholds) === sum ? { ...facts, thresholds } : null;
    } catch {
      return null;
    }
  }

  write(key: string, { thresholds, ...facts }: ThresholdTile): void {
    try {
      mkdirSync(this.folder, { recursive: true });
      const values = Buffer.from(thresholds.buffer, thresholds.byteOffset, thresholds.byteLength);
      const head = `${JSON.stringify({ ...facts, sum: sumOf(facts, thresholds) })}\n`;
      // Under a name of its own first, so that no other process reads half of it.
      const target = this.fileOf(key);
      const part = `${target}.${process.pid}.${Math.random().toString(36).slice(2)}`;
      writeFileSync(part, Buffer.concat([Buffer.from(head, 'latin1'), values]));
      renameSync(part, target);
      this.dropOldest();
    } catch {
      // Kept or not: the tile is there.
    }
  }

  private dropOldest(): void {
    const files = readdirSync(this.folder).map((name) => path.join(this.folder, name));
    if (files.length <= MOST_FILES) return;
    const byAge = files.map((file) => ({ file, at: statSync(file).mtimeMs })).sort((p, q) => p.at - q.at);
    for (const { file } of byAge.slice(0, files.length - MOST_FILES)) rmSync(file, { force: true });
  }
}

/** After FNV-1a (Fowler, Noll and Vo), 32 bits, two thresholds at a time instead of a byte: for damage, not for malice, and quickly had. */
function sumOf(facts: Facts, thresholds: Uint16Array): number {
  const { length, rows, stride, shift, wrap, lpi, angleDeg } = facts;
  const told = JSON.stringify([length, rows, stride, shift, wrap, lpi, angleDeg]);
  let sum = 0x811c9dc5;
  for (let k = 0; k < told.length; k++) sum = Math.imul(sum ^ told.charCodeAt(k), 0x01000193);
  const pairs = new Uint32Array(thresholds.buffer, thresholds.byteOffset, thresholds.length >> 1);
  for (let k = 0; k < pairs.length; k++) sum = Math.imul(sum ^ pairs[k]!, 0x01000193);
  if (thresholds.length & 1) sum = Math.imul(sum ^ thresholds[thresholds.length - 1]!, 0x01000193);
  return sum >>> 0;
}

/** Tiles that are kept in `KERAMEUS_CACHE`, or where this user's programs keep what can be made again. */
export function keptTiles(): ThresholdTiles {
  const home = process.env.XDG_CACHE_HOME ?? path.join(homedir(), '.cache');
  return new ThresholdTiles(new TileFiles(process.env.KERAMEUS_CACHE ?? path.join(home, 'kerameus')));
}
