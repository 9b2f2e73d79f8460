import { converter, differenceCiede2000 } from 'culori';
import { ciede2000 } from './ciede2000';
import { layerOver, printOver } from './inkModel';
import { type Lab, labFromRgb8 } from './lab';
import { nameColour } from './nameColour';
import { type Rgb8, decodeSrgb, encodeSrgb, encodeSrgb8, formatHexColour, parseHexColour } from './srgb';

// The 34 pairs of Sharma, Wu, Dalal, Color Research & Application 30 (2005), table 1: L, a, b, L, a, b, difference.
const SHARMA: readonly (readonly number[])[] = [
  [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
  [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
  [50, 2.8361, -74.02, 50, 0, -82.7485, 3.4412],
  [50, -1.3802, -84.2814, 50, 0, -82.7485, 1],
  [50, -1.1848, -84.8006, 50, 0, -82.7485, 1],
  [50, -0.9009, -85.5211, 50, 0, -82.7485, 1],
  [50, 0, 0, 50, -1, 2, 2.3669],
  [50, -1, 2, 50, 0, 0, 2.3669],
  [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
  [50, 2.49, -0.001, 50, -2.49, 0.001, 7.1792],
  [50, 2.49, -0.001, 50, -2.49, 0.0011, 7.2195],
  [50, 2.49, -0.001, 50, -2.49, 0.0012, 7.2195],
  [50, -0.001, 2.49, 50, 0.0009, -2.49, 4.8045],
  [50, -0.001, 2.49, 50, 0.001, -2.49, 4.8045],
  [50, -0.001, 2.49, 50, 0.0011, -2.49, 4.7461],
  [50, 2.5, 0, 50, 0, -2.5, 4.3065],
  [50, 2.5, 0, 73, 25, -18, 27.1492],
  [50, 2.5, 0, 61, -5, 29, 22.8977],
  [50, 2.5, 0, 56, -27, -3, 31.903],
  [50, 2.5, 0, 58, 24, 15, 19.4535],
  [50, 2.5, 0, 50, 3.1736, 0.5854, 1],
  [50, 2.5, 0, 50, 3.2972, 0, 1],
  [50, 2.5, 0, 50, 1.8634, 0.5757, 1],
  [50, 2.5, 0, 50, 3.2592, 0.335, 1],
  [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
  [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
  [61.2901, 3.7196, -5.3901, 61.4292, 2.248, -4.962, 1.8731],
  [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
  [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
  [36.4612, 47.858, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
  [90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441],
  [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
  [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
  [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
];

describe('CIEDE2000', () => {
  it.each(SHARMA.map((row, index) => [index + 1, row] as const))('published pair %d', (_, row) => {
    const [l1, a1, b1, l2, a2, b2, expected] = row as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    expect(ciede2000([l1, a1, b1], [l2, a2, b2])).toBeCloseTo(expected, 4);
    expect(ciede2000([l2, a2, b2], [l1, a1, b1])).toBeCloseTo(expected, 4);
  });

  it('agrees with an independent library on a grid of colours', () => {
    const reference = differenceCiede2000();
    const grid: Lab[] = [];
    for (const l of [5, 40, 90])
      for (const a of [-70, -3, 0, 55]) for (const b of [-80, 1, 2, 61]) grid.push([l, a, b]);
    const lab = ([l, a, b]: Lab) => ({ mode: 'lab65' as const, l, a, b });
    for (const p of grid) {
      for (const q of grid) expect(ciede2000(p, q)).toBeCloseTo(reference(lab(p), lab(q)), 6);
    }
  });
});

test('sRGB to CIELAB under D50 agrees with an independent library', () => {
  const toLab = converter('lab');
  for (let r = 0; r < 256; r += 51) {
    for (let g = 0; g < 256; g += 51) {
      for (let b = 0; b < 256; b += 51) {
        const ours = labFromRgb8([r, g, b]);
        const theirs = toLab({ mode: 'rgb', r: r / 255, g: g / 255, b: b / 255 });
        // Both round the standard's matrix in their own way: a few hundredths.
        expect(Math.abs(ours[0] - theirs.l)).toBeLessThan(0.03);
        expect(Math.abs(ours[1] - theirs.a)).toBeLessThan(0.06);
        expect(Math.abs(ours[2] - theirs.b)).toBeLessThan(0.06);
      }
    }
  }
});

describe('sRGB encoding, IEC 61966-2-1', () => {
  it('meets itself at the ends and at the knee', () => {
    expect(decodeSrgb(0)).toBe(0);
    expect(decodeSrgb(1)).toBeCloseTo(1, 12);
    // From memory, and by the formula: code 188 is very nearly half the light.
    expect(decodeSrgb(188 / 255)).toBeCloseTo(0.5029, 4);
    expect(encodeSrgb(0.0031308)).toBeCloseTo(0.04045, 5);
  });

  it('returns to each of the 256 codes through the table', () => {
    for (let code = 0; code < 256; code++) {
      expect(Math.abs(encodeSrgb8(decodeSrgb(code / 255)) - code)).toBeLessThanOrEqual(code < 20 ? 1 : 0);
    }
  });
});

describe('the ink model', () => {
  const ink = { colour: [0.8, 0.2, 0.1] as const, opacity: 0.75 };

  it('shows the ink over white and hides the backing by its opacity', () => {
    expect(layerOver([1, 1, 1], ink)).toEqual([0.8, 0.2, 0.1].map((c) => expect.closeTo(c, 12)));
    // o*C + (1-o)*B*C by hand, for B = 0.1 and C = 0.8: 0.6 + 0.25 * 0.08.
    expect(layerOver([0.1, 0.1, 0.1], ink)[0]).toBeCloseTo(0.62, 12);
    expect(layerOver([0, 0, 0], ink)[1]).toBeCloseTo(0.15, 12);
  });

  it('averages by area', () => {
    expect(printOver([1, 1, 1], ink, 0)).toEqual([1, 1, 1]);
    expect(printOver([1, 1, 1], ink, 0.5)[1]).toBeCloseTo(0.6, 12);
  });
});

test('colours are read and written', () => {
  expect(parseHexColour('#16233F')).toEqual([22, 35, 63]);
  expect(parseHexColour('fff')).toEqual([255, 255, 255]);
  expect(formatHexColour([22, 35, 63])).toBe('#16233f');
  expect(() => parseHexColour('navy')).toThrow(/not a colour/);
});

test.each<[string, Rgb8]>([
  ['white', [255, 255, 255]],
  ['black', [10, 10, 12]],
  ['red', [220, 40, 40]],
  ['yellow', [250, 210, 40]],
  ['green', [40, 140, 70]],
  ['blue', [40, 80, 200]],
  ['grey', [128, 128, 128]],
])('a colour called %s', (name, rgb) => {
  expect(nameColour(rgb)).toContain(name);
});
