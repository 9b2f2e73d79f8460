/** Traps on real films, measured by scipy's distance transform: a program and a method that the project did not write. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { pdfPage, pdfStream } from '../hostile/pdfFile';
import { outcome } from './commandLine';

const DPI = 720;
const PX_PER_MM = DPI / 25.4;
const TRAP_MM = 0.2;
const SIDE_MM = 50.8;

/** A yellow disc in a wide black ring, a stroke of 0.3 mm of black across a yellow bar, and a red bar that touches nothing. */
const DISC_MM = 8;
const STROKE_MM = 0.3;
const BAR_MM = 30;
const ART = `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE_MM}mm" height="${SIDE_MM}mm" viewBox="0 0 ${SIDE_MM} ${SIDE_MM}">
  <circle cx="15" cy="15" r="12" fill="#101010"/><circle cx="15" cy="15" r="${DISC_MM}" fill="#f4c020"/>
  <rect x="5" y="32" width="${BAR_MM}" height="6" fill="#f4c020"/><rect x="5" y="35" width="${BAR_MM}" height="${STROKE_MM}" fill="#101010"/>
  <rect x="36" y="4" width="10" height="20" fill="#c8322e"/>
</svg>`;

interface Plate {
  readonly name: string;
  readonly file: string;
}

let folder: string;
let art: string;
/** Bytes of each film, 255 = ink, by the ink's name. */
let plain: Map<string, Uint8Array>;
let trapped: Map<string, Uint8Array>;
let size: { width: number; height: number };

async function filmsOf(
  name: string,
  trap: string,
  more: readonly string[] = [],
  file = art,
): Promise<Map<string, Uint8Array>> {
  const out = path.join(folder, name);
  const made = outcome([
    'separate',
    file,
    '--out',
    out,
    '--width',
    `${SIDE_MM}mm`,
    '--garment',
    '#ffffff',
    '--background',
    'keep',
    '--choke',
    '0mm',
    '--trap',
    trap,
    '--dpi',
    String(DPI),
    '--marks',
    'none',
    '--sheet',
    '80x100mm',
    '--formats',
    'tiff-screen',
    '--date',
    '2026-01-01',
    ...more,
  ]);
  if (made.status !== 0) throw new Error(made.err);
  const { plates } = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as { plates: Plate[] };
  const films = new Map<string, Uint8Array>();
  for (const { name: ink, file } of plates) {
    const { data, info } = await sharp(path.join(out, file.replace(/tif$/, 'screen.tif')))
      .toColourspace('b-w')
      .raw()
      .toBuffer({ resolveWithObject: true });
    size = { width: info.width, height: info.height };
    // Films are black where ink prints.
    films.set(
      ink,
      Uint8Array.from({ length: info.width * info.height }, (_, i) =>
        data[i * info.channels]! < 128 ? 255 : 0,
      ),
    );
  }
  return films;
}

beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-trap-'));
  art = path.join(folder, 'art.svg');
  writeFileSync(art, ART);
  plain = await filmsOf('plain', '0mm');
  trapped = await filmsOf('trapped', `${TRAP_MM}mm`);
}, 300_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function measured(ink: string, after = trapped, before = plain) {
  const write = (name: string, bytes: Uint8Array) => {
    const file = path.join(folder, name);
    writeFileSync(file, bytes);
    return file;
  };
  const all = new Uint8Array(size.width * size.height);
  for (const film of before.values()) film.forEach((value, i) => (all[i]! |= value));
  const files = [write('before', before.get(ink)!), write('after', after.get(ink)!), write('inked', all)];
  const program = path.resolve('tests/reference/trapWidths.py');
  const text = execFileSync(
    '/usr/bin/python3',
    [program, String(size.width), String(size.height), ...files],
    { encoding: 'utf8' },
  );
  return JSON.parse(text) as { added: number; taken: number; most: number; beyond: number };
}

const inks = () => [...plain.keys()];
const inkLike = (part: RegExp) => inks().find((name) => part.test(name))!;

