/** Pages of PDFs as artwork, held to what Ghostscript draws of them (a program that shares no code with what reads them here). */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { BlendMode, PDFDocument, StandardFonts, degrees, rgb } from 'pdf-lib';
import sharp from 'sharp';
import { checkSheet } from '@/core/checks';
import { artworkFor, identifyArtwork, notesOfFile, openArtwork, takeInArtwork } from '@/server/artwork';
import { withBlendModes } from '@/server/pdf/pdfPages';
import { pdfPage, pdfStream } from '../hostile/pdfFile';
import { testSheet } from '../testSheet';

const QUIET = ['-q', '-dSAFER', '-dBATCH', '-dNOPAUSE'];

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-pdf-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function write(name: string, bytes: Uint8Array): string {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return file;
}

const taken = (file: string, page = 1) =>
  takeInArtwork(file, path.basename(file), mkdtempSync(path.join(folder, 'in-')), { page });

/** Pixels of three bytes, on white paper. */
interface Picture {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

async function ours(file: string, width: number, page = 1): Promise<Picture> {
  const source = openArtwork((await taken(file, page)).files);
  const reader = source.reader(width);
  const { height } = reader;
  const { data } = reader.read({ x: 0, y: 0, width, height });
  source.close();
  const flat = await sharp(data, { raw: { width, height, channels: 4 } })
    .flatten({ background: '#ffffff' })
    .raw()
    .toBuffer();
  return { width, height, data: flat };
}

/** What Ghostscript draws, smoothed, at so many pixels for an inch. */
async function theirs(file: string, dpi: number, page = 1): Promise<Picture> {
  const target = path.join(folder, 'theirs.png');
  const pages = [`-dFirstPage=${page}`, `-dLastPage=${page}`];
  const smooth = ['-dTextAlphaBits=4', '-dGraphicsAlphaBits=4'];
  execFileSync('gs', [
    ...QUIET,
    '-sDEVICE=png16m',
    '-dUseCropBox',
    `-r${dpi}`,
    ...pages,
    ...smooth,
    `-sOutputFile=${target}`,
    file,
  ]);
  const { data, info } = await sharp(target).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/**
 * The largest difference of codes in the inside of areas, where nothing within two pixels differs in either picture; and the share of the page that
 * is such inside.
 */
function inside(one: Picture, other: Picture): { readonly off: number; readonly share: number } {
  const { width, height } = one;
  const isEven = ({ data }: Picture, x: number, y: number) => {
    for (let dy = -2; dy <= 2; dy++) {
      for (let dx = -2; dx <= 2; dx++) {
        for (let c = 0; c < 3; c++) {
          if (data[(y * width + x) * 3 + c] !== data[((y + dy) * width + x + dx) * 3 + c]) return false;
        }
      }
    }
    return true;
  };
  let [off, count] = [0, 0];
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      if (!isEven(one, x, y) || !isEven(other, x, y)) continue;
      count++;
      for (let c = 0; c < 3; c++) {
        off = Math.max(
          off,
          Math.abs(one.data[(y * width + x) * 3 + c]! - other.data[(y * width + x) * 3 + c]!),
        );
      }
    }
  }
  return { off, share: count / (width * height) };
}

async function shapes(): Promise<PDFDocument> {
  const document = await PDFDocument.create();
  const page = document.addPage([300, 200]);
  page.drawRectangle({ x: 20, y: 20, width: 150, height: 120, color: rgb(0.9, 0.2, 0.1) });
  page.drawCircle({ x: 180, y: 100, size: 60, color: rgb(0.1, 0.5, 0.9), blendMode: BlendMode.Multiply });
  page.drawCircle({ x: 60, y: 150, size: 30, color: rgb(0.1, 0.7, 0.2), opacity: 0.5 });
  page.drawLine({ start: { x: 10, y: 10 }, end: { x: 290, y: 40 }, thickness: 6, color: rgb(0, 0, 0.4) });
  return document;
}

