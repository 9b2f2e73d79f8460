import { readFileSync } from 'node:fs';
import path from 'node:path';
import { ARRANGEMENTS, arrangeDots, arrangementOf } from '@/core/checks';
import { type LinearRgb, layerOver, printOver, linearFromRgb8, parseHexColour } from '@/core/colour';
import type { PlatePlane } from '@/core/fit';
import { PLAIN_KERNELS, createWasmKernels } from '@/core/kernels';
import { FilmTones, dotPlanes, platesBits, predictPrint, shiftCost } from '@/core/pipeline';
import { ThresholdTiles } from '@/core/screening';
import { changePlates, createJobSheet } from '@/core/separation';
import { type JobSheet, parseJobSheet } from '@/core/sheet';

// Dots of several plates beside each other in one cell: their areas, the print that is predicted, and what a shift costs.

const kernels = createWasmKernels(new WebAssembly.Module(readFileSync(path.resolve('public/kernels.wasm'))));
const tiles = new ThresholdTiles();

/** Three inks on black garment, no base, dots beside each other at 45 lpi and 0 degrees on a film of 720 dpi: a cell is 16 pixels. */
function sheetOf(change: (sheet: JobSheet) => JobSheet = (sheet) => sheet): JobSheet {
  const colours = ['#f2b134', '#c8382e', '#1f6f8b'];
  const sheet = createJobSheet({
    name: 'Beside',
    artwork: { sha256: '0'.repeat(64), fileName: 'a.svg', kind: 'vector', widthPx: 600, heightPx: 400 },
    colours: colours.map((colour) => ({ rgb: parseHexColour(colour), area: 0.3 })),
    purity: 6,
    background: null,
    backgroundWish: 'auto',
    transitions: null,
    print: { widthMm: 60, chosen: false },
    garment: { name: 'Black', colour: '#101010' },
    inks: 'auto',
    date: '2026-03-14',
  });
  const plain = changePlates(
    sheet,
    sheet.plates.map((plate) => plate.id),
    ({ screen }) => ({ screen: { ...screen, angleDeg: 0 } }),
  );
  return change(arrangeDots(plain, coloursOf(plain), 'interlocked', () => 1));
}

function coloursOf(sheet: JobSheet): string[] {
  return sheet.plates.filter((plate) => plate.role === 'colour').map((plate) => plate.id);
}

const SIDE = 16 * 24;

/** The bits of each colour plate, all of one tone, over a patch of whole cells. */
function bitsOf(sheet: JobSheet, tones: readonly number[], by = kernels): Uint8Array[] {
  const ids = coloursOf(sheet);
  const planes = ids.map((id, k): PlatePlane => ({
    plate: sheet.plates.find((plate) => plate.id === id)!,
    shape: new Uint8Array(SIDE * SIDE).fill(255),
    tone: new Uint16Array(SIDE * SIDE).fill(Math.round(tones[k]! * 65535)),
  }));
  const rect = { x: 0, y: 0, width: SIDE, height: SIDE };
  const request = {
    sheet,
    tiles,
    tones: new FilmTones(),
    kernels: by,
    toneOf: (_: unknown, tone: Uint16Array) => tone,
  };
  const all = platesBits(
    request,
    { rect, planes },
    planes.map(({ plate }) => plate),
  );
  // A film that is made alone has the dots that it has among its sisters.
  planes.forEach(({ plate }, k) => expect(platesBits(request, { rect, planes }, [plate])[0]).toEqual(all[k]));
  return all;
}

function area(bits: Uint8Array): number {
  let count = 0;
  for (const byte of bits) for (let bit = byte; bit; bit &= bit - 1) count++;
  return count / (SIDE * SIDE);
}

function common(one: Uint8Array, other: Uint8Array): number {
  return area(one.map((byte, k) => byte & other[k]!));
}

