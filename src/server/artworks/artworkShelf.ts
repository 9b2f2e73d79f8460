import { rmSync } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import type { RasterLevel } from '../artwork';
import type { Reader } from '../db/database';
import { scratchFolder } from '../files/scratch';
import { type LocalArtwork, fetchArtwork } from './artworkStore';

interface Shelved {
  readonly local: Promise<LocalArtwork>;
  readonly folder: string;
  users: number;
}

/**
 * The last few artworks that were brought to the disk: the pictures, the films and the approval of a job come soon after each other. Artwork never
 * changes under its hash. What is in use stays.
 */
export class ArtworkShelf {
  private readonly most: number;
  private readonly fetch: typeof fetchArtwork;
  /** By hash; what was used last stands last. */
  private readonly shelved = new Map<string, Shelved>();
  private root: Promise<string> | null = null;
  private count = 0;

  constructor(most = 3, fetch = fetchArtwork) {
    this.most = most;
    this.fetch = fetch;
  }

  /** Runs work on an artwork's files; they are there as long as it runs. Throws what `fetchArtwork` throws. */
  async use<T>(database: Reader, sha256: string, work: (local: LocalArtwork) => T | Promise<T>): Promise<T> {
    const root = await this.folder();
    const shelved = this.shelved.get(sha256) ?? this.bring(database, sha256, root);
    this.shelved.delete(sha256);
    this.shelved.set(sha256, shelved);
    shelved.users++;
    try {
      return await work(await shelved.local);
    } catch (thrown) {
      // What could not be brought is tried again the next time.
      await shelved.local.catch(() => {
        if (this.shelved.get(sha256) === shelved) this.shelved.delete(sha256);
        return rm(shelved.folder, { recursive: true, force: true });
      });
      throw thrown;
    } finally {
      shelved.users--;
      await this.tidy();
    }
  }

  /** Takes over artwork that lies on the disk already: its files move here. Nothing where it is here, or cannot be moved. */
  async adopt(local: LocalArtwork): Promise<void> {
    const { sha256 } = local.facts;
    if (this.shelved.has(sha256)) return;
    const folder = path.join(await this.folder(), `${sha256}-${++this.count}`);
    const own = await moveArtwork(local, folder).catch(() => null);
    // It may have been brought in the meantime.
    if (!own || this.shelved.has(sha256)) {
      await rm(folder, { recursive: true, force: true });
      return;
    }
    this.shelved.set(sha256, { local: Promise.resolve(own), folder, users: 0 });
    await this.tidy();
  }

  private bring(database: Reader, sha256: string, root: string): Shelved {
    // Its last folder may be on its way out.
    const folder = path.join(root, `${sha256}-${++this.count}`);
    const local = mkdir(folder, { recursive: true }).then(() => this.fetch(database, sha256, folder));
    return { local, folder, users: 0 };
  }

  private folder(): Promise<string> {
    this.root ??= scratchFolder('artworks').then((folder) => {
      process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
      return folder;
    });
    return this.root;
  }

  private async tidy(): Promise<void> {
    for (const [sha256, { users, folder }] of this.shelved) {
      if (this.shelved.size <= this.most) return;
      if (users > 0) continue;
      this.shelved.delete(sha256);
      await rm(folder, { recursive: true, force: true });
    }
  }
}

async function moveArtwork(local: LocalArtwork, folder: string): Promise<LocalArtwork> {
  await mkdir(folder, { recursive: true });
  const move = async (from: string): Promise<string> => {
    const to = path.join(folder, path.basename(from));
    await rename(from, to);
    return to;
  };
  const { files } = local;
  if (files.kind === 'vector') return { ...local, files: { kind: 'vector', path: await move(files.path) } };
  const levels: RasterLevel[] = [];
  for (const level of files.levels) levels.push({ ...level, path: await move(level.path) });
  return { ...local, files: { kind: 'raster', levels } };
}

/** The one of this process. */
export const artworkShelf = new ArtworkShelf();
