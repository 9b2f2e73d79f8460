import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { run as runCli, tool } from './commandLine';

// The command line as users run it, and its files as programs that the project did not write read them.

let folder: string;

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-cli-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const run = (...args: string[]) => runCli(args);
const hash = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex');

/** Gold square with a coral disc on it, a white bar, and a black bar beside gold: 4 x 3 in. */
const FLAT = `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="3in" viewBox="0 0 400 300">
  <rect x="50" y="50" width="200" height="200" fill="#f0b030"/>
  <circle cx="150" cy="150" r="60" fill="#d8412f"/>
  <rect x="250" y="50" width="100" height="200" fill="#111111"/>
  <rect x="60" y="270" width="280" height="16" fill="#ffffff"/>
</svg>`;

/** Pixels of a film by libtiff: true = ink. */
async function readFilm(
  file: string,
): Promise<{ width: number; height: number; ink: (x: number, y: number) => boolean }> {
  const plain = `${file}.plain.tif`;
  tool('tiffcp', '-c', 'none', file, plain);
  const { data, info } = await sharp(plain).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    ink: (x, y) => data[(y * info.width + x) * info.channels]! < 128,
  };
}

describe('separate', () => {
  let out: string;
  let report: {
    plates: {
      number: number;
      name: string;
      role: string;
      coverage: number;
      screen: { kind: string };
      file: string;
      ink: { color: string };
    }[];
    printSizeMm: { width: number; height: number };
    difference: { mean: number; p95: number };
    findings: { code: string }[];
    seconds: Record<string, number>;
  };

  beforeAll(() => {
    const art = path.join(folder, 'flat.svg');
    writeFileSync(art, FLAT);
    out = path.join(folder, 'flat');
    const result = run(
      'separate',
      art,
      '--width',
      '4in',
      '--garment',
      '#16233f',
      '--out',
      out,
      '--sheet',
      '8.5x11in',
      '--choke',
      '0.5mm',
      '--date',
      '2026-03-14',
    );
    expect(result.err).toBe('');
    expect(result.status).toBe(0);
    report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8'));
  });

  it('reports plates in print order: base first, light to dark, highlight white last', () => {
    expect(report.plates.map((plate) => plate.role)).toEqual([
      'underbase',
      'colour',
      'colour',
      'colour',
      'highlight',
    ]);
    expect(report.plates.map((plate) => plate.ink.color).slice(1, 4)).toEqual([
      '#f0b030',
      '#d8412f',
      '#111111',
    ]);
    expect(report.plates.map((plate) => plate.number)).toEqual([1, 2, 3, 4, 5]);
    expect(report.printSizeMm.width).toBeCloseTo(101.6, 6);
    expect(report.printSizeMm.height).toBeCloseTo(76.2, 6);
  });

  it('covers what the drawing covers', () => {
    const whole = 400 * 300;
    const disc = Math.PI * 60 * 60;
    expect(report.plates[1]!.coverage).toBeCloseTo((200 * 200 - disc) / whole, 3);
    expect(report.plates[2]!.coverage).toBeCloseTo(disc / whole, 3);
    expect(report.plates[3]!.coverage).toBeCloseTo((100 * 200) / whole, 3);
    expect(report.plates[1]!.screen.kind).toBe('solid');
  });

  it('chokes the base by half a millimetre against the garment, runs it under black, and leaves inner edges alone', async () => {
    const base = await readFilm(path.join(out, report.plates[0]!.file));
    const gold = await readFilm(path.join(out, report.plates[1]!.file));
    const coral = await readFilm(path.join(out, report.plates[2]!.file));
    const black = await readFilm(path.join(out, report.plates[3]!.file));
    const x0 = Math.round(((8.5 - 4) / 2) * 720);
    const y0 = Math.round(((11 - 3) / 2) * 720);
    const dot = 720 / 100;
    const row = y0 + 70 * dot;
    const runOf = (film: typeof base, y: number, from: number, to: number) => {
      const xs = [];
      for (let x = from; x < to; x++) if (film.ink(x, y)) xs.push(x);
      return { first: xs[0]!, last: xs[xs.length - 1]!, count: xs.length };
    };
    const goldRow = runOf(gold, row, x0, x0 + 400 * dot);
    const baseRow = runOf(base, row, x0, x0 + 400 * dot);
    const chokeDots = (0.5 / 25.4) * 720;
    expect(goldRow.first).toBe(x0 + 50 * dot);
    expect(Math.abs(baseRow.first - goldRow.first - chokeDots)).toBeLessThanOrEqual(1);
    // 0.15 mm under the black bar, common practice, no source.
    const under = baseRow.last - goldRow.last;
    expect(Math.abs(under - (0.15 / 25.4) * 720)).toBeLessThanOrEqual(1);
    expect(baseRow.count).toBe(baseRow.last - baseRow.first + 1);
    // Every pixel of the shape has exactly one colour: no gap, no overlap.
    let notOne = 0;
    for (let y = y0 + 50 * dot; y < y0 + 250 * dot; y += 3) {
      for (let x = x0 + 50 * dot; x < x0 + 350 * dot; x += 3) {
        if (Number(gold.ink(x, y)) + Number(coral.ink(x, y)) + Number(black.ink(x, y)) !== 1) notOne++;
      }
    }
    expect(notOne).toBe(0);
  });

  it('writes a PDF whose pages have the exact size of the sheet and hold the films to the pixel', async () => {
    const info = tool('pdfinfo', path.join(out, 'films.pdf'));
    expect(info).toMatch(/Pages:\s+5/);
    const [, width, height] = /Page size:\s+([\d.]+) x ([\d.]+) pts/.exec(info)!;
    expect(Math.abs((Number(width) * 25.4) / 72 - 215.9)).toBeLessThan(0.1);
    expect(Math.abs((Number(height) * 25.4) / 72 - 279.4)).toBeLessThan(0.1);
    const list = tool('pdfimages', '-list', path.join(out, 'films.pdf'));
    expect(list.match(/ccitt/g)).toHaveLength(5);
    expect(list).toMatch(/6120\s+7920\s+gray\s+1\s+1\s+ccitt\s+no\s+\d+\s+0\s+720\s+720/);
    const images = path.join(folder, 'images');
    mkdirSync(images, { recursive: true });
    tool('pdfimages', '-png', path.join(out, 'films.pdf'), path.join(images, 'page'));
    for (const [index, name] of readdirSync(images).sort().entries()) {
      const page = await sharp(path.join(images, name)).toColourspace('b-w').raw().toBuffer();
      const film = await readFilm(path.join(out, report.plates[index]!.file));
      let different = 0;
      for (let i = 0; i < page.length; i++)
        if (page[i]! < 128 !== film.ink(i % film.width, Math.floor(i / film.width))) different++;
      expect(different).toBe(0);
    }
  });

  it('writes TIFFs that libtiff reads: one bit, Group 4, at the film resolution', () => {
    const info = tool('tiffinfo', path.join(out, report.plates[2]!.file));
    expect(info).toMatch(/Image Width: 6120 Image Length: 7920/);
    expect(info).toMatch(/Resolution: 720, 720 pixels\/inch/);
    expect(info).toMatch(/Bits\/Sample: 1/);
    expect(info).toMatch(/Compression Scheme: CCITT Group 4/);
    expect(info).toMatch(/min-is-white/);
  });

  it('writes 8-bit planes and a preview', async () => {
    const planes = readdirSync(path.join(out, 'plates')).sort();
    expect(planes).toHaveLength(5);
    const meta = await sharp(path.join(out, 'plates', planes[1]!)).metadata();
    expect([meta.width, meta.height, meta.channels]).toEqual([1200, 900, 1]);
    const data = await sharp(path.join(out, 'plates', planes[1]!))
      .toColourspace('b-w')
      .raw()
      .toBuffer();
    expect(data[1200 * 170 + 170]).toBe(255);
    expect(data[1200 * 20 + 20]).toBe(0);
    const preview = await sharp(path.join(out, 'preview.png')).stats();
    expect(preview.channels).toHaveLength(4);
    expect(report.difference.mean).toBeLessThan(3);
  });

  it('makes the same films again from its job sheet, on another number of threads', () => {
    const again = path.join(folder, 'again');
    const result = run('films', path.join(out, 'job.json'), '--out', again, '--threads', '1');
    expect(result.status).toBe(0);
    for (const name of ['films.pdf', ...report.plates.map((plate) => plate.file)]) {
      expect(hash(path.join(again, name))).toBe(hash(path.join(out, name)));
    }
  });

  it('spreads colours over the base: one pixel of choke and one of spread make two of difference', async () => {
    const art = path.join(folder, 'flat.svg');
    const target = path.join(folder, 'spread');
    const result = run(
      'separate',
      art,
      '--width',
      '4in',
      '--garment',
      '#16233f',
      '--out',
      target,
      '--sheet',
      '8.5x11in',
      '--choke',
      '1px',
      '--spread',
      '1px',
      '--inks',
      'Sun=#f0b030,Coral=#d8412f,Tar=#111111,Foam=#ffffff',
    );
    expect(result.err).toBe('');
    expect(readdirSync(target)).toContain('02-sun.tif');
    const base = await readFilm(path.join(target, '01-base-white.tif'));
    const sun = await readFilm(path.join(target, '02-sun.tif'));
    const y = Math.round(4 * 720 + 70 * 7.2);
    const first = (film: typeof base) => {
      let x = 0;
      while (!film.ink(x, y)) x++;
      return x;
    };
    expect(Math.abs(first(base) - first(sun) - (2 / 300) * 720)).toBeLessThanOrEqual(1);
    expect(Math.abs(first(sun) - (Math.round(2.25 * 720) + 50 * 7.2 - 720 / 300))).toBeLessThanOrEqual(1);
  });
});

