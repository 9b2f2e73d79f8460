import { eq } from 'drizzle-orm';
import { identifyArtwork, openArtwork, takeInArtwork } from '@/server/artwork';
import { artworkShelf } from '@/server/artworks/artworkShelf';
import {
  type LocalArtwork,
  findArtwork,
  isWhole,
  renewArtwork,
  storeArtwork,
} from '@/server/artworks/artworkStore';
import { packTiles } from '@/server/artworks/packTiles';
import { files as fileTable } from '@/server/db/schema';
import { study } from '@/server/study';
import type { TaskRun, Transaction } from './runTask';

/** Artwork that was decoded and looked at, and is not stored yet unless it was before. */
export interface BroughtIn {
  readonly local: Pick<LocalArtwork, 'facts' | 'analysis'>;
  /** Whether it has to be stored. */
  readonly isNew: boolean;
  /** Works with its decoded files. */
  use<T>(work: (local: LocalArtwork) => Promise<T>): Promise<T>;
  /** Resolves when everything is ready to be stored. */
  ready(): Promise<void>;
  /** Stores it, with the file that it was read from; where it is stored already, that file goes. */
  store(transaction: Transaction, fileId: string): Promise<void>;
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
      use: (work) => artworkShelf.use(database, sha256, work),
      ready: () => Promise.resolve(),
      store: async (transaction, fileId) => void (await dropFile(transaction, fileId)),
      adopt: () => Promise.resolve(),
      close: () => Promise.resolve(),
    };
  }
  await run.progress({ step: 'Decoding the artwork', items: [] });
  const { facts, files } = await takeInArtwork(original, fileName, folder, {
    ...(page && { page }),
    signal,
  });
  const source = openArtwork(files);
  // Its tiles are packed while its colours are looked for, which takes one processor.
  const packing =
    files.kind === 'raster' && !known ? packTiles(source, files.levels.length, folder, signal) : null;
  packing?.catch(() => undefined);
  const close = async (): Promise<void> => {
    await packing?.catch(() => undefined);
    source.close();
  };
  try {
    const step = 'Finding its colours';
    await run.progress({ step, items: [] });
    const { analysis, outerMap } = await study(
      { kind: 'analyse', files, facts },
      signal,
      undefined,
      (done) => void run.progress({ step, items: [{ name: facts.fileName, done }] }),
    );
    const local: LocalArtwork = { facts, analysis, outerMap, files };
    return {
      local,
      isNew: !known,
      use: (work) => work(local),
      ready: async () => void (await packing),
      store: async (transaction, fileId) => {
        if (known) {
          // It was decoded before this version could find all that a new job needs.
          await renewArtwork(transaction, local);
          await dropFile(transaction, fileId);
          return;
        }
        const heard = (done: number) =>
          void run.progress({ step: 'Storing the artwork', items: [{ name: facts.fileName, done }] });
        const tiles = await packing;
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
