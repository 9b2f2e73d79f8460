import { existsSync, readFileSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Database } from '../db/database';
import { ArtworkShelf } from './artworkShelf';
import type { LocalArtwork } from './artworkStore';

const database = {} as Database;

/** A shelf for two artworks that counts what it brings; artwork called `gone` cannot be brought the first time. */
function makeShelf() {
  const brought: string[] = [];
  const shelf = new ArtworkShelf(2, async (_, sha256, folder) => {
    brought.push(sha256);
    if (sha256 === 'gone' && brought.filter((each) => each === 'gone').length === 1) {
      throw new Error('The database is away.');
    }
    const file = path.join(folder, 'artwork.svg');
    await writeFile(file, sha256);
    return { files: { kind: 'vector', path: file } } as LocalArtwork;
  });
  return { shelf, brought };
}

const pathOf = ({ files }: LocalArtwork) => (files.kind === 'vector' ? files.path : '');

test('artwork is brought once, also for two that ask together, and the ones used last stay', async () => {
  const { shelf, brought } = makeShelf();
  const [one, same] = await Promise.all([shelf.use(database, 'a', pathOf), shelf.use(database, 'a', pathOf)]);
  expect(same).toBe(one);
  await shelf.use(database, 'b', pathOf);
  await shelf.use(database, 'a', pathOf);
  const third = await shelf.use(database, 'c', pathOf);
  expect(brought).toEqual(['a', 'b', 'c']);
  expect([one, third].map((each) => existsSync(each))).toEqual([true, true]);
  await shelf.use(database, 'b', pathOf);
  expect(brought).toEqual(['a', 'b', 'c', 'b']);
  expect(existsSync(one)).toBe(false);
});

test('what is in use stays, however much else comes', async () => {
  const { shelf, brought } = makeShelf();
  await shelf.use(database, 'a', async (local) => {
    for (const other of ['b', 'c', 'd']) await shelf.use(database, other, pathOf);
    expect(existsSync(pathOf(local))).toBe(true);
  });
  await shelf.use(database, 'a', pathOf);
  expect(brought.filter((each) => each === 'a')).toHaveLength(1);
});

test('artwork that could not be brought is tried again; work that fails costs nothing', async () => {
  const { shelf, brought } = makeShelf();
  await expect(shelf.use(database, 'gone', pathOf)).rejects.toThrow('The database is away.');
  await shelf.use(database, 'gone', pathOf);
  const fails = () => Promise.reject(new Error('Cancelled.'));
  await expect(shelf.use(database, 'gone', fails)).rejects.toThrow('Cancelled.');
  await shelf.use(database, 'gone', pathOf);
  expect(brought).toEqual(['gone', 'gone']);
});

test('artwork that lies on the disk already is taken over and is not brought', async () => {
  const { shelf, brought } = makeShelf();
  const folder = await mkdtemp(path.join(tmpdir(), 'shelf-'));
  const file = path.join(folder, 'original');
  await writeFile(file, 'drawing');
  const facts = { sha256: 'a' } as LocalArtwork['facts'];
  await shelf.adopt({ facts, files: { kind: 'vector', path: file } } as LocalArtwork);
  const kept = await shelf.use(database, 'a', pathOf);
  expect([brought, readFileSync(kept, 'utf8'), existsSync(file)]).toEqual([[], 'drawing', false]);
  // What cannot be moved is brought when it is asked for.
  await shelf.adopt({ facts: { sha256: 'b' }, files: { kind: 'vector', path: file } } as LocalArtwork);
  await shelf.use(database, 'b', pathOf);
  expect(brought).toEqual(['b']);
  await rm(folder, { recursive: true });
});
