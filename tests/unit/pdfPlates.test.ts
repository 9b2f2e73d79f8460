/** Plates that a page of a PDF names, held to those that Ghostscript separates it into (a program that shares no code with what reads them here). */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { checkSheet, remedyOf } from '@/core/checks';
import { readStoredDrawing, storeDrawing } from '@/core/drawing';
import { createJobSheet, toSimulated, toSpot, toSupplied } from '@/core/separation';
import { DEFAULT_FIT, addSpecial, channelOf, isSupplied, parseJobSheet } from '@/core/sheet';
import { type TakenArtwork, artworkFor, notesOfFile, openArtwork, takeInArtwork } from '@/server/artwork';
import { rewriteColours } from '@/server/pdf/contentColours';
import { transformCode } from '@/server/pdf/tintTransforms';
import { pdfPage, pdfStream } from '../hostile/pdfFile';
import { testSheet } from '../testSheet';
import { SPOT_PDF, SPOT_PLATES, separation } from '../spotPdf';
import { outcome, run } from './commandLine';

let folder: string;
let spot: TakenArtwork;
beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-plates-'));
  spot = await taken(write('spot.pdf', SPOT_PDF));
}, 60_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function write(name: string, bytes: Uint8Array): string {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return file;
}

const taken = (file: string) =>
  takeInArtwork(file, path.basename(file), mkdtempSync(path.join(folder, 'in-')), {});

interface Plane {
  readonly width: number;
  readonly height: number;
  /** 0..255, 255 solid. */
  readonly data: Uint8Array;
}

/** The plates that Ghostscript makes, pixels belonging to a shape where their centres do. */
async function theirs(file: string, dpi: number): Promise<ReadonlyMap<string, Plane>> {
  const target = mkdtempSync(path.join(folder, 'gs-'));
  const device = ['-sDEVICE=tiffsep', `-r${dpi}`, `-sOutputFile=${path.join(target, 'p.tif')}`];
  execFileSync('gs', [
    ...['-q', '-dSAFER', '-dBATCH', '-dNOPAUSE', ...device],
    ...['-dGraphicsAlphaBits=1', '-dTextAlphaBits=1', '-c', '0 0 .setfilladjust2', '-f', file],
  ]);
  const planes = new Map<string, Plane>();
  for (const name of readdirSync(target)) {
    const plate = /\((.+)\)\.tif$/.exec(name)?.[1];
    if (!plate) continue;
    const { data, info } = await sharp(path.join(target, name))
      .toColourspace('b-w')
      .raw()
      .toBuffer({ resolveWithObject: true });
    planes.set(plate, { width: info.width, height: info.height, data: data.map((value) => 255 - value) });
  }
  return planes;
}

function ours({ facts, files }: TakenArtwork, width: number): ReadonlyMap<string, Plane> {
  const source = openArtwork(files);
  const height = Math.round((width * facts.heightPx) / facts.widthPx);
  const rect = { x: 0, y: 0, width, height };
  const channels = facts.plates!.plates.map(({ name }) => name);
  const plane = source.read({ level: 0, levelWidth: width, levelHeight: height, rect, channels });
  source.close();
  return new Map([...plane.channels!].map(([name, data]) => [name, { width, height, data }]));
}

/** Largest difference where nothing within two pixels differs by more than gradients do, the share of such places, and the difference of the means. */
function compared(one: Plane, other: Plane) {
  const { width, height } = other;
  let [off, even, sums] = [0, 0, 0];
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      const at = y * width + x;
      sums += one.data[at]! - other.data[at]!;
      let [low, high] = [255, 0];
      for (let dy = -2; dy <= 2; dy++) {
        for (let dx = -2; dx <= 2; dx++) {
          const value = other.data[at + dy * width + dx]!;
          low = Math.min(low, value);
          high = Math.max(high, value);
        }
      }
      if (high - low > 4) continue;
      even++;
      off = Math.max(off, Math.abs(one.data[at]! - other.data[at]!));
    }
  }
  return { off, even: even / (width * height), mean: Math.abs(sums) / (width * height) };
}

