import { quietSurvey } from '../../../tests/quietSurvey';
import { testSheet } from '../../../tests/testSheet';
import { moveStation } from '../press';
import { changePlate, changePlates, setBaseUnder } from '../separation';
import { DEFAULT_TEXTURE, type JobSheet, paletteOf, parseJobSheet } from '../sheet';
import {
  type EdgeSurvey,
  type Finding,
  NO_NOTES,
  checkAngles,
  checkGaps,
  checkSheet,
  findingsOf,
  remedyOf,
} from '.';

const sheet = testSheet();
const [base, yellow, red] = sheet.plates;
const colourOfRed = paletteOf(sheet).find(({ plateId }) => plateId === red!.id)!;

const withCode = (of: JobSheet, code: string) => checkSheet(of).find((finding) => finding.code === code)!;

/** What one press makes of a job: it is valid, and says nothing of the fault any more. */
function mended(of: JobSheet, finding: Finding): JobSheet {
  const after = remedyOf(of, finding)!.change(of);
  expect(parseJobSheet(after)).toEqual(after);
  return after;
}

describe.each<[string, JobSheet]>([
  ['base-wider-than-tolerance', { ...sheet, fit: { ...sheet.fit, chokeMm: 0.02 } }],
  ['base-missing', changePlate(sheet, red!.id, { baseStrength: 0 })],
  ['base-missing', setBaseUnder(sheet, colourOfRed.id, 0)],
  [
    'base-unneeded',
    changePlate(testSheet({ garment: { name: 'White', colour: '#ffffff' } }), red!.id, { baseStrength: 1 }),
  ],
  ['base-not-first', moveStation(sheet, 0, sheet.run.length - 1)],
  ['base-not-flashed', { ...sheet, run: sheet.run.filter(({ kind }) => kind !== 'flash') }],
  [
    'inks-nearly-equal',
    changePlates(sheet, [red!.id], (plate) => ({ ink: { ...plate.ink, colour: yellow!.ink.colour } })),
  ],
  ['texture-shows-base', { ...sheet, texture: { ...DEFAULT_TEXTURE, spared: [base!.id] } }],
  ['texture-takes-base', { ...sheet, texture: { ...DEFAULT_TEXTURE, spared: [red!.id] } }],
  [
    'texture-nowhere',
    { ...sheet, texture: { ...DEFAULT_TEXTURE, spared: sheet.plates.map(({ id }) => id) } },
  ],
])('%s', (code, faulty) => {
  test('is mended by one press', () => {
    const finding = withCode(faulty, code);
    expect(finding).toBeDefined();
    const codes = checkSheet(mended(faulty, finding)).map((each) => each.code);
    expect(codes).not.toContain(code);
  });
});

test('dots at one angle are set apart', () => {
  const overlap = () => ({ share: 0.2, place: null });
  const two = sheet.plates.slice(1);
  const [finding] = checkAngles(two, overlap);
  const after = mended(sheet, finding!);
  expect(checkAngles(after.plates.slice(1), overlap)).toEqual([]);
});

test('gaps are closed', () => {
  const [finding] = checkGaps(sheet, { areaMm2: 5, place: { xMm: 1, yMm: 1 } });
  expect(mended(sheet, finding!).fit.closeGapsMm).toBeCloseTo(0.15);
});

/** 500 pixels of edge of 0.05 mm, all in one place. */
const ramp = Array.from({ length: 13 }, (_, n) => 500 * n * 0.05 ** 2);
const none = ramp.map(() => 0);

describe('what shows when a screen lies off', () => {
  const edges = (besideId: string | null): EdgeSurvey => ({
    reachMm: 0.6,
    worstMm2: { white: ramp, garment: none },
    stepMm: 0.05,
    edges: [
      {
        fault: 'white',
        plateId: yellow!.id,
        besideId,
        ways: [{ pixelMm: 0.05, stepMm: 0.05, pixels: [500, 0, 0], isStraight: true }],
        tightest: [],
      },
    ],
  });
  const findingOf = (of: JobSheet, survey: EdgeSurvey) =>
    findingsOf(of, NO_NOTES, quietSurvey(of, { edges: survey })).find(
      ({ code }) => code === 'shift-shows-white',
    )!;

  test('between colours is trapped by as much as the press wanders', () => {
    const finding = findingOf(sheet, edges(red!.id));
    const after = mended(sheet, finding);
    expect(after.fit.trapMm).toBe(sheet.press.toleranceMm);
    // Once it is, only a person can say what to do.
    expect(remedyOf(after, finding)).toBeNull();
    expect(findingOf(after, edges(red!.id)).remedy).toMatch(/too narrow for the whole trap/);
  });

  test('at the border of the base is choked', () => {
    const loose = { ...sheet, fit: { ...sheet.fit, chokeMm: 0.05 } };
    const finding = findingOf(loose, edges(null));
    expect(mended(loose, finding).fit.chokeMm).toBe(sheet.press.toleranceMm);
    expect(remedyOf(sheet, finding)).toBeNull();
  });
});

describe('a dark ink beside another one', () => {
  const dark = (opacity: number) =>
    changePlate(sheet, red!.id, { ink: { name: 'Tar', colour: '#141416', opacity } });
  const gap = (pixels: number): EdgeSurvey => ({
    reachMm: 0.6,
    worstMm2: { white: none, garment: ramp.map((area) => (area * pixels) / 500) },
    stepMm: 0.05,
    edges: [
      {
        fault: 'garment',
        plateId: yellow!.id,
        besideId: red!.id,
        ways: [{ pixelMm: 0.05, stepMm: 0.05, pixels: [pixels, 0, 0], isStraight: true }],
        tightest: [],
      },
    ],
  });
  const findingOf = (of: JobSheet, survey = gap(500)) =>
    findingsOf(of, NO_NOTES, quietSurvey(of, { edges: survey })).find(
      ({ code }) => code === 'overprint-suits',
    );

  test('overprints it by one press where it hides it and a shift opens a gap', () => {
    const finding = findingOf(dark(1))!;
    // A full layer that hides everything is itself on whatever it lies.
    expect(finding).toMatchObject({ measured: 0, plateId: red!.id, otherId: yellow!.id });
    const after = mended(dark(1), finding);
    expect(after.fit.pairs).toEqual([
      { plateIds: [yellow!.id, red!.id], grows: 'over', mm: null, clearMm: 0 },
    ]);
    expect(findingOf(after)).toBeUndefined();
  });

  test('does not where the other one shows through it, or nothing opens', () => {
    expect(findingOf(dark(0.5))).toBeUndefined();
    expect(findingOf(dark(1), gap(0))).toBeUndefined();
  });
});

test('what somebody must choose has no remedy by one press', () => {
  const long = { ...sheet, press: { ...sheet.press, heads: 1 } };
  expect(remedyOf(long, withCode(long, 'run-too-long'))).toBeNull();
});
