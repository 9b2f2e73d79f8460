import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { filmSize, gangFilms, layoutSheet } from '@/core/film';
import { type JobSheet, flatLayer, parseJobSheet, withLayer } from '@/core/sheet';
import { version9 } from '../olderSheet';
import { outcome, tool } from './commandLine';

// Turned films, rolls, films that share a sheet, and plates for exposing without film: read back by libvips and poppler, programs that
// the project did not write.

const DPI = 300;
const IN = 25.4;
let folder: string;
let art: string;

/** Not alike from any side: a disc that fades, a block, a small block in one corner. */
const ART = `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="3in" viewBox="0 0 400 300">
  <defs><radialGradient id="g"><stop offset="0" stop-color="#f0b030"/><stop offset="1" stop-color="#f0b030" stop-opacity="0"/></radialGradient></defs>
  <circle cx="120" cy="150" r="110" fill="url(#g)"/>
  <rect x="250" y="40" width="120" height="100" fill="#d8412f"/>
  <rect x="370" y="270" width="20" height="20" fill="#f0b030"/>
</svg>`;

const run = (...args: string[]) => outcome(args);

function make(name: string, ...options: string[]): string {
  const out = path.join(folder, name);
  const result = run(
    ...['separate', art, '--width', '4in', '--garment', '#101820', '--out', out, '--dpi', String(DPI)],
    ...['--date', '2026-03-14', ...options],
  );
  expect(result).toEqual({ status: 0, err: '' });
  return out;
}

const sheetOf = (out: string) => parseJobSheet(JSON.parse(readFileSync(path.join(out, 'job.json'), 'utf8')));
const withFilm = (sheet: JobSheet, film: Partial<JobSheet['film']>): JobSheet => ({
  ...sheet,
  film: { ...sheet.film, ...film },
});

/** Pixels by libvips: one byte each, 0 = black. */
const pixels = (picture: Sharp) => picture.toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
const black = (data: Buffer) => data.reduce((sum, value) => sum + (value === 0 ? 1 : 0), 0);

const FILM = '02-yellow.tif';
let plain: string;

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-films-'));
  art = path.join(folder, 'art.svg');
  writeFileSync(art, ART);
  plain = make('plain', '--sheet', '8.5x11in', '--marks', 'corners,crop,wedge', '--bleed', '3mm');
}, 120_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('a turned film is the other one turned a quarter clockwise, to the device pixel', async () => {
  const turned = make(
    'turned',
    ...['--sheet', '11x8.5in', '--turned', 'yes', '--marks', 'corners,crop,wedge', '--bleed', '3mm'],
    ...['--formats', 'pdf,tiff,png,pdf-inks'],
  );
  const expected = await pixels(sharp(path.join(plain, FILM)).rotate(90));
  const found = await pixels(sharp(path.join(turned, FILM)));
  expect([found.info.width, found.info.height]).toEqual([11 * DPI, 8.5 * DPI]);
  expect(Buffer.compare(found.data, expected.data)).toBe(0);
  const png = await pixels(sharp(path.join(turned, FILM.replace('.tif', '.png'))));
  expect(Buffer.compare(png.data, expected.data)).toBe(0);
  for (const document of ['films.pdf', 'inks.pdf']) {
    expect(tool('pdfinfo', path.join(turned, document))).toMatch(/Page size:\s+792 x 612 pts/);
  }
}, 120_000);

test('tones for a RIP are turned with the film: Ghostscript sees the same plates', async () => {
  const inks = async (name: string, sheet: string, turned: string) => {
    const out = make(name, '--sheet', sheet, '--turned', turned, '--formats', 'pdf-inks');
    const target = path.join(folder, `${name}.tif`);
    const options = ['-q', '-dNOPAUSE', '-dBATCH', '-sDEVICE=tiffsep', '-r50', `-sOutputFile=${target}`];
    tool('gs', ...options, path.join(out, 'inks.pdf'));
    return sharp(path.join(folder, `${name}(Red).tif`));
  };
  const upright = await pixels((await inks('upright', '8.5x11in', 'no')).rotate(90));
  const turned = await pixels(await inks('lying', '11x8.5in', 'yes'));
  expect([turned.info.width, turned.info.height]).toEqual([upright.info.width, upright.info.height]);
  // Edges may fall on another side of a pixel.
  let differ = 0;
  upright.data.forEach((value, k) => (differ += Math.abs(value - turned.data[k]!) > 128 ? 1 : 0));
  expect(differ / upright.data.length).toBeLessThan(0.003);
  expect(black(upright.data)).toBeGreaterThan(50 * 50 * 0.5);
}, 120_000);