test('the light colour runs under the dark one by the trap, and no farther', () => {
  const { added, taken, most, beyond } = measured(inkLike(/yellow|gold|lemon|amber/i));
  expect(taken).toBe(0);
  // Nothing comes to lie on bare garment.
  expect(beyond).toBe(0);
  // From the middle of an inked pixel to that of the last one in reach: within a pixel of the trap.
  expect(Math.abs(most - TRAP_MM * PX_PER_MM)).toBeLessThan(1);
  // All round the disc; and a third of the thin stroke from either side, which is 0.1 mm.
  const ring = Math.PI * ((DISC_MM + TRAP_MM) ** 2 - DISC_MM ** 2);
  const stroke = (2 / 3) * STROKE_MM * BAR_MM;
  const round = ((2 * Math.PI * DISC_MM + 2 * BAR_MM) * 0.5) / PX_PER_MM;
  expect(added / PX_PER_MM ** 2).toBeLessThan(ring + stroke + round);
  expect(added / PX_PER_MM ** 2).toBeGreaterThan(ring + stroke / 2 - round);
});

test('the stroke keeps a third of its width open, and colours that touch nothing stay as they are', () => {
  const yellow = trapped.get(inkLike(/yellow|gold|lemon|amber/i))!;
  // Down the middle of the bar.
  const x = Math.round((5 + BAR_MM / 2) * PX_PER_MM);
  let open = 0;
  for (let y = Math.round(34 * PX_PER_MM); y < Math.round(36.5 * PX_PER_MM); y++)
    open += yellow[y * size.width + x] === 0 ? 1 : 0;
  expect(open).toBeGreaterThanOrEqual(Math.floor((STROKE_MM / 3) * PX_PER_MM));
  for (const ink of [inkLike(/red|scarlet/i), inkLike(/black|tar|dark/i)]) {
    expect(measured(ink)).toMatchObject({ added: 0, taken: 0 });
  }
});

test('a pair that is set by hand is trapped the other way and as far as it says', async () => {
  const [light, black] = [inkLike(/yellow|gold|lemon|amber/i), inkLike(/black|tar|dark/i)];
  const file = path.join(folder, 'pairs.json');
  writeFileSync(file, JSON.stringify([{ between: [light, black], grows: black, width: '0.35mm' }]));
  const turned = await filmsOf('turned', '0mm', ['--pairs', file]);
  expect(measured(light, turned)).toMatchObject({ added: 0, taken: 0 });
  const { taken, most, beyond } = measured(black, turned);
  expect([taken, beyond]).toEqual([0, 0]);
  expect(Math.abs(most - 0.35 * PX_PER_MM)).toBeLessThan(1);
});

test('a file of pairs that makes no sense is refused in words', () => {
  const file = path.join(folder, 'wrong.json');
  const said = (content: string) => {
    writeFileSync(file, content);
    const { status, err } = outcome([
      ...[
        'separate',
        art,
        '--out',
        path.join(folder, 'no'),
        '--width',
        '50mm',
        '--garment',
        '#ffffff',
        '--pairs',
        file,
      ],
    ]);
    expect(status).not.toBe(0);
    return err;
  };
  expect(said('{')).toMatch(/is no JSON/);
  expect(said('[{ "between": ["Yellow"] }]')).toMatch(/--pairs: 0\.between/);
  expect(said('[{ "between": ["Purple", "Puce"] }]')).toMatch(/names "Purple", which is no plate/);
});

/** Lengths and paints as PDF has them. */
const points = (mm: number) => ((mm * 72) / 25.4).toFixed(3);
const place = (...mm: number[]) => mm.map(points).join(' ');
const tint = (cmyk: string) =>
  `/DeviceCMYK << /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [${cmyk}] /N 1 >>`;

