import { createJobSheet } from '../separation';
import { parseJobSheet } from './jobSheet';

const sheet = createJobSheet({
  name: 'Sign',
  artwork: { sha256: '0'.repeat(64), fileName: 'sign.svg', kind: 'vector', widthPx: 100, heightPx: 100 },
  colours: [
    { rgb: [200, 56, 46], area: 0.5 },
    { rgb: [242, 209, 58], area: 0.3 },
  ],
  purity: 2.5,
  transitions: [],
  background: null,
  backgroundWish: 'auto',
  print: { widthMm: 254, chosen: false },
  garment: { name: 'Navy', colour: '#16233f' },
  inks: 'auto',
  date: '2026-03-14',
});
const withoutIds = { ...sheet, version: 8, palette: sheet.palette.map(({ id: _id, ...entry }) => entry) };

test('colours of version 8, which were told by their place, get ids in that order, and stay what they were', () => {
  expect(parseJobSheet(withoutIds)).toEqual(sheet);
  expect(sheet.palette.map(({ id }) => id)).toEqual(['c1', 'c2']);
});

test.each<[string, object, RegExp]>([
  [
    'two colours of one id',
    { palette: sheet.palette.map((entry) => ({ ...entry, id: 'c1' })) },
    /two colours of one id/,
  ],
  ['a version to come', { version: 10 }, /version/],
  [
    'a stage that nobody knows',
    { plates: sheet.plates.map((plate) => ({ ...plate, stages: [{ kind: 'sparkle' }] })) },
    /stages/,
  ],
  [
    'a curve that falls',
    {
      plates: sheet.plates.map((plate) => ({
        ...plate,
        stages: [
          {
            kind: 'curve',
            points: [
              [0, 0.5],
              [1, 0.2],
            ],
          },
        ],
      })),
    },
    /must not fall/,
  ],
  [
    'a curve of one point',
    {
      plates: sheet.plates.map((plate) => ({ ...plate, stages: [{ kind: 'curve', points: [[0.5, 0.5]] }] })),
    },
    /two points/,
  ],
  ['a method that nobody knows', { separation: { method: 'magic' } }, /separation/],
])('a sheet with %s is refused in words', (_what, part, words) => {
  expect(() => parseJobSheet({ ...sheet, ...part })).toThrow(words);
});