test('films that share a roll are the films, each at its place, with cut marks outside of them', async () => {
  const out = make(
    'gang',
    ...['--sheet', '8.5x11in', '--marks', 'corners,crop,wedge', '--bleed', '3mm', '--gang', '24in'],
    ...['--formats', 'tiff,gang-tiff,gang-pdf'],
  );
  const sheet = sheetOf(out);
  const size = filmSize(layoutSheet(sheet));
  const [gang] = gangFilms(size, 3, sheet.film) as [ReturnType<typeof gangFilms>[number]];
  // Two beside each other on 24 in, the third below: 6 mm round each (common practice, no source).
  expect(gang.heightMm).toBe(Math.ceil(2 * 11 * IN + 3 * 6));
  const picture = path.join(out, 'gang-1.tif');
  const films = ['01-base-white', '02-yellow', '03-red'];
  let inked = 0;
  for (const [k, name] of films.entries()) {
    const film = await pixels(sharp(path.join(out, `${name}.tif`)));
    const { xPx, yPx } = gang.places[k]!;
    const place = { left: xPx, top: yPx, width: size.widthPx, height: size.heightPx };
    const found = await pixels(sharp(picture).extract(place));
    expect(Buffer.compare(found.data, film.data)).toBe(0);
    inked += black(film.data);
  }
  const whole = await pixels(sharp(picture));
  expect(whole.info.width).toBe(24 * DPI);
  // Eight lines of 4 mm at each film, of the marks' own width.
  const line = Math.round((sheet.film.marks.lineMm * DPI) / IN) * Math.round((4 * DPI) / IN);
  const marks = black(whole.data) - inked;
  expect(marks).toBeGreaterThan(films.length * 8 * line * 0.6);
  expect(marks).toBeLessThanOrEqual(films.length * 8 * line);
  const info = tool('pdfinfo', path.join(out, 'gang.pdf'));
  expect(info).toMatch(/Pages:\s+1/);
  const [, width, height] = /Page size:\s+([\d.]+) x ([\d.]+) pts/.exec(info)!;
  expect(Number(width)).toBeCloseTo(24 * 72, 1);
  expect(Number(height)).toBeCloseTo((gang.heightMm / IN) * 72, 1);
}, 120_000);

test('sheets that films share hold as many as fit, and one that fits none is refused by how much', () => {
  const sheet = sheetOf(plain);
  const size = filmSize(layoutSheet(sheet));
  const two = gangFilms(size, 5, withFilm(sheet, { gang: { widthMm: 24 * IN, heightMm: 12 * IN } }).film);
  expect(two.map(({ places }) => places.map(({ film }) => film))).toEqual([[0, 1], [2, 3], [4]]);
  for (const { places, widthPx, heightPx } of two) {
    for (const { xPx, yPx } of places) {
      expect(xPx % 8).toBe(0);
      expect(xPx + size.widthPx).toBeLessThan(widthPx);
      expect(yPx + size.heightPx).toBeLessThan(heightPx);
    }
  }
  const narrow = withFilm(sheet, { gang: { widthMm: 8.5 * IN + 2, heightMm: null } });
  // 6 mm on each side are wanted, 2 in all are there.
  expect(() => gangFilms(size, 3, narrow.film)).toThrow(/\(10 mm\) too large for the roll/);
});

test('on a roll a film takes what it needs, and nothing runs into anything', () => {
  const sheet = withFilm(sheetOf(plain), { sheetWidthMm: 13 * IN, sheetHeightMm: null });
  const lengths = [
    { register: false, centre: false, crop: false, bleedMm: 0, wedge: false },
    { register: true, place: 'three' as const },
    { register: true, place: 'sides' as const, wedge: false },
    { wedge: true },
  ].map((marks) => {
    const layout = layoutSheet(withFilm(sheet, { marks: { ...sheet.film.marks, place: 'auto', ...marks } }));
    const { print, heightMm } = layout;
    expect(print.y + print.height).toBeLessThan(heightMm);
    for (const { yMm } of layout.marks) {
      expect(yMm - 5).toBeGreaterThanOrEqual(2 - 1e-6);
      expect(yMm + 5).toBeLessThanOrEqual(heightMm - 2 + 1e-6);
    }
    return heightMm;
  });
  expect(lengths[0]).toBeLessThan(lengths[1]!);
  expect(lengths[0]).toBeGreaterThan(3 * IN);
  expect(lengths[2]).toBeGreaterThan(3 * IN + 2 * IN);
  // Turned, its width runs along the roll.
  const turned = layoutSheet(
    withFilm(sheet, { turned: true, marks: { ...sheet.film.marks, place: 'auto' } }),
  );
  expect(filmSize(turned).widthMm).toBeCloseTo(13 * IN, 6);
  expect(filmSize(turned).heightMm).toBeGreaterThan(4 * IN);
});