describe('dots that interlock', () => {
  it.each([
    [0.2, 0.35, 0.3],
    [0.05, 0.9, 0.04],
    [0.01, 0.02, 0.5],
    [0.33, 0.33, 0.33],
  ])('have their areas and lie apart as long as there is room: %d, %d, %d', (...tones) => {
    const bits = bitsOf(sheetOf(), tones);
    // A tile of one row is exact over its own length; a patch of whole cells sees a part of it.
    tones.forEach((tone, k) => expect(Math.abs(area(bits[k]!) - tone)).toBeLessThan(2e-3));
    expect(common(bits[0]!, bits[1]!) + common(bits[0]!, bits[2]!) + common(bits[1]!, bits[2]!)).toBe(0);
  });

  it('are looked at on one film as they are made on it', () => {
    const sheet = sheetOf();
    const rect = { x: 0, y: 0, width: 40, height: 40 };
    const planes = coloursOf(sheet).map((id): PlatePlane => ({
      plate: sheet.plates.find((plate) => plate.id === id)!,
      shape: new Uint8Array(1600).fill(255),
      tone: new Uint16Array(1600).fill(20000),
    }));
    const [, second] = planes;
    const dots = (wanted: string | null) =>
      dotPlanes({ rect, planes }, sheet, tiles, new FilmTones(), kernels, 'film', wanted).planes[1]!;
    expect(dots(second!.plate.id)).toEqual(dots(null));
    expect(dots(planes[0]!.plate.id).shape).toBe(second!.shape);
  });

  it('give what has no room to the first plates, in their order', () => {
    const [first, second, third] = bitsOf(sheetOf(), [0.5, 0.4, 0.3]) as [Uint8Array, Uint8Array, Uint8Array];
    expect(Math.abs(area(third) - 0.3)).toBeLessThan(2e-3);
    expect(Math.abs(common(first, third) - 0.2)).toBeLessThan(2e-3);
    expect(common(second, third)).toBe(0);
    expect(common(first, second)).toBe(0);
    const all = bitsOf(sheetOf(), [0.5, 1, 0.3]);
    expect(area(all[1]!)).toBe(1);
  });

  it('hold better than rings: a sector of 30 % is wider across than a ring of 30 % round a dot', () => {
    // Opened by a disc of 2 pixels, common practice of morphology: what a mesh of openings that size does not hold is lost.
    const [, second] = bitsOf(sheetOf(), [0.25, 0.3, 0.25]) as [Uint8Array, Uint8Array, Uint8Array];
    const shape = new Uint8Array(SIDE * SIDE);
    for (let i = 0; i < shape.length; i++) shape[i] = (second[i >> 3]! & (128 >> (i & 7))) !== 0 ? 255 : 0;
    const outside = shape.map((value) => 255 - value);
    const eaten = new Uint8Array(shape.length);
    kernels.markNearBoundary(outside, SIDE, SIDE, 2, eaten);
    const core = shape.map((value, i) => (value !== 0 && eaten[i] === 0 ? 255 : 0));
    const back = new Uint8Array(shape.length);
    kernels.markNearBoundary(core, SIDE, SIDE, 2, back);
    let held = 0;
    let whole = 0;
    for (let i = 0; i < shape.length; i++) {
      if (shape[i] === 0) continue;
      whole++;
      if (core[i] !== 0 || back[i] !== 0) held++;
    }
    // A ring from 25 % to 55 % of a cell of 16 pixels is 2.2 pixels wide: opened by a disc of 4 across nothing is left of it.
    const ring = 16 * (Math.sqrt(0.55 / Math.PI) - Math.sqrt(0.25 / Math.PI));
    expect(ring).toBeLessThan(4);
    expect(held / whole).toBeGreaterThan(0.5);
  });

  it('are the same through compiled and plain kernels, and in any part of a region', () => {
    const tones = [0.3, 0.45, 0.4];
    const sheet = sheetOf();
    expect(bitsOf(sheet, tones, PLAIN_KERNELS)).toEqual(bitsOf(sheet, tones));
  });
});

