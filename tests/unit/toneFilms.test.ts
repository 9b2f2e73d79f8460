import { readFileSync } from 'node:fs';
import path from 'node:path';
import { arrangeDots } from '@/core/checks';
import { parseHexColour } from '@/core/colour';
import { openLabelFont } from '@/core/film';
import { createWasmKernels } from '@/core/kernels';
import {
  type ArtworkNeed,
  type StripPlanes,
  FilmStripMaker,
  filmFurniture,
  evaluatePlates,
  planFilms,
  plateArtworkNeed,
  preparePlateJob,
  printGrid,
} from '@/core/pipeline';
import { Arena } from '@/core/raster';
import { ThresholdTiles } from '@/core/screening';
import { changePlates, changeRole, createJobSheet, splitColour } from '@/core/separation';
import { type JobSheet, artworkOf, paletteOf, withPalette } from '@/core/sheet';
import { labelFontBytes } from '@/server/projectRoot';
import { readerOf } from '../renderedArtwork';

// Where the artwork is nothing but tone, films are made from tones at its own pixels: they must have the bits that plates at the film's
// resolution give.

const kernels = createWasmKernels(new WebAssembly.Module(readFileSync(path.resolve('public/kernels.wasm'))));
const font = openLabelFont(labelFontBytes());

const tiles = new ThresholdTiles();

const DPI = 400;
const WIDTH = 380;
const HEIGHT = 250;
const COLOURS = ['#c8382e', '#f2d13a', '#1f5f9b', '#10202c'];

/** Transitions between four colours, one that fades into the garment, a hard edge through tone, a flat area and an empty one. */
const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 760 500">
  <linearGradient id="a"><stop offset=".1" stop-color="${COLOURS[0]}"/><stop offset=".5" stop-color="${COLOURS[1]}"/><stop offset=".9" stop-color="${COLOURS[2]}"/></linearGradient>
  <linearGradient id="b" x2="0" y2="1"><stop offset=".2" stop-color="${COLOURS[2]}"/><stop offset=".8" stop-color="${COLOURS[3]}"/></linearGradient>
  <radialGradient id="c"><stop offset="0" stop-color="${COLOURS[1]}"/><stop offset="1" stop-color="${COLOURS[1]}" stop-opacity="0"/></radialGradient>
  <rect width="760" height="240" fill="url(#a)"/>
  <rect y="240" width="420" height="260" fill="url(#b)"/>
  <circle cx="590" cy="370" r="100" fill="url(#c)"/>
  <rect x="20" y="290" width="240" height="190" fill="${COLOURS[3]}"/>
  <path d="M60 60 l180 30 l-40 300 z" fill="${COLOURS[0]}"/>
