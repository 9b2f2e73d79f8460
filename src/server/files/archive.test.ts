import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { archiveOf, archiveSize } from './archive';

const files = [
  { name: '01-base-white.tif', bytes: Buffer.from('II*\0 some film') },
  { name: 'leere Datei.txt', bytes: Buffer.alloc(0) },
  { name: '02-rosé.tif', bytes: Buffer.alloc(300_000, 'film ') },
].map((file) => ({ ...file, size: file.bytes.length }));

/** The content in pieces, as a database gives it. */
async function* pieces({ bytes }: { readonly bytes: Buffer }): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += 70_000) yield bytes.subarray(at, at + 70_000);
}

test("Python's zipfile finds every file in an archive, whole and in order", async () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'archive-'));
  try {
    const target = path.join(folder, 'films.zip');
    writeFileSync(target, await buffer(archiveOf(files, pieces)));
    const script =
      'import sys, zipfile, json, hashlib\n' +
      'z = zipfile.ZipFile(sys.argv[1])\n' +
      'assert z.testzip() is None\n' +
      'print(json.dumps([[i.filename, hashlib.sha256(z.read(i)).hexdigest()] for i in z.infolist()]))';
    const found = JSON.parse(execFileSync('python3', ['-c', script, target], { encoding: 'utf8' }));
    const wanted = files.map(({ name, bytes }) => [name, createHash('sha256').update(bytes).digest('hex')]);
    expect(found).toEqual(wanted);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('the size of an archive is told before it is made, and equal files give equal archives', async () => {
  const [one, two] = await Promise.all([1, 2].map(() => buffer(archiveOf(files, pieces))));
  expect(archiveSize(files)).toBe(one!.length);
  expect(Buffer.compare(one!, two!)).toBe(0);
});

test('however many files an archive has, no more listens to it than with one', async () => {
  const listening: number[] = [];
  const many = Array.from({ length: 40 }, (_, k) => ({
    name: `${k}.tif`,
    bytes: Buffer.alloc(k + 1, 'x'),
    size: k + 1,
  }));
  const archive: Readable = archiveOf(many, async function* (entry) {
    // Begun when it is read, which is later.
    await Promise.resolve();
    listening.push(archive.listenerCount('close'));
    yield* pieces(entry);
  });
  const bytes = await buffer(archive);
  expect(listening).toHaveLength(40);
  expect(Math.max(...listening)).toBe(listening[0]);
  // The last record of a zip tells how many files there are (APPNOTE.TXT 4.3.16).
  expect(bytes.readUInt16LE(bytes.length - 12)).toBe(40);
});

test('what a file throws ends the archive, and what is asked for no more is let go of', async () => {
  const broken = new Error('The database is away.');
  await expect(
    buffer(
      archiveOf(files, async function* () {
        yield new Uint8Array(1);
        throw broken;
      }),
    ),
  ).rejects.toBe(broken);
  let ended = false;
  const archive = archiveOf(files, async function* () {
    try {
      for (;;) yield new Uint8Array(1);
    } finally {
      ended = true;
    }
  });
  await new Promise((resolve) => archive.once('data', resolve));
  archive.destroy();
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(ended).toBe(true);
});