test('shapes, strokes, opacity and blend modes are drawn as Ghostscript draws them', async () => {
  const file = write('shapes.pdf', await (await shapes()).save());
  const { facts } = await taken(file);
  expect(facts).toMatchObject({
    format: 'pdf',
    kind: 'vector',
    page: { number: 1, count: 1 },
    missingFonts: [],
  });
  // 300 points are 4 1/6 in.
  expect(facts.ownWidthMm).toBeCloseTo((300 / 72) * 25.4, 3);
  const [one, other] = [await ours(file, 600), await theirs(file, 144)];
  expect([one.width, one.height]).toEqual([other.width, other.height]);
  const { off, share } = inside(one, other);
  expect(share).toBeGreaterThan(0.9);
  expect(off).toBeLessThanOrEqual(2);
});

test('a page that is turned and cut to its crop box has that size and stands upright', async () => {
  const document = await shapes();
  const page = document.getPage(0);
  page.setRotation(degrees(90));
  page.setCropBox(50, 40, 200, 120);
  const file = write('turned.pdf', await document.save());
  const [one, other] = [await ours(file, 240), await theirs(file, 144)];
  expect([one.width, one.height]).toEqual([240, 400]);
  expect([other.width, other.height]).toEqual([240, 400]);
  const { off, share } = inside(one, other);
  expect(share).toBeGreaterThan(0.85);
  expect(off).toBeLessThanOrEqual(2);
});

test('a picture stays a picture of its pixels', async () => {
  const pixels = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#2080c0' } })
    .composite([
      { input: { create: { width: 20, height: 30, channels: 3, background: '#e0b030' } }, left: 0, top: 0 },
    ])
    .png()
    .toBuffer();
  const document = await PDFDocument.create();
  const page = document.addPage([200, 150]);
  page.drawImage(await document.embedPng(pixels), { x: 0, y: 0, width: 200, height: 150 });
  const file = write('picture.pdf', await document.save());
  const { data } = await ours(file, 400);
  const at = (x: number, y: number) => [...data.subarray((y * 400 + x) * 3, (y * 400 + x) * 3 + 3)];
  expect(at(100, 150)).toEqual([0xe0, 0xb0, 0x30]);
  expect(at(300, 150)).toEqual([0x20, 0x80, 0xc0]);
});

test('each page is artwork of its own, and says which it is', async () => {
  const document = await PDFDocument.create();
  for (const [k, side] of [60, 90, 120].entries()) {
    document
      .addPage([side, side])
      .drawRectangle({ x: 10, y: 10, width: 30, height: 30, color: rgb(k / 2, 0, 0) });
  }
  const file = write('three.pdf', await document.save());
  const pages = await Promise.all([1, 2, 3].map((page) => taken(file, page)));
  expect(pages.map(({ facts }) => facts.page)).toMatchObject(
    [1, 2, 3].map((number) => ({ number, count: 3 })),
  );
  expect(pages.map(({ facts }) => Math.round((facts.ownWidthMm! / 25.4) * 72))).toEqual([60, 90, 120]);
  const names = pages.map(({ facts }) => facts.sha256);
  expect(new Set(names).size).toBe(3);
  // The first page is named as the file is, as before a page was chosen; a sheet names the others' numbers.
  expect(await identifyArtwork(file)).toEqual({ sha256: names[0], format: 'pdf' });
  expect(pages.map(({ facts }) => artworkFor(facts).page)).toEqual([undefined, 2, 3]);
  expect((await identifyArtwork(file, artworkFor(pages[2]!.facts).page)).sha256).toBe(names[2]);
  await expect(taken(file, 4)).rejects.toMatchObject({
    code: 'pdf-refused',
    message: expect.stringMatching(/3 pages/),
  });
});

