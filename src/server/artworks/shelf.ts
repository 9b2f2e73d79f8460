import { rmSync } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import path from 'node:path';
import type { Reader } from '../db/database';
import { scratchFolder } from '../files/scratch';

interface Shelved<T> {
  readonly local: Promise<T>;
  readonly folder: string;
  users: number;
}

/** The last few things that were brought to the disk from the database, by the hash under which they never change. What is in use stays. */
export class Shelf<T> {
  private readonly most: number;
  private readonly fetch: (database: Reader, sha256: string, folder: string) => Promise<T>;
  /** By hash; what was used last stands last. */
  private readonly shelved = new Map<string, Shelved<T>>();
  private root: Promise<string> | null = null;
  private count = 0;

  /** @param fetch brings a thing into a folder of its own. */
  constructor(most: number, fetch: (database: Reader, sha256: string, folder: string) => Promise<T>) {
    this.most = most;
    this.fetch = fetch;
  }

  /** Runs work on a thing's files; they are there as long as it runs. Throws what `fetch` throws. */
  async use<R>(database: Reader, sha256: string, work: (local: T) => R | Promise<R>): Promise<R> {
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

  /** Takes over what lies on the disk already. Nothing where it is here, or cannot be moved. */
  protected async take(sha256: string, move: (folder: string) => Promise<T>): Promise<void> {
    if (this.shelved.has(sha256)) return;
    const folder = path.join(await this.folder(), `${sha256}-${++this.count}`);
    const own = await move(folder).catch(() => null);
    // It may have been brought in the meantime.
    if (!own || this.shelved.has(sha256)) {
      await rm(folder, { recursive: true, force: true });
      return;
    }
    this.shelved.set(sha256, { local: Promise.resolve(own), folder, users: 0 });
    await this.tidy();
  }

  private bring(database: Reader, sha256: string, root: string): Shelved<T> {
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
