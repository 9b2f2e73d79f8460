import type { JobSheet, Plate, Station } from '../sheet';
import { DEFAULT_SCREEN, alignRun, proposeRun, withRun } from '../sheet';
import { testSheet } from '../../../tests/testSheet';
import { canRemove, insertStation, moveStation, planPress, removeStation } from '.';

const plate = (id: string, number: number, role: Plate['role'] = 'colour'): Plate => ({
  number,
  id,
  role,
  ink: { name: id, colour: '#c04020', opacity: 0.75 },
  baseStrength: 1,
  mesh: 180,
  withMarks: true,
  sources: [],
  special: null,
  stages: [],
  screen: DEFAULT_SCREEN,
});

const plates = [
  plate('base', 1, 'underbase'),
  plate('gold', 2),
  plate('red', 3),
  plate('white', 4, 'highlight'),
];
const sheet: JobSheet = { ...testSheet(), plates, run: proposeRun(plates) };
const screen = (plateId: string): Station => ({ kind: 'screen', plateId });
const kinds = (each: JobSheet) =>
  each.run.map((station) => (station.kind === 'screen' ? station.plateId : station.kind));

test('the usual run flashes the base, and again before the highlight (common practice, no source)', () => {
  expect(kinds(sheet)).toEqual(['base', 'flash', 'gold', 'red', 'flash', 'white']);
  expect(proposeRun([plates[1]!, plates[2]!]).every((station) => station.kind === 'screen')).toBe(true);
});

test('every station takes a head', () => {
  const plan = planPress(sheet);
  expect(plan.places.map((place) => place.head)).toEqual([1, 2, 3, 4, 5, 6]);
  expect([plan.headsUsed, plan.flashesUsed, plan.turns]).toEqual([6, 2, 1]);
});

test('a screen printed twice in one turn needs two heads, in a second turn it uses its own', () => {
  const twice = insertStation(sheet, 1, screen('base'));
  expect(planPress(twice).headsUsed).toBe(7);
  const turned = insertStation(insertStation(sheet, 5, { kind: 'turn' }), 6, screen('white'));
  const plan = planPress(turned);
  expect(plan.headsUsed).toBe(6);
  expect(plan.turns).toBe(2);
  expect(plan.places.at(-1)).toMatchObject({ head: 6, turn: 2, again: true });
});

test('moving a station moves the plates with it and keeps their film numbers', () => {
  const moved = moveStation(sheet, 3, 2);
  expect(kinds(moved)).toEqual(['base', 'flash', 'red', 'gold', 'flash', 'white']);
  expect(moved.plates.map((each) => [each.id, each.number])).toEqual([
    ['base', 1],
    ['red', 3],
    ['gold', 2],
    ['white', 4],
  ]);
});

test('the only pass of a screen cannot leave the run; a flash and a second pass can', () => {
  expect(canRemove(sheet, 0)).toBe(false);
  expect(removeStation(sheet, 0)).toBe(sheet);
  expect(kinds(removeStation(sheet, 1))).toEqual(['base', 'gold', 'red', 'flash', 'white']);
  const twice = insertStation(sheet, 2, screen('gold'));
  expect(kinds(removeStation(twice, 2))).toEqual(kinds(sheet));
});

test('plates that come find their place, plates that go take their flashes along', () => {
  const more = alignRun({ ...sheet, plates: [...plates, plate('green', 5)] });
  expect(kinds(more)).toEqual(['base', 'flash', 'gold', 'red', 'green', 'flash', 'white']);
  // Nobody changed the order: numbers go along it. Once somebody did, each film keeps its own.
  expect(more.plates.map((each) => each.number)).toEqual([1, 2, 3, 4, 5]);
  const moved = moveStation(sheet, 3, 2);
  const after = alignRun({ ...moved, plates: [...moved.plates, plate('green', 5)] });
  expect(after.plates.map((each) => [each.id, each.number])).toEqual([
    ['base', 1],
    ['red', 3],
    ['gold', 2],
    ['green', 5],
    ['white', 4],
  ]);
  const fewer = alignRun({ ...sheet, plates: plates.slice(1) });
  expect(fewer.plates.map((each) => each.number)).toEqual([1, 2, 3]);
  expect(kinds(fewer)).toEqual(['gold', 'red', 'flash', 'white']);
  const none = alignRun(withRun({ ...sheet, plates: [] }, []));
  expect(none.run).toEqual([]);
});
