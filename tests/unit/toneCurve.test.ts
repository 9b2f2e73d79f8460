/** Tone curves from the command line to films, counted by another program's eyes. */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { labelLines } from '@/core/film';
import { type JobSheet, flatLayer, paletteOf, parseJobSheet, withLayer, withPalette } from '@/core/sheet';
import { version9 } from '../olderSheet';
import { outcome, separate } from './commandLine';
import { drawing, folder } from './separatedArtwork';

// Above solid, below the same red at half its opacity, which prints as dots.
const ART = drawing(
  '<rect x="10" y="10" width="80" height="40" fill="#c81e1e"/><rect x="10" y="55" width="80" height="35" fill="#c81e1e" fill-opacity=".5"/>',
);
const CURVE = [
  [0, 0],
  [0.5, 0.2],
  [1, 0.8],
];

function made(name: string, options: Readonly<Record<string, string>>) {
  const art = path.join(folder, 'curve.svg');
  writeFileSync(art, ART);
  const out = path.join(folder, name);
  const { status, err } = separate(art, out, {
    width: '2in',
    garment: '#101012',
    inks: 'red=#c81e1e',
    dpi: '720',
    formats: 'tiff',
    ...options,
  });
  return { status, err, out };
}

/** Share of black in a part of a film, by libvips. */
async function blackOf(out: string, top: number, height: number): Promise<number> {
  const image = sharp(path.join(out, '02-red.tif'), { limitInputPixels: false });
  const { width, height: rows } = await image.metadata();
  const sheet = JSON.parse(readFileSync(path.join(out, 'job.json'), 'utf8')) as JobSheet;
  const px = (mm: number) => Math.round((mm / 25.4) * sheet.film.dpi);
  const { widthMm, heightMm } = sheet.print;
  const left = Math.round((width - px(widthMm)) / 2);
  const above = Math.round((rows - px(heightMm)) / 2);
  const part = image.extract({
    left: left + px(0.2 * widthMm),
    top: above + px(top * heightMm),
    width: px(0.6 * widthMm),
    height: px(height * heightMm),
  });
  const { data } = await part.greyscale().raw().toBuffer({ resolveWithObject: true });
  return data.reduce((sum, code) => sum + (code < 128 ? 1 : 0), 0) / data.length;
}

test('films have the coverage that the curve says, where they were solid too, and the base stays as it was', async () => {
  const list = CURVE.map(([x, y]) => `${x! * 100}=${y! * 100}`).join(' ');
  const plain = made('plain', { gain: '0%' });
  const curved = made('curved', { gain: '0%', curve: `red: ${list}` });
  expect([plain.status, curved.status]).toEqual([0, 0]);
  expect(await blackOf(plain.out, 0.2, 0.2)).toBe(1);
  // Largest dots of 90 % and fewer openings keep the mean: within what the middle of a film of 45 lpi scatters.
  expect(Math.abs((await blackOf(curved.out, 0.2, 0.2)) - 0.8)).toBeLessThan(0.01);
  const films = ['01-base-white.tif'].map((file) => readFileSync(path.join(plain.out, file)));
  expect(readFileSync(path.join(curved.out, '01-base-white.tif')).equals(films[0]!)).toBe(true);
  const { plates } = JSON.parse(readFileSync(path.join(curved.out, 'report.json'), 'utf8')) as {
    plates: { name: string; coverage: number }[];
  };
  const tint = await blackOf(curved.out, 0.6, 0.25);
  const red = plates.find(({ name }) => name === 'red')!.coverage;
  // 80 x 40 and 80 x 35 of 100 x 100.
  expect(red).toBeCloseTo(0.8 * 0.4 * 0.8 + tint * 0.8 * 0.35, 2);
  // The kept plane says the same: 204 of 255 where it was solid.
  const plane = await sharp(path.join(curved.out, 'plates', '02-red.png'))
    .greyscale()
    .raw()
    .toBuffer();
  const { width } = await sharp(path.join(curved.out, 'plates', '02-red.png')).metadata();
  expect(Math.abs(plane[Math.round(0.3 * width) * width + (width >> 1)]! - 204)).toBeLessThanOrEqual(1);
});

test('a label names the screen of solids that a curve makes dots; a plate without dots prints as if it had no curve', () => {
  const { out } = made('solids', { curve: 'red: 0=0 100=30' });
  const sheet = JSON.parse(readFileSync(path.join(out, 'job.json'), 'utf8')) as JobSheet;
  const [, red] = sheet.plates;
  const solid = withPalette(
    sheet,
    paletteOf(sheet).map((entry) => ({ ...entry, tint: 1 })),
  );
  const flat = withLayer(solid, { ...flatLayer(solid)!, transitions: [] });
  expect(labelLines(flat, red!, 2)[1]).toContain('lpi');
  expect(labelLines(flat, { ...red!, stages: [] }, 2)[1]).toContain('solid');
  const filmOf = (name: string, stages: JobSheet['plates'][number]['stages']) => {
    const file = path.join(out, `${name}.json`);
    const plates = sheet.plates.map((plate) => ({
      ...plate,
      stages: plate.id === red!.id ? stages : [],
      screen: { ...plate.screen, screening: 'solid' },
    }));
    writeFileSync(file, JSON.stringify({ ...sheet, plates }));
    expect(outcome(['films', file, '--out', path.join(folder, name)]).status).toBe(0);
    return readFileSync(path.join(folder, name, '02-red.tif'));
  };
  expect(filmOf('with', red!.stages).equals(filmOf('without', []))).toBe(true);
});

test.each([
  ['red 0=0 100=90', /plate of this job/],
  ['blue: 0=0 100=90', /names "blue".*Base white, red/],
  ['red: 0=0', /two points/],
  ['red: 0=50 100=40', /must not fall/],
  ['red: 0=0 50=x', /"50=x" is not a pair/],
])('--curve "%s" is refused in words', (curve, message) => {
  const { status, err } = made('refused', { curve });
  expect(status).toBe(2);
  expect(err.trim().split('\n')).toHaveLength(1);
  expect(err).toMatch(message);
});

test('a job sheet of version 6 has no curves; one with a stage that nobody knows is refused by its name', () => {
  const { out } = made('sheet', {});
  const sheet = JSON.parse(readFileSync(path.join(out, 'job.json'), 'utf8')) as JobSheet;
  const old = {
    ...version9(sheet),
    version: 6,
    plates: sheet.plates.map(({ stages: _stages, ...plate }) => plate),
  };
  expect(parseJobSheet(old)).toEqual(sheet);
  const unknown = {
    ...sheet,
    plates: sheet.plates.map((plate) => ({ ...plate, stages: [{ kind: 'sparkle' }] })),
  };
  expect(() => parseJobSheet(unknown)).toThrow(/plates\.0\.stages\.0\.kind/);
});
