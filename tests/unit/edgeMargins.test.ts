/** How far screens may lie off, held to plates that the test shifts itself, pixel by pixel. */
import {
  type EdgeSurvey,
  NO_NOTES,
  checkSheet,
  findingsOf,
  remedyOf,
  shownArea,
  shownLength,
  survivesMm,
} from '@/core/checks';
import type { PlatePlanes } from '@/core/fit';
import { EdgeCounter, crispPlanes } from '@/core/pipeline';
import { FRESH_MEMORY } from '@/core/raster';
import { quietSurvey } from '../quietSurvey';
import { testSheet } from '../testSheet';

const PX_PER_MM = 14;
const SIDE = 420;
/** Round the print, as far as edges are looked at. */
const ROOM = 10;
const WIDTH = SIDE + 2 * ROOM;
const GRID = { widthPx: SIDE, heightPx: SIDE, pxPerMm: PX_PER_MM };

const sheet = testSheet();
const [base, yellow, red] = sheet.plates;

type Inside = (x: number, y: number) => boolean;

function mask(inside: Inside): Uint8Array {
  const out = new Uint8Array(WIDTH * WIDTH);
  for (let y = 0; y < WIDTH; y++) {
    for (let x = 0; x < WIDTH; x++) if (inside(x - ROOM + 0.5, y - ROOM + 0.5)) out[y * WIDTH + x] = 255;
  }
  return out;
}

const disc =
  (radius: number): Inside =>
  (x, y) =>
    Math.hypot(x - SIDE / 2, y - SIDE / 2) < radius;
const square =
  (inset: number): Inside =>
  (x, y) =>
    x > 60 + inset && y > 60 + inset && x < SIDE - 60 - inset && y < SIDE - 60 - inset;

/** A yellow disc in a red square that leaves it free, both over a base that is choked. @param trap how far the disc runs into the square, in pixels. */
function plates(trap: number, choke: number, withBase: boolean): Map<string, Uint8Array> {
  const whole = square(0);
  return new Map([
    [base!.id, withBase ? mask(square(choke)) : mask(() => false)],
    [yellow!.id, mask(disc(90 + trap))],
    [red!.id, mask((x, y) => whole(x, y) && !disc(90)(x, y))],
  ]);
}

function surveyOf(masks: ReadonlyMap<string, Uint8Array>): EdgeSurvey {
  const planes: PlatePlanes = {
    rect: { x: -ROOM, y: -ROOM, width: WIDTH, height: WIDTH },
    planes: sheet.plates.map((plate) => ({ plate, shape: masks.get(plate.id)!, tone: null })),
  };
  const counter = new EdgeCounter(sheet, GRID);
  counter.add(planes, { x: 0, y: 0, width: SIDE, height: SIDE });
  return counter.result();
}

/** Pixels that show something else when a plate is moved: white that is covered else, or garment where ink lies else. */
function brute(masks: ReadonlyMap<string, Uint8Array>, moved: string, dx: number, dy: number) {
  const seen = (of: (id: string, i: number) => boolean, i: number) => {
    if (of(yellow!.id, i) || of(red!.id, i)) return 'colour';
    return of(base!.id, i) ? 'white' : 'garment';
  };
  const still = (id: string, i: number) => masks.get(id)![i] !== 0;
  const after = (id: string, i: number) => still(id, id === moved ? i - dy * WIDTH - dx : i);
  const count = { white: 0, garment: 0 };
  for (let y = ROOM; y < WIDTH - ROOM; y++) {
    for (let x = ROOM; x < WIDTH - ROOM; x++) {
      const i = y * WIDTH + x;
      const [was, is] = [seen(still, i), seen(after, i)];
      if (was === 'colour' && is === 'garment') count.garment++;
      if (was !== 'white' && is === 'white') count.white++;
    }
  }
  return count;
}

/** The eight ways of the survey, in its order. */
const WAYS = [
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
  [-1, -1],
  [0, -1],
  [1, -1],
] as const;

function predicted(survey: EdgeSurvey, fault: 'white' | 'garment', moved: string, way: number, mm: number) {
  return survey.edges
    .filter((edge) => edge.fault === fault && edge.plateId === moved)
    .reduce((sum, edge) => sum + shownArea(edge, way, mm), 0);
}

