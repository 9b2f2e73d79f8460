/** Colours of artwork that print as themselves, or of which it is said that they do not. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { type Finding, NO_NOTES, checkAreas, checkSheet } from '@/core/checks';
import {
  ciede2000,
  labFromLinear,
  labFromRgb8,
  linearFromRgb8,
  parseHexColour,
  printOver,
} from '@/core/colour';
import { countSmallPieces } from '@/core/raster';
import {
  type NewJob,
  adviseBase,
  droppedGround,
  findTint,
  predictFlat,
  removeDust,
  waysOf,
} from '@/core/separation';
import { type JobSheet, MESH, parseJobSheet } from '@/core/sheet';
import type { Survey } from '@/core/pipeline';
import type { ArtworkAnalysis } from '@/server/artwork';
import { runBundled } from '../bundled';
import { separate } from './commandLine';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-flat-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const NAVY = { name: 'Navy', colour: '#16233f' };
const drawing = (inside: string, attributes = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" ${attributes}>${inside}</svg>`;
/** Mid red lies on the way from dark red to light red, where their smooth edges are. */
const SHADES =
  '<rect width="100" height="100" fill="#fff"/><circle cx="50" cy="50" r="45" fill="#701018"/>' +
  '<ellipse cx="45" cy="45" rx="33" ry="28" fill="#e04050"/><circle cx="80" cy="70" r="10" fill="#a82834"/>';
/** Smooth, as people send it. */
const picture = (svg: string, width: number) =>
  new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render().asPng();

interface Separated {
  readonly sheet: JobSheet;
  readonly analysis: ArtworkAnalysis;
  readonly survey: Pick<Survey, 'plates' | 'colours'>;
  readonly findings: readonly Finding[];
}

interface Case {
  readonly file: string;
  readonly bytes: () => Promise<string | Uint8Array>;
  readonly change: Partial<NewJob>;
}

const cases = new Map<string, Case>();
let results: Readonly<Record<string, Separated>>;

/** Artwork that is separated before the tests begin, all of it by one program. */
function artwork(
  name: string,
  bytes: string | (() => Promise<Uint8Array>),
  change: Partial<NewJob> = {},
): () => Separated {
  const file = `${cases.size}.${typeof bytes === 'string' ? 'svg' : 'png'}`;
  cases.set(name, { file, bytes: typeof bytes === 'string' ? () => Promise.resolve(bytes) : bytes, change });
  return () => results[name]!;
}

beforeAll(async () => {
  for (const { file, bytes } of cases.values()) writeFileSync(path.join(folder, file), await bytes());
  const list = [...cases].map(([name, { file, change }]) => ({ name, file, change }));
  writeFileSync(path.join(folder, 'cases.json'), JSON.stringify(list));
  results = JSON.parse(await runBundled('tests/corpus/separateCases.ts', [folder])) as typeof results;
}, 300_000);

