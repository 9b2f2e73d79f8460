import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { converter, differenceCiede2000 } from 'culori';
import sharp from 'sharp';
import { painting } from '../painting';
import { outcome, separate, tool } from './commandLine';

// Inks chosen from stock by the command line for two garments at once, and the films put together again on each by other programs: libtiff, libvips and culori.

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-inks-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const DPI = 720;
const [WIDTH, HEIGHT] = [300, 240];

interface Figures {
  readonly mean: number;
  readonly p95: number;
}

interface Report {
  readonly plates: readonly {
    readonly name: string;
    readonly role: string;
    readonly file: string;
    readonly ink: { readonly color: string; readonly opacity: number };
  }[];
  readonly printAtMm: { readonly x: number; readonly y: number };
  readonly difference: Figures;
  readonly printable: Figures;
  readonly garments: readonly {
    readonly color: string;
    readonly without: readonly string[];
    readonly difference: Figures;
    readonly printable: Figures;
  }[];
  readonly inks: {
    readonly screens: readonly (Figures & { readonly screens: number; readonly inks: readonly string[] })[];
    readonly allOfStock: Figures;
    readonly present: Figures;
    readonly plates: readonly { readonly name: string; readonly without: Figures | null }[];
  };
}

/** Artwork whose colours are calm: lightness and colours as a print on cloth has them. */
function calmPainting() {
  const { data } = painting(WIDTH, HEIGHT, 33, 'none');
  return data.map((code, i) => (i % 4 === 3 ? 255 : Math.round(70 + (code / 255) * 130)));
}

const linear = (code: number) => {
  const share = code / 255;
  return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
};
const ofHex = (hex: string) => [1, 3, 5].map((at) => linear(parseInt(hex.slice(at, at + 2), 16)));

