import { testSheet } from '../../../tests/testSheet';
import { changePlate, usualSimulatedInks, toSpot } from '../separation';
import { type JobSheet, parseJobSheet, withBackground, withRun } from '../sheet';
import { arrangeDots, arrangementOf, arrangementsOf } from './arrangeDots';
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
  const nested = arrangeDots(sheet, ids, 'one-angle', () => 1);
  expect(codes(nested)).toEqual([]);
  const [, second] = nested.plates;
  const odd = changePlate(nested, second!.id, { screen: { ...second!.screen, shape: 'round' } });
  expect(codes(odd)).toEqual(['tones-on-one-grid']);
  const [first] = sheet.plates;
  expect(codes(changePlate(sheet, first!.id, { screen: { ...first!.screen, screening: 'solid' } }))).toEqual([
    'tones-without-dots',
  ]);
  const again = withRun(sheet, [...sheet.run, { kind: 'screen', plateId: first!.id }]);
  expect(codes(again)).toEqual(['tones-printed-twice']);
});

test('groups of dots stand 30 degrees apart, each with plates that meet beside each other, and the base is none of theirs', () => {
  const meet = (one: string, other: string) => (one === ids[0] && other === ids[2] ? 0.9 : 0.1);
  const both = (one: string, other: string) => Math.max(meet(one, other), meet(other, one));
  const grouped = arrangeDots(sheet, ids.slice(0, 5), 'groups', both);
  const screens = new Map(grouped.plates.map(({ id, screen }) => [id, screen]));
  const groupOf = (id: string | undefined) => screens.get(id!)!.interlock;
  expect(groupOf(ids[0])).toBe(groupOf(ids[2]));
  const numbers = ids.slice(0, 5).map(groupOf);
  expect(new Set(numbers).size).toBe(2);
  const angles = new Map(ids.slice(0, 5).map((id) => [groupOf(id), screens.get(id)!.angleDeg]));
  const [one, other] = [...angles.values()] as [number, number];
  expect(Math.abs(one - other) % 90).toBe(30);
  expect(groupOf(sheet.plates[0]!.id)).toBeNull();
  expect(arrangementOf(grouped, ids.slice(0, 5))).toBe('groups');
  expect(codes(grouped)).toEqual([]);
  // Also from a group that has the base, whose number is then free; with seven plates all three are wanted.
  const seven = [...ids, sheet.plates.at(-1)!.id].slice(0, 7);
  expect(seven).toHaveLength(7);
  const again = arrangeDots(
    arrangeDots(sheet, seven, 'interlocked', () => 1),
    seven,
    'groups',
    both,
  );
  expect(again.plates[0]!.screen).toMatchObject({ screening: 'dispersed', interlock: null });
  expect(new Set(seven.map((id) => again.plates.find((each) => each.id === id)!.screen.interlock)).size).toBe(
    3,
  );
  expect(() => parseJobSheet(again)).not.toThrow();
  // Two plates have no groups; of three one stands alone.
  expect(arrangementsOf(2)).not.toContain('groups');
  const three = arrangeDots(sheet, ids.slice(0, 3), 'groups', both);
  expect(three.plates.filter(({ screen }) => screen.interlock !== null)).toHaveLength(2);
  expect(arrangementOf(three, ids.slice(0, 3))).toBe('groups');
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
