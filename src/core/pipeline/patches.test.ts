import { testSheet } from '../../../tests/testSheet';
import { toSimulated } from '../separation';
import { type Patch, addPatch, parseJobSheet, patchesOf, withPatches } from '../sheet';
import { applyPatches } from './patches';

const whole: Patch['outline'] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];
const patch = (part: Partial<Patch>): Patch => ({
  id: 'p1',
  outline: whole,
  featherMm: 0,
  act: 'lift',
  amount: 1,
  on: true,
  ...part,
});
const place = { rect: { x: 0, y: 0, width: 4, height: 1 }, levelWidth: 4, levelHeight: 1, pxPerMm: 1 };
const printing = Uint8Array.of(1, 1, 1, 0);

function changed(patches: readonly Patch[], tones = [0, 0.01, 0.5, 0.5]): number[] {
  const plane = Uint16Array.from(tones, (tone) => Math.round(tone * 65535));
  applyPatches(plane, patches, printing, place);
  return [...plane].map((tone) => tone / 65535);
}

test('a full lift makes a hundredth a half, and leaves none at none', () => {
  const [none, little, half, outside] = changed([patch({})]);
  expect(none).toBe(0);
  expect(little).toBeCloseTo(0.5, 2);
  expect(half).toBeGreaterThan(0.8);
  expect(outside).toBeCloseTo(0.5, 4);
});

test('a lift never turns tones round', () => {
  for (const amount of [0.1, 0.4, 0.7, 1]) {
    const found = changed([patch({ amount })], [0.02, 0.3, 0.31]);
    expect(found[0]!).toBeLessThan(found[1]!);
    expect(found[1]!).toBeLessThanOrEqual(found[2]!);
  }
});

test('lightened, cleared and filled tones are what is said of them', () => {
  expect(changed([patch({ act: 'lighten', amount: 0.25 })])[2]).toBeCloseTo(0.375, 4);
  expect(changed([patch({ act: 'clear' })]).slice(0, 3)).toEqual([0, 0, 0]);
  // What prints nothing of the artwork is not filled.
  expect(changed([patch({ act: 'fill' })])).toEqual([1, 1, 1, expect.closeTo(0.5, 4)]);
});

test('patches are made one after another; one that is off counts nothing', () => {
  const found = changed([patch({ act: 'fill' }), patch({ id: 'p2', act: 'lighten', amount: 0.6 })]);
  expect(found[0]).toBeCloseTo(0.4, 4);
  expect(changed([patch({ act: 'clear', on: false })])).toEqual(changed([]));
});

test('an outline is the same part of the artwork at every level', () => {
  const left = patch({
    act: 'clear',
    outline: [
      [0, 0],
      [0.5, 0],
      [0.5, 1],
      [0, 1],
    ],
  });
  const fine = new Uint16Array(8).fill(1000);
  const rect = { x: 0, y: 0, width: 8, height: 1 };
  const levels = { levelWidth: 8, levelHeight: 1, pxPerMm: 2 };
  applyPatches(fine, [left], new Uint8Array(8).fill(1), { rect, ...levels });
  expect([...fine]).toEqual([0, 0, 0, 0, 1000, 1000, 1000, 1000]);
  expect(changed([left], [0.5, 0.5, 0.5, 0.5]).slice(0, 2)).toEqual([0, 0]);
});

test('patches stand in the sheet with ids of their own, at plates that print tones', () => {
  const sheet = toSimulated(testSheet(), { background: null });
  const plateId = sheet.plates[1]!.id;
  const two = addPatch(addPatch(sheet, plateId, whole), plateId, whole);
  const ids = (each: typeof two) => patchesOf(each.plates[1]!).map(({ id }) => id);
  expect(ids(two)).toEqual(['p1', 'p2']);
  const one = withPatches(two, plateId, (patches) => patches.slice(1));
  expect(ids(addPatch(one, plateId, whole))).toEqual(['p2', 'p1']);
  expect(parseJobSheet(two)).toEqual(two);
  // Flat colours have no tones of a layer.
  const flat = testSheet();
  expect(addPatch(flat, flat.plates[1]!.id, whole)).toEqual(flat);
  // Two points are no outline.
  const line = addPatch(sheet, plateId, [
    [0, 0],
    [1, 1],
  ]);
  expect(() => parseJobSheet(line)).toThrow();
});
