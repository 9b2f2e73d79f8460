import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';

/** A file that goes into an archive. */
export interface ArchiveEntry {
  readonly name: string;
  /** In bytes. */
  readonly size: number;
}

/** Entries carry this time, so that equal files give equal archives. */
const ZIP_TIME = new Date(2000, 0, 1, 0, 0, 0);

type Give = (error: unknown, content: NodeJS.ReadableStream) => void;

/** Begins a zip that is not compressed: films are compressed already. So its size is known before anything of it is there. */
function begin<T extends ArchiveEntry>(
  entries: readonly T[],
  open: (entry: T, give: Give, archive: Readable) => void,
) {
  const zip = new ZipFile();
  const archive = zip.outputStream as Readable;
  zip.once('error', (error) => archive.destroy(error as Error));
  for (const entry of entries) {
    const options = { size: entry.size, compress: false, mtime: ZIP_TIME, mode: 0o100644 };
    zip.addReadStreamLazy(entry.name, options, (give) => open(entry, give, archive));
  }
  let size = -1;
  const known = (total: number): void => {
    size = total;
  };
  // The types leave out what the callback is given.
  zip.end({ forceZip64Format: false, comment: '' }, known as () => void);
  return { archive, size };
}

/** How many bytes an archive of some files has. */
export function archiveSize(entries: readonly ArchiveEntry[]): number {
  return begin(entries, () => undefined).size;
}

/**
 * An archive of some files, made while it is read.
 *
 * @param content gives what a file holds, when it is its turn; what it throws, the stream does.
 */
export function archiveOf<T extends ArchiveEntry>(
  entries: readonly T[],
  content: (entry: T) => AsyncIterable<Uint8Array>,
): Readable {
  // One after the other is read.
  let source = null as Readable | null;
  const { archive } = begin(entries, (entry, give, into) => {
    source = Readable.from(content(entry));
    source.once('error', (error) => into.destroy(error));
    give(null, source);
  });
  archive.once('close', () => source?.destroy());
  return archive;
}
