import { Resvg } from '@resvg/resvg-js';
import { differenceCiede2000 } from 'culori';
import { NO_NOTES, checkAngles, checkCoverage, checkSheet, findingsOf } from '@/core/checks';
import { formatHexColour } from '@/core/colour';
import type { Rect } from '@/core/geometry';
import { PLAIN_KERNELS } from '@/core/kernels';
import {
  DIFFERENCE_SCALE,
  DifferencePainter,
  FilmTones,
  SurveyCounter,
  dotPlanes,
  evaluatePlates,
  makeReading,
  leftBare,
  outlineAt,
  plateArtworkNeed,
  platesKey,
  predictPrint,
  preparePlateJob,
  printGrid,
  readingView,
  surveyBands,
  surveyGrid,
  wantGarment,
} from '@/core/pipeline';
import type { ArtworkNeed } from '@/core/pipeline';
import { ThresholdTiles } from '@/core/screening';
import { changePlate, createJobSheet, setTint, splitColour } from '@/core/separation';
import { type JobSheet, paletteOf, parseJobSheet } from '@/core/sheet';
import { version9 } from '../olderSheet';

// The stages together, on a small print: red board 60 x 40 mm with two gold discs of 8 mm radius on a white ground that is dropped.

const WIDTH = 600;
const HEIGHT = 400;
const art = new Resvg(
  `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><rect x="50" y="50" width="500" height="300" fill="#c8382e"/><circle cx="180" cy="200" r="80" fill="#e8b23a"/><circle cx="420" cy="200" r="80" fill="#e8b23a"/></svg>`,
).render();
const pixels = art.pixels;

function read(need: ArtworkNeed) {
  const { rect } = need;
  const data = new Uint8Array(rect.width * rect.height * 4);
  for (let row = 0; row < rect.height; row++) {
    const from = ((rect.y + row) * WIDTH + rect.x) * 4;
    data.set(pixels.subarray(from, from + rect.width * 4), row * rect.width * 4);
  }
  return { rect, data };
}

function sheetOf(change: (sheet: JobSheet) => JobSheet = (sheet) => sheet): JobSheet {
  const sheet = createJobSheet({
    name: 'Discs',
    artwork: {
      sha256: '0'.repeat(64),
      fileName: 'discs.png',
      kind: 'raster',
      widthPx: WIDTH,
      heightPx: HEIGHT,
    },
    colours: [
      { rgb: [0xc8, 0x38, 0x2e], area: 0.7 },
      { rgb: [0xe8, 0xb2, 0x3a], area: 0.3 },
    ],
    purity: 2.5,
    background: null,
    backgroundWish: 'auto',
    transitions: null,
    print: { widthMm: 60, chosen: false },
    garment: { name: 'Navy', colour: '#16233f' },
    inks: 'auto',
    date: '2026-03-14',
  });
  return change(sheet);
}

