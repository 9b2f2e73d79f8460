import { testSheet } from '../../../tests/testSheet';
import { PLAIN_KERNELS } from '../kernels';
import { FRESH_MEMORY } from '../raster';
import { leaveOut, silhouetteShares, usualSimulatedInks } from '../separation';
import { type JobSheet, addPatch, parseJobSheet, sharesOf, withPatches, withShare } from '../sheet';
import { plateFields, toneSetting } from './fullTone';

const GARMENT = { name: 'Black', colour: '#18181a' };
const sheet = testSheet({
  garment: GARMENT,
  artwork: { sha256: '0'.repeat(64), fileName: 'meadow.png', kind: 'raster', widthPx: 4, heightPx: 1 },
  colours: [],
  print: { widthMm: 40, chosen: false },
  simulated: usualSimulatedInks(GARMENT.colour),
});
const rect = { x: 0, y: 0, width: 4, height: 1 };
const art = {
  rect,
  data: Uint8Array.of(200, 80, 40, 255, 60, 120, 200, 255, 230, 220, 200, 255, 0, 0, 0, 0),
};

function fieldsOf(of: JobSheet) {
  const shares = silhouetteShares(art, 1, PLAIN_KERNELS, FRESH_MEMORY);
  const place = { levelWidth: 4, levelHeight: 1, pxPerMm: 1 };
  return plateFields(toneSetting(of), art, shares, place, PLAIN_KERNELS, FRESH_MEMORY);
}

const [, yellow, red] = sheet.plates.map(({ id }) => id) as [string, string, string];
const plain = fieldsOf(sheet);

test('a share of another plate is added to its tones, and taken away where it is negative', () => {
  const more = fieldsOf(withShare(sheet, yellow, { plateId: red, share: 0.3 }));
  const less = fieldsOf(withShare(sheet, yellow, { plateId: red, share: -1 }));
  for (let i = 0; i < 4; i++) {
    const [own, other] = [plain.get(yellow)![i]!, plain.get(red)![i]!];
    expect(Math.abs(more.get(yellow)![i]! - Math.min(65535, own + 0.3 * other))).toBeLessThanOrEqual(1);
    expect(Math.abs(less.get(yellow)![i]! - Math.max(0, own - other))).toBeLessThanOrEqual(1);
  }
  expect(more.get(yellow)![0]).toBeGreaterThan(plain.get(yellow)![0]!);
  expect(more.get(red)).toEqual(plain.get(red));
});

test('two plates that take of each other take what each was before', () => {
  const crossed = withShare(withShare(sheet, yellow, { plateId: red, share: 0.5 }), red, {
    plateId: yellow,
    share: 0.5,
  });
  const found = fieldsOf(crossed);
  for (let i = 0; i < 4; i++) {
    const sum = (own: string, other: string) =>
      Math.min(65535, plain.get(own)![i]! + 0.5 * plain.get(other)![i]!);
    expect(Math.abs(found.get(yellow)![i]! - sum(yellow, red))).toBeLessThanOrEqual(1);
    expect(Math.abs(found.get(red)![i]! - sum(red, yellow))).toBeLessThanOrEqual(1);
  }
});

test('patches come behind shares, and a plate that is gone counts nothing', () => {
  const shared = withShare(sheet, yellow, { plateId: red, share: 0.5 });
  const whole: [number, number][] = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ];
  const cleared = withPatches(addPatch(shared, yellow, whole), yellow, (patches) =>
    patches.map((patch) => ({ ...patch, featherMm: 0, act: 'clear' as const, amount: 1 })),
  );
  expect([...fieldsOf(cleared).get(yellow)!]).toEqual([0, 0, 0, 0]);
  const alone = leaveOut(shared, red);
  expect(fieldsOf(alone).get(yellow)).toEqual(fieldsOf(leaveOut(sheet, red)).get(yellow));
});

test('shares are kept in the sheet, one for each plate, and go without a trace', () => {
  const shared = withShare(sheet, yellow, { plateId: red, share: 0.5 });
  expect(sharesOf(parseJobSheet(JSON.parse(JSON.stringify(shared))).plates[1]!)).toEqual([
    { plateId: red, share: 0.5 },
  ]);
  const changed = withShare(shared, yellow, { plateId: red, share: -0.2 });
  expect(sharesOf(changed.plates[1]!)).toEqual([{ plateId: red, share: -0.2 }]);
  expect(withShare(changed, yellow, { plateId: red, share: null })).toEqual(sheet);
  expect(withShare(sheet, yellow, { plateId: yellow, share: 0.5 })).toEqual(sheet);
});