</svg>`;

function sheetOf(kind: 'raster' | 'vector', change: (sheet: JobSheet) => JobSheet): JobSheet {
  const sheet = createJobSheet({
    name: 'Tones',
    artwork: { sha256: '0'.repeat(64), fileName: 'tones', kind, widthPx: WIDTH, heightPx: HEIGHT },
    colours: COLOURS.map((colour) => ({ rgb: parseHexColour(colour), area: 0.25 })),
    purity: 2.5,
    background: null,
    backgroundWish: 'auto',
    transitions: null,
    print: { widthMm: 56, chosen: false },
    garment: { name: 'Navy', colour: '#16233f' },
    inks: 'auto',
    date: '2026-03-14',
  });
  return change({ ...sheet, film: { ...sheet.film, dpi: DPI, sheetWidthMm: 110, sheetHeightMm: 100 } });
}

const reader = (kind: 'raster' | 'vector', sheet: JobSheet, drawn = svg) =>
  readerOf(drawn, kind === 'raster' ? WIDTH : printGrid(sheet, DPI).widthPx);

/** The plate that one of the colours prints on. */
function inkOf(sheet: JobSheet, colour: number): string {
  return paletteOf(sheet).find((entry) => entry.colour === COLOURS[colour])!.plateId!;
}

/** The first of a sheet's colours as a tint. */
const tinted = (sheet: JobSheet) =>
  withPalette(
    sheet,
    paletteOf(sheet).map((entry, k) => ({ ...entry, tint: k === 0 ? 0.4 : 1 })),
  );

const changes: Record<string, (sheet: JobSheet) => JobSheet> = {
  'dots on a grid, with gain': (sheet) =>
    changePlates(
      sheet,
      sheet.plates.map(({ id }) => id),
      ({ screen }) => ({ screen: { ...screen, gain: 0.2 } }),
    ),
  'interlocked, with gain': (sheet) =>
    arrangeDots(
      changePlates(
        sheet,
        sheet.plates.map(({ id }) => id),
        ({ screen }) => ({ screen: { ...screen, gain: 0.15 } }),
      ),
      sheet.plates.flatMap(({ id, role }) => (role === 'colour' ? [id] : [])),
      'interlocked',
      () => 1,
    ),
  'a tone curve on each plate, none of which prints solid any more': (sheet) => ({
    ...sheet,
    plates: sheet.plates.map((plate, k) => ({
      ...plate,
      screen: { ...plate.screen, gain: k === 0 ? 0 : 0.2 },
      // The first points take light tones away, the last ones the solids.
      stages: [
        {
          kind: 'curve',
          points: [
            [0.1, 0],
            [0.5, 0.4 + 0.05 * k],
            [1, 0.95 - 0.1 * k],
          ],
        },
      ],
    })),
  }),
  'a tone curve on plates that interlock, tints and spread': (sheet) =>
    changes['interlocked, with gain']!({
      ...tinted(sheet),
      fit: { ...sheet.fit, spreadMm: 0.2 },
      plates: tinted(sheet).plates.map((plate) => ({
        ...plate,
        stages: [
          {
            kind: 'curve',
            points: [
              [0, 0],
              [0.3, 0.45],
              [1, 1],
            ],
          },
        ],
      })),
    }),
  'dispersed, one plate solid': (sheet) =>
    changePlates(
      sheet,
      sheet.plates.map(({ id }) => id),
      (plate) => ({
        screen: { ...plate.screen, screening: plate.id === sheet.plates[1]!.id ? 'solid' : 'dispersed' },
      }),
    ),
  'a colour that is another one inside an outline through tone': (sheet) =>
    splitColour(sheet, paletteOf(sheet).find(({ colour }) => colour === COLOURS[1])!.id, [
      [0.35, 0.1],
      [0.6, 0.15],
      [0.55, 0.35],
    ]),
  'a highlight': (sheet) => changeRole(sheet, inkOf(sheet, 1), 'highlight'),
  'two highlights': (sheet) => ({
    ...changeRole(changeRole(sheet, inkOf(sheet, 1), 'highlight'), inkOf(sheet, 2), 'highlight'),
    // Far enough for what is lost at the end of a transition to be dots.
    fit: { ...sheet.fit, highlightChokeMm: 0.5 },
  }),
  'tints, and spread': (sheet) => ({
    ...tinted(sheet),
    fit: { ...sheet.fit, spreadMm: 0.2 },
  }),
};

const cases: (readonly ['raster' | 'vector', string])[] = [
  ...Object.keys(changes).map((name) => ['raster', name] as const),
  ['vector', 'dots on a grid, with gain'],
  ['vector', 'a colour that is another one inside an outline through tone'],
  ['vector', 'a tone curve on each plate, none of which prints solid any more'],
  ['vector', 'a tone curve on plates that interlock, tints and spread'],
  ['vector', 'a highlight'],
  ['vector', 'tints, and spread'],
];

/** Bytes by which kept planes may differ: what is too little to print is left out of planes, and stays where tones are summed. */
const PLANES_APART = 2;

/** The most that kept planes differ, 0 to 255. */
function apart(one: StripPlanes, other: StripPlanes): number {
  expect([one.firstRow, one.rows]).toEqual([other.firstRow, other.rows]);
  expect(one.parts.map(({ row }) => row)).toEqual(other.parts.map(({ row }) => row));
  let most = 0;
  one.bytes.forEach((bytes, k) =>
    bytes.forEach((byte, i) => (most = Math.max(most, Math.abs(byte - other.bytes[k]![i]!)))),
  );
  one.parts.forEach(({ sums }, part) =>
    sums.forEach((sum, k) =>
      sum.forEach((value, i) => {
        most = Math.max(most, 255 * Math.abs(value - other.parts[part]!.sums[k]![i]!));
      }),
    ),
  );
  return most;
}

/** Makes a film set, or one strip of it, both ways. Returns the share of the print that was made straight from tones. */
function sameFilms(sheet: JobSheet, read: ReturnType<typeof reader>, only: number | null = null): number {
  const memory = new Arena();
  let straight = 0;
  const counting = {
    ...kernels,
    screenLayers: (args: Parameters<typeof kernels.screenLayers>[0]) => {
      if (args.field) straight += args.width * args.rows;
      return kernels.screenLayers(args);
    },
  };
  const job = preparePlateJob(sheet, null, counting, memory);
  const plan = planFilms(sheet);
  const furniture = filmFurniture(plan, font);
  const [quick, full] = [job, { ...job, reference: true }].map(
    (each) => new FilmStripMaker(plan, each, furniture, true, tiles),
  );
  let inked = 0;
  for (let index = 0; index < plan.stripCount; index++) {
    if (only !== null && index !== only) continue;
    memory.reset();
    const made = quick!.make(index, read);
    memory.reset();
    const wanted = full!.make(index, read);
    expect(made.screened).toEqual(wanted.screened);
    if (made.planes && wanted.planes)
      expect(apart(made.planes, wanted.planes)).toBeLessThanOrEqual(PLANES_APART);
    else expect([made.planes, wanted.planes]).toEqual([null, null]);
    plan.plates.forEach((plate, k) => {
      expect([plate.id, index, Buffer.compare(made.bits[k]!, wanted.bits[k]!)]).toEqual([plate.id, index, 0]);
      // Sums of rounded tones against tones of sums; a curve bends between the artwork's pixels.
      const near = plate.stages.length > 0 ? 5e-3 : 1e-4;
      expect(Math.abs(made.covered[k]! - wanted.covered[k]!)).toBeLessThan(near * wanted.covered[k]! + 1);
      inked += wanted.covered[k]!;
    });
  }
  const area = plan.grid.widthPx * plan.grid.heightPx;
  expect(inked).toBeGreaterThan(only === null ? area : 0);
  return straight / area;
}

/** The share of these small prints that goes straight to film at least, of the colours. */
function leastStraight(kind: 'raster' | 'vector', { fit, plates }: JobSheet): number {
  // Of a drawing only what is flat.
  if (kind === 'vector') return 0.02;
  const highlights = plates.filter(({ role }) => role === 'highlight').length;
  if (highlights > 1) return 0;
  // Spread and highlights have to do with bare garment and the print's border; without them all that counts are edges.
  return fit.spreadMm > 0 || highlights > 0 ? 0.15 : 0.4;
}

it.each(cases)('films of %s artwork are the same from tones and from plates: %s', (kind, name) => {
  const sheet = sheetOf(kind, changes[name]!);
  expect(sameFilms(sheet, reader(kind, sheet))).toBeGreaterThanOrEqual(leastStraight(kind, sheet));
});

it.each(['raster', 'vector'] as const)(
  'a colour that is left out prints inside an outline, far from all that prints: %s',
  (kind) => {
    const flat = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 760 500">
      <rect width="760" height="500" fill="${COLOURS[2]}"/><rect x="20" y="20" width="60" height="60" fill="${COLOURS[0]}"/></svg>`;
    const sheet = sheetOf(kind, (whole) => {
      const left = paletteOf(whole).findIndex(({ colour }) => colour === COLOURS[2]);
      const split = splitColour(whole, paletteOf(whole)[left]!.id, [
        [0.5, 0.2],
        [0.8, 0.2],
        [0.8, 0.9],
        [0.5, 0.9],
      ]);
      return withPalette(
        split,
        paletteOf(split).map((entry, k) => (k === left ? { ...entry, plateId: null } : entry)),
      );
    });
    const plan = planFilms(sheet);
    const memory = new Arena();
    const job = preparePlateJob(sheet, null, kernels, memory);
    const furniture = filmFurniture(plan, font);
    const maker = new FilmStripMaker(plan, job, furniture, false, tiles);
    const inked = plan.plates.map(() => 0);
    for (let index = 0; index < plan.stripCount; index++) {
      memory.reset();
      maker.make(index, reader(kind, sheet, flat)).covered.forEach((each, k) => (inked[k]! += each));
    }
    const own = plan.plates.findIndex(({ id }) => id === paletteOf(sheet).at(-1)!.plateId);
    const { widthPx, heightPx } = plan.grid;
    expect(inked[own]! / (widthPx * heightPx)).toBeCloseTo(0.3 * 0.7, 2);
  },
);