describe('a base under dots that interlock', () => {
  const BLACK = '#101010';

  /** Two inks that want a base and, first in the sheet, one that wants none; all in one group. */
  function basedSheet(): JobSheet {
    const sheet = sheetOf();
    const [off, ...on] = coloursOf(sheet) as [string, string, string];
    const based = changePlates(sheet, coloursOf(sheet), ({ screen }) => ({
      baseStrength: 1,
      screen: { ...screen, interlock: null },
    }));
    const some = changePlates(based, [off], () => ({ baseStrength: 0 }));
    return arrangeDots(some, [off, ...on], 'interlocked', () => 1);
  }

  const TONES = [0.2, 0.3, 0.25];
  const BASE = 0.5;

  function planesOf(sheet: JobSheet): PlatePlane[] {
    const colours = coloursOf(sheet);
    return sheet.plates.map((plate): PlatePlane => {
      const tone = plate.role === 'underbase' ? BASE : TONES[colours.indexOf(plate.id)]!;
      return {
        plate,
        shape: new Uint8Array(SIDE * SIDE).fill(255),
        tone: new Uint16Array(SIDE * SIDE).fill(Math.round(tone * 65535)),
      };
    });
  }

  const rect = { x: 0, y: 0, width: SIDE, height: SIDE };

  function dotsOf(sheet: JobSheet, base = BASE): { base: Uint8Array; inks: Uint8Array[] } {
    const planes = planesOf(sheet);
    planes.find(({ plate }) => plate.role === 'underbase')!.tone!.fill(Math.round(base * 65535));
    const bits = platesBits(
      { sheet, tiles, tones: new FilmTones(), kernels, toneOf: (_, tone) => tone },
      { rect, planes },
      sheet.plates,
    );
    const at = sheet.plates.findIndex(({ role }) => role === 'underbase');
    return { base: bits[at]!, inks: bits.filter((_, k) => k !== at) };
  }

  it('has its area, and lies under those that want it and nowhere else', () => {
    const sheet = basedSheet();
    const { base, inks } = dotsOf(sheet, 0.55);
    expect(Math.abs(area(base) - 0.55)).toBeLessThan(2e-3);
    const [off, ...on] = inks as [Uint8Array, Uint8Array, Uint8Array];
    expect(common(base, off)).toBe(0);
    // But for a pixel of thresholds that are rounded.
    const pixels = 3 / (SIDE * SIDE);
    on.forEach((ink) => expect(area(ink) - common(base, ink)).toBeLessThan(pixels));
    // One that is weaker than they are together shows beside none of them either.
    const weak = dotsOf(sheet, 0.4).base;
    expect(common(weak, on[0]!) + common(weak, on[1]!)).toBe(area(weak));
  });

  it('is printed as its dots lie: each ink over its own backing by area (Neugebauer 1937)', () => {
    const sheet = basedSheet();
    const ground = linearFromRgb8(parseHexColour(BLACK));
    const optics = (plate: JobSheet['plates'][number]) => ({
      colour: linearFromRgb8(parseHexColour(plate.ink.colour)),
      opacity: plate.ink.opacity,
    });
    const white = layerOver(ground, optics(sheet.plates.find(({ role }) => role === 'underbase')!));
    // 5 of the 55 % that the two inks cover are without the base, all in the second one.
    const parts = [
      { ink: 0, on: 0, off: 0.2 },
      { ink: 1, on: 0.3, off: 0 },
      { ink: 2, on: 0.2, off: 0.05 },
    ];
    const inks = coloursOf(sheet).map((id) => sheet.plates.find((plate) => plate.id === id)!);
    const expected = [0, 1, 2].map((channel) =>
      parts.reduce(
        (sum, { ink, on, off }) =>
          sum +
          on * layerOver(white, optics(inks[ink]!))[channel]! +
          off * layerOver(ground, optics(inks[ink]!))[channel]!,
        0.25 * ground[channel]!,
      ),
    );
    const { base, inks: bits } = dotsOf(sheet);
    const dots = planesOf(sheet).map(({ plate }): PlatePlane => {
      const own = plate.role === 'underbase' ? base : bits[inks.indexOf(plate)]!;
      const shape = Uint8Array.from({ length: SIDE * SIDE }, (_, i) =>
        (own[i >> 3]! & (128 >> (i & 7))) !== 0 ? 255 : 0,
      );
      return { plate, shape, tone: null };
    });
    const level = { grid: { widthPx: SIDE, heightPx: SIDE, pxPerMm: 1 }, region: rect, atFilm: true };
    const view = { xMm: 0, yMm: 0, scale: 1 / SIDE, width: 1, height: 1 };
    const mean = (planes: PlatePlane[], by = sheet) => {
      const pixel = predictPrint({ rect, planes }, by, level, view, kernels);
      return linearFromRgb8([pixel[0]!, pixel[1]!, pixel[2]!]);
    };
    const off = (found: LinearRgb) =>
      Math.max(...found.map((value, channel) => Math.abs(value - expected[channel]!)));
    expect(off(mean(planesOf(sheet)))).toBeLessThan(1 / 255);
    expect(off(mean(dots))).toBeLessThan(1 / 255);
    const apart = arrangeDots(sheet, coloursOf(sheet), 'rotated', () => 1);
    expect(off(mean(planesOf(apart), apart))).toBeGreaterThan(4 / 255);
  });

  it('joins a group that wants it, follows its frequency, and leaves with it', () => {
    const sheet = basedSheet();
    const base = (of: JobSheet) => of.plates.find(({ role }) => role === 'underbase')!.screen;
    expect(base(sheet).interlock).toBe(sheet.plates.find(({ role }) => role === 'colour')!.screen.interlock);
    const finer = changePlates(sheet, [coloursOf(sheet)[1]!], ({ screen }) => ({
      screen: { ...screen, lpi: 55 },
    }));
    expect(base(finer).lpi).toBe(55);
    // Where some of its inks form a group of their own, it stays with the others.
    const [first, ...rest] = coloursOf(sheet) as [string, string, string];
    const parted = arrangeDots(sheet, rest, 'interlocked', () => 1);
    const groupsOf = parted.plates.map(({ id, screen }) => [id, screen.interlock] as const);
    const [own, one, other] = [first, ...rest].map((id) => groupsOf.find((each) => each[0] === id)![1]);
    expect(other).toBe(one);
    expect(one).not.toBe(own);
    expect(base(parted).interlock).toBe(own);
    for (const other of ['rotated', 'one-angle', 'dispersed'] as const) {
      expect(base(arrangeDots(finer, coloursOf(finer), other, () => 1)).interlock).toBeNull();
    }
    const none = changePlates(sheet, coloursOf(sheet), () => ({ baseStrength: 0 }));
    expect(none.plates.some(({ role }) => role === 'underbase')).toBe(false);
  });
});

