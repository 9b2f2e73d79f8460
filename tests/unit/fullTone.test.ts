import {
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { converter, differenceCiede2000 } from 'culori';
import sharp from 'sharp';
import type { JobSheet } from '@/core/sheet';
import { version9 } from '../olderSheet';
import { painting } from '../painting';
import { outcome, separate, tool } from './commandLine';

// A painting from the command line to films, and the films put together again by other programs: libtiff, libvips and culori.

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-tone-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const DPI = 720;
const GARMENT = '#17171b';

interface Report {
  readonly method: string;
  readonly plates: readonly {
    readonly role: string;
    readonly file: string;
    readonly coverage: number;
    readonly ink: { readonly color: string; readonly opacity: number };
    readonly screen: { readonly kind: string };
  }[];
  readonly printAtMm: { readonly x: number; readonly y: number };
  readonly difference: { readonly mean: number };
  readonly printable: { readonly mean: number } | null;
  readonly findings: readonly { readonly code: string; readonly message: string }[];
}

async function writePicture(name: string, width: number, height: number, data: Uint8Array): Promise<string> {
  const file = path.join(folder, name);
  await sharp(data, { raw: { width, height, channels: 4 } })
    .withMetadata({ density: 300 })
    .png()
    .toFile(file);
  return file;
}

const reportOf = (out: string) => JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report;

/** Linear light of a code, IEC 61966-2-1. */
const linear = (code: number) => {
  const share = code / 255;
  return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
};
const ofHex = (hex: string) => [1, 3, 5].map((at) => linear(parseInt(hex.slice(at, at + 2), 16)));

/** Ink of a film, 1 or 0, of the print's part of it. */
async function readFilm(file: string, left: number, top: number, width: number, height: number) {
  const plain = `${file}.plain.tif`;
  tool('tiffcp', '-c', 'none', file, plain);
  const { data, info } = await sharp(plain).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  return (x: number, y: number) =>
    x < 0 || y < 0 || x >= width || y >= height
      ? 0
      : data[((y + top) * info.width + x + left) * info.channels]! < 128
        ? 1
        : 0;
}

type Film = (x: number, y: number) => number;

const [FILM_WIDTH, FILM_HEIGHT] = [(480 * DPI) / 300, (360 * DPI) / 300];

/** How far films lie from the preview, in windows of 2 mm, where dots come to their mean (CIEDE2000). */
async function filmsAgainstPreview(out: string, report: Report, films: readonly Film[]): Promise<number[]> {
  const lab = converter('lab');
  const difference = differenceCiede2000();
  const { data, info } = await sharp(path.join(out, 'preview.png'))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const garment = ofHex(GARMENT);
  const inks = report.plates.map(({ ink }) => ({ colour: ofHex(ink.color), opacity: ink.opacity }));
  // Windows of 2 mm: dots come to their mean there.
  const side = Math.round((2 * DPI) / 25.4);
  const differences: number[] = [];
  for (let top = 0; top + side <= FILM_HEIGHT; top += side) {
    for (let left = 0; left + side <= FILM_WIDTH; left += side) {
      const sums = [0, 0, 0];
      for (let y = top; y < top + side; y++) {
        for (let x = left; x < left + side; x++) {
          let light = garment;
          inks.forEach(({ colour, opacity }, k) => {
            if (films[k]!(x, y) === 1)
              light = light.map((below, c) => opacity * colour[c]! + (1 - opacity) * below * colour[c]!);
          });
          light.forEach((each, c) => (sums[c]! += each / (side * side)));
        }
      }
      const shown = [0, 0, 0];
      const scale = info.width / FILM_WIDTH;
      const [x0, x1] = [Math.round(left * scale), Math.round((left + side) * scale)];
      const [y0, y1] = [Math.round(top * scale), Math.round((top + side) * scale)];
      for (let y = y0; y < y1; y++) {
        for (let x = x0; x < x1; x++) {
          for (let c = 0; c < 3; c++)
            shown[c]! += linear(data[(y * info.width + x) * 3 + c]!) / ((x1 - x0) * (y1 - y0));
        }
      }
      const [print, seen] = [sums, shown].map(([r, g, b]) => lab({ mode: 'lrgb', r: r!, g: g!, b: b! }));
      differences.push(difference(print!, seen!));
    }
  }
  return differences;
}

/** The films of a folder, the print's part of them. */
function filmsOf(out: string, { plates, printAtMm: { x, y } }: Report): Promise<Film[]> {
  const px = (mm: number) => Math.round((mm * DPI) / 25.4);
  return Promise.all(
    plates.map(({ file }) => readFilm(path.join(out, file), px(x), px(y), FILM_WIDTH, FILM_HEIGHT)),
  );
}

describe('a painting with a hard edge on the left and a fade on the right', () => {
  const [width, height] = [480, 360];
  const art = painting(width, height, 21, 'oval');
  let out: string;
  let report: Report;
  let films: Film[];
  const [filmWidth, filmHeight] = [FILM_WIDTH, FILM_HEIGHT];

  beforeAll(async () => {
    const file = await writePicture('painting.png', width, height, art.data);
    out = path.join(folder, 'painting');
    const { status, err } = separate(file, out, {
      width: '1.6in',
      garment: GARMENT,
      inks: 'yellow=#fcdc14/0.7,red=#de2224/0.75,blue=#183aaa/0.75,black=#16161a/0.95',
      gain: '0',
      marks: 'none',
    });
    expect(err).toContain('separated by tones');
    expect(status).toBe(0);
    report = reportOf(out);
    films = await filmsOf(out, report);
  }, 300_000);

  it('is separated into base, inks and a white on top, all of them dots', () => {
    expect(report.method).toBe('simulated');
    expect(report.plates.map(({ role }) => role)).toEqual([
      'underbase',
      ...Array.from({ length: 4 }, () => 'colour'),
      'highlight',
    ]);
    for (const { screen, coverage } of report.plates) {
      expect(screen.kind).toBe('dispersed');
      expect(coverage).toBeGreaterThan(0);
    }
    expect(report.difference.mean).toBeGreaterThanOrEqual(report.printable!.mean - 0.3);
  });

  it('prints from its films what the prediction shows', async () => {
    const differences = await filmsAgainstPreview(out, report, films);
    expect(differences.length).toBeGreaterThan(200);
    expect(differences.reduce((sum, each) => sum + each, 0) / differences.length).toBeLessThan(1);
  });

  it('prints what is predicted with dots that divide each cell, and with none of its inks beside the base', async () => {
    const beside = path.join(folder, 'beside');
    const { status } = outcome([
      'films',
      path.join(out, 'job.json'),
      '--out',
      beside,
      '--geometry',
      'interlocked',
    ]);
    expect(status).toBe(0);
    const made = reportOf(beside);
    const plates = await filmsOf(beside, made);
    const differences = await filmsAgainstPreview(beside, made, plates);
    expect(differences.reduce((sum, each) => sum + each, 0) / differences.length).toBeLessThan(1);
    // In the painting's middle, away from its edges: an ink lies on the base, and two inks nowhere.
    let [onBase, offBase, together] = [0, 0, 0];
    for (let y = Math.round(filmHeight * 0.3); y < filmHeight * 0.7; y++) {
      for (let x = Math.round(filmWidth * 0.3); x < filmWidth * 0.6; x++) {
        const [base, ...inks] = plates.map((film) => film(x, y)) as [number, ...number[]];
        const count = inks.reduce((sum, each) => sum + each, 0);
        if (count > 1) together++;
        if (count > 0 && base === 1) onBase++;
        if (count > 0 && base === 0) offBase++;
      }
    }
    expect(onBase).toBeGreaterThan(10_000);
    expect(offBase).toBeLessThan(0.01 * onBase);
    expect(together).toBeLessThan(0.01 * onBase);
  });

  it.each(['one-angle', 'groups'])(
    'prints what is predicted with its dots set to %s',
    async (geometry) => {
      const folderOf = path.join(folder, geometry);
      const job = path.join(out, 'job.json');
      expect(outcome(['films', job, '--out', folderOf, '--geometry', geometry]).status).toBe(0);
      const made = reportOf(folderOf);
      const plates = await filmsOf(folderOf, made);
      const differences = await filmsAgainstPreview(folderOf, made, plates);
      expect(differences.reduce((sum, each) => sum + each, 0) / differences.length).toBeLessThan(1);
      // Two inks, window by window: where both print, how much of the one with less ink lies on the other.
      const [, first, second] = plates as [Film, Film, Film];
      const side = Math.round((2 * DPI) / 25.4);
      let [least, together] = [0, 0];
      for (let top = 0; top + side <= filmHeight; top += side) {
        for (let left = 0; left + side <= filmWidth; left += side) {
          let [one, other, both] = [0, 0, 0];
          for (let y = top; y < top + side; y++) {
            for (let x = left; x < left + side; x++) {
              one += first(x, y);
              other += second(x, y);
              both += first(x, y) & second(x, y);
            }
          }
          least += Math.min(one, other);
          together += both;
        }
      }
      expect(least).toBeGreaterThan(1000);
      // Dots of one grid lie in each other; those of a group beside each other. Windows are no single tones.
      if (geometry === 'groups') expect(together).toBeLessThan(0.02 * least);
      else expect(together).toBeGreaterThan(0.8 * least);
    },
    240_000,
  );

  it('ends as a shape where its edge is hard, with the base drawn back there', () => {
    // The oval ends at 0.95 of its half axes; the base 0.15 mm inside of that, the press's tolerance.
    const inside = (x: number, y: number) =>
      0.95 - Math.hypot((x - filmWidth / 2) / (filmWidth / 2), (y - filmHeight / 2) / (filmHeight / 2));
    const pxOf = (share: number) => share * (filmHeight / 2);
    const base = films[0]!;
    let [beyond, nearBase, nearInks] = [0, 0, 0];
    for (let y = 0; y < filmHeight; y++) {
      // Where the halves meet the fade begins.
      for (let x = 0; x < filmWidth * 0.45; x++) {
        // Less than the distance to the edge where it lies to the left: the longer axis is looked at as the shorter one.
        const from = pxOf(inside(x, y));
        const choke = (0.15 * DPI) / 25.4;
        if (from < -4) beyond += films.reduce((sum, film) => sum + film(x, y), 0);
        if (from > -4 && from < choke * 0.6) {
          nearBase += base(x, y);
          nearInks += films.slice(1).reduce((sum, film) => sum + film(x, y), 0);
        }
      }
    }
    expect(beyond).toBe(0);
    expect(nearBase).toBe(0);
    expect(nearInks).toBeGreaterThan(100);
  });

  it('fades out as dots that become fewer, with nothing where nothing is left', () => {
    // Opacity goes from 1 to 0 between 0.73 and 0.98 of the half axes.
    const rings = [0.6, 0.85, 0.96, 0.99].map((from) => {
      let [ink, count] = [0, 0];
      for (let y = 0; y < filmHeight; y++) {
        for (let x = Math.ceil(filmWidth * 0.55); x < filmWidth; x++) {
          const away = Math.hypot(
            (x - filmWidth / 2) / (filmWidth / 2),
            (y - filmHeight / 2) / (filmHeight / 2),
          );
          if (away < from || away > from + 0.02) continue;
          ink += films.reduce((sum, film) => sum + film(x, y), 0);
          count++;
        }
      }
      return ink / count;
    });
    expect(rings[0]).toBeGreaterThan(rings[1]!);
    expect(rings[1]).toBeGreaterThan(rings[2]! * 2);
    expect(rings[2]).toBeGreaterThan(0);
    expect(rings[3]).toBe(0);
  });
});

describe('what may be given with tones', () => {
  const flat = (rgba: readonly number[], width: number, height: number) =>
    Uint8Array.from({ length: width * height * 4 }, (_, i) => rgba[i % 4]!);
  const tones = { width: '1in', garment: GARMENT, method: 'simulated', marks: 'none', dpi: '300' };

  it.each([
    ['one colour', [200, 60, 40, 255], 60, 60, {}],
    ['one pixel across', [200, 60, 40, 255], 1, 40, { width: '0.3in' }],
    ['one ink', [200, 60, 40, 255], 60, 60, { inks: 'red=#c83c28' }],
    ['an ink that hides nothing', [200, 60, 40, 255], 60, 60, { inks: 'red=#c83c28/0,gold=#f2b134' }],
    ['two equal inks', [200, 60, 40, 255], 60, 60, { inks: 'red=#c83c28,rot=#c83c28' }],
    ['an ink like the garment', [200, 60, 40, 255], 60, 60, { inks: `dark=${GARMENT},red=#c83c28` }],
  ] as const)('makes films of artwork with %s', async (name, rgba, width, height, options) => {
    const file = await writePicture(`${name}.png`, width, height, flat(rgba, width, height));
    const out = path.join(folder, name);
    expect(separate(file, out, { ...tones, ...options })).toMatchObject({ status: 0 });
    const report = reportOf(out);
    expect(report.plates.some(({ coverage }) => coverage > 0.05)).toBe(true);
  });

  it('says that artwork is empty', async () => {
    const file = await writePicture('empty.png', 40, 40, flat([9, 9, 9, 0], 40, 40));
    const { status, err } = separate(file, path.join(folder, 'empty'), tones);
    expect(status).toBe(2);
    expect(err).toContain('transparent');
  });

  it.each([
    ['inks', 'red=#c83c28/1.5', 'opacity'],
    ['base-white', 'milk', 'base-white'],
    ['method', 'magic', 'method'],
    ['background', 'paper', 'background'],
    ['spread', '0.1mm', 'spreadMm'],
  ])('says what is wrong with --%s %s', async (option, value, word) => {
    const file = await writePicture('some.png', 40, 40, flat([200, 60, 40, 255], 40, 40));
    const { status, err } = separate(file, path.join(folder, 'wrong'), { ...tones, [option]: value });
    expect(status).toBe(2);
    expect(err).toContain(word);
  });
});

describe('a drawing by tones', () => {
  const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="144" height="96" viewBox="0 0 144 96">
    <linearGradient id="g"><stop stop-color="#c33"/><stop offset=".5" stop-color="#e8c23a"/><stop offset="1" stop-color="#2a6bb0"/></linearGradient>
    <radialGradient id="f"><stop stop-color="#f4f0e0"/><stop offset="1" stop-color="#f4f0e0" stop-opacity="0"/></radialGradient>
    <rect x="6" y="6" width="100" height="84" rx="20" fill="url(#g)"/><circle cx="110" cy="50" r="30" fill="url(#f)"/></svg>`;
  const options = { width: '2in', garment: GARMENT, method: 'simulated', marks: 'none', dpi: String(DPI) };

  /** Films of the same plates, told apart by their numbers. */
  const pixelsOf = async (out: string) => {
    const { plates } = reportOf(out);
    return Promise.all(
      plates.map(async ({ file }) => {
        const { data } = await sharp(path.join(out, file))
          .toColourspace('b-w')
          .raw()
          .toBuffer({ resolveWithObject: true });
        return data;
      }),
    );
  };

  it('makes the films of a picture that another program has drawn of it with 360 dpi', async () => {
    const file = path.join(folder, 'gradients.svg');
    writeFileSync(file, drawing);
    const picture = path.join(folder, 'gradients.png');
    tool('rsvg-convert', '-w', '720', '-o', picture, file);
    const [ours, theirs] = [path.join(folder, 'drawn'), path.join(folder, 'pictured')];
    expect(separate(file, ours, options).status).toBe(0);
    expect(separate(picture, theirs, options).status).toBe(0);
    const [drawn, pictured] = [await pixelsOf(ours), await pixelsOf(theirs)];
    expect(drawn.length).toBe(pictured.length);
    drawn.forEach((film, k) => {
      const other = pictured[k]!;
      let differs = 0;
      let ink = 0;
      for (let i = 0; i < film.length; i++) {
        if (film[i]! < 128) ink++;
        if (film[i]! < 128 !== other[i]! < 128) differs++;
      }
      // Two renderings differ by a code here and there, and at edges.
      expect(differs).toBeLessThan(0.01 * film.length);
      if (reportOf(ours).plates[k]!.coverage > 0.01) expect(ink).toBeGreaterThan(1000);
    });
  });
});

describe('a painting that was saved on white paper', () => {
  const [width, height] = [480, 360];
  const art = painting(width, height, 21, 'none');
  // A disc of it, with a smooth edge of a pixel.
  for (let i = 0; i < width * height; i++) {
    const inside =
      160.5 - Math.hypot((i % width) + 0.5 - width / 2, Math.floor(i / width) + 0.5 - height / 2);
    art.data[i * 4 + 3] = Math.round(255 * Math.min(1, Math.max(0, inside)));
  }
  const options = { width: '1.6in', garment: GARMENT, method: 'simulated', marks: 'none', dpi: String(DPI) };

  it('prints as the transparent one does: the paper is left to the garment', async () => {
    const clear = await writePicture('clear.png', width, height, art.data);
    const paper = path.join(folder, 'paper.png');
    await sharp(clear).flatten({ background: '#fff' }).png().toFile(paper);
    const [one, other] = [path.join(folder, 'clear'), path.join(folder, 'paper')];
    expect(separate(clear, one, options).status).toBe(0);
    expect(separate(paper, other, options).status).toBe(0);
    const [wanted, made] = [reportOf(one), reportOf(other)];
    made.plates.forEach(({ coverage }, k) => {
      expect(Math.abs(coverage - wanted.plates[k]!.coverage)).toBeLessThan(0.01);
    });
    // White paper says nothing of what stands on it: it is full tone to whoever asks.
    const asked = path.join(folder, 'asked');
    expect(separate(paper, asked, { ...options, method: 'auto' }).status).toBe(0);
    expect(reportOf(asked).method).toBe('simulated');
    const kept = path.join(folder, 'kept');
    expect(separate(paper, kept, { ...options, background: 'keep' }).status).toBe(0);
    const white = (report: Report) =>
      report.plates.reduce((sum, { role, coverage }) => sum + (role === 'underbase' ? coverage : 0), 0);
    expect(white(reportOf(kept))).toBeGreaterThan(white(made) + 0.15);
  });
});

describe('what is chosen where nobody says how', () => {
  const art = painting(240, 200, 8, 'none');

  it('a number of inks at most is asked of flat colours, also of a painting', async () => {
    const file = await writePicture('numbered.png', 240, 200, art.data);
    const out = path.join(folder, 'numbered');
    const options = { width: '1in', garment: GARMENT, marks: 'none', dpi: '300', inks: '4' };
    const { status, err } = separate(file, out, options);
    expect(status).toBe(0);
    expect(err).toContain('it is full tone, and spot plates posterise it');
    expect(reportOf(out).method).toBe('spot');
  });

  it('one film of a plate that prints nothing is made; only a set that prints nothing is refused', async () => {
    const red = Uint8Array.from({ length: 40 * 40 * 4 }, (_, i) => [222, 34, 36, 255][i % 4]!);
    const file = await writePicture('red.png', 40, 40, red);
    const out = path.join(folder, 'red');
    const options = { width: '1in', garment: '#ffffff', method: 'simulated', marks: 'none', dpi: '300' };
    // On white, blue has no part in a red.
    expect(separate(file, out, { ...options, inks: 'red=#de2224,blue=#183aaa', plate: '2' }).status).toBe(0);
    expect(reportOf(out).plates.map(({ coverage }) => coverage < 0.01)).toEqual([true]);
  });
});

test('a job sheet of version 7 is of spot colours, and makes the films that it made', () => {
  const file = path.join(folder, 'disc.svg');
  writeFileSync(
    file,
    '<svg xmlns="http://www.w3.org/2000/svg" width="90" height="90"><circle cx="45" cy="45" r="40" fill="#c33"/></svg>',
  );
  const [first, again, sheets] = ['disc', 'disc again', 'disc sheets'].map((name) => path.join(folder, name));
  expect(
    separate(file, first!, { width: '1in', garment: GARMENT, dpi: '300', date: '2026-03-14' }).status,
  ).toBe(0);
  const sheet = JSON.parse(readFileSync(path.join(first!, 'job.json'), 'utf8')) as JobSheet;
  const { separation, ...older } = version9(sheet);
  expect(separation).toEqual({ method: 'spot' });
  mkdirSync(sheets!);
  copyFileSync(file, path.join(sheets!, 'disc.svg'));
  writeFileSync(path.join(sheets!, 'job.json'), JSON.stringify({ ...older, version: 7 }));
  expect(outcome(['films', path.join(sheets!, 'job.json'), '--out', again!])).toMatchObject({ status: 0 });
  const films = readdirSync(first!).filter((name) => name.endsWith('.tif'));
  expect(films.length).toBeGreaterThan(1);
  for (const film of films) {
    expect(readFileSync(path.join(again!, film)).equals(readFileSync(path.join(first!, film)))).toBe(true);
  }
});
