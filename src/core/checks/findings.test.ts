import { quietSurvey } from '../../../tests/quietSurvey';
import { randomOf, testSheet } from '../../../tests/testSheet';
import { changePlate, changePrintWidth, toSimulated } from '../separation';
import { type JobSheet, type Plate, withRun } from '../sheet';
import {
  NO_NOTES,
  type PrintSurvey,
  adviseScreen,
  checkAngles,
  checkCoverage,
  checkSheet,
  findingsOf,
  frequenciesFor,
  greyLevels,
  judgeResolution,
} from '.';

const sheet = testSheet();
const [base, yellow, red] = sheet.plates as [Plate, Plate, Plate];
const codes = (of: JobSheet) => checkSheet(of).map(({ code }) => code);
const found = (of: JobSheet, code: string) => checkSheet(of).find((each) => each.code === code)!;
const withFit = (fit: Partial<JobSheet['fit']>): JobSheet => ({ ...sheet, fit: { ...sheet.fit, ...fit } });
const place = { xMm: 10, yMm: 20 };
/** A survey that found nothing wrong. */
const survey = (change: Partial<PrintSurvey> = {}): PrintSurvey => quietSurvey(sheet, change);

test('a job as it opens has nothing to be told', () => {
  expect(codes(sheet)).toEqual([]);
  expect(findingsOf(sheet, NO_NOTES, null)).toEqual([]);
});

describe('artwork', () => {
  // Common practice, no source: 300 dpi for flat artwork.
  it.each([
    [null, 'vector'],
    [300, 'right'],
    [299.6, 'right'],
    [250, 'soft'],
    [120, 'low'],
  ] as const)('of %p dpi is %s', (dpi, word) => expect(judgeResolution(dpi)).toBe(word));

  it('that is printed too large is told, the worse the more severely', () => {
    const artwork = { ...sheet.artworks[0]!, kind: 'raster' as const, widthPx: 2400, heightPx: 2400 };
    const picture = { ...sheet, artworks: [artwork] };
    expect(codes(changePrintWidth(picture, 200))).toEqual([]);
    expect(found(changePrintWidth(picture, 254), 'resolution-low')).toMatchObject({
      severity: 'notice',
      measured: 240,
    });
    expect(found(changePrintWidth(picture, 508), 'resolution-low')).toMatchObject({
      severity: 'severe',
      measured: 120,
    });
  });

  it('without a flat colour is told, unless tones are wanted', () => {
    const none = testSheet({ colours: [] });
    expect(codes(none)).toContain('no-colours');
    expect(codes(toSimulated(none, { background: null }))).not.toContain('no-colours');
  });

  it('whose fonts are not here names them', () => {
    const told = checkSheet(sheet, { ...NO_NOTES, missingFonts: ['Brush', 'Slab'] });
    expect(told.map(({ code }) => code)).toEqual(['font-missing', 'font-missing']);
    expect(told[1]!.message).toContain('"Slab"');
  });
});

test('inks that look like one are told once, with how near they are', () => {
  const near = changePlate(sheet, red.id, { ink: { ...red.ink, colour: '#f0ce3c' } });
  expect(codes(near)).toEqual(['inks-nearly-equal']);
  const { measured, limit, plateId } = found(near, 'inks-nearly-equal');
  expect(measured!).toBeLessThan(limit!);
  expect(plateId).toBe(red.id);
});

describe('fit', () => {
  it('tells a base that the press may show, by how much it may peek out', () => {
    expect(codes(withFit({ chokeMm: 0.05 }))).toEqual(['base-wider-than-tolerance']);
    expect(found(withFit({ chokeMm: 0.05 }), 'base-wider-than-tolerance').remedy).toContain('0.1 mm');
    // A spread of the colours does as well as a choke.
    expect(codes(withFit({ chokeMm: 0.05, spreadMm: 0.1 }))).toEqual([]);
    expect(
      codes({ ...sheet, press: { ...sheet.press, toleranceMm: 0.4 }, fit: { ...sheet.fit, chokeMm: 0.15 } }),
    ).toEqual(['base-wider-than-tolerance']);
  });
});

describe('the run', () => {
  it('that is longer than the press is told, and so are more flashes than it has', () => {
    expect(found({ ...sheet, press: { ...sheet.press, heads: 2 } }, 'run-too-long')).toMatchObject({
      measured: 4,
      limit: 2,
    });
    const flashed = withRun(sheet, [...sheet.run, { kind: 'flash' }, { kind: 'flash' }]);
    expect(codes(flashed)).toContain('too-many-flashes');
  });

  it('that begins with another plate than the base, or does not flash it, is told', () => {
    const screens = [base, yellow, red].map(({ id }) => ({ kind: 'screen' as const, plateId: id }));
    expect(codes(withRun(sheet, [screens[1]!, screens[0]!, { kind: 'flash' }, screens[2]!]))).toEqual([
      'base-not-first',
    ]);
    expect(codes(withRun(sheet, screens))).toEqual(['base-not-flashed']);
    // Printed twice and then flashed it is dry.
    expect(
      codes(withRun(sheet, [screens[0]!, screens[0]!, { kind: 'flash' }, screens[1]!, screens[2]!])),
    ).toEqual([]);
  });
});

