import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { WEDGE_STEPS } from '@/core/film';
import { MEASURING_STEPS } from '@/core/pipeline';
import { outcome, tool } from './commandLine';

// Every kind of file, read back by Ghostscript, libtiff, poppler and libvips: programs that the project did not write.

const DPI = 600;
let folder: string;
let out: string;

/** A disc that fades into nothing, and solids of two colours, one of them named in another script. */
const ART = `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="3in" viewBox="0 0 400 300">
  <defs><radialGradient id="g"><stop offset="0" stop-color="#f0b030"/><stop offset="1" stop-color="#f0b030" stop-opacity="0"/></radialGradient></defs>
  <circle cx="120" cy="150" r="110" fill="url(#g)"/>
  <rect x="250" y="40" width="120" height="100" fill="#d8412f"/>
  <rect x="250" y="160" width="120" height="100" fill="#f0b030"/>
</svg>`;

const run = (...args: string[]) => outcome(args);

/** Pixels of a picture by libvips: one byte each, 0 = black. */
async function grey(file: string) {
  const { data, info } = await sharp(file).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height, channels: info.channels };
}

interface Report {
  plates: { number: number; name: string; coverage: number; file: string; screen: { kind: string } }[];
}
let report: Report;
let art: string;

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-outputs-'));
  art = path.join(folder, 'art.svg');
  writeFileSync(art, ART);
  out = path.join(folder, 'all');
  const result = run(
    'separate',
    art,
    ...['--width', '4in', '--garment', '#101820', '--out', out, '--dpi', String(DPI), '--date', '2026-03-14'],
    ...['--sheet', '8.5x11in', '--marks', 'square,corners,centre,crop,wedge'],
    ...['--formats', 'pdf,pdf-each,tiff,png,pdf-inks,pdf-inks-each,tiff-inks,png-print'],
    ...['--names', '{job}_{n}_{ink}', '--gain', '20%'],
  );
  expect(result).toEqual({ status: 0, err: '' });
  report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report;
}, 240_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Yellow by itself is the process ink's name (ISO 32000-1, 8.6.6.4). */
const inkName = (name: string) => (name === 'Yellow' ? 'Yellow spot' : name);
const base = (k: number) => report.plates[k]!.file.replace(/\.tif$/, '');

test('files are called as the pattern says', () => {
  expect(report.plates.map(({ file }) => file)).toEqual([
    'art_01_base-white.tif',
    'art_02_yellow.tif',
    'art_03_red.tif',
  ]);
});

test('each film has a PDF of its own, one page of the sheet exactly', () => {
  report.plates.forEach((_, k) => {
    const info = tool('pdfinfo', path.join(out, `${base(k)}.pdf`));
    expect(/Pages:\s+(\d+)/.exec(info)![1]).toBe('1');
    expect(info).toMatch(/Page size:\s+612 x 792 pts/);
  });
});

test('a film as PNG is the film as TIFF, to the pixel, and tells its resolution', async () => {
  const png = path.join(out, `${base(1)}.png`);
  const metadata = await sharp(png).metadata();
  expect(metadata.density).toBe(DPI);
  // 1-bit grey by the header: bit depth at byte 24, colour type at 25 (W3C PNG).
  expect([...readFileSync(png).subarray(24, 26)]).toEqual([1, 0]);
  const one = await grey(png);
  const other = await grey(path.join(out, `${base(1)}.tif`));
  expect([one.width, one.height]).toEqual([5100, 6600]);
  expect(Buffer.compare(one.data, other.data)).toBe(0);
});

test('Ghostscript finds the inks by name, their tones, and the marks on each of them', async () => {
  const target = path.join(folder, 'sep.tif');
  const dpi = 150;
  tool(
    'gs',
    ...['-q', '-dNOPAUSE', '-dBATCH', '-sDEVICE=tiffsep', `-r${dpi}`, `-sOutputFile=${target}`],
    path.join(out, 'inks.pdf'),
  );
  for (const { name, coverage } of report.plates) {
    const plane = await grey(path.join(folder, `sep(${inkName(name)}).tif`));
    const inked = (...corners: [number, number, number, number]) => {
      const [x0, y0, x1, y1] = corners.map(Math.round) as typeof corners;
      let sum = 0;
      for (let y = y0; y < y1; y++)
        for (let x = x0; x < x1; x++) sum += 255 - plane.data[y * plane.width + x]!;
      return sum / 255;
    };
    // The print is 4 x 3 in in the middle of the sheet, the marks are 1 in from its corners.
    const print = inked(2.25 * dpi, 4 * dpi, 6.25 * dpi, 7 * dpi) / (4 * dpi * 3 * dpi);
    expect(Math.abs(print - coverage)).toBeLessThan(0.004);
    expect(inked(0.8 * dpi, 0.8 * dpi, 1.2 * dpi, 1.2 * dpi)).toBeGreaterThan(50);
  }
  expect(readdirSync(folder).filter((name) => name.startsWith('sep(')).length).toBe(report.plates.length + 4);
}, 60_000);