test('every plate is what Ghostscript separates the page into: overprint, knockout, gradients, pictures, patterns, all inks', async () => {
  const [mine, wanted] = [ours(spot, 600), await theirs(path.join(folder, 'spot.pdf'), 200)];
  expect([...mine.keys()]).toEqual(SPOT_PLATES);
  expect([...wanted.keys()].sort()).toEqual([...SPOT_PLATES].sort());
  for (const [name, plane] of wanted) {
    const own = mine.get(name)!;
    expect([own.width, own.height]).toEqual([plane.width, plane.height]);
    const { off, even, mean } = compared(own, plane);
    expect(even).toBeGreaterThan(0.75);
    // Codes of 255; edges are walked by other rules, and lie less than a pixel off.
    expect([name, off <= 2 ? 'alike' : off]).toEqual([name, 'alike']);
    expect(mean).toBeLessThan(0.4);
  }
}, 120_000);

test('inks have the colours that the file shows, and process inks none of their own', () => {
  const { plates, hasRgb, refused } = spot.facts.plates!;
  expect({ hasRgb, refused }).toEqual({ hasRgb: true, refused: null });
  expect(plates.map(({ colour }) => colour === null)).toEqual([false, false, false, true, true, true, true]);
  // 0.9 of cyan, 0.4 of yellow; no ink; 0.9 of magenta, 0.8 of yellow: as any reading of CMYK has them, roughly.
  const [teal, red, white] = plates.map(({ colour }) => parseInt((colour ?? '#000000').slice(1), 16));
  const parts = (value: number) => [value >> 16, (value >> 8) & 255, value & 255] as const;
  const [[tr, tg, tb], [rr, rg, rb]] = [parts(teal!), parts(red!)];
  expect(tr).toBeLessThan(90);
  expect(Math.min(tg, tb)).toBeGreaterThan(120);
  expect(rr).toBeGreaterThan(180);
  expect(Math.max(rg, rb)).toBeLessThan(90);
  expect(white).toBe(0xffffff);
});

test('films of solid plates have the file’s shapes: no pixel differs but along edges', async () => {
  const file = write(
    'solid.pdf',
    pdfPage(
      '/Brick cs 1 scn 20 20 100 80 re f 150 40 m 190 40 l 170 140 l f /White cs 1 scn 60 50 30 20 re f /Brick CS 1 SCN 0.5 w 5 150 m 195 120 l S',
      {
        // What stands for gray in the file must not stand for the gray that plates are drawn in.
        page: `/Resources << /ColorSpace << /Brick ${separation('Brick')} /White ${separation('White')} /DefaultGray [/CalGray << /WhitePoint [0.95 1 1.09] /Gamma 2.2 >>] >> >>`,
      },
    ),
  );
  const out = path.join(folder, 'films');
  expect(
    outcome([
      ...['separate', file, '--method', 'supplied', '--garment', '#f4f4f0', '--width', '200pt', '--out', out],
      ...['--dpi', '720', '--formats', 'tiff-screen', '--marks', 'none', '--sheet', '300x300pt'],
    ]).status,
  ).toBeLessThanOrEqual(1);
  const job = parseJobSheet(JSON.parse(readFileSync(path.join(out, 'job.json'), 'utf8')));
  expect(job.plates.map(channelOf)).toEqual(['Brick', 'White']);
  const wanted = await theirs(file, 720);
  for (const plate of job.plates) {
    const film = readdirSync(out).find((name) => name.startsWith(`0${plate.number}-`))!;
    const other = wanted.get(channelOf(plate)!)!;
    expect([other.width, other.height]).toEqual([2000, 1600]);
    // The print lies in the middle of the sheet, ten pixels to a point.
    const { data } = await sharp(path.join(out, film))
      .toColourspace('b-w')
      .extract({ left: 500, top: 700, width: 2000, height: 1600 })
      .raw()
      .toBuffer({ resolveWithObject: true });
    let [wrong, ink] = [0, 0];
    data.forEach((value, i) => {
      const isInk = value === 0;
      ink += isInk ? 1 : 0;
      if (isInk !== other.data[i]! > 127) wrong++;
    });
    expect(ink).toBeGreaterThan(1000);
    // A pixel along the edges, of which there are less than 10 in for each plate.
    expect(wrong).toBeLessThan(10 * 720);
    expect(wrong / ink).toBeLessThan(0.01);
  }
}, 120_000);