const inkOf = (sheet: JobSheet, colour: string) => {
  const entry = sheet.palette.find((each) => each.colour === colour)!;
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
  expect(sheet.palette.map(({ colour, tint }) => [colour, tint])).toEqual([
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
  expect(sheet.palette).toHaveLength(30);
  sheet.palette.forEach((entry, index) => {
    const told = findings.some(
      ({ code, message }) => code === 'colour-off' && message.includes(entry.colour),
    );
    expect(told).toBe(predictFlat(sheet, index).difference >= 5);
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
    expect(sheet.background).toMatchObject({ drop, open });
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
  const dropped = { ...sheet, background: { colour, drop: 'outside' as const, open: false } };
  expect(droppedGround(dropped)!.counted).toBe(counted);
  expect(droppedGround({ ...dropped, background: { ...dropped.background, drop: 'keep' } })).toBeNull();
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

const gradient = artwork(
  'a gradient',
  drawing(
    '<linearGradient id="g"><stop offset=".1" stop-color="#f0b030"/><stop offset=".9" stop-color="#c8202a"/></linearGradient>' +
      '<rect x="5" y="5" width="90" height="60" fill="url(#g)"/><rect x="5" y="70" width="90" height="20" fill="#1d4fa0"/>',
  ),
);

const POSTER =
  '<rect width="100" height="100" fill="#fff"/><path d="M10 10h50l-20 80h-30z" fill="#f92f60"/>' +
  '<path d="M60 10h30v80h-50z" fill="#573739"/><circle cx="75" cy="40" r="10" fill="#1d4fa0"/>';
const webp = artwork('a poster as WebP', () =>
  sharp(picture(drawing(POSTER), 900))
    .webp({ quality: 85 })
    .toBuffer(),
);
const jpeg = artwork('a poster as JPEG', () =>
  sharp(picture(drawing(POSTER), 900))
    .jpeg({ quality: 60 })
    .toBuffer(),
);

test.each([
  ['WebP', webp],
  ['JPEG', jpeg],
])('edges that %s smears are no transitions', (_name, art) => {
  const { analysis } = art();
  expect(analysis.colours).toHaveLength(4);
  expect(analysis.transitions).toEqual([]);
});

const GRADIENT =
  '<linearGradient id="g"><stop offset=".1" stop-color="#f0b030"/><stop offset=".9" stop-color="#c8202a"/></linearGradient>' +
  '<rect x="5" y="5" width="90" height="60" fill="url(#g)"/>';
const withWay = artwork('a gradient that has its way', drawing(GRADIENT));
const withoutWay = artwork('a gradient that has no way', drawing(GRADIENT), { transitions: [] });

test('what prints off inside of an area is told by what was measured: its colour, share and place', () => {
  const areas = (findings: readonly Finding[]) => findings.filter(({ code }) => code === 'areas-off');
  expect(areas(withWay().findings)).toEqual([]);
  const [found, ...others] = areas(withoutWay().findings);
  expect(others).toEqual([]);
  // Without a way every place takes the nearer end: the middle of the gradient is farthest off.
  const named = found!.message.match(/#[0-9a-f]{6}/g)!.map((hex) => labFromRgb8(parseHexColour(hex)));
  const middle = labFromRgb8([0xdc, 0x68, 0x2d]);
  expect(Math.min(...named.map((lab) => ciede2000(lab, middle)))).toBeLessThan(6);
  expect(found!.measured).toBeGreaterThan(10);
  const { widthMm } = withoutWay().sheet.print;
  expect(found!.place!.xMm).toBeGreaterThan(0.2 * widthMm);
  expect(found!.place!.xMm).toBeLessThan(0.8 * widthMm);
});

test('areas whose colour a finding of the rows tells are not told again', () => {
  const place = { xMm: 1, yMm: 1 };
  const off = [
    { colour: '#c8202a', share: 0.2, difference: 22, place },
    { colour: '#1d4fa0', share: 0.01, difference: 7, place },
    { colour: '#20a040', share: 1e-4, difference: 30, place },
  ];
  const told: Finding = {
    code: 'colour-off',
    severity: 'severe',
    step: 'plates',
    message: '',
    remedy: '',
    colour: '#c8212b',
  };
  expect(checkAreas(off, [told])).toMatchObject([{ severity: 'notice', measured: 7, place }]);
  expect(checkAreas(off, [])).toMatchObject([{ severity: 'severe', measured: 22 }]);
  expect(checkAreas(off.slice(2), [])).toEqual([]);
});

const nearShades = artwork(
  'a gradient of two shades that are near to each other',
  drawing(
    '<linearGradient id="g"><stop offset=".1" stop-color="#00bfa5"/><stop offset=".9" stop-color="#00ab94"/></linearGradient>' +
      '<rect x="5" y="5" width="90" height="60" fill="url(#g)"/><rect x="5" y="70" width="90" height="20" fill="#1d4fa0"/>',
  ),
  { garment: { name: 'White', colour: '#f7f7f5' } },
);

test.each([
  ['from red to yellow', gradient, ['#c8202a', '#f0b030']],
  ['from shade to shade', nearShades, ['#00ab94', '#00bfa5']],
])(
  'a transition prints as it was drawn, by the model of Demichel and Neugebauer: %s',
  (_name, art, colours) => {
    const { sheet } = art();
    const [ends, ...others] = sheet.transitions!;
    expect(others).toEqual([]);
    expect([...ends!].sort()).toEqual(colours);
    const [ways] = waysOf(sheet);
    const light = (colour: string) => linearFromRgb8(parseHexColour(colour));
    const base = sheet.plates.find(({ role }) => role === 'underbase');
    const optics = ({ colour, opacity }: { colour: string; opacity: number }) => ({
      colour: light(colour),
      opacity,
    });
    const garment = light(sheet.garment.colour);
    const backing = base ? printOver(garment, optics(base.ink), 1) : garment;
    const inks = ends!.map((colour) => sheet.plates.find((plate) => plate.ink.colour === colour)!);
    const ordered = [...inks].sort((p, q) => sheet.plates.indexOf(p) - sheet.plates.indexOf(q));
    const [p, q] = inks.map((plate) => parseHexColour(plate.ink.colour)) as unknown as [
      readonly number[],
      readonly number[],
    ];
    const off = (first: number, second: number, t: number) => {
      const amounts = new Map([
        [inks[0]!, first],
        [inks[1]!, second],
      ]);
      const print = ordered.reduce(
        (under, plate) => printOver(under, optics(plate.ink), amounts.get(plate)!),
        backing,
      );
      const wanted = p.map((code, c) => Math.round(q[c]! + (code - q[c]!) * t)) as unknown as [
        number,
        number,
        number,
      ];
      return ciede2000(labFromLinear(print), labFromRgb8(wanted));
    };
    let worstOfShares = 0;
    const { first, second } = ways!.coded;
    for (let step = 0; step <= 16; step++) {
      expect(off(first[step]!, second[step]!, step / 16)).toBeLessThan(4);
      if (step === 0) continue;
      // Half way between two steps both amounts are interpolated.
      const half = (amounts: Float64Array) => (amounts[step - 1]! + amounts[step]!) / 2;
      expect(off(half(first), half(second), (step - 0.5) / 16)).toBeLessThan(4);
      worstOfShares = Math.max(worstOfShares, off(step / 16, 1 - step / 16, step / 16));
    }
    // Shares that sum to 1 leave base bare between dots that lie independently of each other.
    expect(worstOfShares).toBeGreaterThan(7);
  },
);

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
    const mask = Uint8Array.from(rows.join(''), (each) => (each === '#' ? 255 : 0));
    expect(countSmallPieces(mask, 8, 6, 4)).toEqual({ count: 2, place: { x: 0, y: 0 } });
    expect(countSmallPieces(mask, 8, 6, 3)).toEqual({ count: 0, place: null });
    expect(countSmallPieces(mask, 8, 6, 9).count).toBe(3);
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
      const found = findTint('#101010', base, { ink, baseStrength: 1 }, hex);
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
    const shade = sheet.palette.findIndex(({ colour }) => colour === '#e38e8e');
    expect(sheet.palette[shade]!.tint).toBeLessThan(0.9);
    expect(predictFlat(sheet, shade).difference).toBeLessThan(3);
    expect(findings.filter(({ code }) => code === 'colour-off')).toEqual([]);
  });
});

/** Shades that go on between any colours, with the grain of a camera: by a generator with a fixed seed (Numerical Recipes). */
function shaded(size: number, grain: number) {
  const pixels = new Uint8Array(size * size * 3);
  let state = 7;
  const noise = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return grain * (state / 2 ** 32 - 0.5);
  };
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const at = (y * size + x) * 3;
      pixels[at] = 128 + 100 * Math.sin(x / 23 + y / 41) + noise();
      pixels[at + 1] = 128 + 100 * Math.sin(x / 31 - y / 17) + noise();
      pixels[at + 2] = 128 + 100 * Math.cos(x / 19 + y / 53) + noise();
    }
  }
  return sharp(pixels, { raw: { width: size, height: size, channels: 3 } });
}