describe('inks for a black and a white garment', () => {
  const art = calmPainting();
  let out: string;
  let report: Report;

  beforeAll(async () => {
    const file = path.join(folder, 'calm.png');
    await sharp(art, { raw: { width: WIDTH, height: HEIGHT, channels: 4 } })
      .withMetadata({ density: 300 })
      .png()
      .toFile(file);
    out = path.join(folder, 'both');
    const { status, err } = outcome([
      ...['separate', file, '--width', '1in', '--garments', '#17171b,#fafaf8', '--method', 'simulated'],
      ...['--inks', '5', '--gain', '0', '--marks', 'none', '--out', out],
    ]);
    expect(err).toContain('Inks chosen');
    expect(status).toBe(0);
    report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report;
  }, 300_000);

  it('has as many inks as were asked for, with whites where a garment is dark', () => {
    expect(report.plates.filter(({ role }) => role === 'colour')).toHaveLength(5);
    expect(report.plates[0]!.role).toBe('underbase');
    const [onBlack, onWhite] = report.garments;
    expect(onWhite!.without).toEqual(
      report.plates.filter(({ role }) => role !== 'colour').map(({ name }) => name),
    );
    expect(onBlack!.without.every((name) => !onWhite!.without.includes(name))).toBe(true);
    expect(report.garments[0]!.difference).toEqual(report.difference);
  });

  it('tells what each number of screens would bring, and what each plate is worth', () => {
    const { screens, allOfStock, present, plates } = report.inks;
    expect(screens.map((each) => each.screens)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
    // A screen more never takes the print farther off, but for chance of the solver.
    screens.forEach((each, k) => k > 0 && expect(each.mean).toBeLessThan(screens[k - 1]!.mean + 0.15));
    expect(screens[9]!.mean).toBeLessThan(allOfStock.mean + 0.3);
    expect(plates.map(({ name }) => name)).toEqual(report.plates.map(({ name }) => name));
    for (const { without } of plates) if (without) expect(without.mean).toBeGreaterThan(present.mean - 0.15);
    // Without its base a black garment lets nothing light through (common practice, no source).
    const [base] = plates;
    // Of a base that a white on top stands on nothing is told.
    expect(base!.without?.mean ?? Infinity).toBeGreaterThan(present.mean + 1);
  });

  it('prints on each garment, from the same films, as near to the artwork as the report says', async () => {
    const width = Math.round((WIDTH * DPI) / 300);
    const height = Math.round((HEIGHT * DPI) / 300);
    const px = (mm: number) => Math.round((mm * DPI) / 25.4);
    const films = await Promise.all(
      report.plates.map(async ({ file }) => {
        const plain = path.join(out, `${file}.plain.tif`);
        tool('tiffcp', '-c', 'none', path.join(out, file), plain);
        const { data, info } = await sharp(plain)
          .extract({ left: px(report.printAtMm.x), top: px(report.printAtMm.y), width, height })
          .toColourspace('b-w')
          .raw()
          .toBuffer({ resolveWithObject: true });
        return (i: number) => data[i * info.channels]! < 128;
      }),
    );
    const lab = converter('lab');
    const difference = differenceCiede2000();
    // Windows of 2 mm: dots come to their mean there.
    const side = px(2);
    const scale = 300 / DPI;
    for (const garment of report.garments) {
      const inks = report.plates.flatMap(({ name, ink }, k) =>
        garment.without.includes(name)
          ? []
          : [{ colour: ofHex(ink.color), opacity: ink.opacity, film: films[k]! }],
      );
      const differences: number[] = [];
      for (let top = 0; top + side <= height; top += side) {
        for (let left = 0; left + side <= width; left += side) {
          const sums = [0, 0, 0];
          const wanted = [0, 0, 0];
          for (let y = top; y < top + side; y++) {
            for (let x = left; x < left + side; x++) {
              let light = ofHex(garment.color);
              for (const { colour, opacity, film } of inks) {
                if (film(y * width + x))
                  light = light.map((below, c) => opacity * colour[c]! + (1 - opacity) * below * colour[c]!);
              }
              const at = (Math.floor(y * scale) * WIDTH + Math.floor(x * scale)) * 4;
              for (let c = 0; c < 3; c++) {
                sums[c]! += light[c]! / (side * side);
                wanted[c]! += linear(art[at + c]!) / (side * side);
              }
            }
          }
          const [print, seen] = [sums, wanted].map(([r, g, b]) => lab({ mode: 'lrgb', r: r!, g: g!, b: b! }));
          differences.push(difference(print!, seen!));
        }
      }
      expect(differences.length).toBeGreaterThan(80);
      const mean = differences.reduce((sum, each) => sum + each, 0) / differences.length;
      expect(mean).toBeLessThan(garment.difference.mean + 1);
      expect(garment.difference.mean).toBeLessThan(garment.printable.mean + 1);
    }
  });
});

describe('process colours', () => {
  interface Process extends Report {
    readonly plates: readonly (Report['plates'][number] & {
      readonly coverage: number;
      readonly screen: { readonly kind: string; readonly angleDeg: number };
    })[];
    readonly dots: readonly { readonly geometry: string; readonly off: number; readonly shifted: number }[];
  }
  const make = (name: string, options: Readonly<Record<string, string>>) => {
    const out = path.join(folder, name);
    const common = { width: '1in', dpi: '300', inks: 'process', marks: 'none', gain: '0' };
    expect(separate(path.join(folder, 'calm.png'), out, { ...common, ...options }).status).toBe(0);
    const report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Process;
    return { out, report };
  };

  it('print in their order and at their angles, over a base on a dark garment, and cover no more than their limit', async () => {
    const { out, report } = make('process', { garment: '#17171b', 'ink-limit': '180%' });
    // Yellow, magenta, cyan, black at 7.5, 52.5, 22.5 and 82.5 degrees: common practice, no source.
    expect(report.plates.map(({ name }) => name)).toEqual([
      'Base white',
      'Process yellow',
      'Process magenta',
      'Process cyan',
      'Process black',
    ]);
    expect(report.plates.slice(1).map(({ screen }) => screen.angleDeg)).toEqual([7.5, 52.5, 22.5, 82.5]);
    const inks = await Promise.all(
      report.plates.slice(1).map(({ file }) =>
        sharp(path.join(out, 'plates', file.replace(/\.tif$/, '.png')))
          .toColourspace('b-w')
          .raw()
          .toBuffer(),
      ),
    );
    let most = 0;
    for (let i = 0; i < inks[0]!.length; i++) {
      most = Math.max(
        most,
        inks.reduce((sum, plane) => sum + plane[i]! / 255, 0),
      );
    }
    // Four plates in steps of 1/255.
    expect(most).toBeLessThan(1.8 + 4 / 255);
    expect(most).toBeGreaterThan(1.2);
  });

  it('need no base on white; and of all ways that dots can lie the first told is the one that is taken', () => {
    const { report } = make('white', { garment: '#f4f4f2', geometry: 'auto' });
    expect(report.plates.map(({ role }) => role)).toEqual(['colour', 'colour', 'colour', 'colour']);
    const [best, ...others] = report.dots;
    expect(others).toHaveLength(4);
    expect(best!.shifted).toBeLessThan(Math.max(...others.map(({ shifted }) => shifted)));
    expect(new Set(report.plates.map(({ screen }) => screen.kind))).toEqual(
      new Set([best!.geometry === 'dispersed' ? 'dispersed' : 'am']),
    );
  });

  it('and any others have more base where it is wished for', () => {
    const inks = 'yellow=#fcdc14/0.7,red=#de2224/0.75,blue=#183aaa/0.75';
    const base = (wish: string) =>
      make(`wish ${wish}`, { garment: '#17171b', method: 'simulated', inks, 'base-wish': wish }).report
        .plates[0]!.coverage;
    expect(base('60%')).toBeGreaterThan(base('0%') + 0.03);
  });
});

describe('garments and changes of the artwork that cannot be', () => {
  const wrong = (options: Readonly<Record<string, string>>) =>
    separate(path.join(folder, 'calm.png'), path.join(folder, 'wrong'), { width: '1in', ...options });

  it.each([
    [{ garments: '#17171b,#17171b' }, 'twice'],
    [{ garments: '#17171b,cloth' }, 'garments'],
    [{ garments: '#17171b', garment: '#17171b' }, 'Give one of them'],
    [
      { garments: Array.from({ length: 13 }, (_, k) => `#1111${(16 + k).toString(16)}`).join() },
      '12 at most',
    ],
    [{ garment: '#17171b', method: 'spot', contrast: '20%' }, 'simulated'],
    [{ garment: '#17171b', method: 'simulated', contrast: '200%' }, 'contrast'],
    [{ garment: '#17171b', method: 'simulated', inks: '99' }, 'inks'],
    [{ garment: '#17171b', method: 'spot', inks: 'process' }, 'simulated'],
    [{ garment: '#17171b', method: 'spot', geometry: 'auto' }, 'simulated'],
    [{ garment: '#17171b', method: 'simulated', inks: 'red=#de2224', 'ink-limit': '200%' }, 'process'],
  ])('says what is wrong with %j', (options, word) => {
    const { status, err } = wrong(options);
    expect(status).toBe(2);
    expect(err).toContain(word);
  });
});
