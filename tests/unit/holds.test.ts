/** Lines that break, openings that fill, dots that do not hold, and details that are not seen: found where the test put them, and only there. */
import { type HoldSurvey, NO_NOTES, type ThinSurvey, findingsOf, remedyOf } from '@/core/checks';
import type { PlatePlanes } from '@/core/fit';
import { PLAIN_KERNELS } from '@/core/kernels';
import {
  SmallPieceCounter,
  ThinCounter,
  crispPlanes,
  holdsOf,
  lineLimitMm,
  surveyKey,
  withFaint,
} from '@/core/pipeline';
import { FRESH_MEMORY } from '@/core/raster';
import { type JobSheet, garmentOf, jobSheetSchema, paletteOf } from '@/core/sheet';
import { quietSurvey } from '../quietSurvey';
import { testSheet } from '../testSheet';

const PX_PER_MM = 14;
const SIDE = 500;
const GRID = { widthPx: SIDE, heightPx: SIDE, pxPerMm: PX_PER_MM };
const sheet = testSheet();
const red = sheet.plates.find(({ id }) => id === 'red')!;

type Inside = (x: number, y: number) => boolean;

/** What is found of a red plate alone, in bands of 128 rows. */
function surveyOf(inside: Inside, of: JobSheet = sheet): ThinSurvey {
  const counter = new ThinCounter(of, GRID, PLAIN_KERNELS);
  const around = 20;
  for (let y = 0; y < SIDE; y += 128) {
    const band = { x: 0, y, width: SIDE, height: Math.min(128, SIDE - y) };
    const rect = {
      x: -around,
      y: y - around,
      width: SIDE + 2 * around,
      height: band.height + 2 * around,
    };
    const shape = (is: boolean) =>
      Uint8Array.from({ length: rect.width * rect.height }, (_, i) =>
        is && inside(rect.x + (i % rect.width) + 0.5, rect.y + Math.floor(i / rect.width) + 0.5) ? 255 : 0,
      );
    const planes: PlatePlanes = {
      rect,
      planes: of.plates.map((plate) => ({ plate, shape: shape(plate.id === red.id), tone: null })),
    };
    counter.add(planes, band);
  }
  return counter.result();
}

const line = (survey: ThinSurvey) => survey.lines[sheet.plates.indexOf(red)]!;
const find = (of: JobSheet, code: string, change: Parameters<typeof quietSurvey>[1]) =>
  findingsOf(of, NO_NOTES, quietSurvey(of, change)).find((each) => each.code === code);

/** A horizontal bar that is so many pixels high, from x 50 to 450, in row 300. */
const bar =
  (high: number): Inside =>
  (x, y) =>
    x > 50 && x < 450 && y > 300 && y < 300 + high;

test('a line that is thinner than its mesh holds is found with its length and place; a wider one is not', () => {
  // Mesh 180: 141 um from thread to thread and a thread of 48, 0.19 mm or 2.6 pixels.
  expect(lineLimitMm(sheet, red)).toBeCloseTo(0.19, 1);
  const thin = line(surveyOf(bar(1)));
  expect(thin.lengthMm).toBeGreaterThan(0.95 * (400 / PX_PER_MM));
  expect(thin.lengthMm).toBeLessThan(1.1 * (400 / PX_PER_MM));
  expect(Math.abs(thin.place!.yMm - 300 / PX_PER_MM)).toBeLessThan(0.2);
  expect(line(surveyOf(bar(5))).lengthMm).toBe(0);
});

test('corners are no thin lines, sharp ones neither', () => {
  const square: Inside = (x, y) => x > 100 && x < 300 && y > 100 && y < 300;
  const turned: Inside = (x, y) => Math.abs(x - 250) + Math.abs(y - 250) < 150;
  const disc: Inside = (x, y) => Math.hypot(x - 250, y - 250) < 150;
  for (const inside of [square, turned, disc]) {
    const survey = surveyOf(inside);
    expect(line(survey).lengthMm).toBe(0);
    expect(survey.openings.lengthMm).toBe(0);
  }
});