test('inks one to a page, and overprinting', () => {
  const file = path.join(out, 'inks-each.pdf');
  expect(tool('pdfinfo', file)).toMatch(new RegExp(`Pages:\\s+${report.plates.length}`));
  const raw = readFileSync(path.join(out, 'inks.pdf'), 'latin1');
  expect(raw).toContain('/DeviceN');
  expect(raw).toMatch(/\/OP true/);
  const told = JSON.parse(readFileSync(path.join(out, 'halftones.json'), 'utf8')) as {
    plates: { ink: string; screen: { lpi: number } }[];
  };
  expect(told.plates.map(({ ink }) => ink)).toEqual(report.plates.map(({ name }) => inkName(name)));
});

test('libtiff finds the inks of the TIFF by name, and its planes are the plates', async () => {
  const file = path.join(out, 'inks.tif');
  const info = tool('tiffinfo', file);
  expect(info).toContain(`Ink Names: ${report.plates.map(({ name }) => inkName(name)).join(', ')}`);
  expect(info).toContain('Photometric Interpretation: separated');
  expect(info).toMatch(/InkSet: 2/);
  // libtiff unpacks it into one strip, whose place it tells.
  const plain = path.join(folder, 'inks-plain.tif');
  tool('tiffcp', '-c', 'none', '-r', '100000', file, plain);
  const [, from, length] = /0: \[\s*(\d+),\s*(\d+)\]/.exec(tool('tiffinfo', '-s', plain))!;
  const data = readFileSync(plain).subarray(Number(from), Number(from) + Number(length));
  const channels = report.plates.length;
  const plate = await grey(path.join(out, 'plates', `${base(1)}.png`));
  expect(data.length).toBe(plate.width * plate.height * channels);
  let wrong = 0;
  for (let i = 0; i < plate.data.length; i++) if (data[i * channels + 1] !== plate.data[i]) wrong++;
  expect(wrong).toBe(0);
});

test('the print as PNG is transparent where nothing prints, and has a profile of sRGB', async () => {
  const file = path.join(out, 'print.png');
  const metadata = await sharp(file).metadata();
  expect([metadata.width, metadata.height]).toEqual([1200, 900]);
  expect(metadata.density).toBe(300);
  // The profile's description, in UTF-16.
  expect(metadata.icc!.toString('latin1')).toContain('s\0R\0G\0B');
  const { data } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
  const at = (x: number, y: number) => [...data.subarray((y * 1200 + x) * 4, (y * 1200 + x) * 4 + 4)];
  expect(at(1190, 10)[3]).toBe(0);
  const red = at(930, 270);
  // Ink of 0.75 over a base of 0.85 lets a twenty-fifth of the ground through.
  expect(red[3]).toBeGreaterThan(230);
  expect(red[0]).toBeGreaterThan(180);
  expect(red[2]).toBeLessThan(90);
});

test('the print as PNG, laid over the garment, is the print that was predicted on it, fades included', async () => {
  const [garment, side] = [[0x10, 0x18, 0x20], 400];
  const pixels = (file: string) =>
    sharp(path.join(out, file))
      .resize(side, 300, { fit: 'fill', kernel: 'nearest' })
      .ensureAlpha()
      .raw()
      .toBuffer();
  const [print, preview] = [await pixels('print.png'), await pixels('preview.png')];
  const linear = (code: number) => (code <= 10 ? code / 255 / 12.92 : ((code / 255 + 0.055) / 1.055) ** 2.4);
  const coded = (light: number) =>
    255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055);
  let most = 0;
  // From the middle of the glow to its end.
  for (let x = 120; x < 230; x += 5) {
    const at = (150 * side + x) * 4;
    const alpha = print[at + 3]! / 255;
    garment.forEach((code, c) => {
      const light = alpha * linear(print[at + c]!) + (1 - alpha) * linear(code);
      most = Math.max(most, Math.abs(coded(light) - preview[at + c]!));
    });
  }
  // Ink that lets the garment through does so in one channel more than in another; one alpha stands for the three.
  expect(most).toBeLessThan(8);
});