describe.each([
  ['colours that meet, over a base', 0, 3, true],
  ['a trap of three pixels, over a base', 3, 3, true],
  ['colours that meet, on the garment', 0, 0, false],
  ['a base that is not choked', 2, 0, true],
] as const)('%s', (_, trap, choke, withBase) => {
  const masks = plates(trap, choke, withBase);
  const survey = surveyOf(masks);

  test.each([base, yellow, red].map((plate) => [plate!.ink.name, plate!.id]))('with %s off', (_name, id) => {
    for (const [way, [dx, dy]] of WAYS.entries()) {
      for (const n of [1, 2, 4, 6]) {
        // A base shows beyond the edge that it moves towards, a colour leaves what lies behind the edge that it moves away from.
        const sign = id === base!.id ? 1 : -1;
        const found = brute(masks, id, sign * dx * n, sign * dy * n);
        const mm = (n * Math.hypot(dx, dy)) / PX_PER_MM;
        const white = predicted(survey, 'white', id, way, mm) * PX_PER_MM ** 2;
        expect(Math.abs(white - found.white)).toBeLessThanOrEqual(0.06 * found.white + 6);
        // The square's own border only moves: garment shows there and none is missed.
        if (id === yellow!.id) {
          const garment = predicted(survey, 'garment', id, way, mm) * PX_PER_MM ** 2;
          expect(Math.abs(garment - found.garment)).toBeLessThanOrEqual(0.06 * found.garment + 6);
        }
      }
    }
  });
});

test('the border of a shape on bare garment is no gap', () => {
  const { edges } = surveyOf(plates(0, 0, false));
  const gaps = edges.filter(({ fault }) => fault === 'garment');
  expect(gaps.map(({ plateId, besideId }) => [plateId, besideId])).toEqual(
    expect.arrayContaining([
      [yellow!.id, red!.id],
      [red!.id, yellow!.id],
    ]),
  );
  expect(gaps).toHaveLength(2);
  // Places lie on the disc's edge.
  for (const { tightest } of gaps) {
    expect(tightest.length).toBeGreaterThanOrEqual(4);
    for (const { xMm, yMm, marginMm } of tightest) {
      expect(marginMm).toBe(0);
      const middle = SIDE / 2 / PX_PER_MM;
      expect(Math.hypot(xMm - middle, yMm - middle)).toBeCloseTo(90 / PX_PER_MM, 0);
    }
  }
});

test('what shows is added up where it is seen together, and not over the whole print', () => {
  // Yellow spots of 0.3 mm in red that leaves them free: each shows a twentieth of what is seen.
  const survives = (spots: readonly (readonly [number, number])[]) => {
    const isSpot: Inside = (x, y) =>
      spots.some(([u, v]) => Math.hypot(x - u * PX_PER_MM, y - v * PX_PER_MM) < 0.15 * PX_PER_MM);
    const whole = square(0);
    const survey = surveyOf(
      new Map([
        [base!.id, mask(square(4))],
        [yellow!.id, mask(isSpot)],
        [red!.id, mask((x, y) => whole(x, y) && !isSpot(x, y))],
      ]),
    );
    return survivesMm(survey);
  };
  const middle = SIDE / 2 / PX_PER_MM;
  const grid = (count: number, apart: number) =>
    Array.from(
      { length: count * count },
      (_, k) =>
        [
          middle + ((k % count) - (count - 1) / 2) * apart,
          middle + (Math.floor(k / count) - (count - 1) / 2) * apart,
        ] as const,
    );
  // One spot, then sixteen that stand together: half a millimetre apart they are one place.
  expect(survives(grid(1, 1))).toBeGreaterThan(3 / PX_PER_MM);
  expect(survives(grid(4, 0.5))).toBeLessThan(2 / PX_PER_MM);
});

test('what a job survives is what trap and choke leave, to a pixel', () => {
  expect(survivesMm(surveyOf(plates(0, 3, true)))).toBeLessThan(0.03);
  const both = survivesMm(surveyOf(plates(3, 3, true)));
  expect(both).toBeGreaterThan(2.5 / PX_PER_MM);
  expect(both).toBeLessThan(3.5 / PX_PER_MM);
});

test('what shows at the tolerance of the press is found, and what survives it is not', () => {
  expect(checkSheet(sheet)).toEqual([]);
  const open = findingsOf(sheet, NO_NOTES, quietSurvey(sheet, { edges: surveyOf(plates(0, 3, true)) }));
  expect(open).toHaveLength(1);
  expect(open[0]).toMatchObject({ code: 'shift-shows-white', limit: sheet.press.toleranceMm, step: 'fit' });
  // The disc's outline is 2 pi r, and both sides of it are edges that open.
  const length = Number(/about (\d+) mm/.exec(open[0]!.message)![1]);
  const outline = (2 * Math.PI * 90) / PX_PER_MM;
  expect(length / outline).toBeGreaterThan(1.8);
  expect(length / outline).toBeLessThan(2.8);
  expect(findingsOf(sheet, NO_NOTES, quietSurvey(sheet, { edges: surveyOf(plates(3, 3, true)) }))).toEqual(
    [],
  );
});

