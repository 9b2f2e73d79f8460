import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { painting } from '../painting';
import { outcome, separate, tool } from './commandLine';

// Colours kept solid by the command line, in films that libtiff and libvips read.

let folder: string;
/** Flat discs of eight colours. */
let file: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-kept-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const DPI = 720;
const SIDE = 150;
const RED = '#c8202c';
/** A bar over a painting, in the painting's pixels. */
const BAR = { x: 20, y: 105, width: 110, height: 25 };

interface Report {
  readonly plates: readonly { readonly name: string; readonly file: string; readonly role: string }[];
  readonly printAtMm: { readonly x: number; readonly y: number };
  readonly difference: { readonly mean: number };
  readonly solid: readonly {
    readonly color: string;
    readonly as: string;
    readonly ink: string | null;
    readonly difference: number | null;
  }[];
}

const reportOf = (out: string) => JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report;

/** A rectangle of a film as bytes, 255 = black; given in pixels of 300 an inch of the print. */
async function filmPart(out: string, { printAtMm, plates }: Report, name: string, rect: typeof BAR) {
  const { file } = plates.find((plate) => plate.name === name)!;
  const plain = path.join(out, `${file}.plain.tif`);
  tool('tiffcp', '-c', 'none', path.join(out, file), plain);
  const px = (mm: number) => Math.round((mm * DPI) / 25.4);
  const at = (pixels: number) => Math.round((pixels * DPI) / 300);
  const { data, info } = await sharp(plain)
    .extract({
      left: px(printAtMm.x) + at(rect.x),
      top: px(printAtMm.y) + at(rect.y),
      width: at(rect.width),
      height: at(rect.height),
    })
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return Uint8Array.from({ length: data.length / info.channels }, (_, i) =>
    data[i * info.channels]! < 128 ? 255 : 0,
  );
}

const mean = (bytes: Uint8Array) => bytes.reduce((sum, byte) => sum + byte, 0) / 255 / bytes.length;

/** The share of black in a rectangle of a film. */
async function blackIn(...asked: Parameters<typeof filmPart>) {
  return mean(await filmPart(...asked));
}

async function mixedPicture(): Promise<string> {
  const { data } = painting(SIDE, SIDE, 21, 'none');
  for (let y = BAR.y; y < BAR.y + BAR.height; y++) {
    for (let x = BAR.x; x < BAR.x + BAR.width; x++) data.set([200, 32, 44, 255], (y * SIDE + x) * 4);
  }
  const file = path.join(folder, 'mixed.png');
  await sharp(data, { raw: { width: SIDE, height: SIDE, channels: 4 } })
    .withMetadata({ density: 300 })
    .png()
    .toFile(file);
  return file;
}

const COMMON = { width: '0.5in', marks: 'none', garment: '#17171b', method: 'simulated' };
const INKS = 'gold=#f2c14e/0.75,red=#c8202c/0.75,blue=#2c5c94/0.75';

describe('a bar over a painting', () => {
  it('is solid on its ink, with nothing else on the base, where it is asked for', async () => {
    const out = path.join(folder, 'mixed');
    const { status, err } = separate(await mixedPicture(), out, { ...COMMON, inks: INKS, solid: 'auto' });
    expect(err).toContain(`Kept solid: ${RED} on red (0 off)`);
    expect(status).toBe(0);
    const report = reportOf(out);
    expect(report.solid).toEqual([{ color: RED, as: 'ink', ink: 'red', difference: 0 }]);
    // A film's pixel beside the bar's edge belongs to either side.
    const inside = { x: BAR.x + 1, y: BAR.y + 1, width: BAR.width - 2, height: BAR.height - 2 };
    for (const { name } of report.plates) {
      const wanted = name === 'red' || name === 'Base white' ? 1 : 0;
      expect([name, await blackIn(out, report, name, inside)]).toEqual([name, wanted]);
    }
  }, 120_000);

  it('is dots where nobody asks, and the report says that it could be solid', async () => {
    const out = path.join(folder, 'dots');
    expect(separate(await mixedPicture(), out, { ...COMMON, inks: INKS }).status).toBe(0);
    const report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report & {
      readonly findings: readonly { readonly code: string; readonly message: string }[];
    };
    expect(report.solid).toEqual([]);
    expect(report.findings.find(({ code }) => code === 'flat-as-dots')?.message).toContain(RED);
  }, 120_000);
});