test('a print that its film has no room for is told with what would fit', () => {
  const small = { ...sheet, film: { ...sheet.film, sheetWidthMm: 215.9, sheetHeightMm: 279.4 } };
  const [told] = checkSheet(small);
  expect(told).toMatchObject({ step: 'film', severity: 'severe' });
  expect(told!.remedy).not.toBe('');
});

describe('what a survey found', () => {
  it('tells plates that print nothing, or next to nothing', () => {
    const told = checkCoverage(sheet, [
      { coverage: 0.4, toned: 0, place },
      { coverage: 0.0001, toned: 0, place },
      { coverage: 0, toned: 0, place: null },
    ]);
    expect(told.map(({ code, plateId }) => [code, plateId])).toEqual([
      ['plate-nearly-empty', yellow.id],
      ['plate-empty', red.id],
    ]);
    expect(told[0]!.place).toEqual(place);
    expect(told[1]!.place).toBeUndefined();
  });

  it('gives findings of the sheet a place to be looked at', () => {
    const [told] = findingsOf(withFit({ chokeMm: 0 }), NO_NOTES, survey()).filter(
      ({ code }) => code === 'base-wider-than-tolerance',
    );
    expect(told!.place).toEqual(place);
  });

  it('tells dots that lie over each other at one angle, a right angle being none', () => {
    const turned = (angle: number) =>
      changePlate(sheet, red.id, { screen: { ...red.screen, angleDeg: angle } }).plates;
    const told = (plates: JobSheet['plates'], share = 0.1) =>
      checkAngles(plates, () => ({ share, place })).filter(({ plateId }) => plateId === red.id).length;
    expect(told(turned(22.5))).toBe(2);
    expect(told(turned(112.5))).toBe(2);
    expect(told(turned(52.5))).toBe(0);
    expect(told(turned(22.5), 0)).toBe(0);
    // Dots that lie beside each other want one angle.
    const interlocked = turned(22.5).map((plate) => ({
      ...plate,
      screen: { ...plate.screen, interlock: 1 },
    }));
    expect(told(interlocked)).toBe(0);
  });

  it('tells screens that fail only where a plate has dots', () => {
    const coarse = changePlate(sheet, red.id, { mesh: 110, screen: { ...red.screen, lpi: 65 } });
    const has = (toned: number) =>
      findingsOf(
        coarse,
        NO_NOTES,
        survey({ plates: sheet.plates.map(() => ({ coverage: 0.3, toned, place })) }),
      ).some(({ code }) => code === 'screen-fails');
    expect([has(0), has(0.1)]).toEqual([false, true]);
  });
});

describe('a screen', () => {
  // (dpi / lpi)² + 1: the number of places of a cell, and none of them.
  it.each([
    [720, 45, 257],
    [600, 60, 101],
    [1440, 45, 1025],
  ])('of %d dpi and %d lpi has %d greys', (dpi, lpi, greys) => expect(greyLevels(dpi, lpi)).toBe(greys));

  it('is warned of when the mesh does not carry it, greys are few, or it lies along the threads', () => {
    const told = (mesh: number, lpi: number, angleDeg: number, dpi = 1440) =>
      adviseScreen({ ...red, mesh, screen: { ...red.screen, lpi, angleDeg } }, dpi).warnings.map(
        ({ message }) => message,
      );
    expect(told(230, 45, 22.5)).toEqual([]);
    expect(told(110, 55, 22.5)).toEqual([expect.stringContaining('2 threads')]);
    expect(told(305, 65, 22.5, 360)).toEqual([expect.stringContaining('greys')]);
    for (const angle of [0, 45, 90, -45, 88, 47])
      expect(told(230, 45, angle)).toEqual([expect.stringContaining('threads or their diagonal')]);
  });

  it('is not warned of at the frequencies that a mesh is told to carry', () => {
    const random = randomOf(5);
    for (let k = 0; k < 40; k++) {
      const mesh = 80 + Math.floor(random() * 300);
      const dpi = 360 + 360 * Math.floor(random() * 4);
      const { least, most } = frequenciesFor(mesh, dpi);
      expect(least).toBeLessThanOrEqual(most);
      for (const lpi of [least, most]) {
        if (lpi < 10) continue;
        expect(adviseScreen({ ...red, mesh, screen: { ...red.screen, lpi } }, dpi).warnings).toEqual([]);
      }
    }
  });
});