/** Share of ink in a part of a film. */
function inkShare(
  film: Awaited<ReturnType<typeof grey>>,
  x0: number,
  y0: number,
  width: number,
  height: number,
) {
  let ink = 0;
  for (let y = y0; y < y0 + height; y++) {
    for (let x = x0; x < x0 + width; x++) if (film.data[y * film.width + x]! < 128) ink++;
  }
  return ink / (width * height);
}

test('the wedge in the margin has the film tones that it stands for', async () => {
  const film = await grey(path.join(out, `${base(1)}.tif`));
  // It stands at the print's left edge, 8 mm below the print, its patches 6 mm wide.
  const mm = DPI / 25.4;
  const left = Math.round(2.25 * DPI) & ~7;
  const patch = Math.round(6 * mm);
  const top = Math.round(7 * DPI + 8 * mm);
  // Whole cells of 600 / 45 pixels, turned by 22.5 degrees: over many of them the edges hardly count.
  WEDGE_STEPS.forEach((step, k) => {
    const share = inkShare(film, left + k * patch + 3, top + 3, patch - 6, Math.round(6 * mm) - 6);
    expect(Math.abs(share - step)).toBeLessThan(0.03);
  });
});

test('a film made alone is the film of the set, byte for byte', () => {
  const alone = path.join(folder, 'alone');
  const result = run(
    'films',
    path.join(out, 'job.json'),
    '--out',
    alone,
    '--plate',
    '2',
    '--formats',
    'tiff',
  );
  expect(result).toEqual({ status: 0, err: '' });
  expect(readdirSync(alone).filter((name) => name.endsWith('.tif'))).toEqual([`${base(1)}.tif`]);
  const [one, other] = [alone, out].map((each) => readFileSync(path.join(each, `${base(1)}.tif`)));
  expect(Buffer.compare(one!, other!)).toBe(0);
}, 60_000);

test('gain, readings of a wedge, dispersed dots: film tones follow', async () => {
  const wedge = path.join(folder, 'wedge.txt');
  writeFileSync(wedge, '# film print\n25 40\n50 70\n75 90\n');
  const films = async (name: string, ...options: string[]) => {
    const target = path.join(folder, name);
    const all = ['films', path.join(out, 'job.json'), '--out', target, '--plate', '2', '--formats', 'tiff'];
    // Some of these settings print fades visibly off, which is said.
    expect(run(...all, '--marks', 'none', ...options)).toMatchObject({ status: 0 });
    const film = await grey(path.join(target, `${base(1)}.tif`));
    // Half a millimetre round a place of the fading disc, where the artwork holds a little less than 0.6.
    const share = (x: number, y: number, side: number) =>
      inkShare(
        film,
        Math.round(2.25 * DPI + x * DPI - side / 2),
        Math.round(4 * DPI + y * DPI - side / 2),
        side,
        side,
      );
    return { ring: share(1.2 + 0.5, 1.5, 80), solid: share(3.1, 2.1, 200) };
  };
  const plain = await films('plain', '--gain', '0', '--largest', '100');
  const gained = await films('gained', '--gain', '20%', '--largest', '100');
  const measured = await films('measured', '--wedge', wedge, '--largest', '100');
  const dispersed = await films('dispersed', '--gain', '0', '--geometry', 'dispersed', '--dot', '127');
  // y = a + 0.4 sqrt(a (1 - a)), so what is wanted as y stands as a.
  const printed = gained.ring + 0.4 * Math.sqrt(gained.ring * (1 - gained.ring));
  expect(Math.abs(printed - plain.ring)).toBeLessThan(0.03);
  expect(measured.ring).toBeLessThan(plain.ring - 0.1);
  expect(Math.abs(dispersed.ring - plain.ring)).toBeLessThan(0.06);
  for (const each of [plain, gained, measured, dispersed]) expect(each.solid).toBe(1);
}, 240_000);