describe('lettering beside a painting', () => {
  it('prints from a JPEG as it does from the picture without loss', async () => {
    const { data } = painting(SIDE, SIDE, 21, 'none');
    const gold = { x: 0, y: 80, width: SIDE, height: 70 };
    const letters = `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="70"><rect width="100%" height="100%" fill="#f2c14e"/>
      <path fill="${RED}" d="M12.3 10.4h10l12 26 12-26h10v50h-10v-32l-9 20h-6l-9-20v32h-10z M70.7 10.4h10v50h-10z M95 10.4l12 18 12-18h12l-18 25 18 25h-12l-12-18-12 18h-12l18-25-18-25z"/></svg>`;
    const picture = sharp(data, { raw: { width: SIDE, height: SIDE, channels: 4 } })
      .composite([{ input: Buffer.from(letters), left: 0, top: gold.y }])
      .removeAlpha()
      .withMetadata({ density: 300 });
    const outs: string[] = [];
    for (const [name, made] of [
      ['letters.png', picture.clone().png()],
      ['letters.jpg', picture.clone().jpeg({ quality: 60 })],
    ] as const) {
      await made.toFile(path.join(folder, name));
      const out = path.join(folder, `films of ${name}`);
      const solid = '#f2c14e,#c8202c';
      expect(separate(path.join(folder, name), out, { ...COMMON, inks: INKS, solid }).status).toBe(0);
      outs.push(out);
    }
    // The painting's last rows are smeared into the first ones of the lettering's ground.
    const inside = { x: 8, y: 88, width: 134, height: 54 };
    for (const [name, share] of [
      ['Base white', 1],
      ['gold', null],
      ['red', null],
      ['blue', 0],
    ] as const) {
      const [exact, lossy] = await Promise.all(outs.map((out) => filmPart(out, reportOf(out), name, inside)));
      if (share !== null) expect([name, mean(exact!)]).toEqual([name, share]);
      const other = mean(exact!.map((byte, i) => byte ^ lossy![i]!));
      // A fifth of a pixel along the letters' 677 px of edges.
      expect([name, other < 677 / 5 / (inside.width * inside.height)]).toEqual([name, true]);
    }
  }, 240_000);
});

describe('flat artwork in fewer screens than it has colours', () => {
  const colours = ['#804000', '#ffe14a', '#3f5e00', '#c20000', '#203080', '#c0b8a8', '#a12161', '#5fa0a8'];
  const sizes = [100, 64, 48, 30, 30, 24, 16, 12];
  beforeAll(() => {
    file = path.join(folder, 'flat.svg');
    const discs = colours.map(
      (colour, k) =>
        `<circle cx="${150 + 70 * Math.cos(k)}" cy="${150 + 70 * Math.sin(k)}" r="${sizes[k]}" fill="${colour}"/>`,
    );
    writeFileSync(
      file,
      `<svg xmlns="http://www.w3.org/2000/svg" width="300" height="300" viewBox="0 0 300 300">${discs.join('')}</svg>`,
    );
  });

  it('keeps the colours solid that its inks have, and makes the others of dots', () => {
    const out = path.join(folder, 'few');
    const { status, err } = separate(file, out, { ...COMMON, inks: '4' });
    expect(status).toBe(0);
    expect(err).toContain('Kept solid');
    const report = reportOf(out);
    expect(report.plates.filter(({ role }) => role === 'colour')).toHaveLength(4);
    const solid = report.solid.filter(({ ink }) => ink !== null);
    // An ink that no colour of the artwork is solid on would be wasted on flat artwork with more colours than inks.
    expect(solid.length).toBeGreaterThanOrEqual(2);
    for (const { difference } of solid) expect(difference).toBeLessThanOrEqual(5);
    expect(report.solid.some(({ as }) => as === 'dots')).toBe(true);
    const few = path.join(folder, 'fewer');
    expect(separate(file, few, { ...COMMON, inks: '2' }).status).toBe(0);
    // Fewer inks, farther off.
    expect(reportOf(few).difference.mean).toBeGreaterThan(report.difference.mean);
  }, 240_000);
});

describe('bad input', () => {
  it.each([
    ['mixed', 'red', 'no colour'],
    ['mixed', '#c8202c=tar', 'no ink of this job: red, blue, gold'],
  ])('says what is wrong, films of %s, --solid %s', (name, solid, word) => {
    const job = path.join(folder, name, 'job.json');
    const { err } = outcome(['films', job, '--solid', solid, '--out', path.join(folder, 'bad')]);
    expect(err).toContain(word);
  });

  it('is told where a job has no flat area; and of changed artwork both differences are told', () => {
    const out = path.join(folder, 'grey');
    const job = path.join(folder, 'dots', 'job.json');
    const { err } = outcome(['films', job, '--solid', 'auto', '--saturation=-100%', '--out', out]);
    expect(err).toContain('No flat area was found');
    const figures = (folderOf: string) =>
      JSON.parse(readFileSync(path.join(folderOf, 'report.json'), 'utf8')) as {
        readonly difference: { readonly mean: number };
        readonly differenceAsItCame: { readonly mean: number } | null;
      };
    const { difference, differenceAsItCame } = figures(out);
    // Greys print near to greys, and far from the colours that they were.
    expect(differenceAsItCame!.mean).toBeGreaterThan(difference.mean + 5);
    expect(figures(path.join(folder, 'dots')).differenceAsItCame).toBeNull();
  }, 120_000);

  it('is told where colours are solid anyway', () => {
    const { status, err } = separate(file, path.join(folder, 'bad'), {
      ...COMMON,
      method: 'spot',
      solid: '#c8202c',
    });
    expect(status).toBe(2);
    expect(err).toContain('spot colours are solid');
  });
});