test('a slit that is narrower than fills is an opening, a wider one is none', () => {
  const slit =
    (high: number): Inside =>
    (x, y) =>
      x > 20 && x < 480 && y > 200 && y < 400 && !bar(high)(x, y);
  const narrow = surveyOf(slit(2));
  expect(narrow.openings.lengthMm).toBeGreaterThan(0.9 * (400 / PX_PER_MM));
  expect(narrow.openings.lengthMm).toBeLessThan(1.15 * (400 / PX_PER_MM));
  expect(line(narrow).lengthMm).toBe(0);
  expect(surveyOf(slit(7)).openings.lengthMm).toBe(0);
  // A shop whose ink fills more says so.
  const own = { ...sheet, limits: { ...sheet.limits, openingMm: 0.6 } };
  expect(surveyOf(slit(7), own).openings.lengthMm).toBeGreaterThan(20);
});

test('findings tell length, limit and place; a guard is offered where colours grow', () => {
  const thin = surveyOf(bar(1));
  expect(find(sheet, 'line-thin', { thin })).toMatchObject({ plateId: 'red', close: true });
  const openings = { lengthMm: 12, place: { xMm: 3, yMm: 4 } };
  const survey = { thin: { ...thin, openings } };
  const found = find(sheet, 'opening-fills', survey)!;
  expect(found).toMatchObject({ measured: 12, limit: 0.3, place: { xMm: 3, yMm: 4 } });
  expect(remedyOf(sheet, found)).toBeNull();
  const trapped = { ...sheet, fit: { ...sheet.fit, trapMm: 0.15 } };
  const remedy = remedyOf(trapped, find(trapped, 'opening-fills', survey)!)!;
  expect(remedy.change(trapped).fit.guardMm).toBe(0.3);
});

describe('of a plate that comes with the file, with tones', () => {
  type Tone = (x: number, y: number) => number;
  const rect = { x: 0, y: 0, width: SIDE, height: SIDE };
  const planesOf = (tone: Tone) => {
    const values = Uint16Array.from({ length: SIDE * SIDE }, (_, i) =>
      Math.round(65535 * tone(i % SIDE, Math.floor(i / SIDE))),
    );
    const shape = Uint8Array.from(values, (value) => (value > 0 ? 255 : 0));
    const none = new Uint8Array(shape.length);
    const planes = sheet.plates.map((plate) =>
      plate === red ? { plate, shape, tone: values } : { plate, shape: none, tone: null },
    );
    return crispPlanes({ rect, planes }, FRESH_MEMORY);
  };
  const thinOf = (tone: Tone): ThinSurvey => {
    const counter = new ThinCounter(sheet, GRID, PLAIN_KERNELS);
    const { planes, strong } = planesOf(tone);
    const inner = { x: 40, y: 40, width: SIDE - 80, height: SIDE - 80 };
    counter.add(planes, inner, strong);
    return counter.result();
  };
  /** A bar of a tone from x 50 to 450, two rows high, the second one half covered. */
  const toned =
    (tone: number): Tone =>
    (x, y) =>
      x < 50 || x >= 450 ? 0 : y === 300 ? tone : y === 301 ? tone / 2 : 0;

  test('a line with soft edges is found as one; faint ones, fades and veins of a picture are none', () => {
    const { lengthMm, place } = line(thinOf(toned(1)));
    expect(lengthMm).toBeGreaterThan(0.9 * (400 / PX_PER_MM));
    expect(lengthMm).toBeLessThan(1.1 * (400 / PX_PER_MM));
    expect(Math.abs(place!.yMm - 300 / PX_PER_MM)).toBeLessThan(0.2);
    expect(line(thinOf(toned(0.3))).lengthMm).toBe(0);
    expect(line(thinOf((_, y) => Math.max(0, 1 - Math.abs(y - 250) / 150))).lengthMm).toBe(0);
    expect(line(thinOf((_, y) => (y % 12 < 2 ? 0.13 : 0.08))).lengthMm).toBe(0);
  });

  test('an opening is one between solids, and none between faint tones', () => {
    const slit =
      (tone: number): Tone =>
      (x, y) =>
        x > 45 && x < 455 && y > 100 && y < 400 && !(y >= 250 && y < 252) ? tone : 0;
    expect(thinOf(slit(1)).openings.lengthMm).toBeGreaterThan(0.9 * (400 / PX_PER_MM));
    expect(thinOf(slit(0.3)).openings.lengthMm).toBe(0);
  });

  test('specks are solid ones that end everywhere', () => {
    const speck =
      (tone: number, halo: number): Tone =>
      (x, y) => {
        const away = Math.hypot((x % 90) - 45, (y % 90) - 45);
        return away < 2 ? tone : away < 20 ? halo : 0;
      };
    const countOf = (tone: Tone) => {
      const counter = new SmallPieceCounter(sheet, GRID);
      const { planes, strong } = planesOf(tone);
      counter.add(
        planes.planes.map(({ shape }, k) => withFaint(shape, strong[k]!, FRESH_MEMORY)),
        SIDE,
      );
      return counter.result()[sheet.plates.indexOf(red)]!.count;
    };
    // Their middles lie at 45, 135, ... 495 both ways.
    expect(countOf(speck(1, 0))).toBe(36);
    expect(countOf(speck(0.3, 0))).toBe(0);
    expect(countOf(speck(1, 0.2))).toBe(0);
  });
});

