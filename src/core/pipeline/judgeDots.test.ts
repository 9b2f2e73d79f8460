import { testSheet } from '../../../tests/testSheet';
import { ARRANGEMENTS, arrangeDots } from '../checks';
import { ciede2000, labFromLinear, linearFromRgb8, parseHexColour } from '../colour';
import { PLAIN_KERNELS } from '../kernels';
import { ThresholdTiles } from '../screening';
import { usualSimulatedInks } from '../separation';
import { modelOf, solveColours } from '../solving';
import { stackOf } from './fullTone';
import { dotsScore, judgeArrangements, judgeDots, tonesMeet } from './judgeDots';

const GARMENT = { name: 'Black', colour: '#18181a' };
const whole = testSheet({
  garment: GARMENT,
  artwork: { sha256: '0'.repeat(64), fileName: 'meadow.png', kind: 'raster', widthPx: 900, heightPx: 600 },
  colours: [],
  print: { widthMm: 200, chosen: false },
  simulated: usualSimulatedInks(GARMENT.colour),
});
// Few pixels, so that the plain kernels serve.
const sheet = { ...whole, film: { ...whole.film, dpi: 360 } };
const ids = sheet.plates.flatMap(({ id, role }) => (role === 'underbase' ? [] : [id]));
const colours = ['#8a6a3c', '#c8b48c', '#6c8fa6', '#7d9a58'].map((hex) => ({
  lab: labFromLinear(linearFromRgb8(parseHexColour(hex))),
  share: 0.25,
}));
const tiles = new ThresholdTiles();
const judgedBy = new Map(
  [
    ...judgeArrangements({
      sheet,
      ids,
      overlap: tonesMeet(sheet, colours),
      colours,
      tiles,
      kernels: PLAIN_KERNELS,
    }),
  ].map((each) => [each.arrangement, each]),
);

test('every arrangement is judged, and dots without a grid are the calmest when a plate lies off', () => {
  expect([...judgedBy.keys()]).toEqual(ARRANGEMENTS);
  const scores = [...judgedBy.values()].sort((p, q) => dotsScore(p) - dotsScore(q));
  // Common practice, no source: dots that must fit each other cost most when they do not.
  expect(scores[0]!.arrangement).toBe('dispersed');
  const [dispersed, interlocked] = [judgedBy.get('dispersed')!, judgedBy.get('interlocked')!];
  expect(Math.abs(dispersed.shifted - dispersed.off)).toBeLessThan(0.5);
  expect(interlocked.shifted).toBeGreaterThan(interlocked.off + 1);
});

test.each(ARRANGEMENTS)('in register %s dots print what the model says', (each) => {
  // Means of real dots against Neugebauer (1937): areas by chance, areas that are apart, and areas inside of each other.
  const arranged = arrangeDots(sheet, ids, each, () => 1);
  const stack = stackOf(arranged);
  const model = modelOf(stack);
  const light = new Float64Array(3);
  const off = solveColours(stack, colours).reduce((sum, tones, k) => {
    model.print(tones, light);
    return sum + ciede2000(labFromLinear([light[0]!, light[1]!, light[2]!]), colours[k]!.lab) / 4;
  }, 0);
  expect(Math.abs(judgedBy.get(each)!.off - off)).toBeLessThan(1);
});

test('a press that never wanders costs nothing beyond what its dots are off', () => {
  const steady = { ...sheet, press: { ...sheet.press, toleranceMm: 0.0001 } };
  const near = judgeDots(
    arrangeDots(steady, ids, 'interlocked', () => 1),
    colours,
    tiles,
    PLAIN_KERNELS,
  );
  const wandering = judgedBy.get('interlocked')!;
  expect(near.shifted - near.off).toBeLessThan((wandering.shifted - wandering.off) / 1.5);
});

test('grain grows as the dots do', () => {
  const coarse = {
    ...sheet,
    plates: sheet.plates.map((plate) => ({ ...plate, screen: { ...plate.screen, dotUm: 420 } })),
  };
  const grain = (of: typeof sheet) => judgeDots(of, colours, tiles, PLAIN_KERNELS).grain;
  expect(grain(coarse)).toBeGreaterThan(grain(sheet) * 1.2);
});
