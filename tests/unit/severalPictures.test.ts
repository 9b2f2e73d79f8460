/** Files that hold several pictures: the first is printed, and the others are told of. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { checkSheet } from '@/core/checks';
import { notesOfFile, takeInArtwork } from '@/server/artwork';
import { testSheet } from '../testSheet';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-several-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const flat = (background: string) =>
  sharp({ create: { width: 40, height: 30, channels: 3, background } })
    .png()
    .toBuffer();

test.each([
  ['tif', 2],
  ['webp', 3],
  ['tif', 1],
])('a %s of %d pictures', async (type, count) => {
  const pictures = await Promise.all(['#c8382e', '#1f5f9b', '#f2d13a'].slice(0, count).map(flat));
  const file = path.join(folder, `${count}.${type}`);
  const joined = count > 1 ? sharp(pictures, { join: { animated: true } }) : sharp(pictures[0]);
  await (type === 'tif' ? joined.tiff({ compression: 'lzw' }) : joined.webp({ lossless: true })).toFile(file);
  const { facts, files } = await takeInArtwork(
    file,
    path.basename(file),
    mkdtempSync(path.join(folder, 'in-')),
  );
  expect([facts.widthPx, facts.heightPx, facts.pictures]).toEqual([40, 30, count]);
  const level = files.kind === 'raster' ? files.levels[0]! : null;
  expect([...readFileSync(level!.path).subarray(0, 4)]).toEqual([0xc8, 0x38, 0x2e, 255]);
  const told = checkSheet(testSheet({}), notesOfFile(facts)).filter(({ code }) => code === 'first-picture');
  expect(told.map(({ measured }) => measured)).toEqual(count > 1 ? [count] : []);
});