test('a job of the file’s plates asks for nothing beside them, and tells what it cannot print', () => {
  const { facts } = spot;
  const named = facts.plates!.plates;
  const sheet = createJobSheet({
    name: 'Spot',
    artwork: artworkFor(facts),
    colours: [],
    purity: 2,
    background: null,
    backgroundWish: 'auto',
    transitions: [],
    print: { widthMm: 76.2, chosen: false },
    garment: { name: 'Navy', colour: '#16233f' },
    inks: 'auto',
    supplied: { plates: named, stock: [{ name: 'kiln red', colour: '#aa1122', opacity: 0.4 }] },
    date: '2026-03-14',
  });
  expect(isSupplied(sheet)).toBe(true);
  const { chokeMm, trapMm, spreadMm, highlightChokeMm, keepMm } = sheet.fit;
  expect([chokeMm, trapMm, spreadMm, highlightChokeMm, keepMm]).toEqual([0, 0, 0, 0, 0]);
  // An ink of stock of the same name prints as it is in stock; the file's name stays.
  expect(sheet.plates.find(({ ink }) => ink.name === 'Kiln Red')!.ink).toMatchObject({
    colour: '#aa1122',
    opacity: 0.4,
  });
  expect(sheet.plates[0]).toMatchObject({ role: 'underbase', ink: { name: 'White' } });
  const codes = (plates: typeof named) =>
    checkSheet(sheet, { ...notesOfFile(facts), plates: { ...facts.plates!, plates } }).map(
      ({ code }) => code,
    );
  expect(codes(named)).toContain('plates-of-rgb');
  expect(codes(named)).not.toContain('plate-missing');
  expect(codes(named.slice(1))).toContain('plate-missing');
  expect(codes([...named, { name: 'Brass', colour: '#b08030' }])).toContain('plate-unused');
  // Back to flat colours fit is as a job begins, and not 0 as the file’s plates had it; and so there again.
  const back = toSpot(sheet, {
    colours: [{ rgb: [200, 30, 30], area: 0.5 }],
    transitions: [],
    background: null,
  });
  expect(back.fit).toEqual(DEFAULT_FIT);
  expect(parseJobSheet(toSupplied(back, named)).fit).toEqual(sheet.fit);
  // A varnish of the file beside a special plate of the same name, which stays.
  const varnished = toSupplied(addSpecial(back, 'clear'), [...named, { name: 'Clear', colour: '#f0f0f0' }]);
  expect(parseJobSheet(varnished).plates.filter(({ ink }) => /clear/i.test(ink.name))).toHaveLength(2);
  expect(parseJobSheet(toSimulated(sheet, { background: null })).fit.chokeMm).toBeNull();
}, 60_000);

