/** Colours of artwork that print as themselves, or of which it is said that they do not. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { NO_NOTES, checkSheet } from '@/core/checks';
import { ciede2000, labFromRgb8, linearFromRgb8, parseHexColour } from '@/core/colour';
import { PieceCounter } from '@/core/raster';
import { adviseBase, droppedGround, findTint, predictFlat, removeDust } from '@/core/separation';
import {
  DEFAULT_SCREEN,
  type JobSheet,
  MESH,
  backgroundOf,
  flatLayer,
  paletteOf,
  parseJobSheet,
  withBackground,
  withLayer,
} from '@/core/sheet';
import { version9 } from '../olderSheet';
import { separate } from './commandLine';
import { SHADES, artwork, drawing, folder, picture } from './separatedArtwork';

const NAVY = { name: 'Navy', colour: '#16233f' };
const inkOf = (sheet: JobSheet, colour: string) => {
  const entry = paletteOf(sheet).find((each) => each.colour === colour)!;
  return sheet.plates.find((plate) => plate.id === entry.plateId)!.ink.colour;
};

const PAIRS = [
  ['two reds 6.9 apart', '#c8202a', '#b0141e', true],
  ['two yellows 2.9 apart', '#f5c518', '#f0cb2a', true],
  ['two greens that look alike', '#2f8f4e', '#2f8c4e', false],
] as const;
const pairs = PAIRS.map(([name, one, other]) =>
  artwork(
    name,
    drawing(
      `<rect x="5" y="5" width="90" height="90" fill="${one}"/><rect x="30" y="30" width="40" height="40" fill="${other}"/>`,
    ),
  ),
);

test.each(PAIRS)('%s each have a row and print solid', (name, one, other, apart) => {
  const { sheet, survey } = pairs[PAIRS.findIndex((each) => each[0] === name)]!();
  expect(paletteOf(sheet).map(({ colour, tint }) => [colour, tint])).toEqual([
    [one, 1],
    [other, 1],
  ]);
  expect(survey.plates.map(({ toned }) => toned)).toEqual(sheet.plates.map(() => 0));
  expect(inkOf(sheet, other)).toBe(apart ? other : one);
  // The drawing's own areas: 90 x 90 less 40 x 40, and 40 x 40, of 100 x 100.
  expect(survey.colours[0]!.share).toBeCloseTo(0.65, 2);
  expect(survey.colours[1]!.share).toBeCloseTo(0.16, 2);
});

const HUES = Array.from(
  { length: 30 },
  (_, k) => `hsl(${k * 12},${k % 2 ? 100 : 70}%,${35 + (k % 3) * 15}%)`,
);
const thirty = artwork(
  'thirty colours',
  drawing(
    HUES.map(
      (hue, k) =>
        `<rect x="${(k % 6) * 16 + 2}" y="${Math.floor(k / 6) * 19 + 2}" width="15" height="18" fill="${hue}"/>`,
    ).join(''),
  ),
);

test('thirty flat colours are thirty rows; the ones that a press has no screens for are told with their share and place', () => {
  const { sheet, findings } = thirty();
  expect(paletteOf(sheet)).toHaveLength(30);
  paletteOf(sheet).forEach((entry) => {
    const told = findings.some(
      ({ code, message }) => code === 'colour-off' && message.includes(entry.colour),
    );
    expect(told).toBe(predictFlat(sheet, entry).difference >= 5);
  });
  const off = findings.filter(({ code }) => code === 'colour-off');
  expect(off.length).toBeGreaterThan(5);
  for (const { message, place } of off) {
    expect(message).toMatch(/2\.7 % of the print/);
    expect(place).toBeDefined();
  }
});

describe('a background', () => {
  const design = '<circle cx="50" cy="50" r="30" fill="#ffd400"/>';
  const ground = (colour: string, more = '') =>
    drawing(`<rect width="100" height="100" ${more} fill="${colour}"/>${design}`);

  const GROUNDS = [
    ['of paper is dropped', ground('#ffffff'), 'outside', false],
    ['of nearly the garment is dropped', ground('#18253f'), 'outside', false],
    ['of another colour is kept, and asked about', ground('#3a7bd5'), 'keep', true],
    ['with transparent corners, too', ground('#3a7bd5', 'rx="12"'), 'keep', true],
    [
      'of paper that misses a side, too',
      drawing(
        `<rect width="100" height="100" fill="#2a6"/><rect width="100" height="90" fill="#fff"/>${design}`,
      ),
      'keep',
      true,
    ],
  ] as const;
  const grounds = GROUNDS.map(([name, svg]) => artwork(`background ${name}`, svg));

  test.each(GROUNDS)('%s', (name, _svg, drop, open) => {
    const { sheet, findings } = grounds[GROUNDS.findIndex((each) => each[0] === name)]!();
    expect(backgroundOf(sheet)).toMatchObject({ drop, open });
    expect(findings.some(({ code }) => code === 'background-open')).toBe(open);
  });

  test('that is dropped counts in the difference, unless it is paper; without any plate there are no films', () => {
    const file = path.join(folder, 'sky.svg');
    writeFileSync(file, ground('#3a7bd5'));
    const options = { width: '2in', garment: NAVY.colour, dpi: '300', marks: 'none', formats: 'tiff' };
    const out = path.join(folder, 'sky');
    expect(separate(file, out, { ...options, background: 'everywhere' })).toMatchObject({ status: 0 });
    const report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as {
      difference: { mean: number };
      dropped: { area: number; difference: number; counted: boolean };
    };
    expect(report.dropped.counted).toBe(true);
    // All but the disc: 1 - 0.09 π.
    expect(Math.abs(report.dropped.area - (1 - 0.09 * Math.PI))).toBeLessThan(0.01);
    expect(report.difference.mean).toBeGreaterThan(0.6 * report.dropped.difference);
    writeFileSync(file, drawing('<rect width="100" height="100" fill="#3a7bd5"/>'));
    const none = separate(file, path.join(folder, 'none'), { ...options, background: 'everywhere' });
    expect(none.status).toBe(2);
    expect(none.err).toContain('Nothing would print');
  });
});

test.each([
  ['#ffffff', false],
  // Pale, but no paper.
  ['#fff7b0', true],
  ['#18253f', false],
  ['#3a7bd5', true],
])('a dropped background of %s counts: %s', (colour, counted) => {
  const { sheet } = grounded();
  const ground = { colour, drop: 'outside' as const, open: false };
  const dropped = withBackground(sheet, ground);
  expect(droppedGround(dropped)!.counted).toBe(counted);
  expect(droppedGround(withBackground(sheet, { ...ground, drop: 'keep' }))).toBeNull();
});

describe('the base', () => {
  const strength = (colour: string, garment: string, opacity = 0.95) =>
    adviseBase({ name: 'Ink', colour, opacity }, garment).strength;

  test('is solid under every ink on a dark garment that is not nearly as dark, whatever its opacity promises', () => {
    for (const colour of ['#1a2fb0', '#5a2480', '#444444', '#d21f26', '#f1ecdd', '#ffffff'])
      expect([colour, strength(colour, '#141416')]).toEqual([colour, 1]);
    for (const colour of ['#101010', '#1c1c1e'])
      expect([colour, strength(colour, '#141416')]).toEqual([colour, 0]);
    // A grey as light as a red garment would turn red.
    expect(strength('#504f4f', '#a32730', 0.75)).toBe(1);
  });

  test('is none on a white garment', () => {
    for (const colour of ['#1a2fb0', '#d21f26', '#ffd400', '#ffffff'])
      expect(strength(colour, '#ffffff', 0.75)).toBe(0);
  });

  const detail = artwork(
    'a small detail',
    drawing(
      '<rect x="5" y="5" width="90" height="90" fill="#d21f26"/><rect x="50" y="50" width="3" height="3" fill="#f1ecdd"/>',
    ),
  );

  test('has one mesh, whatever a small detail wants', () => {
    const { sheet } = detail();
    const base = sheet.plates.find(({ role }) => role === 'underbase')!;
    expect(base.mesh).toBe(MESH.solidWhite);
    expect(
      sheet.plates.filter(({ role }) => role !== 'underbase').map((plate) => plate.baseStrength),
    ).toEqual([1, 1]);
  });
});

const legs = artwork(
  'dark legs',
  drawing(
    '<rect x="5" y="5" width="90" height="60" fill="#e0a030"/><rect x="20" y="65" width="8" height="30" fill="#1d2a47"/>',
  ),
);

test('a detail that the garment swallows is told with its difference and place', () => {
  const { findings } = legs();
  const told = findings.find(({ code }) => code === 'garment-supplies')!;
  expect(told.message).toContain('#1d2a47');
  expect(told.measured).toBeCloseTo(
    ciede2000(labFromRgb8(parseHexColour('#1d2a47')), labFromRgb8(parseHexColour(NAVY.colour))),
    0,
  );
  expect(told.place!.xMm).toBeGreaterThan(20);
  expect(told.place!.xMm).toBeLessThan(28);
});

describe('clean plates', () => {
  test('no slivers of a third ink along the smooth edge between two shades of one hue', async () => {
    const file = path.join(folder, 'shades.png');
    writeFileSync(file, picture(drawing(SHADES), 800));
    const out = path.join(folder, 'shades');
    const result = separate(file, out, { width: '68mm', garment: '#141416', dpi: '600', formats: 'tiff' });
    expect(result.status).toBe(0);
    const report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as {
      plates: { name: string; smallPieces: number; coverage: number }[];
    };
    expect(report.plates.map(({ smallPieces }) => smallPieces)).toEqual(report.plates.map(() => 0));
    // Plates and preview state the resolution that they have on the print.
    const dpiOf = async (file: string) => (await sharp(path.join(out, file)).metadata()).density;
    expect(await dpiOf('plates/02-red.png')).toBeCloseTo((800 / 68) * 25.4, 0);
    expect(await dpiOf('preview.png')).toBeCloseTo((1600 / 68) * 25.4, 0);
    // The mid red disc itself is there: π 10² of 100 x 100.
    const mid = report.plates.map(({ coverage }) => coverage);
    expect(mid.some((coverage) => Math.abs(coverage - Math.PI / 100) < 0.002)).toBe(true);
  });

  test('small pieces are counted by their pixels, joined at sides and corners', () => {
    const rows = ['##....#.', '#....#..', '....#...', '........', '#######.', '......#.'];
    const counted = (limit: number) => {
      const counter = new PieceCounter(limit);
      for (const row of rows) counter.addRow(Uint8Array.from(row, (each) => (each === '#' ? 255 : 0)));
      return counter.result();
    };
    expect(counted(4)).toEqual({ count: 2, place: { x: 0, y: 0 } });
    expect(counted(3)).toEqual({ count: 0, place: null });
    expect(counted(9).count).toBe(3);
  });

  test('dust of up to three pixels goes to what is round it; a line of one pixel stays', () => {
    const rows = [
      '0000000000',
      '0010000220',
      '0011000000',
      '0000000000',
      '0333333330',
      '0000000000',
      '0000005000',
    ];
    const label = Uint8Array.from(rows.join(''), Number);
    removeDust(label, 10, 7, 3);
    const left = Array.from({ length: 7 }, (_, y) => [...label.subarray(y * 10, y * 10 + 10)].join(''));
    // What touches the border may go on beyond it.
    expect(left).toEqual([
      '0000000000',
      '0000000000',
      '0000000000',
      '0000000000',
      '0333333330',
      '0000000000',
      '0000005000',
    ]);
  });
});

describe('tints', () => {
  test('of an opaque ink on its base are those of Murray and Davies (1936)', () => {
    const [red, white] = [linearFromRgb8([200, 30, 30]), linearFromRgb8([255, 255, 255])];
    for (const share of [0.2, 0.5, 0.8]) {
      const mixed = red.map((part, c) => share * part + (1 - share) * white[c]!);
      const code = (part: number) =>
        Math.round(255 * (part <= 0.0031308 ? 12.92 * part : 1.055 * part ** (1 / 2.4) - 0.055));
      const hex = '#' + mixed.map((part) => code(part).toString(16).padStart(2, '0')).join('');
      const ink = { name: 'Red', colour: '#c81e1e', opacity: 1 };
      const base = { name: 'White', colour: '#ffffff', opacity: 1 };
      const found = findTint(
        '#101010',
        base,
        { ink, baseStrength: 1, stages: [], screen: DEFAULT_SCREEN },
        hex,
      );
      expect(found.tint).toBeCloseTo(share, 2);
      expect(found.difference).toBeLessThan(0.5);
    }
  });

  const named = artwork(
    'a red and its half tint',
    drawing(
      '<rect x="5" y="5" width="90" height="45" fill="#c81e1e"/><rect x="5" y="50" width="90" height="45" fill="#e38e8e"/>',
    ),
    { inks: [{ name: 'red', colour: '#c81e1e' }], garment: { name: 'White', colour: '#ffffff' } },
  );

  test('are found for inks that were named', () => {
    const { sheet, findings } = named();
    const shade = paletteOf(sheet).find(({ colour }) => colour === '#e38e8e')!;
    expect(shade.tint).toBeLessThan(0.9);
    expect(predictFlat(sheet, shade).difference).toBeLessThan(3);
    expect(findings.filter(({ code }) => code === 'colour-off')).toEqual([]);
  });
});

const grounded = artwork(
  'a disc on paper',
  drawing('<rect width="100" height="100" fill="#fff"/><circle cx="50" cy="50" r="30" fill="#c8202a"/>'),
);

test('a job sheet of version 5 goes on as it was: its background, any two colours between, a size of its own', () => {
  const { sheet } = grounded();
  const { transitions: _transitions, print, ...rest } = version9(sheet);
  const old = {
    ...rest,
    version: 5,
    print: { widthMm: print.widthMm, heightMm: print.heightMm },
    background: { colour: '#ffffff', dropped: true },
  };
  expect(parseJobSheet(old)).toEqual({
    ...withLayer(sheet, {
      ...flatLayer(sheet)!,
      transitions: null,
      background: { colour: '#ffffff', drop: 'outside', open: false },
    }),
  });
  expect(checkSheet(parseJobSheet(old), NO_NOTES).some(({ code }) => code === 'size-chosen')).toBe(false);
});

test('severe findings are lines on standard error, and films are made', () => {
  const file = path.join(folder, 'many.svg');
  writeFileSync(
    file,
    drawing(
      '<rect x="5" y="5" width="90" height="45" fill="#20a040"/><rect x="5" y="50" width="90" height="45" fill="#c8202a"/>',
    ),
  );
  const { status, err } = separate(file, path.join(folder, 'many'), {
    width: '2in',
    garment: NAVY.colour,
    inks: 'red=#c8202a',
    dpi: '300',
    formats: 'tiff',
  });
  expect(status).toBe(0);
  const lines = err.trim().split('\n');
  expect(lines).toHaveLength(1);
  expect(lines[0]).toMatch(/^severe: .*#20a040.*from itself/);
  const film = execFileSync('tiffinfo', [path.join(folder, 'many', '02-red.tif')], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  expect(film).toContain('Image Width');
});