describe('the print of dots that interlock', () => {
  const GROUND = linearFromRgb8(parseHexColour('#101010'));

  function mean(sheet: JobSheet, tones: readonly number[], dots: boolean): LinearRgb {
    const ids = coloursOf(sheet);
    const bits = dots ? bitsOf(sheet, tones) : null;
    const planes = ids.map((id, k): PlatePlane => {
      const shape = new Uint8Array(SIDE * SIDE).fill(255);
      if (bits) shape.forEach((_, i) => (shape[i] = (bits[k]![i >> 3]! & (128 >> (i & 7))) !== 0 ? 255 : 0));
      const tone = bits ? null : new Uint16Array(SIDE * SIDE).fill(Math.round(tones[k]! * 65535));
      return { plate: sheet.plates.find((plate) => plate.id === id)!, shape, tone };
    });
    const region = { x: 0, y: 0, width: SIDE, height: SIDE };
    const level = { grid: { widthPx: SIDE, heightPx: SIDE, pxPerMm: 1 }, region, atFilm: true };
    const view = { xMm: 0, yMm: 0, scale: 1 / SIDE, width: 1, height: 1 };
    const pixel = predictPrint({ rect: region, planes }, sheet, level, view, kernels);
    return linearFromRgb8([pixel[0]!, pixel[1]!, pixel[2]!]);
  }

  it('is the sum of each ink over its backing by area (Neugebauer 1937), as the real dots print it', () => {
    const sheet = sheetOf();
    const tones = [0.3, 0.25, 0.35];
    const inks = coloursOf(sheet).map((id) => sheet.plates.find((plate) => plate.id === id)!.ink);
    const expected = [0, 1, 2].map((channel) =>
      inks.reduce(
        (sum, ink, k) => {
          const optics = { colour: linearFromRgb8(parseHexColour(ink.colour)), opacity: ink.opacity };
          return sum + tones[k]! * layerOver(GROUND, optics)[channel]!;
        },
        (1 - 0.9) * GROUND[channel]!,
      ),
    );
    // Half a step of the encoded picture at these levels.
    const step = 1 / 255;
    for (const found of [mean(sheet, tones, false), mean(sheet, tones, true)]) {
      found.forEach((value, channel) => expect(Math.abs(value - expected[channel]!)).toBeLessThan(step));
    }
    const apart = arrangeDots(sheet, coloursOf(sheet), 'rotated', () => 1);
    const other = mean(apart, tones, false);
    expect(Math.max(...other.map((value, channel) => Math.abs(value - expected[channel]!)))).toBeGreaterThan(
      4 * step,
    );
  });

  it('takes a second pass of a screen for what it is: on its own dots and beside them, not beside them alone', () => {
    const sheet = sheetOf();
    const [id] = coloursOf(sheet) as [string];
    const twice = { ...sheet, run: [...sheet.run, { kind: 'screen' as const, plateId: id }] };
    const { colour, opacity } = sheet.plates.find((plate) => plate.id === id)!.ink;
    const optics = { colour: linearFromRgb8(parseHexColour(colour)), opacity };
    const pass = (under: LinearRgb): LinearRgb => printOver(under, optics, 0.6);
    mean(twice, [0.6, 0, 0], false).forEach((value, channel) =>
      expect(Math.abs(value - pass(pass(GROUND))[channel]!)).toBeLessThan(1 / 255),
    );
  });

  it('suffers more than one of independent dots when a plate lies off, and grows with the distance', () => {
    const at = (toleranceMm: number) =>
      sheetOf((sheet) => ({
        ...sheet,
        press: { ...sheet.press, toleranceMm },
      }));
    const cost = (sheet: JobSheet) =>
      shiftCost(
        sheet,
        sheet.plates.filter((plate) => plate.role === 'colour'),
        tiles,
        kernels,
      );
    const near = cost(at(0.03));
    const far = cost(at(0.1));
    const free = cost(arrangeDots(at(0.1), coloursOf(at(0.1)), 'rotated', () => 1));
    const strewn = cost(arrangeDots(at(0.1), coloursOf(at(0.1)), 'dispersed', () => 1));
    expect(far.worst).toBeGreaterThan(near.worst);
    expect(far.worst).toBeGreaterThan(2);
    expect(free.worst).toBeLessThan(far.worst / 3);
    expect(strewn.worst).toBeLessThan(far.worst / 3);
    expect(far.mean).toBeLessThanOrEqual(far.worst);
  });
});

describe('arrangements of dots', () => {
  it.each(ARRANGEMENTS)('%s is what it is taken for', (arrangement) => {
    const sheet = sheetOf();
    const next = arrangeDots(sheet, coloursOf(sheet), arrangement, () => 1);
    expect(arrangementOf(next, coloursOf(next))).toBe(arrangement);
    expect(parseJobSheet(JSON.parse(JSON.stringify(next)))).toEqual(next);
  });

  it('plates that interlock keep one frequency and angle, and a sheet in which they do not is refused', () => {
    const sheet = sheetOf();
    const [one, other] = coloursOf(sheet) as [string, string];
    const changed = changePlates(sheet, [other], ({ screen }) => ({
      screen: { ...screen, lpi: 50, angleDeg: 30 },
    }));
    const screen = changed.plates.find((plate) => plate.id === one)!.screen;
    expect([screen.lpi, screen.angleDeg]).toEqual([50, 30]);
    const broken = {
      ...sheet,
      plates: sheet.plates.map((plate) =>
        plate.id === one ? { ...plate, screen: { ...plate.screen, lpi: 33 } } : plate,
      ),
    };
    expect(() => parseJobSheet(broken)).toThrow(/interlock/);
  });
});