const photos = [
  artwork('full tone', () => shaded(240, 0).png().toBuffer()),
  // What compression did to it must not pass for flat areas.
  artwork('a grainy photograph', () => shaded(480, 24).jpeg({ quality: 75 }).toBuffer()),
];
const lossyFlat = artwork('flat, badly compressed', () =>
  sharp(picture(drawing(SHADES), 600))
    .flatten({ background: '#fff' })
    .jpeg({ quality: 50 })
    .toBuffer(),
);

test.each([0, 1])('full tone is told, flat artwork is not: %d', (k) => {
  const { findings, analysis } = photos[k]!();
  expect(analysis.flatShare).toBeLessThan(0.6);
  expect(findings.find(({ code }) => code === 'full-tone')).toMatchObject({ severity: 'severe' });
  const flat = lossyFlat();
  expect(legs().analysis.flatShare).toBe(1);
  expect(flat.analysis.flatShare).toBeGreaterThan(0.8);
  expect(flat.findings.filter(({ code }) => code === 'full-tone')).toEqual([]);
});

const grounded = artwork(
  'a disc on paper',
  drawing('<rect width="100" height="100" fill="#fff"/><circle cx="50" cy="50" r="30" fill="#c8202a"/>'),
);

test('a job sheet of version 5 goes on as it was: its background, any two colours between, a size of its own', () => {
  const { sheet } = grounded();
  const { transitions: _transitions, print, ...rest } = sheet;
  const old = {
    ...rest,
    version: 5,
    print: { widthMm: print.widthMm, heightMm: print.heightMm },
    background: { colour: '#ffffff', dropped: true },
  };
  expect(parseJobSheet(old)).toEqual({
    ...sheet,
    transitions: null,
    background: { colour: '#ffffff', drop: 'outside', open: false },
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