test('a print that fits only the other way round is refused with by how much, and told to be turned', () => {
  const sheet = withFilm(sheetOf(plain), { sheetWidthMm: 3.5 * IN, sheetHeightMm: 11 * IN });
  const refusal = (() => {
    try {
      layoutSheet(sheet);
    } catch (thrown) {
      return thrown as { message: string; remedy: string };
    }
    throw new Error('not refused');
  })();
  expect(refusal.message).toContain('in width');
  expect(refusal.message).not.toContain('in height');
  expect(refusal.remedy).toContain('Turn the film');
  const marks = { ...sheet.film.marks, register: false, crop: false, bleedMm: 0, wedge: false };
  expect(() => layoutSheet(withFilm(sheet, { turned: true, marks }))).not.toThrow();
});

test('a plate for exposing without film is the film with nothing on it, positive and right-reading', async () => {
  const out = make(
    'direct',
    ...[
      '--sheet',
      '8.5x11in',
      '--polarity',
      'negative',
      '--emulsion',
      'down',
      '--formats',
      'tiff,tiff-screen',
    ],
  );
  const sheet = sheetOf(out);
  const bare = withFilm(sheet, {
    negative: false,
    emulsion: 'up',
    label: false,
    formats: ['tiff'],
    marks: { ...sheet.film.marks, register: false, crop: false, centre: false, wedge: false },
  });
  writeFileSync(path.join(out, 'bare.json'), JSON.stringify(bare));
  const target = path.join(folder, 'bare');
  expect(run('films', path.join(out, 'bare.json'), '--out', target)).toEqual({ status: 0, err: '' });
  for (const name of ['01-base-white', '02-yellow', '03-red']) {
    const direct = await pixels(sharp(path.join(out, `${name}.screen.tif`)));
    const film = await pixels(sharp(path.join(target, `${name}.tif`)));
    expect(black(film.data)).toBeGreaterThan(1000);
    expect(Buffer.compare(direct.data, film.data)).toBe(0);
  }
}, 120_000);

test('the middle of the pallet and the bleed stand on the film where they are meant', async () => {
  const out = make('pallet', '--sheet', '8.5x11in', '--marks', 'pallet', '--bleed', '3mm');
  const film = path.join(out, FILM);
  const px = (mm: number) => Math.round((mm * DPI) / IN);
  const inked = async (xMm: number, yMm: number, widthMm: number, heightMm: number) =>
    black(
      (
        await pixels(
          sharp(film).extract({ left: px(xMm), top: px(yMm), width: px(widthMm), height: px(heightMm) }),
        )
      ).data,
    );
  const thick = Math.round((0.75 / 72) * DPI);
  // At the sheet's middle, 1 to 14 mm from its upper and its lower edge.
  expect(await inked(4.25 * IN - 1, 0, 2, 20)).toBe(thick * (px(14) - px(1)));
  expect(await inked(4.25 * IN - 1, 11 * IN - 20, 2, 20)).toBeGreaterThan(thick * px(12.9));
  // The print's corner is 2.25 in from the left and 4 in from the top; the bleed lies 3 mm outside, its lines 2 mm beyond that.
  const [left, top] = [2.25 * IN - 3, 4 * IN - 3];
  expect(await inked(left - 0.5, top - 7.5, 1, 6)).toBe(thick * px(5));
  expect(await inked(left - 7.5, top - 0.5, 6, 1)).toBe(thick * px(5));
}, 120_000);

test('a job sheet of version 4 goes on as it was: one film to a sheet, not turned', () => {
  const sheet = sheetOf(plain);
  const { turned, gang, density, printer, ...film } = sheet.film;
  const { bleedMm, pallet, ...marks } = film.marks;
  expect([turned, density, printer, bleedMm, pallet]).toEqual([false, null, null, 3, false]);
  const old = { ...version9(sheet), version: 4, film: { ...film, marks } };
  expect(parseJobSheet(old)).toEqual({
    ...withLayer(sheet, { ...flatLayer(sheet)!, transitions: null }),
    film: { ...sheet.film, gang, marks: { ...sheet.film.marks, bleedMm: 0 } },
  });
});