test("a mixture of two inks rises evenly between the artwork's pixels, and so does the base under both", () => {
  const sheet = sheetOf('raster', (each) => each);
  const grid = printGrid(sheet, DPI);
  const job = preparePlateJob(sheet, null, kernels);
  const y = Math.round((15 / HEIGHT) * grid.heightPx);
  const rect = { x: 0, y, width: grid.widthPx, height: 1 };
  const { planes } = evaluatePlates(
    job,
    grid,
    rect,
    reader('raster', sheet)(plateArtworkNeed(job, grid, rect)),
  );
  const tonesOf = (colour: string) => {
    const entry = paletteOf(sheet).find((each) => each.colour === colour)!;
    const plane = planes.find(({ plate }) => plate.id === entry.plateId)!;
    return Array.from(plane.shape, (shape, x) => (shape === 0 ? 0 : (plane.tone?.[x] ?? 65535) / 65535));
  };
  const [red, yellow] = [tonesOf(COLOURS[0]!), tonesOf(COLOURS[1]!)];
  const [from, to] = [0.14, 0.46].map((at) => Math.round(at * grid.widthPx)) as [number, number];
  for (let x = from; x < to; x++) {
    // Nothing is lost between the two, and the transition is as even as the artwork's 8 bits tell.
    expect(Math.abs(red[x]! + yellow[x]! - 1)).toBeLessThan(1e-4);
    expect(yellow[x + 1]! - yellow[x]!).toBeGreaterThan(-1e-3);
    expect(yellow[x + 1]! - yellow[x]!).toBeLessThan(0.01);
  }
  expect(red[from]!).toBeGreaterThan(0.8);
  expect(yellow[to]!).toBeGreaterThan(0.8);
});

