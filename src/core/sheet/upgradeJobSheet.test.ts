import { testSheet } from '../../../tests/testSheet';
import { setTint, toSimulated, setLeaveOutLone } from '../separation';
import { version9 } from '../../../tests/olderSheet';
import { withOtherGarment } from './garments';
import { flatLayer, paletteOf } from './layers';
import { parseJobSheet } from './jobSheet';
import { DEFAULT_TEXTURE } from './presets';
import { withPairSetting } from './trapPairSettings';
import { upgradeJobSheet } from './upgradeJobSheet';
import { SHEET_VERSION } from './vocabulary';

const sheet = testSheet();
const withoutIds = {
  ...version9(sheet),
  version: 8,
  palette: paletteOf(sheet).map(({ id: _id, ...entry }) => entry),
};

const flat = flatLayer(sheet)!;
const printing = (colourId: string) => ({
  kind: 'colours',
  layerId: flat.id,
  colours: [{ colourId, tint: 1 }],
});
/** The sheet's first colour plate, which prints its first colour, with a source more. */
const sourced = (source: object) => ({
  plates: sheet.plates.map((each) =>
    each.id === paletteOf(sheet)[0]!.plateId ? { ...each, sources: [...each.sources, source] } : each,
  ),
});

test('a sheet of version 11 is one of the newest with nothing changed', () => {
  const [one, other] = sheet.plates.filter(({ role }) => role === 'colour').map(({ id }) => id) as [
    string,
    string,
  ];
  const newest = withPairSetting(
    { ...sheet, texture: DEFAULT_TEXTURE },
    { plateIds: [one, other], grows: 'gap', mm: 0.5, clearMm: 0 },
  );
  const { thickenMm: _thicken, lightBase: _light, pairs, ...fit } = newest.fit;
  const { picture: _picture, ...texture } = DEFAULT_TEXTURE;
  const older = {
    ...newest,
    version: 11,
    layers: [
      {
        ...flatLayer(newest)!,
        colours: flatLayer(newest)!.colours.map(({ base: _base, ...colour }) => colour),
      },
    ],
    fit: { ...fit, pairs: pairs.map(({ clearMm: _clear, ...pair }) => pair) },
    texture,
  };
  // What is read from the database is upgraded and not checked again.
  expect(upgradeJobSheet(older)).toEqual(newest);
  expect(parseJobSheet(older)).toEqual(newest);
});

test('a sheet of version 9 comes to be what it was, flat and in tones, with its other garments', () => {
  const worn = withOtherGarment(sheet, { name: 'Sand', colour: '#ece4d2' });
  const tinted = setTint(worn, 'c2', 0.4);
  expect(parseJobSheet(version9(tinted))).toEqual(tinted);
  const tones = toSimulated(worn, { background: null });
  // Films of earlier versions have the lone dots that they had.
  expect(parseJobSheet(version9(tones))).toEqual(setLeaveOutLone(tones, false));
  expect(version9(tones)).toMatchObject({ version: 9, palette: [], separation: { method: 'simulated' } });
});

test('colours of version 8, which were told by their place, get ids in that order, and stay what they were', () => {
  expect(parseJobSheet(withoutIds)).toEqual(sheet);
  expect(paletteOf(sheet).map(({ id }) => id)).toEqual(['c1', 'c2']);
});

test.each<[string, object, RegExp]>([
  [
    'two colours of one id',
    { layers: [{ ...flat, colours: flat.colours.map((entry) => ({ ...entry, id: 'c1' })) }] },
    /two colours of one id/,
  ],
  ['a version to come', { version: SHEET_VERSION + 1 }, /version/],
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
  ['a kind of layer that nobody knows', { layers: [{ ...flat, kind: 'magic' }] }, /layers\.0\.kind/],
  ['no layer', { layers: [] }, /layers: must be one/],
  [
    'a layer of an artwork that is not there',
    { layers: [{ ...flat, artworkId: 'a7' }] },
    /names the artwork "a7"/,
  ],
  [
    'a plate left out that is not there',
    { garments: [{ ...sheet.garments[0], without: ['gone'] }] },
    /names the plate "gone"/,
  ],
  [
    'a plate left out for its own garment',
    { garments: [{ ...sheet.garments[0], without: [sheet.plates[0]!.id] }] },
    /for the garment that they are made for/,
  ],
  ['two garments of one id', { garments: [...sheet.garments, ...sheet.garments] }, /the garment g1 twice/],
  [
    'a mask of two corners',
    {
      layers: [
        {
          ...flat,
          mask: [
            [0, 0],
            [1, 1],
          ],
        },
      ],
    },
    /layers\.0\.mask/,
  ],
  ['a source that nobody knows', sourced({ kind: 'weather', layerId: flat.id }), /sources\.1\.kind/],
  [
    'a source of a layer that is not there',
    sourced({ kind: 'tones', layerId: 'l7', patches: [] }),
    /names the layer "l7"/,
  ],
  [
    'tones of a flat layer',
    sourced({ kind: 'tones', layerId: flat.id, patches: [] }),
    /of a layer that is flat colours/,
  ],
  ['a colour that is not there', sourced(printing('c9')), /names the colour "c9"/],
  ['a colour on two plates', sourced(printing('c2')), /"c2", which another plate prints already/],
  [
    'an underbase that prints a colour of another plate',
    {
      plates: sheet.plates.map((each) =>
        each.role === 'underbase' ? { ...each, sources: [printing('c1')] } : each,
      ),
    },
    /"c1", which another plate prints already/,
  ],
])('a sheet with %s is refused in words', (_what, part, words) => {
  expect(() => parseJobSheet({ ...sheet, ...part })).toThrow(words);
});