function evaluate(sheet: JobSheet, dpi: number, region?: Rect) {
  const grid = printGrid(sheet, dpi);
  const where = region ?? { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
  const job = preparePlateJob(sheet, null, PLAIN_KERNELS);
  return { grid, planes: evaluatePlates(job, grid, where, read(plateArtworkNeed(job, grid, where))) };
}

const areaMm = (shape: Uint8Array, pxPerMm: number) =>
  shape.reduce((sum, value) => sum + (value ? 1 : 0), 0) / pxPerMm ** 2;

test('regions are parts of the whole, base and all', () => {
  const sheet = sheetOf();
  const { grid, planes } = evaluate(sheet, 360);
  for (const rect of [
    { x: 90, y: 80, width: 150, height: 120 },
    { x: 0, y: 300, width: 400, height: 90 },
  ]) {
    const part = evaluate(sheet, 360, rect).planes;
    let different = 0;
    part.planes.forEach((plane, k) => {
      for (let y = 0; y < rect.height; y++) {
        for (let x = 0; x < rect.width; x++) {
          const whole = planes.planes[k]!.shape[(rect.y + y) * grid.widthPx + rect.x + x];
          if (plane.shape[y * rect.width + x] !== whole) different++;
        }
      }
    });
    expect(different).toBe(0);
  }
});

test('a survey covers what the drawing covers: discs by their formula, the base choked all round', () => {
  const sheet = sheetOf();
  const grid = surveyGrid(sheet);
  const counter = new SurveyCounter(sheet, grid);
  const job = preparePlateJob(sheet, null, PLAIN_KERNELS);
  for (const band of surveyBands(grid)) {
    counter.add(evaluatePlates(job, grid, band, read(plateArtworkNeed(job, grid, band))));
  }
  const survey = counter.result({
    gaps: null,
    wear: null,
    difference: {
      mean: 0,
      p95: 0,
      asItCame: null,
      printable: null,
      others: [],
      dropped: null,
      reasons: null,
      off: [],
    },
  });
  const print = 60 * 40;
  const discs = 2 * Math.PI * 8 ** 2;
  const coverage = (id: string) =>
    survey.plates[sheet.plates.findIndex((plate) => plate.id === id)]!.coverage;
  expect(coverage('yellow')).toBeCloseTo(discs / print, 2);
  expect(coverage('red')).toBeCloseTo((50 * 30 - discs) / print, 2);
  // The base is solid under both; its shape is the board less 0.15 mm on each side.
  const shape = 49.7 * 29.7;
  expect(coverage('base-white')).toBeCloseTo(shape / print, 2);
  expect(checkCoverage(sheet, survey.plates)).toEqual([]);
  const thumb = survey.thumbs[0]!;
  expect(Math.max(thumb.width, thumb.height)).toBe(112);
});

test('a plate that prints nothing, or hardly anything, is a finding with its place', () => {
  const sheet = sheetOf();
  const surveys = sheet.plates.map((_, k) => ({
    coverage: k === 1 ? 0 : k === 2 ? 2e-4 : 0.3,
    toned: 0,
    place: k === 2 ? { xMm: 3, yMm: 4 } : null,
  }));
  const found = checkCoverage(sheet, surveys);
  expect(found.map((each) => each.code)).toEqual(['plate-empty', 'plate-nearly-empty']);
  expect(found[1]!.place).toEqual({ xMm: 3, yMm: 4 });
});

test('an area split from its colour gets all of its pixels and no others', () => {
  const sheet = sheetOf();
  const grid = surveyGrid(sheet);
  const gold = paletteOf(sheet).findIndex((entry) => entry.colour === '#e8b23a');
  const labels = new Uint8Array(grid.widthPx * grid.heightPx).fill(254);
  for (let y = 0; y < grid.heightPx; y++) {
    for (let x = 0; x < grid.widthPx; x++) {
      for (const cx of [18, 42]) {
        if (Math.hypot(x / grid.pxPerMm - cx, y / grid.pxPerMm - 20) < 8) labels[y * grid.widthPx + x] = gold;
      }
    }
  }
  const found = outlineAt(grid, labels, 18, 20)!;
  expect(found.label).toBe(gold);
  expect(outlineAt(grid, labels, 1, 1)).toBeNull();
  const split = splitColour(sheet, paletteOf(sheet)[gold]!.id, found.outline);
  expect(parseJobSheet(JSON.parse(JSON.stringify(split)))).toEqual(split);
  const { grid: fine, planes } = evaluate(split, 720);
  const plates = planes.planes.filter(
    ({ plate }) => plate.role === 'colour' && plate.ink.colour === '#e8b23a',
  );
  expect(plates).toHaveLength(2);
  for (const { shape } of plates) {
    expect(Math.abs(areaMm(shape, fine.pxPerMm) - Math.PI * 64)).toBeLessThan(1.5);
  }
  const both = plates[0]!.shape.some((value, i) => value !== 0 && plates[1]!.shape[i] !== 0);
  expect(both).toBe(false);
});

test('dots on the table are the tone that they stand for, in print', () => {
  const sheet = sheetOf((each) => setTint(each, paletteOf(each)[1]!.id, 0.4));
  const { planes } = evaluate(sheet, sheet.film.dpi);
  const dots = dotPlanes(planes, sheet, new ThresholdTiles(), new FilmTones(), PLAIN_KERNELS, 'print');
  const k = sheet.plates.findIndex((plate) => plate.ink.colour === '#e8b23a');
  const inked = dots.planes[k]!.shape.reduce((sum, value) => sum + (value ? 1 : 0), 0);
  const shape = planes.planes[k]!.shape.reduce((sum, value) => sum + (value ? 1 : 0), 0);
  expect(dots.planes[k]!.tone).toBeNull();
  expect(Math.abs(inked / shape - 0.4)).toBeLessThan(0.01);
});

test('film is lighter where gain is made up for; solids and shapes stay', () => {
  const plain = sheetOf((each) => setTint(each, paletteOf(each)[1]!.id, 0.5));
  const sheet = {
    ...plain,
    plates: plain.plates.map((plate) => ({ ...plate, screen: { ...plate.screen, gain: 0.2 } })),
  };
  const region = { x: 640, y: 500, width: 320, height: 128 };
  const { planes } = evaluate(sheet, sheet.film.dpi, region);
  const dots = dotPlanes(planes, sheet, new ThresholdTiles(), new FilmTones(), PLAIN_KERNELS, 'film');
  const share = (colour: string) => {
    const k = sheet.plates.findIndex((plate) => plate.ink.colour === colour);
    const on = (shape: Uint8Array) => shape.reduce((sum, value) => sum + (value ? 1 : 0), 0);
    return on(dots.planes[k]!.shape) / on(planes.planes[k]!.shape);
  };
  // y = a + 0.4 sqrt(a (1 - a)) = 0.5 for a = 0.3.
  expect(share('#e8b23a')).toBeCloseTo(0.3, 1);
  expect(share('#c8382e')).toBe(1);
});

test('a reading tells coverage, prediction and difference of its square', () => {
  const sheet = sheetOf();
  const { view, level } = readingView(sheet, 42, 20);
  const { planes } = evaluate(sheet, sheet.film.dpi, level.region);
  const print = predictPrint(planes, sheet, level, view, PLAIN_KERNELS);
  const reading = makeReading(planes, print, Uint8ClampedArray.from([0xe8, 0xb2, 0x3a, 255]));
  expect(reading.plates['yellow']).toBe(1);
  expect(reading.plates['base-white']).toBe(1);
  expect(reading.plates['red']).toBe(0);
  // Ink 0.75 opaque over a white of 0.85 over navy: by the print model, in linear light, for each channel.
  const linear = (code: number) => (code <= 10 ? code / 255 / 12.92 : ((code / 255 + 0.055) / 1.055) ** 2.4);
  const layer = (backing: number, ink: number, opacity: number) =>
    opacity * ink + (1 - opacity) * backing * ink;
  const code = (light: number) => Math.round((1.055 * light ** (1 / 2.4) - 0.055) * 255);
  const expected = [0, 1, 2].map((c) => {
    const base = layer(linear([0x16, 0x23, 0x3f][c]!), linear([0xf6, 0xf6, 0xf3][c]!), 0.85);
    return code(layer(base, linear([0xe8, 0xb2, 0x3a][c]!), 0.75));
  });
  reading.predicted.forEach((value, c) => expect(Math.abs(value - expected[c]!)).toBeLessThanOrEqual(1));
  const outside = differenceCiede2000()(formatHexColour(reading.predicted), '#e8b23a');
  // culori's Lab is D65 here, ours D50: whole units agree.
  expect(Math.abs(reading.difference - outside)).toBeLessThan(0.5);
});

test('printing a screen twice covers more; half of a run is not the whole', () => {
  const sheet = sheetOf();
  const gold = sheet.plates.find((plate) => plate.ink.colour === '#e8b23a')!;
  const twice = { ...sheet, run: [...sheet.run, { kind: 'screen' as const, plateId: gold.id }] };
  const { view, level } = readingView(sheet, 42, 20);
  const { planes } = evaluate(sheet, sheet.film.dpi, level.region);
  const at = (each: JobSheet, passes?: number) =>
    predictPrint(planes, each, level, view, PLAIN_KERNELS, passes === undefined ? {} : { passes });
  expect([...at(twice)]).not.toEqual([...at(sheet)]);
  expect([...at(sheet, 0)]).toEqual([0x16, 0x23, 0x3f, 255]);
  expect([...at(sheet, 1)][0]).toBeGreaterThan(200);
  expect([...at(sheet, 99)]).toEqual([...at(sheet)]);
});

test('differences are painted on their scale', () => {
  const painter = new DifferencePainter();
  const same = Uint8ClampedArray.from([10, 20, 30, 255]);
  expect([...painter.paint(same, same)]).toEqual([...DIFFERENCE_SCALE[0]![1], 255]);
  const black = Uint8ClampedArray.from([0, 0, 0, 255]);
  const white = Uint8ClampedArray.from([255, 255, 255, 255]);
  // CIEDE2000 of black and white is 100: beyond the scale's end.
  expect([...painter.paint(black, white)]).toEqual([...DIFFERENCE_SCALE.at(-1)![1], 255]);
});

test('of a dropped white background the garment is what was wanted; of other colours that are missing it is not', () => {
  const pixels = (...codes: number[]) => Uint8ClampedArray.from(codes.flatMap((v) => [v, v, v, 255]));
  const black = [0, 0, 0] as const;
  // Bare throughout but the last: ground, a smooth edge, dark grey that no ink prints, printed.
  const print = pixels(0, 0, 0, 0, 66);
  const artwork = pixels(255, 150, 66, 66, 66);
  const bare = leftBare(print, artwork, 5, [...black], [255, 255, 255]);
  expect([...bare]).toEqual([1, 1, 0, 0, 0]);
  wantGarment(artwork, bare, [...black]);
  expect([...artwork]).toEqual([...pixels(0, 0, 66, 66, 66)]);
});

describe('findings of a sheet', () => {
  const codes = (sheet: JobSheet) => checkSheet(sheet).map((finding) => finding.code);

  it('a sound job has none but its resolution', () => {
    expect(codes(sheetOf())).toEqual(['resolution-low']);
  });

  it('a base wider than the press wanders inside its colours', () => {
    const sheet = sheetOf((each) => ({ ...each, fit: { ...each.fit, chokeMm: 0.05 } }));
    const finding = checkSheet(sheet).find((each) => each.code === 'base-wider-than-tolerance')!;
    expect(finding).toMatchObject({ severity: 'severe', step: 'fit', measured: 0.05, limit: 0.15 });
    // Once the print was looked at, there is a place where it shows: one where the base prints.
    const place = { xMm: 12, yMm: 7 };
    const plates = sheet.plates.map(({ role }) => ({
      coverage: 0.2,
      toned: 0,
      place: role === 'underbase' ? place : null,
    }));
    const overlaps = Array.from({ length: plates.length ** 2 }, () => ({ share: 0, place: null }));
    const found = findingsOf(sheet, NO_NOTES, {
      plates,
      overlaps,
      colours: paletteOf(sheet).map(() => ({ share: 0, place: null })),
      gaps: null,
      edges: null,
      holds: plates.map(() => ({ lost: 0, lostBelow: 0, plugged: 0 })),
      thin: null,
      pieces: null,
      wear: null,
      difference: null,
    });
    expect(found.find(({ code }) => code === finding.code)).toEqual({ ...finding, place });
  });

  it('two inks nearly equal, a base that is late, not flashed, a run too long', () => {
    const equal = sheetOf((each) =>
      changePlate(each, 'yellow', { ink: { name: 'Red too', colour: '#c83a30', opacity: 0.75 } }),
    );
    expect(codes(equal)).toContain('inks-nearly-equal');
    const run = sheetOf().run.filter((station) => station.kind === 'screen');
    expect(codes(sheetOf((each) => ({ ...each, run })))).toContain('base-not-flashed');
    const late = sheetOf((each) => ({
      ...each,
      run: [...run].reverse(),
      plates: [...each.plates].reverse(),
    }));
    expect(codes(late)).toContain('base-not-first');
    const long = sheetOf((each) => ({
      ...each,
      run: [...each.run, ...Array.from({ length: 9 }, () => ({ kind: 'empty' as const }))],
    }));
    expect(codes(long)).toContain('run-too-long');
    expect(codes(sheetOf((each) => ({ ...each, film: { ...each.film, sheetWidthMm: 50 } })))).toContain(
      'print-off-sheet',
    );
  });

  it('dots that overlap at one angle, but not 30 degrees apart', () => {
    const { plates } = sheetOf();
    const overlap = () => ({ share: 0.1, place: { xMm: 1, yMm: 1 } });
    expect(checkAngles(plates, overlap)).toHaveLength(3);
    const turned = plates.map((plate, k) => ({
      ...plate,
      screen: { ...plate.screen, angleDeg: 22.5 + 30 * k },
    }));
    expect(checkAngles(turned, overlap)).toEqual([]);
    const strewn = plates.map((plate) => ({
      ...plate,
      screen: { ...plate.screen, screening: 'dispersed' as const },
    }));
    expect(checkAngles(strewn, overlap)).toEqual([]);
    // A screen is the same after a quarter turn.
    const quarter = plates
      .slice(0, 2)
      .map((plate, k) => ({ ...plate, screen: { ...plate.screen, angleDeg: 90 * k } }));
    expect(checkAngles(quarter, overlap)).toHaveLength(1);
  });
});

describe('job sheets', () => {
  it('of version 1 are brought to the newest, with a run and numbers', () => {
    const now = sheetOf();
    const { run: _run, otherGarments: _others, ...rest } = version9(now);
    const old = {
      ...rest,
      version: 1,
      plates: now.plates.map(({ number: _number, screen, ...plate }) => ({
        ...plate,
        screen: { lpi: screen.lpi, angleDeg: screen.angleDeg, shape: screen.shape },
      })),
      palette: paletteOf(now).map(({ id: _id, closeness: _closeness, within: _within, ...entry }) => entry),
      fit: { ...now.fit, press: { name: 'Automatic', toleranceMm: 0.15 } },
    };
    // Nothing was made up for then, and nothing is now.
    const plain = { gain: 0, holdSmallest: false, largest: 1 };
    const plates = now.plates.map((plate) => ({ ...plate, screen: { ...plate.screen, ...plain } }));
    expect(parseJobSheet(old)).toEqual({ ...now, plates });
  });

  it('with a run that forgets a plate, or two plates of one number, are refused', () => {
    const sheet = sheetOf();
    expect(() => parseJobSheet({ ...sheet, run: sheet.run.slice(1) })).toThrow(/run/);
    const plates = sheet.plates.map((plate) => ({ ...plate, number: 1 }));
    expect(() => parseJobSheet({ ...sheet, plates })).toThrow(/two plates with one number/);
  });

  it('give plates anew only when something changed that plates are made from', () => {
    const sheet = sheetOf();
    const recoloured = changePlate(sheet, 'red', { ink: { ...sheet.plates[2]!.ink, colour: '#b03030' } });
    expect(platesKey(recoloured)).toBe(platesKey(sheet));
    expect(platesKey({ ...sheet, fit: { ...sheet.fit, chokeMm: 0.3 } })).not.toBe(platesKey(sheet));
  });
});