test('a colour that fades into the garment is not spread from where it ends', () => {
  const toneAcross = (spreadMm: number): number[] => {
    const sheet = sheetOf('raster', (each) => ({ ...each, fit: { ...each.fit, spreadMm } }));
    const grid = printGrid(sheet, DPI);
    const job = preparePlateJob(sheet, null, kernels);
    const [x, y] = [590 / 760, 370 / 500].map((at, k) => Math.round(at * (k ? grid.heightPx : grid.widthPx)));
    const rect = { x: x!, y: y!, width: grid.widthPx - x!, height: 1 };
    const read = reader('raster', sheet);
    const { planes } = evaluatePlates(job, grid, rect, read(plateArtworkNeed(job, grid, rect)));
    const { plateId } = paletteOf(sheet).find(({ colour }) => colour === COLOURS[1])!;
    const { shape, tone } = planes.find(({ plate }) => plate.id === plateId)!;
    return Array.from(shape, (inside, k) => (inside === 0 ? 0 : tone![k]!));
  };
  const plain = toneAcross(0);
  expect(plain[0]).toBeGreaterThan(60_000);
  expect(plain.filter((tone) => tone > 0 && tone < 30_000).length).toBeGreaterThan(30);
  expect(plain.at(-1)).toBe(0);
  expect(toneAcross(0.2)).toEqual(plain);
});

test.each(['bare', 'dark'] as const)('an edge is minded as far as it reaches: a %s line', (what) => {
  // One colour that passes into another, and before that a line that is half bare, or dark, wherever it may lie between two blocks.
  const [width, height] = [160, 354];
  const [red, yellow, , dark] = COLOURS.map((colour) => parseHexColour(colour));
  for (let line = 32; line < 64; line += 4) {
    const read = ({ rect }: ArtworkNeed) => {
      const data = new Uint8Array(rect.width * rect.height * 4);
      for (let i = 0; i < rect.width * rect.height; i++) {
        const x = rect.x + (i % rect.width);
        const part = Math.min(1, Math.max(0, (x - 90) / 60));
        for (let c = 0; c < 3; c++) {
          const own = red![c]! * (1 - part) + yellow![c]! * part;
          data[i * 4 + c] = Math.round(x === line && what === 'dark' ? (own + 2 * dark![c]!) / 3 : own);
        }
        data[i * 4 + 3] = x === line && what === 'bare' ? 110 : 255;
      }
      return { rect, data };
    };
    const sheet = sheetOf('raster', (each) => ({
      ...each,
      artworks: [{ ...artworkOf(each), widthPx: width, heightPx: height }],
      print: { widthMm: 40, heightMm: 88.5, chosen: false },
      fit: { ...each.fit, chokeMm: 0.6, underDarkMm: 0.6 },
    }));
    // A strip in the middle, away from the print's border.
    expect(
      sameFilms({ ...sheet, film: { ...sheet.film, dpi: 200, sheetHeightMm: 150 } }, read, 2),
    ).toBeGreaterThan(0);
  }
});