/** How much of each pixel lies inside, from 16 places of it, as a reader of PDFs draws an edge. */
function covered(inside: Inside): { shape: Uint8Array; tone: Uint16Array } {
  const tone = new Uint16Array(WIDTH * WIDTH);
  for (let i = 0; i < tone.length; i++) {
    const [x, y] = [(i % WIDTH) - ROOM, Math.floor(i / WIDTH) - ROOM];
    let count = 0;
    for (let k = 0; k < 16; k++) if (inside(x + ((k % 4) + 0.5) / 4, y + ((k >> 2) + 0.5) / 4)) count++;
    tone[i] = (count * 65535) / 16;
  }
  return { shape: Uint8Array.from(tone, (each) => (each > 0 ? 255 : 0)), tone };
}

function surveyOfTones(planes: PlatePlanes['planes']): EdgeSurvey {
  const rect = { x: -ROOM, y: -ROOM, width: WIDTH, height: WIDTH };
  const crisp = crispPlanes({ rect, planes }, FRESH_MEMORY);
  const counter = new EdgeCounter(sheet, GRID);
  counter.add(crisp.planes, { x: 0, y: 0, width: SIDE, height: SIDE }, crisp.strong);
  return counter.result();
}

const lengthAt = (survey: EdgeSurvey, fault: 'white' | 'garment', mm: number) =>
  shownLength(
    survey.edges.filter((edge) => edge.fault === fault),
    mm,
  );

test('plates of a file, whose edges are partly covered pixels, have the margins of the same shapes without them', () => {
  const ring: Inside = (x, y) => square(0)(x, y) && !disc(90)(x, y);
  const own = (plate: (typeof sheet.plates)[number], inside: Inside) => ({ plate, ...covered(inside) });
  const given = surveyOfTones([own(base!, square(4)), own(yellow!, disc(90)), own(red!, ring)]);
  const plain = surveyOf(plates(0, 4, true));
  for (const fault of ['white', 'garment'] as const) {
    for (const mm of [0.1, 0.2, 0.4]) {
      const [tones, shapes] = [lengthAt(given, fault, mm), lengthAt(plain, fault, mm)];
      // A pixel that two colours share half and half belongs to both of them.
      expect(Math.abs(tones - shapes)).toBeLessThan(0.08 * shapes + 1);
    }
  }
  expect(lengthAt(plain, 'white', 0.4)).toBeGreaterThan(50);
});

test('colours that fade into each other end nowhere, and one that fades out over a base shows no white', () => {
  const ramp = (up: boolean) => {
    const tone = Uint16Array.from({ length: WIDTH * WIDTH }, (_, i) => {
      const [x, y] = [(i % WIDTH) - ROOM, Math.floor(i / WIDTH) - ROOM];
      if (!square(0)(x, y)) return 0;
      const part = (x - 60) / (SIDE - 120);
      return Math.round(65535 * (up ? part : 1 - part));
    });
    return { shape: Uint8Array.from(tone, (each) => (each > 0 ? 255 : 0)), tone };
  };
  const { shape, tone } = covered(square(5));
  const survey = surveyOfTones([
    { plate: base!, shape, tone },
    { plate: yellow!, ...ramp(true) },
    { plate: red!, ...ramp(false) },
  ]);
  // 0.3 mm is less than the choke of five pixels.
  expect(lengthAt(survey, 'garment', 0.3)).toBe(0);
  expect(lengthAt(survey, 'white', 0.3)).toBe(0);
});

test('where white that is seen stands beside a colour, the garment shows between the two, and no trap is offered', () => {
  const ring: Inside = (x, y) => square(0)(x, y) && !disc(90)(x, y);
  const survey = surveyOf(
    new Map([
      [base!.id, mask(ring)],
      [yellow!.id, mask(disc(90))],
      [red!.id, mask(() => false)],
    ]),
  );
  const [gap] = survey.edges.filter(({ fault }) => fault === 'garment');
  expect([gap!.plateId, gap!.besideId]).toEqual([yellow!.id, base!.id]);
  const found = findingsOf(sheet, NO_NOTES, quietSurvey(sheet, { edges: survey }));
  const finding = found.find(({ code }) => code === 'shift-shows-garment')!;
  expect(finding.message).toMatch(/Yellow moves away from Base white/);
  expect(finding.act).toBeUndefined();
  expect(remedyOf(sheet, finding)).toBeNull();
});
