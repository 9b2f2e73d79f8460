import { testSheet } from '../../../tests/testSheet';
import { changeRole } from '../separation';
import type { JobSheet, Station } from './jobSheet';
import { freeNumber } from './freeNumber';
import { alignRun, firstPasses, passes, proposeRun, renumber, withRun } from './run';

const sheet = testSheet();
const [base, yellow, red] = sheet.plates.map(({ id }) => id) as [string, string, string];
const screen = (plateId: string): Station => ({ kind: 'screen', plateId });
const FLASH: Station = { kind: 'flash' };
const words = ({ run }: JobSheet) =>
  run.map((station) => (station.kind === 'screen' ? station.plateId : station.kind));
const without = (id: string) =>
  alignRun({ ...sheet, plates: sheet.plates.filter((plate) => plate.id !== id) });

test('a run is proposed with a flash behind the base, and one before a highlight', () => {
  expect(words(sheet)).toEqual([base, 'flash', yellow, red]);
  const lit = changeRole(sheet, red, 'highlight');
  expect(proposeRun(lit.plates)).toEqual([screen(base), FLASH, screen(yellow), FLASH, screen(red)]);
  expect(proposeRun([])).toEqual([]);
});

test('a plate that prints twice stands twice among the passes, once among the first ones', () => {
  const twice = { ...sheet, run: [screen(base), FLASH, screen(base), screen(yellow), screen(red)] };
  expect(firstPasses(twice.run)).toEqual([base, yellow, red]);
  expect(passes(twice).map(({ id }) => id)).toEqual([base, base, yellow, red]);
});

test('plates follow the order of the run', () => {
  const turned = withRun(sheet, [screen(red), screen(base), screen(yellow)]);
  expect(turned.plates.map(({ id }) => id)).toEqual([red, base, yellow]);
  // Films keep their numbers, until they are numbered anew.
  expect(turned.plates.map(({ number }) => number)).toEqual([3, 1, 2]);
  expect(renumber(turned).plates.map(({ number }) => number)).toEqual([1, 2, 3]);
  expect(freeNumber(turned.plates)).toBe(4);
});

test('what a plate that is gone leaves behind is gone too, its flash included', () => {
  expect(words(without(base))).toEqual([yellow, red]);
  expect(words(without(yellow))).toEqual([base, 'flash', red]);
  expect(without(yellow).plates.map(({ number }) => number)).toEqual([1, 2]);
});

test('films are numbered along the run only while nobody changed the order', () => {
  const turned = withRun(sheet, [screen(base), FLASH, screen(red), screen(yellow)]);
  const less = alignRun({ ...turned, plates: turned.plates.filter(({ id }) => id !== base) });
  expect(less.plates.map(({ id, number }) => [id, number])).toEqual([
    [red, 3],
    [yellow, 2],
  ]);
});

test('a new plate goes where its role belongs', () => {
  const known = without(base);
  const [first] = sheet.plates;
  const based = alignRun({ ...known, plates: [...known.plates, { ...first!, number: 9 }] });
  expect(words(based)).toEqual([base, 'flash', yellow, red]);
  const white = { ...sheet.plates[2]!, id: 'white', role: 'highlight' as const, number: 9 };
  const lit = alignRun({ ...sheet, plates: [...sheet.plates, white] });
  expect(words(lit).at(-1)).toBe('white');
  const more = alignRun({
    ...lit,
    plates: [...lit.plates, { ...white, id: 'sage', role: 'colour', number: 10 }],
  });
  expect(words(more).indexOf('sage')).toBeLessThan(words(more).indexOf('white'));
  expect(words(more).indexOf('sage')).toBeGreaterThan(words(more).indexOf(red));
});
