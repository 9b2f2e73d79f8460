import { testSheet } from '../../../tests/testSheet';
import { changePlate, usualSimulatedInks, toSpot } from '../separation';
import { type JobSheet, withBackground, withRun } from '../sheet';
import { arrangeDots } from './arrangeDots';
import { NO_NOTES, checkNotes } from './colourFindings';
import { checkTones } from './toneFindings';

const GARMENT = { name: 'Navy', colour: '#16233f' };
const sheet = testSheet({
  artwork: { sha256: '0'.repeat(64), fileName: 'meadow.png', kind: 'raster', widthPx: 900, heightPx: 600 },
  colours: [],
  print: { widthMm: 200, chosen: false },
  simulated: usualSimulatedInks(GARMENT.colour),
});
const codes = (each: typeof sheet) => checkTones(each).map(({ code }) => code);
const ids = sheet.plates.flatMap(({ id, role }) => (role === 'colour' ? [id] : []));

test('tones as they are proposed have nothing to be said', () => {
  expect(codes(sheet)).toEqual([]);
});

test('dots on one grid, a base over inks of its cells, plates without dots and screens that print twice are told', () => {
  const interlocked = arrangeDots(sheet, ids, 'interlocked', () => 1);
  expect(codes(interlocked)).toEqual([]);
  const [base, ...others] = interlocked.plates;
  expect(codes({ ...interlocked, plates: [...others, base!] })).toEqual(['tones-late-base']);
  expect(codes(arrangeDots(sheet, ids.slice(0, 3), 'rotated', () => 1))).toEqual([]);
  expect(codes(arrangeDots(sheet, ids, 'one-angle', () => 1))).toEqual(['tones-on-one-grid']);
  const [first] = sheet.plates;
  expect(codes(changePlate(sheet, first!.id, { screen: { ...first!.screen, screening: 'solid' } }))).toEqual([
    'tones-without-dots',
  ]);
  const again = withRun(sheet, [...sheet.run, { kind: 'screen', plateId: first!.id }]);
  expect(codes(again)).toEqual(['tones-printed-twice']);
});

test('flat colours have none of it', () => {
  expect(
    codes(
      toSpot(
        arrangeDots(sheet, ids, 'interlocked', () => 1),
        { colours: [], transitions: [], background: null },
      ),
    ),
  ).toEqual([]);
});

test('a design that fades out into a ground that is left to the garment is told, with how much of it', () => {
  const ground = { colour: '#ffffff', drop: 'outside' as const, open: false };
  const dropped = withBackground(sheet, ground);
  const told = (fadesIntoGround: number, of: JobSheet) =>
    checkNotes(of, { ...NO_NOTES, fadesIntoGround }).filter(({ code }) => code === 'ground-fades');
  expect(told(0.12, dropped)[0]!.message).toContain('12 %');
  expect(told(0.001, dropped)).toEqual([]);
  expect(told(0.12, withBackground(sheet, { ...ground, drop: 'keep' }))).toEqual([]);
});

test('a ground that prints by tones is told, unless the garment is of its colour', () => {
  const grounds = (ground: string | null) =>
    checkNotes(sheet, { ...NO_NOTES, ground }).map(({ code }) => code);
  expect(grounds('#ffffff')).toEqual(['ground-prints']);
  expect(grounds(GARMENT.colour)).toEqual([]);
  expect(grounds(null)).toEqual([]);
});