test('a font that is not in the file is told, one that is in it is not', async () => {
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.HelveticaBold);
  document.addPage([200, 100]).drawText('Harbour', { x: 10, y: 30, size: 40, font });
  const { facts } = await taken(write('font.pdf', await document.save()));
  expect(facts.missingFonts).toEqual(['Helvetica-Bold']);
  const embedded = path.join(folder, 'embedded.pdf');
  // Ghostscript puts its own letters in.
  execFileSync('gs', [
    ...QUIET,
    '-sDEVICE=pdfwrite',
    `-sOutputFile=${embedded}`,
    '-c',
    '<< /NeverEmbed [] >> setdistillerparams',
    '-f',
    path.join(folder, 'font.pdf'),
  ]);
  expect((await taken(embedded)).facts.missingFonts).toEqual([]);
});

test('a locked file, one without end and one that is no PDF are refused in words', async () => {
  const open = write('open.pdf', await (await shapes()).save());
  const locked = path.join(folder, 'locked.pdf');
  execFileSync('gs', [
    ...QUIET,
    '-sDEVICE=pdfwrite',
    '-sOwnerPassword=a',
    '-sUserPassword=b',
    '-dEncryptionR=3',
    '-dKeyLength=128',
    `-sOutputFile=${locked}`,
    open,
  ]);
  await expect(taken(locked)).rejects.toMatchObject({
    code: 'pdf-refused',
    message: expect.stringMatching(/locked by a password/),
  });
  const cut = write('cut.pdf', (await (await shapes()).save()).subarray(0, 400));
  await expect(taken(cut)).rejects.toMatchObject({ code: 'pdf-refused' });
  const picture = write(
    'plain.png',
    await sharp({ create: { width: 4, height: 4, channels: 3, background: '#fff' } })
      .png()
      .toBuffer(),
  );
  await expect(taken(picture, 2)).rejects.toMatchObject({ code: 'artwork-page' });
});

test('a page without a size is not taken for one of letter size, which its reader falls back to', async () => {
  const red = '0.8 0.2 0.2 rg 20 20 100 80 re f';
  await expect(taken(write('none.pdf', pdfPage(red, { box: '/MediaBox [0 0 0 0]' })))).rejects.toMatchObject({
    code: 'pdf-refused',
    message: expect.stringMatching(/no size/),
  });
  const letter = await taken(write('letter.pdf', pdfPage(red, { box: '/MediaBox [0 0 612 792]' })));
  expect(letter.facts.ownWidthMm).toBeCloseTo(8.5 * 25.4, 3);
});

test('a separation prints in the colour that the file says stands for it', async () => {
  const space =
    '[/Separation /HarbourBlue /DeviceRGB << /FunctionType 2 /Domain [0 1] /C0 [1 1 1] /C1 [0.1 0.3 0.7] /N 1 >>]';
  const file = write(
    'separation.pdf',
    pdfPage('/S cs 1 scn 20 20 100 80 re f 0.5 scn 20 110 100 30 re f', {
      page: `/Resources << /ColorSpace << /S ${space} >> >>`,
      more: [pdfStream('')],
    }),
  );
  const { off, share } = inside(await ours(file, 400), await theirs(file, 144));
  expect(share).toBeGreaterThan(0.9);
  expect(off).toBeLessThanOrEqual(2);
});

