import { OFF_REASONS, type OffReason, type ReasonShares } from '../checks';
import { type Rgb8, parseHexColour } from '../colour';
import { REASON_COLOURS, ReasonFinder } from './reasons';

const pixels = (...hex: string[]) =>
  Uint8ClampedArray.from(hex.flatMap((each) => [...parseHexColour(each), 255]));
const finder = new ReasonFinder(parseHexColour('#2c2c30'));

function countOf(
  print: string,
  artwork: string,
  printable: string,
  held?: string,
): Partial<Record<OffReason, number>> {
  const sums: ReasonShares = { inks: 0, light: 0, dark: 0, changed: 0, dots: 0 };
  const pictures = { print: pixels(print), artwork: pixels(artwork), printable: pixels(printable) };
  finder.count({ ...pictures, held: held ? pixels(held) : null }, sums);
  return Object.fromEntries(OFF_REASONS.flatMap((each) => (sums[each] > 0 ? [[each, sums[each]]] : [])));
}

test.each([
  ['a print that is near has none', '#c86432', '#c86533', '#c86432', {}],
  ['a black on a dark grey garment is darker than it', '#2c2c30', '#000000', '#2c2c30', { dark: 1 }],
  ['a white that a dull white does not reach is lighter', '#dcdcd8', '#ffffff', '#dcdcd8', { light: 1 }],
  ['a glowing green is beyond the inks', '#3c9650', '#00ff3c', '#3c9650', { inks: 1 }],
  ['what the inks could print nearer was changed', '#808080', '#c86432', '#c46430', { changed: 1 }],
  [
    'a dark colour that is lighter than the garment is none of its',
    '#6a6a70',
    '#484850',
    '#6a6a70',
    { inks: 1 },
  ],
] as const)('%s', (_, print, artwork, printable, expected) => {
  expect(countOf(print, artwork, printable)).toEqual(expected);
});

test('dots that the mesh loses are a reason where the print is off without them, and only there', () => {
  expect(countOf('#c86432', '#c86432', '#c86432', '#e08050')).toEqual({ dots: 1 });
  expect(countOf('#c86432', '#c86432', '#c86432', '#c86533')).toEqual({});
  // Off with them and nearer without them: they are not what it is off by.
  expect(countOf('#808080', '#c86432', '#808080', '#c86432')).toEqual({ inks: 1 });
});

test('the picture has the colour of each reason, half as strong where little is off', () => {
  const painted = finder.paint({
    print: pixels('#2c2c30', '#c86432', '#808080'),
    artwork: pixels('#000000', '#c86432', '#868686'),
    printable: pixels('#2c2c30', '#c86432', '#868686'),
    held: null,
  });
  const at = (k: number) => [...painted.subarray(k * 4, k * 4 + 3)];
  expect(at(0)).toEqual([...REASON_COLOURS.dark]);
  const paper = at(1);
  const half: Rgb8 = REASON_COLOURS.changed.map((code, c) =>
    Math.round((code + paper[c]!) / 2),
  ) as unknown as Rgb8;
  at(2).forEach((code, c) => expect(Math.abs(code - half[c]!)).toBeLessThanOrEqual(1));
});