describe('pixels', () => {
  it('finds the colours of a noisy JPEG with two nearly equal shades, and drops its background', async () => {
    const art = path.join(folder, 'shades.jpg');
    const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="900" height="700">
      <rect width="900" height="700" fill="#ffffff"/>
      <rect x="100" y="100" width="350" height="500" fill="#1f6e8e"/>
      <rect x="450" y="100" width="350" height="500" fill="#24708c"/>
      <circle cx="450" cy="350" r="150" fill="#f0b030"/></svg>`;
    await sharp(
      Buffer.from(
        await sharp({ create: { width: 900, height: 700, channels: 3, background: '#fff' } })
          .png()
          .toBuffer(),
      ),
    )
      .composite([{ input: await renderSvg(drawing), left: 0, top: 0 }])
      .jpeg({ quality: 75 })
      .toFile(art);
    const out = path.join(folder, 'shades');
    const result = run(
      'separate',
      art,
      '--width',
      '3in',
      '--garment',
      '#16233f',
      '--out',
      out,
      '--sheet',
      '8.5x11in',
    );
    expect(result.err).toBe('');
    const report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8'));
    expect(report.plates.map((plate: { role: string }) => plate.role)).toEqual([
      'underbase',
      'colour',
      'colour',
    ]);
    expect(report.plates.every((plate: { screen: { kind: string } }) => plate.screen.kind === 'solid')).toBe(
      true,
    );
    const disc = Math.PI * 150 * 150;
    expect(report.plates[1].coverage).toBeCloseTo(disc / (900 * 700), 2);
    expect(report.plates[2].coverage).toBeCloseTo((700 * 500 - disc) / (900 * 700), 2);
  });
});

/** A drawing as PNG, by the renderer that the application ships. */
async function renderSvg(svg: string): Promise<Buffer> {
  const { Resvg } = await import('@resvg/resvg-js');
  return new Resvg(svg).render().asPng();
}

describe('bad input', () => {
  const cases: readonly [string, string[], RegExp][] = [
    ['no width', ['--garment', '#000', '--out', 'x'], /--width is missing/],
    ['a width of zero', ['--width', '0in', '--garment', '#000', '--out', 'x'], /outside its range/],
    ['a negative width', ['--width=-3in', '--garment', '#000', '--out', 'x'], /outside its range/],
    ['a width beyond 60 in', ['--width', '61in', '--garment', '#000', '--out', 'x'], /outside its range/],
    ['an unknown unit', ['--width', '12 cubits', '--garment', '#000', '--out', 'x'], /unknown unit "cubits"/],
    ['a colour that is none', ['--width', '4in', '--garment', 'blueish', '--out', 'x'], /not a colour/],
    ['an unknown option', ['--width', '4in', '--garment', '#000', '--out', 'x', '--sparkle'], /sparkle/],
  ];
  it.each(cases)('%s: one line, exit code 2', (_, args, message) => {
    const art = path.join(folder, 'flat.svg');
    const out = path.join(folder, 'refused');
    const result = run('separate', art, ...args.map((each) => (each === 'x' ? out : each)));
    expect(result.status).toBe(2);
    expect(result.err.trim().split('\n')).toHaveLength(1);
    expect(result.err).toMatch(message);
  });

  it('a print that does not fit its sheet is refused with what would fit', () => {
    const result = run(
      'separate',
      path.join(folder, 'flat.svg'),
      '--width',
      '20in',
      '--garment',
      '#000',
      '--out',
      path.join(folder, 'off'),
    );
    expect(result.status).toBe(2);
    expect(result.err).toMatch(/off the sheet.*larger sheet/);
  });

  it('a damaged job sheet names the field', () => {
    const job = JSON.parse(readFileSync(path.join(folder, 'flat', 'job.json'), 'utf8'));
    job.film.dpi = 10;
    const file = path.join(folder, 'flat', 'damaged.json');
    writeFileSync(file, JSON.stringify(job));
    const result = run('films', file, '--out', path.join(folder, 'damaged'));
    expect(result.status).toBe(2);
    expect(result.err).toMatch(/film\.dpi/);
  });
});

test('a disk that is full in mid-film is told in words, and no half film has a name', () => {
  const art = path.join(folder, 'full.svg');
  writeFileSync(art, FLAT);
  const whole = path.join(folder, 'whole');
  const options = ['--width', '4in', '--garment', '#16233f', '--sheet', '8.5x11in', '--dpi', '300'];
  expect(run('separate', art, ...options, '--out', whole).status).toBe(0);
  const out = path.join(folder, 'full');
  // The system refuses files beyond a size as it does a full disk; in blocks of 512 or 1024 bytes, both too small for a film.
  const command = `ulimit -f 4; exec "$@"`;
  const cli = [
    process.execPath,
    path.join(path.resolve('.'), process.env.KERAMEUS_DIST ?? 'dist', 'cli.mjs'),
  ];
  const result = spawnSync(
    'bash',
    ['-c', command, 'bash', ...cli, 'films', path.join(whole, 'job.json'), '--out', out],
    { encoding: 'utf8', env: { ...process.env, KERAMEUS_ROOT: path.resolve('.') } },
  );
  expect(result.status).toBe(2);
  expect(result.stderr).toContain('no room left on the disk');
  expect(readdirSync(out).filter((name) => name !== 'plates')).toEqual([]);
});

test('the program in bin runs from any folder, and through a link to it', () => {
  const link = path.join(folder, 'kerameus');
  symlinkSync(path.resolve('bin/kerameus'), link);
  const { status, stdout } = spawnSync(link, ['--help'], { cwd: folder, encoding: 'utf8' });
  expect(status).toBe(0);
  expect(stdout).toContain('kerameus separate ART');
});