test('plates that a PDF brings are trapped where solids meet, and stay as they are where tones fade into each other', async () => {
  // A square of yellow in a frame of black; below it a sweep from the one to the other.
  const page = pdfPage(
    pdfStream(`/Black cs 1 scn ${place(5, 20, 26, 26)} re f /Yellow cs 1 scn ${place(10, 25, 16, 16)} re f
q ${place(5, 5, 40, 8)} re W n /Sweep sh Q`),
    {
      box: `/MediaBox [0 0 ${points(SIDE_MM)} ${points(SIDE_MM)}]`,
      page: `/Resources << /ColorSpace << /Black [/Separation /Tar ${tint('0 0 0 1')}] /Yellow [/Separation /Lemon ${tint('0 0.1 1 0')}] >>
  /Shading << /Sweep << /ShadingType 2 /ColorSpace 6 0 R /Coords [${points(5)} 0 ${points(45)} 0]
    /Function << /FunctionType 2 /Domain [0 1] /C0 [1 0] /C1 [0 1] /N 1 >> >> >> >>`,
      more: [
        pdfStream('{ 0 3 1 roll 0 3 1 roll }', '/FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1 0 1]'),
        '[/DeviceN [/Lemon /Tar] /DeviceCMYK 5 0 R]',
      ],
    },
  );
  const file = path.join(folder, 'plates.pdf');
  writeFileSync(file, page);
  const method = ['--method', 'supplied'];
  const before = await filmsOf('given', '0mm', method, file);
  const after = await filmsOf('given-trapped', `${TRAP_MM}mm`, method, file);
  const { added, taken, most, beyond } = measured('Lemon', after, before);
  expect([taken, beyond]).toEqual([0, 0]);
  expect(Math.abs(most - TRAP_MM * PX_PER_MM)).toBeLessThan(1);
  // Round the square, with round corners.
  const round = 4 * 16 * TRAP_MM + Math.PI * TRAP_MM ** 2;
  expect(Math.abs(added / PX_PER_MM ** 2 - round)).toBeLessThan((4 * 16) / PX_PER_MM);
  expect(measured('Tar', after, before)).toMatchObject({ added: 0, taken: 0 });
}, 120_000);

test('plates that a PDF brings are spread over bare garment where they end, and not where they fade out', async () => {
  // A square of yellow; below it black that comes up from nothing, from left to right.
  const page = pdfPage(
    pdfStream(`/Yellow cs 1 scn ${place(10, 25, 16, 16)} re f q ${place(5, 5, 40, 8)} re W n /Sweep sh Q`),
    {
      box: `/MediaBox [0 0 ${points(SIDE_MM)} ${points(SIDE_MM)}]`,
      page: `/Resources << /ColorSpace << /Yellow [/Separation /Lemon ${tint('0 0.1 1 0')}] >>
  /Shading << /Sweep << /ShadingType 2 /ColorSpace [/Separation /Tar ${tint('0 0 0 1')}] /Coords [${points(5)} 0 ${points(45)} 0]
    /Function << /FunctionType 2 /Domain [0 1] /C0 [0] /C1 [1] /N 1 >> >> >> >>`,
    },
  );
  const file = path.join(folder, 'spread.pdf');
  writeFileSync(file, page);
  const spread = 0.25;
  const method = ['--method', 'supplied'];
  const before = await filmsOf('as-given', '0mm', method, file);
  const after = await filmsOf('spread', '0mm', [...method, '--spread', `${spread}mm`], file);
  const { added, taken, most } = measured('Lemon', after, before);
  expect(taken).toBe(0);
  expect(Math.abs(most - spread * PX_PER_MM)).toBeLessThan(1);
  const round = 4 * 16 * spread + Math.PI * spread ** 2;
  expect(Math.abs(added / PX_PER_MM ** 2 - round)).toBeLessThan((4 * 16) / PX_PER_MM);
  // Columns in which black prints: the first and the last, in mm of the print, of rows along the sweep's middle.
  const ends = (film: Uint8Array): [number, number] => {
    let [first, last] = [Infinity, 0];
    film.forEach((value, i) => {
      if (value === 0) return;
      const x = i % size.width;
      [first, last] = [Math.min(first, x), Math.max(last, x)];
    });
    return [first / PX_PER_MM, (last + 1) / PX_PER_MM];
  };
  const [given, grown] = [ends(before.get('Tar')!), ends(after.get('Tar')!)];
  // From a tenth of tone on it is there to be seen; above and below it spreads there, with the round end of that.
  expect(grown[0]).toBeGreaterThan(given[0] - spread / 2);
  expect(Math.abs(grown[1] - given[1] - spread)).toBeLessThan(1 / PX_PER_MM);
}, 120_000);