test.each<[string, Buffer, RegExp | null]>([
  ['no ink of its own', pdfPage('0 0 0 1 k 20 20 100 80 re f'), null],
  [
    'colours of CIELAB beside its ink',
    pdfPage('/L cs 50 20 20 scn 20 20 50 50 re f /A cs 1 scn 90 20 50 50 re f', {
      page: `/Resources << /ColorSpace << /L [/Lab << /WhitePoint [0.96 1 0.82] >>] /A ${separation('Brick')} >> >>`,
    }),
    /CIELAB/,
  ],
  [
    'more inks than a print has',
    pdfPage('/A0 cs 1 scn 20 20 50 50 re f', {
      page: `/Resources << /ColorSpace << ${Array.from({ length: 30 }, (_, k) => `/A${k} ${separation(`Ink${k}`)}`).join(' ')} >> >>`,
    }),
    /names 30 inks/,
  ],
  [
    'names whose codes are in small letters',
    pdfPage('/Cs#c3 cs 1 scn 20 20 50 50 re f', {
      page: `/Resources << /ColorSpace << /Cs#c3 ${separation('Brick')} >> >>`,
    }),
    /lost when it is taken apart/,
  ],
  [
    'an ink of no name',
    pdfPage('/A cs 1 scn 20 20 50 50 re f', {
      page: `/Resources << /ColorSpace << /A ${separation('None')} >> >>`,
    }),
    /no ink at all/,
  ],
])(
  'a page with %s is a drawing like others',
  async (_, bytes, refused) => {
    const { facts } = await taken(write('page.pdf', bytes));
    if (refused === null) expect(facts.plates).toBeNull();
    else {
      expect(facts.plates).toMatchObject({ plates: [], refused: expect.stringMatching(refused) });
      const told = run([
        'separate',
        path.join(folder, 'page.pdf'),
        '--method',
        'supplied',
        '--garment',
        '#ffffff',
        '--width',
        '2in',
        '--out',
        path.join(folder, 'none'),
      ]);
      expect(told.status).toBe(2);
      expect(told.err).toMatch(refused);
      expect(existsSync(path.join(folder, 'none'))).toBe(false);
    }
  },
  60_000,
);

test('names of any bytes become ones that can be kept', async () => {
  const page = `/Resources << /ColorSpace << /A ${separation('Old#00#0aBr#c3#bcck')} /B ${separation('__proto__')} >> >>`;
  const { facts } = await taken(
    write('names.pdf', pdfPage('/A cs 1 scn 9 9 50 50 re f /B cs 1 scn 90 20 50 50 re f', { page })),
  );
  expect(facts.plates!.plates.map(({ name }) => name)).toEqual(['OldBrück', '__proto__']);
}, 60_000);

test('what plates do not keep of a page is told', async () => {
  const states =
    '/A << /OP true /op false >> /B << /op true /OP true /OPM 0 >> /C << /BM [/Luminosity /Normal] >> /D << /BM /Darken >>';
  const page = `/Resources << /ColorSpace << /Brick ${separation('Brick')} >> /ExtGState << ${states} >> >>`;
  const { facts } = await taken(
    write('unkept.pdf', pdfPage('/Brick cs 1 scn 20 20 50 50 re f 0 0 1 0 k 90 20 50 50 re f', { page })),
  );
  const { unkept, plates } = facts.plates!;
  expect(plates.map(({ name }) => name)).toEqual(['Brick', 'Yellow']);
  expect(unkept).toEqual([
    expect.stringMatching(/strokes/),
    expect.stringMatching(/Luminosity/),
    expect.stringMatching(/mode 0/),
  ]);
  const findings = checkSheet(testSheet(), notesOfFile(facts));
  const named = findings.find(({ code }) => code === 'plates-named')!;
  // Of plates that are not taken it is no fault.
  expect(findings.map(({ code }) => code)).not.toContain('plates-unkept');
  // One press takes them, after which that is told.
  const taking = remedyOf(testSheet(), named)!.change(testSheet());
  expect(parseJobSheet(taking)).toEqual(taking);
  expect(taking.plates.map(({ ink }) => ink.name).sort()).toEqual(['Brick', 'Process yellow']);
  const after = checkSheet(taking, notesOfFile(facts)).map(({ code }) => code);
  expect(after).toContain('plates-unkept');
  expect(after).not.toContain('plates-named');
}, 60_000);

