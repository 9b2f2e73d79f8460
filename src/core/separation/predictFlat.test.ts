import { differenceCiede2000, lab, parse } from 'culori';
import { testSheet } from '../../../tests/testSheet';
import { formatHexColour, rgb8FromLinear } from '../colour';
import { paletteOf } from '../sheet';
import {
  addColour,
  changePlate,
  findTint,
  offerTint,
  predictFlat,
  printFlat,
  setTint,
  assignColour,
} from '.';

const linear = (code: number) => (code <= 10 ? code / 255 / 12.92 : ((code / 255 + 0.055) / 1.055) ** 2.4);
const channels = (hex: string) => [1, 3, 5].map((at) => linear(parseInt(hex.slice(at, at + 2), 16)));

/** Neugebauer's equations with Demichel's areas, written out: bare, base alone, ink alone, both. */
function neugebauer(
  garment: string,
  base: { colour: string; opacity: number; cover: number },
  ink: { colour: string; opacity: number; cover: number },
) {
  const over = (under: number, each: { opacity: number }, own: number) =>
    each.opacity * own + (1 - each.opacity) * under * own;
  return channels(garment).map((bare, c) => {
    const white = over(bare, base, channels(base.colour)[c]!);
    const own = channels(ink.colour)[c]!;
    return (
      (1 - base.cover) * (1 - ink.cover) * bare +
      base.cover * (1 - ink.cover) * white +
      (1 - base.cover) * ink.cover * over(bare, ink, own) +
      base.cover * ink.cover * over(white, ink, own)
    );
  });
}

test.each([
  [1, 1],
  [1, 0.4],
  [0.5, 0.7],
  [0, 1],
])('an area of %d base and %d ink is what Demichel and Neugebauer say', (strength, tint) => {
  const [white, red] = [
    { name: 'White', colour: '#f6f6f3', opacity: 0.85 },
    { name: 'Red', colour: '#c8382e', opacity: 0.75 },
  ];
  const printed = printFlat('#16233f', { ink: white, strength }, red, tint);
  const expected = neugebauer('#16233f', { ...white, cover: strength }, { ...red, cover: tint });
  printed.forEach((value, c) => expect(value).toBeCloseTo(expected[c]!, 12));
});

test('a colour is told as far from its print as culori has it', () => {
  const sheet = testSheet();
  for (const entry of paletteOf(sheet)) {
    const { print, difference } = predictFlat(sheet, entry);
    const outside = differenceCiede2000()(
      lab(parse(entry.colour))!,
      lab(parse(formatHexColour(rgb8FromLinear(print))))!,
    );
    // Their white is D65, ours D50.
    expect(Math.abs(difference - outside)).toBeLessThan(0.6);
  }
});

test('what has no plate is the garment, whatever stages a plate has', () => {
  const sheet = testSheet();
  const [entry] = paletteOf(sheet);
  const bare = assignColour(sheet, entry!.id, null);
  const { print } = predictFlat(bare, paletteOf(bare)[0]!);
  expect(formatHexColour(rgb8FromLinear(print))).toBe('#16233f');
});

test('a curve of the plate prints a tint as much as it says', () => {
  const sheet = setTint(testSheet(), 'c1', 0.5);
  const plate = sheet.plates.find(({ id }) => id === paletteOf(sheet)[0]!.plateId)!;
  const curved = changePlate(sheet, plate.id, {
    stages: [
      {
        kind: 'curve',
        points: [
          [0, 0],
          [0.5, 0.2],
          [1, 1],
        ],
      },
    ],
  });
  const plain = predictFlat(setTint(sheet, 'c1', 0.2), paletteOf(setTint(sheet, 'c1', 0.2))[0]!).print;
  predictFlat(curved, paletteOf(curved)[0]!).print.forEach((value, c) =>
    expect(value).toBeCloseTo(plain[c]!, 3),
  );
});

describe('the tint of an ink that prints nearest to a colour', () => {
  const base = { name: 'White', colour: '#f6f6f3', opacity: 0.85 };
  const plate = {
    ink: { name: 'Navy ink', colour: '#1c2f55', opacity: 0.8 },
    baseStrength: 1,
    stages: [],
    screen: testSheet().plates[0]!.screen,
  };
  const printOf = (tint: number) =>
    formatHexColour(rgb8FromLinear(printFlat('#ece4d2', { ink: base, strength: 1 }, plate.ink, tint)));

  it.each([0.12, 0.3, 0.6, 0.85])('is the one that made it: %d', (tint) => {
    const found = findTint('#ece4d2', base, plate, printOf(tint));
    expect(found.tint).toBeCloseTo(tint, 1);
    expect(found.difference).toBeLessThan(0.6);
  });

  it('is solid where a tint gains a trifle only', () => {
    expect(findTint('#ece4d2', base, plate, printOf(0.996)).tint).toBe(1);
  });

  it('is offered where it comes near, by the plate that comes nearest, and never by its own', () => {
    const sheet = testSheet({ garment: { name: 'White', colour: '#fafafa' } });
    const red = sheet.plates.find(({ ink }) => ink.colour === '#c8382e')!;
    const half = formatHexColour(rgb8FromLinear(printFlat('#fafafa', null, red.ink, 0.5)));
    const more = addColour(addColour(sheet, half), '#3ca03c');
    const entry = (colour: string) => paletteOf(more).find((each) => each.colour === colour)!;
    expect(offerTint(more, entry('#3ca03c'))).toBeNull();
    const offer = offerTint(more, entry(half));
    expect(offer?.plate.id).toBe(red.id);
    expect(offer!.tint).toBeCloseTo(0.5, 1);
    expect(offerTint(more, entry('#c8382e'))?.plate.id).not.toBe(red.id);
  });
});
