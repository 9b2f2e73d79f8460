import { createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** Writes a file that has its name only when it is whole. */
export async function writeWhole(
  target: string,
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array> | Readable,
): Promise<void> {
  const part = `${target}.part`;
  try {
    await pipeline(pieces instanceof Readable ? pieces : Readable.from(pieces), createWriteStream(part));
    await rename(part, target);
  } catch (thrown) {
    await rm(part, { force: true });
    throw thrown;
  }
}
