import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { and, asc, eq, sql } from 'drizzle-orm';
import { KerameusError } from '@/core/units';
import type { Database, Reader } from '../db/database';
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
    const bytes =
      waiting.length === 1
        ? Buffer.from(waiting[0]!.buffer, waiting[0]!.byteOffset, waitingBytes)
        : Buffer.concat(waiting);
    await database.insert(filePieces).values({ fileId: id, seq: seq++, bytes });
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
  signal?: AbortSignal,
): Promise<{ id: string; size: number; sha256: string }> {
  return storeStream(database, piecesOf(path, signal), { ...about, limit: Number.MAX_SAFE_INTEGER });
}

/**
 * A file in pieces, all but the last of `PIECE` bytes. They lie in the same memory one after another: a megabyte anew for each would have
 * the collector run for every other one.
 */
async function* piecesOf(path: string, signal?: AbortSignal): AsyncGenerator<Uint8Array> {
  const handle = await open(path);
  try {
    const room = Buffer.allocUnsafe(PIECE);
    for (let filled = PIECE; filled === PIECE;) {
      signal?.throwIfAborted();
      filled = 0;
      while (filled < PIECE) {
        const { bytesRead } = await handle.read(room, filled, PIECE - filled, null);
        if (bytesRead === 0) break;
        filled += bytesRead;
      }
      if (filled > 0) yield room.subarray(0, filled);
    }
  } finally {
    await handle.close();
  }
}

/** The content of a stored file, piece by piece. */
export async function* readStored(database: Reader, fileId: string): AsyncGenerator<Uint8Array> {
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

/** Stores a file once more, under an id of its own; run inside a transaction. */
export async function copyStored(
  database: Writer & Pick<Database, 'execute'>,
  file: typeof files.$inferSelect,
): Promise<string> {
  const { name, type, size, sha256 } = file;
  const [row] = await database.insert(files).values({ name, type, size, sha256 }).returning({ id: files.id });
  await database.execute(
    sql`insert into file_pieces (file_id, seq, bytes) select ${row!.id}, seq, bytes from file_pieces where file_id = ${file.id}`,
  );
  return row!.id;
}

/** Writes a stored file to the disk. */
export async function materialise(database: Reader, fileId: string, path: string): Promise<void> {
  await pipeline(Readable.from(readStored(database, fileId)), createWriteStream(path));
}
