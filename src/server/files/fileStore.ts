import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { and, asc, eq } from 'drizzle-orm';
import { KerameusError } from '@/core/units';
import type { Database } from '../db/database';
import { filePieces, files } from '../db/schema';

const PIECE = 1 << 20;

type Writer = Pick<Database, 'insert' | 'update'>;

/**
 * Stores a stream in pieces. Run inside a transaction: then a stream that breaks leaves nothing.
 * Throws KerameusError `upload-size` when more comes than allowed.
 */
export async function storeStream(
  database: Writer,
  source: AsyncIterable<Uint8Array>,
  about: { readonly name: string; readonly type: string; readonly limit: number },
): Promise<{ id: string; size: number; sha256: string }> {
  const [row] = await database
    .insert(files)
    .values({ name: about.name, type: about.type, size: 0, sha256: '' })
    .returning({ id: files.id });
  const id = row!.id;
  const hash = createHash('sha256');
  let size = 0;
  let seq = 0;
  let waiting: Uint8Array[] = [];
  let waitingBytes = 0;
  const flush = async (): Promise<void> => {
    if (waitingBytes === 0) return;
    await database.insert(filePieces).values({ fileId: id, seq: seq++, bytes: Buffer.concat(waiting) });
    waiting = [];
    waitingBytes = 0;
  };
  for await (const piece of source) {
    size += piece.length;
    if (size > about.limit) {
      throw new KerameusError({
        code: 'upload-size',
        parameter: 'artwork',
        message: `The file is larger than ${Math.round(about.limit / 1e6)} MB.`,
        remedy: 'Save it with compression, or at 300 dpi at print size.',
      });
    }
    hash.update(piece);
    waiting.push(piece);
    waitingBytes += piece.length;
    if (waitingBytes >= PIECE) await flush();
  }
  await flush();
  const sha256 = hash.digest('hex');
  await database.update(files).set({ size, sha256 }).where(eq(files.id, id));
  return { id, size, sha256 };
}

/** Stores a file of the disk. */
export function storeFile(
  database: Writer,
  path: string,
  about: { readonly name: string; readonly type: string },
): Promise<{ id: string; size: number; sha256: string }> {
  const stream = createReadStream(path, { highWaterMark: PIECE }) as AsyncIterable<Uint8Array>;
  return storeStream(database, stream, { ...about, limit: Number.MAX_SAFE_INTEGER });
}

/** The content of a stored file, piece by piece. */
export async function* readStored(database: Database, fileId: string): AsyncGenerator<Uint8Array> {
  for (let seq = 0; ; seq++) {
    const [piece] = await database
      .select({ bytes: filePieces.bytes })
      .from(filePieces)
      .where(and(eq(filePieces.fileId, fileId), eq(filePieces.seq, seq)))
      .orderBy(asc(filePieces.seq));
    if (!piece) return;
    yield piece.bytes;
  }
}

/** Writes a stored file to the disk. */
export async function materialise(database: Database, fileId: string, path: string): Promise<void> {
  await pipeline(Readable.from(readStored(database, fileId)), createWriteStream(path));
}