describe('tones of dots', () => {
  const withScreen = (change: Partial<typeof red.screen>): JobSheet => ({
    ...sheet,
    plates: sheet.plates.map((plate) =>
      plate.id === 'red' ? { ...plate, screen: { ...plate.screen, gain: 0, ...change } } : plate,
    ),
  });
  const holdsOfRed = (of: JobSheet) => holdsOf(of)[of.plates.findIndex(({ id }) => id === 'red')]!;

  test('below the smallest dot of the mesh they are lost, unless it is held', () => {
    // A disc of one opening and two threads of mesh 180 in a cell of 45 to the inch, by its area.
    const cell = 25400 / 45;
    const holds = holdsOfRed(withScreen({ holdSmallest: false }));
    expect(holds.lostBelow).toBeCloseTo(
      ((Math.PI / 4) * (lineLimitMm(sheet, red) * 1000) ** 2) / cell ** 2,
      3,
    );
    expect(holds.lostBelowTone / 65535).toBeCloseTo(holds.lostBelow, 4);
    expect(holdsOfRed(withScreen({ holdSmallest: true })).lostBelow).toBe(0);
  });

  test('above the limit they plug, unless openings are kept', () => {
    expect(holdsOfRed(withScreen({ largest: 1 })).plugsAboveTone / 65535).toBeCloseTo(0.9, 3);
    expect(holdsOfRed(withScreen({ largest: 0.9 })).plugsAboveTone).toBe(65535);
  });

  test('both are told as a share of the print, with what mends them', () => {
    const of = withScreen({ holdSmallest: false, largest: 1 });
    const holds: HoldSurvey[] = of.plates.map(({ id }) =>
      id === 'red' ? { lost: 0.12, lostBelow: 0.09, plugged: 0.05 } : { lost: 0, lostBelow: 0, plugged: 0 },
    );
    for (const code of ['tones-lost', 'tones-plug']) {
      const found = find(of, code, { holds })!;
      expect(found).toMatchObject({ plateId: 'red', step: 'dots' });
      const mended = remedyOf(of, found)!.change(of);
      expect(jobSheetSchema.safeParse(mended).success).toBe(true);
      expect(holdsOfRed(mended)).toMatchObject(
        code === 'tones-lost' ? { lostBelow: 0 } : { plugsAboveTone: 65535 },
      );
    }
    const few = holds.map((each) => ({ ...each, lost: each.lost / 100, plugged: 0 }));
    expect(find(of, 'tones-lost', { holds: few })).toBeUndefined();
  });
});

