import { testSheet } from '../../../tests/testSheet';
import {
  assignColour,
  changeGarment,
  changePlate,
  setTint,
  setTogether,
  toSimulated,
  wishInk,
  withAdjustment,
} from '../separation';
import { PLAIN_CURVE } from '../stages';
import { describeChange } from './describeChange';
import { setRuns, withOtherGarment } from './garments';
import type { JobSheet } from './jobSheet';
import { paletteOf } from './layers';
import { addPatch, withPatches } from './patches';

const sheet = testSheet();
const [first, second] = sheet.plates.filter(({ role }) => role === 'colour');
const film = (change: Partial<JobSheet['film']>): JobSheet => ({
  ...sheet,
  film: { ...sheet.film, ...change },
});
const fit = (change: Partial<JobSheet['fit']>): JobSheet => ({ ...sheet, fit: { ...sheet.fit, ...change } });

const BLACK = { name: 'Black', colour: '#000000' };

test.each<[string, JobSheet, JobSheet?]>([
  ['choke from 0.15 mm to 0.2 mm', fit({ chokeMm: 0.2 })],
  ['spread from 0 mm to 0.1 mm', fit({ spreadMm: 0.1 })],
  ['gaps closed from 0 mm to 0.05 mm', fit({ closeGapsMm: 0.05 })],
  ['name from Sign to Other', { ...sheet, name: 'Other' }],
  ['print width from 10 in to 12 in', { ...sheet, print: { ...sheet.print, widthMm: 304.8 } }],
  ['garment from Navy to Black', changeGarment(sheet, BLACK)],
  ['Black among the garments', withOtherGarment(sheet, BLACK)],
  [
    'Black without Base white',
    setRuns(withOtherGarment(sheet, BLACK), 'g2', 'base-white', false),
    withOtherGarment(sheet, BLACK),
  ],
  [`mesh of ${first!.ink.name} from ${first!.mesh} to 230`, changePlate(sheet, first!.id, { mesh: 230 })],
  [`base under ${first!.ink.name} from 100 % to 40 %`, changePlate(sheet, first!.id, { baseStrength: 0.4 })],
  ['tint of #c8382e from 100 % to 30 %', setTint(sheet, paletteOf(sheet)[0]!.id, 0.3)],
  [
    `plates from ${sheet.plates.length} to ${sheet.plates.length - 1}, without ${second!.ink.name}`,
    assignColour(sheet, paletteOf(sheet)[0]!.id, first!.id),
  ],
  ['films from 720 to 1440 dpi', film({ dpi: 1440 })],
  ['film sheet from 13 in x 19 in to a roll of 24 in', film({ sheetWidthMm: 609.6, sheetHeightMm: null })],
  ['emulsion from up to down', film({ emulsion: 'down' })],
  ['negative films', film({ negative: true, names: '{ink}' })],
  ['files of the films', film({ names: '{ink}' })],
  ['no change', sheet],
])('a change is told as "%s"', (words, after, before = sheet) => {
  expect(describeChange(before, after)).toBe(words);
});

test('changes of tones are told: garments together, wishes for inks, the artwork before, patches', () => {
  const garment = { name: 'Pitch black', colour: '#17171b' };
  const toned = toSimulated(testSheet({ garment }), { background: null });
  const two = withOtherGarment(toned, { name: 'White', colour: '#fafaf8' });
  const both = setTogether(two, true);
  expect(describeChange(two, both)).toBe('films for all garments together');
  expect(describeChange(both, setTogether(both, false))).toBe('films for Pitch black alone');
  const banned = wishInk(toned, 'Rust', 'ban');
  expect(describeChange(toned, banned)).toBe('Rust never proposed');
  expect(describeChange(banned, wishInk(banned, 'Rust', 'pin'))).toBe('Rust in every proposal');
  expect(describeChange(banned, wishInk(banned, 'Rust', 'free'))).toBe('Rust free in proposals');
  const plain = { contrast: 0, saturation: 0, curve: PLAIN_CURVE, ends: null };
  const vivid = withAdjustment(toned, { ...plain, saturation: 0.2 });
  expect(describeChange(toned, vivid)).toBe('saturation of the artwork from 0 % to 20 %');
  const { id, ink } = toned.plates[1]!;
  const outline: [number, number][] = [
    [0, 0],
    [1, 0],
    [1, 1],
  ];
  const patched = addPatch(toned, id, outline);
  expect(describeChange(toned, patched)).toBe(`patch of ${ink.name}`);
  const half = withPatches(patched, id, (all) => all.map((patch) => ({ ...patch, amount: 0.8 })));
  expect(describeChange(patched, half)).toBe(`patch 1 of ${ink.name} from 50 % to 80 %`);
  const off = withPatches(patched, id, (all) => all.map((patch) => ({ ...patch, on: false })));
  expect(describeChange(patched, off)).toBe(`without patch 1 of ${ink.name}`);
});