test.each<[string, string, string, readonly Buffer[]]>([
  [
    'a blend mode that has no shapes',
    '0.8 0.2 0.2 rg 20 20 100 80 re f /G gs 0.1 0.4 0.9 rg 70 60 100 80 re f',
    '/Resources << /ExtGState << /G << /BM /Hue >> >> >>',
    [],
  ],
  [
    'a shading by a function',
    'q 20 20 160 120 re W n /S sh Q',
    '/Resources << /Shading << /S << /ShadingType 1 /ColorSpace /DeviceRGB /Domain [0 1 0 1] /Matrix [160 0 0 120 20 20] /Function 5 0 R >> >> >>',
    [pdfStream('{ pop pop 0.3 0.6 0.2 }', '/FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1]')],
  ],
])('%s becomes a picture, looks as Ghostscript draws it, and is told', async (name, content, page, more) => {
  const file = write(`${name}.pdf`, pdfPage(content, { page, more: [...more] }));
  const { facts } = await taken(file);
  expect(facts.page).toMatchObject({ faults: 0, pictures: 1, pictureDpi: 720 });
  expect(checkSheet(testSheet({}), notesOfFile(facts)).map(({ code }) => code)).toContain('page-pictures');
  const { off, share } = inside(await ours(file, 400), await theirs(file, 144));
  expect(share).toBeGreaterThan(0.9);
  expect(off).toBeLessThanOrEqual(3);
});

test('a picture of a large page has as many pixels as drawings may embed', async () => {
  const content = '0.8 0.2 0.2 rg 0 0 864 1008 re f /G gs 0.1 0.4 0.9 rg 0 0 864 1008 re f';
  const page = '/Resources << /ExtGState << /G << /BM /Hue >> >> >>';
  const file = write('large.pdf', pdfPage(content, { page, box: '/MediaBox [0 0 864 1008]' }));
  const { facts } = await taken(file);
  // 36 million pixels on 12 x 14 in.
  expect(facts.page).toMatchObject({ pictures: 1, pictureDpi: Math.floor(Math.sqrt(36e6 / (12 * 14))) });
});

test('many see-through groups are drawn as Ghostscript draws them', async () => {
  const places = Array.from({ length: 36 }, (_, k) => [20 + (k % 6) * 45, 15 + Math.floor(k / 6) * 30]);
  const fills = places.map(([x, y]) => `/G gs 1 0 0 1 ${x} ${y} cm /F Do 1 0 0 1 ${-x!} ${-y!} cm`);
  const form = pdfStream(
    '0.9 0.2 0.1 rg 0 0 30 16 re f 0.1 0.4 0.9 rg 12 6 24 16 re f',
    '/Type /XObject /Subtype /Form /BBox [0 0 36 22] /Group << /S /Transparency >>',
  );
  const page = '/Resources << /ExtGState << /G << /ca 0.5 >> >> /XObject << /F 5 0 R >> >>';
  const box = '/MediaBox [0 0 300 200]';
  const file = write('groups.pdf', pdfPage(fills.join(' '), { page, box, more: [form] }));
  const reference = await theirs(file, 144);
  const { off, share } = inside(await ours(file, reference.width), reference);
  expect(off).toBeLessThanOrEqual(2);
  expect(share).toBeGreaterThan(0.5);
});

test('what its reader cannot make sense of is told, with how much of it there is', async () => {
  const sound = '0.8 0.2 0.2 rg 20 20 100 80 re f ';
  const { facts } = await taken(write('faulty.pdf', pdfPage(`${sound} 5 x7 0.1 0.4 0.9 rg 70 q8 re f`)));
  expect(facts.page!.faults).toBeGreaterThan(1);
  const [told] = checkSheet(testSheet({}), notesOfFile(facts)).filter(({ code }) => code === 'page-faults');
  expect(told).toMatchObject({ severity: 'severe', measured: facts.page!.faults });
  expect((await taken(write('sound.pdf', pdfPage(sound)))).facts.page!.faults).toBe(0);
});

test('words for blend modes are told in those of today, and what has none is refused', () => {
  expect(withBlendModes('<path style="stroke:none;comp-op:multiply;fill:red" d="M0 0"/>')).toBe(
    '<path style="stroke:none;mix-blend-mode:multiply;fill:red" d="M0 0"/>',
  );
  expect(withBlendModes('<use xlink:href="#a" comp-op="screen"/>')).toBe(
    '<use xlink:href="#a" style="mix-blend-mode:screen"/>',
  );
  expect(() => withBlendModes('<g comp-op="xor"/>')).toThrow(/not drawn \(xor\)/);
});
