import { garmentOf, transitionsOf } from '@/core/sheet';
/** Gradients of drawings, and what prints off in them. */
import { type Finding, checkAreas } from '@/core/checks';
import {
  ciede2000,
  labFromLinear,
  labFromRgb8,
  linearFromRgb8,
  parseHexColour,
  printOver,
} from '@/core/colour';
import { waysOf } from '@/core/separation';
import { artwork, drawing } from './separatedArtwork';

const gradient = artwork(
  'a gradient',
  drawing(
    '<linearGradient id="g"><stop offset=".1" stop-color="#f0b030"/><stop offset=".9" stop-color="#c8202a"/></linearGradient>' +
      '<rect x="5" y="5" width="90" height="60" fill="url(#g)"/><rect x="5" y="70" width="90" height="20" fill="#1d4fa0"/>',
  ),
);

const GRADIENT =
  '<linearGradient id="g"><stop offset=".1" stop-color="#f0b030"/><stop offset=".9" stop-color="#c8202a"/></linearGradient>' +
  '<rect x="5" y="5" width="90" height="60" fill="url(#g)"/>';
const withWay = artwork('a gradient that has its way', drawing(GRADIENT));
const withoutWay = artwork('a gradient that has no way', drawing(GRADIENT), { transitions: [] });

test('what prints off inside of an area is told by what was measured: its colour, share and place', () => {
  const areas = (findings: readonly Finding[]) => findings.filter(({ code }) => code === 'areas-off');
  expect(areas(withWay().findings)).toEqual([]);
  const [found, ...others] = areas(withoutWay().findings);
  expect(others).toEqual([]);
  // Without a way every place takes the nearer end: the middle of the gradient is farthest off.
  const named = found!.message.match(/#[0-9a-f]{6}/g)!.map((hex) => labFromRgb8(parseHexColour(hex)));
  const middle = labFromRgb8([0xdc, 0x68, 0x2d]);
  expect(Math.min(...named.map((lab) => ciede2000(lab, middle)))).toBeLessThan(6);
  expect(found!.measured).toBeGreaterThan(10);
  const { widthMm } = withoutWay().sheet.print;
  expect(found!.place!.xMm).toBeGreaterThan(0.2 * widthMm);
  expect(found!.place!.xMm).toBeLessThan(0.8 * widthMm);
});

test('areas whose colour a finding of the rows tells are not told again', () => {
  const place = { xMm: 1, yMm: 1 };
  const off = [
    { colour: '#c8202a', share: 0.2, difference: 22, place },
    { colour: '#1d4fa0', share: 0.01, difference: 7, place },
    { colour: '#20a040', share: 1e-4, difference: 30, place },
  ];
  const told: Finding = {
    code: 'colour-off',
    severity: 'severe',
    step: 'plates',
    message: '',
    remedy: '',
    colour: '#c8212b',
    share: 0.18,
  };
  expect(checkAreas(withWay().sheet, off, [told])).toMatchObject([
    { severity: 'notice', measured: 7, place },
  ]);
  // The row's own area is a part of what prints off only: the rest is a gradient that ends in it.
  expect(checkAreas(withWay().sheet, off, [{ ...told, share: 0.08 }])).toMatchObject([
    { severity: 'severe', measured: 22 },
  ]);
  expect(checkAreas(withWay().sheet, off, [])).toMatchObject([{ severity: 'severe', measured: 22 }]);
  expect(checkAreas(withWay().sheet, off.slice(2), [])).toEqual([]);
});

const nearShades = artwork(
  'a gradient of two shades that are near to each other',
  drawing(
    '<linearGradient id="g"><stop offset=".1" stop-color="#00bfa5"/><stop offset=".9" stop-color="#00ab94"/></linearGradient>' +
      '<rect x="5" y="5" width="90" height="60" fill="url(#g)"/><rect x="5" y="70" width="90" height="20" fill="#1d4fa0"/>',
  ),
  { garment: { name: 'White', colour: '#f7f7f5' } },
);

test.each([
  ['from red to yellow', gradient, ['#c8202a', '#f0b030']],
  ['from shade to shade', nearShades, ['#00ab94', '#00bfa5']],
])(
  'a transition prints as it was drawn, by the model of Demichel and Neugebauer: %s',
  (_name, art, colours) => {
    const { sheet } = art();
    const [ends, ...others] = transitionsOf(sheet)!;
    expect(others).toEqual([]);
    expect([...ends!].sort()).toEqual(colours);
    const [ways] = waysOf(sheet);
    const light = (colour: string) => linearFromRgb8(parseHexColour(colour));
    const base = sheet.plates.find(({ role }) => role === 'underbase');
    const optics = ({ colour, opacity }: { colour: string; opacity: number }) => ({
      colour: light(colour),
      opacity,
    });
    const garment = light(garmentOf(sheet).colour);
    const backing = base ? printOver(garment, optics(base.ink), 1) : garment;
    const inks = ends!.map((colour) => sheet.plates.find((plate) => plate.ink.colour === colour)!);
    const ordered = [...inks].sort((p, q) => sheet.plates.indexOf(p) - sheet.plates.indexOf(q));
    const [p, q] = inks.map((plate) => parseHexColour(plate.ink.colour)) as unknown as [
      readonly number[],
      readonly number[],
    ];
    const off = (first: number, second: number, t: number) => {
      const amounts = new Map([
        [inks[0]!, first],
        [inks[1]!, second],
      ]);
      const print = ordered.reduce(
        (under, plate) => printOver(under, optics(plate.ink), amounts.get(plate)!),
        backing,
      );
      const wanted = p.map((code, c) => Math.round(q[c]! + (code - q[c]!) * t)) as unknown as [
        number,
        number,
        number,
      ];
      return ciede2000(labFromLinear(print), labFromRgb8(wanted));
    };
    let worstOfShares = 0;
    const { first, second } = ways!.coded;
    for (let step = 0; step <= 16; step++) {
      expect(off(first[step]!, second[step]!, step / 16)).toBeLessThan(4);
      if (step === 0) continue;
      // Half way between two steps both amounts are interpolated.
      const half = (amounts: Float64Array) => (amounts[step - 1]! + amounts[step]!) / 2;
      expect(off(half(first), half(second), (step - 0.5) / 16)).toBeLessThan(4);
      worstOfShares = Math.max(worstOfShares, off(step / 16, 1 - step / 16, step / 16));
    }
    // Shares that sum to 1 leave base bare between dots that lie independently of each other.
    expect(worstOfShares).toBeGreaterThan(7);
  },
);

const beside = artwork(
  'a gradient that passes beside a colour which is nearer to its other end',
  drawing(
    '<linearGradient id="g"><stop offset=".1" stop-color="#212121"/><stop offset=".9" stop-color="#7a7a7a"/></linearGradient>' +
      '<rect x="5" y="5" width="90" height="60" fill="url(#g)"/><rect x="5" y="70" width="90" height="20" fill="#312d2d"/>',
  ),
  { garment: { name: 'White', colour: '#f7f7f5' } },
);

test('a gradient lies between the colours that it was drawn between, not between one of them and a colour beside it', () => {
  expect(transitionsOf(beside().sheet)!.map((pair) => [...pair].sort())).toEqual([['#212121', '#7a7a7a']]);
});