test('a soft mask fades each plate by its own lightness, and is no ink itself', async () => {
  const masked = (right: string) => {
    const mask = pdfStream(
      `0 g 0 0 100 160 re f ${right} g 100 0 100 160 re f`,
      '/Type /XObject /Subtype /Form /BBox [0 0 200 160] /Group << /S /Transparency /CS /DeviceGray >> /Resources << >>',
    );
    return write(
      'mask.pdf',
      pdfPage('0.2 g 10 130 180 20 re f /Fade gs /Brick cs 1 scn 20 20 160 80 re f', {
        page: `/Resources << /ColorSpace << /Brick ${separation('Brick')} >> /ExtGState << /Fade << /SMask << /S /Luminosity /G 5 0 R /BC [1] >> >> >> >>`,
        more: [mask],
      }),
    );
  };
  const file = masked('1');
  const [mine, wanted] = [ours(await taken(file), 400), await theirs(file, 144)];
  for (const name of ['Brick', 'Black']) {
    const { off, even } = compared(mine.get(name)!, wanted.get(name)!);
    expect(even).toBeGreaterThan(0.9);
    expect([name, off <= 2 ? 'alike' : off]).toEqual([name, 'alike']);
  }
  // Gray of one half lets half through (ISO 32000-1, 11.5.3); Ghostscript reads it through a profile, as 0.21.
  const half = ours(await taken(masked('0.5')), 400).get('Brick')!;
  const at = (x: number) => half.data[200 * 400 + x]!;
  expect([at(100), Math.abs(at(300) - 128) <= 2]).toEqual([0, true]);
}, 60_000);

test('forms and patterns that stand inside of themselves end, and so do the plates', async () => {
  const form = pdfStream(
    '/A cs 1 scn 0 0 20 20 re f /Self Do',
    `/Type /XObject /Subtype /Form /BBox [0 0 100 100] /Resources << /ColorSpace << /A ${separation('Brick')} >> /XObject << /Self 5 0 R >> >>`,
  );
  const file = write(
    'loop.pdf',
    pdfPage('/Self Do', { page: '/Resources << /XObject << /Self 5 0 R >> >>', more: [form] }),
  );
  const { facts } = await taken(file);
  expect(facts.plates?.plates.map(({ name }) => name)).toEqual(['Brick']);
}, 60_000);

describe('operators of colour', () => {
  const SPACES = {
    DeviceGray: { name: 'Kg', initial: '0' },
    DeviceRGB: { name: 'R', initial: '0 0 0' },
    DeviceCMYK: { name: 'C', initial: '0 0 0 1' },
  };
  const rewritten = (text: string, initials: [string, string][] = []) => {
    const { bytes, devices } = rewriteColours(Buffer.from(text, 'latin1'), SPACES, new Map(initials), false);
    return { text: Buffer.from(bytes).toString('latin1').replace(/\s+/g, ' ').trim(), devices: [...devices] };
  };

  test.each([
    ['0.5 g 1 0 0 RG', '/Kg cs 0.5 scn /R CS 1 0 0 SCN'],
    ['/DeviceCMYK cs 1 0 0 0 sc', '/C cs 0 0 0 1 scn 1 0 0 0 sc'],
    ['/Named cs 1 scn f', '/Named cs 1 scn f'],
    // Neither strings nor comments nor names are operators.
    ['(1 g \\) 0 k) Tj', '(1 g \\) 0 k) Tj'],
    ['[(a) -20 (1 0 0 rg)] TJ', '[(a) -20 (1 0 0 rg)] TJ'],
    ['/g gs 1 w', '/g gs 1 w'],
  ])('%s', (before, after) => expect(rewritten(before).text).toBe(after));

  test('a resource that stands for gray begins with black, as gray does', () => {
    expect(rewritten('/Grey cs f', [['Grey', '0']]).text).toBe('/Grey cs 0 scn f');
  });

  test('an inline picture keeps its bytes, whatever they look like', () => {
    const { text, devices } = rewritten('BI /W 4 /H 1 /BPC 8 /CS /G ID 1 g EI Q 0.2 k');
    expect(text).toBe('BI /W 4 /H 1 /BPC 8 /CS /Kg ID 1 g EI Q /C cs 0.2 scn');
    expect(devices.sort()).toEqual(['DeviceCMYK', 'DeviceGray']);
  });

  test('a comment before an operator does not come with its operands', () => {
    expect(rewritten('% 1 0 0 rg\n0.3 g').text).toContain('0.3 scn');
    expect(rewritten('% 1 0 0 rg\n0.3 g').devices).toEqual(['DeviceGray']);
  });
});

