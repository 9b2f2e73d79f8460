import path from 'node:path';
import { eq } from 'drizzle-orm';
import { type ArtworkSource, identifyArtwork, openArtwork, takeInArtwork } from '@/server/artwork';
import { artworkShelf } from '@/server/artworks/artworkShelf';
import {
  type LocalArtwork,
  findArtwork,
  isWhole,
  renewArtwork,
  storeArtwork,
} from '@/server/artworks/artworkStore';
import { PackedTiles } from '@/server/artworks/packTiles';
import { files as fileTable } from '@/server/db/schema';
import { Study } from '@/server/study';
import type { TaskRun, Transaction } from './runTask';

/** Artwork that was decoded and looked at, and is not stored yet unless it was before. */
export interface BroughtIn {
  readonly local: Pick<LocalArtwork, 'facts' | 'analysis'>;
  /** Whether it has to be stored. */
  readonly isNew: boolean;
  /** Works with its decoded files, and with a thread that may have seen them before. */
  use<T>(work: (local: LocalArtwork, thread: Study) => Promise<T>): Promise<T>;
  /**
   * Stores it, with the file that it was read from; where it is stored already, that file goes.
   *
   * @param heard told how much is done, 0..1.
   */
  store(transaction: Transaction, fileId: string, heard: (done: number) => void): Promise<void>;
  /** Keeps its decoded files, which are needed next. */
  adopt(): Promise<void>;
  close(): Promise<void>;
}

/**
 * Decodes and analyses a file as artwork, or finds it as it was stored.
 *
 * @param page of a PDF, from 1 on.
 * @param whole whether its analysis must have all that a new job needs.
 */
export async function bringIn(
  run: TaskRun,
  original: string,
  fileName: string,
  page: number | undefined,
  whole: boolean,
): Promise<BroughtIn> {
  const { database, folder, signal } = run;
  const { sha256 } = await identifyArtwork(original, page);
  const known = await findArtwork(database, sha256);
  const dropFile = (transaction: Transaction, fileId: string) =>
    transaction.delete(fileTable).where(eq(fileTable.id, fileId));
  if (known && (!whole || isWhole(known))) {
    return {
      local: known,
      isNew: false,
      use: (work) =>
        artworkShelf.use(database, sha256, async (local) => {
          const thread = new Study(signal);
          try {
            return await work(local, thread);
          } finally {
            thread.close();
          }
        }),
      store: async (transaction, fileId) => void (await dropFile(transaction, fileId)),
      adopt: () => Promise.resolve(),
      close: () => Promise.resolve(),
    };
  }
  // It starts while the artwork is decoded.
  const thread = new Study(signal);
  let source: ArtworkSource | null = null;
  let tiles: PackedTiles | null = null;
  const close = async (): Promise<void> => {
    thread.close();
    await tiles?.done.catch(() => undefined);
    source?.close();
  };
  try {
    await run.progress({ step: 'Decoding the artwork', items: [] });
    const { facts, files } = await takeInArtwork(original, fileName, folder, {
      ...(page && { page }),
      signal,
    });
    source = openArtwork(files);
    // Its tiles are packed while its colours are looked for, which takes one processor.
    if (files.kind === 'raster' && !known)
      tiles = new PackedTiles(path.join(folder, 'tiles.gz'), source, files.levels.length, signal);
    const step = 'Finding its colours';
    await run.progress({ step, items: [] });
    const { analysis, outerMap } = await thread.ask(
      { kind: 'analyse', files, facts },
      undefined,
      (done) => void run.progress({ step, items: [{ name: facts.fileName, done }] }),
    );
    const local: LocalArtwork = { facts, analysis, outerMap, files };
    return {
      local,
      isNew: !known,
      use: (work) => work(local, thread),
      store: async (transaction, fileId, heard) => {
        if (known) {
          // It was decoded before this version could find all that a new job needs.
          await renewArtwork(transaction, local);
          await dropFile(transaction, fileId);
          return;
        }
        const isFirst = await storeArtwork(transaction, { ...local, fileId, tiles }, heard, signal);
        // The same file was dropped twice: the other import was first, and its artwork stands.
        if (!isFirst) await dropFile(transaction, fileId);
      },
      adopt: () => artworkShelf.adopt(local),
      close,
    };
  } catch (thrown) {
    await close();
    throw thrown;
  }
}
