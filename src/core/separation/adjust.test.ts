import { testSheet } from '../../../tests/testSheet';
import { adjustColour } from '../artwork';
import { decodeSrgb, linearFromRgb8, parseHexColour } from '../colour';
import { PLAIN_CURVE } from '../stages';
import { lumaMapOf, printedEnds, withAdjustment } from './adjust';
import { usualSimulatedInks } from './proposeSimulated';
import { addGarment, setTogether } from './together';

const sheet = testSheet({
  garment: { name: 'Black', colour: '#18181a' },
  artwork: { sha256: '0'.repeat(64), fileName: 'meadow.png', kind: 'raster', widthPx: 900, heightPx: 600 },
  colours: [],
  print: { widthMm: 200, chosen: false },
  simulated: usualSimulatedInks('#18181a'),
});
const code = (hex: string) => {
  const [r, g, b] = parseHexColour(hex);
  return r | (g << 8) | (b << 16);
};

test('black prints as the garment at best, and white as two full whites on it', () => {
  const { black, white } = printedEnds(sheet);
  expect(black).toBe('#18181a');
  // o·C + (1 − o)·B·C, twice, for whites of #f6f6f3 that hide 85 %.
  const [r] = linearFromRgb8(parseHexColour('#f6f6f3'));
  const [garment] = linearFromRgb8(parseHexColour('#18181a'));
  const once = 0.85 * r + 0.15 * garment * r;
  const twice = 0.85 * r + 0.15 * once * r;
  expect(decodeSrgb(parseHexColour(white)[0] / 255)).toBeCloseTo(twice, 2);
});

test('artwork goes from one end to the other in even steps of light, and back to what it was', () => {
  const ends = { black: '#18181a', white: '#ecece6' };
  const fitted = withAdjustment(sheet, { contrast: 0, saturation: 0, curve: PLAIN_CURVE, ends });
  const map = lumaMapOf(fitted)!;
  expect(adjustColour(map, code('#000000'))).toBe(code(ends.black));
  expect(adjustColour(map, code('#ffffff'))).toBe(code(ends.white));
  const [low, high] = [ends.black, ends.white].map((hex) => linearFromRgb8(parseHexColour(hex)));
  const middle = adjustColour(map, code('#808080'));
  const wanted = low![0] + decodeSrgb(128 / 255) * (high![0] - low![0]);
  expect(decodeSrgb((middle & 255) / 255)).toBeCloseTo(wanted, 2);
  const back = withAdjustment(fitted, { contrast: 0, saturation: 0, curve: PLAIN_CURVE, ends: null });
  expect(lumaMapOf(back)).toBeNull();
});

test('films for a black and a white garment have the ends that both of them reach', () => {
  const both = setTogether(addGarment(sheet, { name: 'White', colour: '#fafaf8' }), true);
  const alone = printedEnds(sheet);
  const ends = printedEnds(both);
  const light = (hex: string) => linearFromRgb8(parseHexColour(hex))[1];
  expect(light(ends.black)).toBeGreaterThanOrEqual(light(alone.black));
  expect(light(ends.white)).toBeLessThanOrEqual(light(alone.white) + 0.01);
});