test('films of inks that interlock have no ink in common, and together fill a blend of the two', async () => {
  const blend = path.join(folder, 'blend.svg');
  // From gold to coral over two inches, between an inch of each.
  writeFileSync(
    blend,
    `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="2in" viewBox="0 0 400 200">
  <defs><linearGradient id="g"><stop offset="0.25" stop-color="#f0b030"/><stop offset="0.75" stop-color="#d8412f"/></linearGradient></defs>
  <rect width="400" height="200" fill="url(#g)"/></svg>`,
  );
  const target = path.join(folder, 'interlocked');
  const result = run(
    'separate',
    blend,
    ...['--width', '4in', '--garment', '#101820', '--out', target, '--dpi', '720', '--sheet', '6x4in'],
    ...['--inks', 'gold=#f0b030,coral=#d8412f', '--geometry', 'interlocked', '--angle', '0', '--gain', '0'],
    ...['--marks', 'none', '--formats', 'tiff', '--date', '2026-03-14', '--background', 'keep'],
  );
  expect(result).toEqual({ status: 0, err: '' });
  const films = readdirSync(target).filter((name) => name.endsWith('.tif'));
  const [gold, coral] = await Promise.all(
    ['gold', 'coral'].map((ink) =>
      grey(
        path.join(
          target,
          films.find((name) => name.includes(ink))!,
        ),
      ),
    ),
  );
  // The print is 4 x 2 in in the middle of the sheet; the blend is its middle half, counted in whole cells of 16 pixels.
  const count = (x: number, width: number) => {
    const found = { gold: 0, coral: 0, both: 0, all: 0 };
    for (let dy = 0; dy < 480; dy++) {
      for (let dx = 0; dx < width; dx++) {
        const at = (1 * 720 + 480 + dy) * gold!.width + 720 + x + dx;
        const one = gold!.data[at * gold!.channels]! < 128;
        const other = coral!.data[at * coral!.channels]! < 128;
        found.all++;
        if (one) found.gold++;
        if (other) found.coral++;
        if (one && other) found.both++;
      }
    }
    return found;
  };
  for (const share of [0.3, 0.5, 0.7]) {
    const found = count(Math.round(720 + 1440 * share) - 40, 80);
    expect(found.both).toBe(0);
    expect((found.gold + found.coral) / found.all).toBeGreaterThan(0.99);
    // Dots stand in for the blend in steps of the artwork's own colours; how it runs between its ends is its own matter.
    expect(found.gold / found.all).toBeLessThan(0.99);
    expect(found.coral / found.all).toBeLessThan(0.99);
  }
  expect(count(200, 160)).toMatchObject({ gold: 160 * 480, coral: 0 });
  expect(count(2500, 160)).toMatchObject({ gold: 0, coral: 160 * 480 });
}, 120_000);

test('the film of a step wedge has the tones that its figures say', async () => {
  const target = path.join(folder, 'steps');
  mkdirSync(target);
  expect(run('wedge', '--out', target, '--dpi', '720', '--lpi', '45')).toEqual({ status: 0, err: '' });
  tool('pdfimages', '-png', path.join(target, 'wedge.pdf'), path.join(target, 'page'));
  const film = await grey(path.join(target, 'page-000.png'));
  const mm = 720 / 25.4;
  const patch = Math.round(12 * mm);
  const left = Math.round(8 * mm) & ~7;
  MEASURING_STEPS.slice(0, 13).forEach((step, k) => {
    // Whole cells: a square of 20 cells of 16 pixels.
    const share = inkShare(film, left + k * patch + 10, Math.round(12 * mm) + 10, 320, 320);
    expect(Math.abs(share - step)).toBeLessThan(0.01);
  });
});

test.each([
  [['--names', '{shirt}'], 'name pattern has {shirt}'],
  [['--geometry', 'woven'], '--geometry woven is not known'],
  [['--gain', '80%'], '--gain "80" is not a number from 0 to 50'],
  [['--formats', 'pdf,bmp'], '--formats bmp is not known'],
  [['--stretch', '50x0'], 'not two numbers from -20 to 20'],
  [['--lpi', '149', '--dpi', '300'], 'fewer than 4 dots across a cell'],
  [['--wedge', 'missing.txt'], 'cannot be read'],
  [['--marks', 'sides', '--sheet', '4.5x4in'], 'would stand on the print'],
])('bad input %j says what to do', (options, words) => {
  const result = run('films', path.join(out, 'job.json'), '--out', path.join(folder, 'bad'), ...options);
  expect(result.status).toBe(2);
  expect(result.err).toContain(words);
  expect(result.err.trim().split('\n')).toHaveLength(1);
});

test('readings that contradict each other are refused by the step', () => {
  const wedge = path.join(folder, 'falling.txt');
  writeFileSync(wedge, '20 40\n40 30\n60 80\n');
  const result = run(
    'films',
    path.join(out, 'job.json'),
    '--out',
    path.join(folder, 'bad'),
    '--wedge',
    wedge,
  );
  expect(result.status).toBe(2);
  expect(result.err).toContain('At 40 % the wedge reads 30 %, less than the 40 % of a lighter step.');
});