test('gray, RGB and CMYK become process inks as ISO 32000-1, 10.3.4 has it, black taken out of the others', () => {
  // What a calculator function does, by the operators that are used (ISO 32000-1, 7.10.5).
  const evaluate = (code: string, values: readonly number[]): number => {
    const stack = [...values];
    const pop = () => stack.pop()!;
    const words = code.replace(/[{}]/g, ' $& ').trim().split(/\s+/).slice(1, -1);
    for (let k = 0; k < words.length; k++) {
      const word = words[k]!;
      if (word === '{') {
        // `a b lt { exch } if`
        expect(words.slice(k, k + 4)).toEqual(['{', 'exch', '}', 'if']);
        if (pop() === 1) stack.push(...[pop(), pop()]);
        k += 3;
      } else if (word === 'pop') pop();
      else if (word === 'exch') stack.push(...[pop(), pop()]);
      else if (word === 'copy') stack.push(...stack.slice(-pop()));
      else if (word === 'index') stack.push(stack.at(-1 - pop())!);
      else if (word === 'sub') stack.push(-pop() + pop());
      else if (word === 'lt') stack.push(pop() > pop() ? 1 : 0);
      else if (word === 'roll') {
        const [by, count] = [pop(), pop()];
        const some = stack.splice(-count);
        expect(by).toBe(1);
        stack.push(some.at(-1)!, ...some.slice(0, -1));
      } else stack.push(Number(word));
    }
    expect(stack).toHaveLength(1);
    return stack[0]!;
  };
  const printed = (kind: Parameters<typeof transformCode>[0], plate: string, values: readonly number[]) =>
    1 - evaluate(transformCode(kind, plate), values);
  const rgb = [0.8, 0.25, 0.5];
  const [c, m, y] = rgb.map((part) => 1 - part) as [number, number, number];
  const k = Math.min(c, m, y);
  expect(printed('rgb', 'Cyan', rgb)).toBeCloseTo(c - k, 12);
  expect(printed('rgb', 'Magenta', rgb)).toBeCloseTo(m - k, 12);
  expect(printed('rgb', 'Yellow', rgb)).toBeCloseTo(y - k, 12);
  expect(printed('rgb', 'Black', rgb)).toBeCloseTo(k, 12);
  expect(printed('rgb', 'Brick', rgb)).toBe(0);
  expect([printed('gray', 'Black', [0.3]), printed('gray', 'Cyan', [0.3])]).toEqual([0.7, 0]);
  const two = { of: [{ plate: 'Brick' }, 'none', { plate: 'Sand' }] as const };
  expect(printed(two, 'Brick', [0.2, 0.9, 0.6])).toBeCloseTo(0.2, 12);
  expect(printed(two, 'Sand', [0.2, 0.9, 0.6])).toBeCloseTo(0.6, 12);
  expect(printed(two, 'Black', [0.2, 0.9, 0.6])).toBe(0);
  expect(printed({ of: ['all'] }, 'Sand', [0.4])).toBeCloseTo(0.4, 12);
});

test('a drawing keeps its plates when it is stored, and is the same without any', () => {
  const { files } = spot;
  if (files.kind !== 'vector') throw new Error('no drawing');
  const bytes = new Uint8Array(readFileSync(files.path));
  const drawing = readStoredDrawing(bytes);
  expect(drawing.plates!.map(({ name }) => name)).toEqual(SPOT_PLATES);
  expect(Buffer.compare(storeDrawing(drawing), bytes)).toBe(0);
  const { plates, ...alone } = drawing;
  expect(plates).toHaveLength(SPOT_PLATES.length);
  expect(readStoredDrawing(storeDrawing(alone)).plates).toBeUndefined();
  expect(() => readStoredDrawing(bytes.subarray(0, -3))).toThrow(/damaged/);
}, 60_000);