test('a colour that is printed and hardly seen on the garment is told, not one that is meant to be like it', () => {
  // A colour that was put on an ink as dark as the garment.
  const clear = {
    ...sheet,
    plates: sheet.plates.map((plate) =>
      plate.id === 'red'
        ? { ...plate, baseStrength: 0, ink: { ...plate.ink, colour: garmentOf(sheet).colour, opacity: 1 } }
        : plate,
    ),
  };
  const found = find(clear, 'detail-vanishes', {});
  expect(found).toMatchObject({ plateId: 'red', limit: 6 });
  expect(find(sheet, 'detail-vanishes', {})).toBeUndefined();
  expect(paletteOf(clear).some(({ plateId }) => plateId === 'red')).toBe(true);
});

test('a survey is made anew for everything that it depends on, and for nothing else', () => {
  const plated = (change: object): JobSheet => ({
    ...sheet,
    plates: sheet.plates.map((plate) => (plate.id === 'red' ? { ...plate, ...change } : plate)),
  });
  const own = surveyKey(sheet);
  for (const other of [
    { ...sheet, limits: { ...sheet.limits, openingMm: 0.4 } },
    { ...sheet, press: { ...sheet.press, toleranceMm: 0.3 } },
    { ...sheet, fit: { ...sheet.fit, trapMm: 0.1 } },
    plated({ mesh: 305 }),
    plated({ screen: { ...red.screen, holdSmallest: !red.screen.holdSmallest } }),
    plated({ ink: { ...red.ink, colour: '#123456' } }),
  ]) {
    expect(surveyKey(other)).not.toBe(own);
  }
  expect(surveyKey({ ...sheet, name: 'Another', film: { ...sheet.film, label: false } })).toBe(own);
});

test('limits have one place: what a shop sets there is what the checks go by', () => {
  const strict = { ...sheet, limits: { ...sheet.limits, emptyShare: 0.05 } };
  const plates = sheet.plates.map(() => ({ coverage: 0.03, toned: 0, place: { xMm: 1, yMm: 1 } }));
  expect(find(sheet, 'plate-nearly-empty', { plates })).toBeUndefined();
  expect(find(strict, 'plate-nearly-empty', { plates })).toMatchObject({ limit: 0.05 });
});

test('specks are counted by their size, also where they lie across two bands, and told with a place from so many on', () => {
  // 25 discs of 0.3 mm, which is 0.07 mm² each, and one of 1 mm.
  const specks = Array.from(
    { length: 25 },
    (_, k) => [40 + 90 * (k % 5), 38 + 90 * Math.floor(k / 5)] as const,
  );
  const inside: Inside = (x, y) =>
    specks.some(([u, v]) => Math.hypot(x - u, y - v) < 0.15 * PX_PER_MM) ||
    Math.hypot(x - 250, y - 470) < 0.5 * PX_PER_MM;
  const counter = new SmallPieceCounter(sheet, GRID);
  // Row 128, where a band ends, cuts the second row of specks.
  for (let y = 0; y < SIDE; y += 128) {
    const shape = Uint8Array.from({ length: SIDE * Math.min(128, SIDE - y) }, (_, i) =>
      inside((i % SIDE) + 0.5, y + Math.floor(i / SIDE) + 0.5) ? 255 : 0,
    );
    const none = new Uint8Array(shape.length);
    counter.add(
      sheet.plates.map((plate) => (plate === red ? shape : none)),
      SIDE,
    );
  }
  const pieces = counter.result();
  const k = sheet.plates.indexOf(red);
  expect(pieces.map(({ count }) => count)).toEqual(sheet.plates.map((_, each) => (each === k ? 25 : 0)));
  expect(
    Math.hypot(pieces[k]!.place!.xMm - 40 / PX_PER_MM, pieces[k]!.place!.yMm - 38 / PX_PER_MM),
  ).toBeLessThan(0.2);
  const told = (of: JobSheet) =>
    findingsOf(of, NO_NOTES, quietSurvey(of, { pieces })).filter(({ code }) => code === 'small-pieces');
  expect(told(sheet)).toMatchObject([{ plateId: 'red', measured: 25, limit: 20, place: pieces[k]!.place }]);
  expect(told({ ...sheet, limits: { ...sheet.limits, pieces: 26 } })).toEqual([]);
});
