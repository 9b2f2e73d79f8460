import { deltaE76, labFromRgb8 } from '../colour';
import { ColourCount } from '.';

const code = (r: number, g: number, b: number) => r | (g << 8) | (b << 16) | 0xff000000;

test('colours have the share of the pixels that print them, whatever pieces they come in', () => {
  const count = new ColourCount();
  count.add(Uint32Array.from([code(200, 10, 10), code(200, 10, 10), code(0, 0, 0)]), Uint8Array.of(1, 1, 0));
  count.add(Uint32Array.from([code(10, 10, 200), code(10, 10, 200)]), Uint8Array.of(1, 0));
  const found = count.weigh(8);
  expect(found).toHaveLength(2);
  const red = found.find(({ lab }) => deltaE76(lab, labFromRgb8([200, 10, 10])) < 0.01)!;
  const blue = found.find(({ lab }) => deltaE76(lab, labFromRgb8([10, 10, 200])) < 0.01)!;
  expect(red.share).toBeCloseTo(2 / 3, 9);
  expect(blue.share).toBeCloseTo(1 / 3, 9);
});

test('many colours are gathered to a few that keep the mean and lie near all', () => {
  const colours = Uint32Array.from({ length: 4096 }, (_, i) =>
    code((i & 15) * 17, ((i >> 4) & 15) * 17, (i >> 8) * 17),
  );
  const count = new ColourCount();
  count.add(colours, new Uint8Array(4096).fill(1));
  const few = count.weigh(64);
  const many = count.weigh(1024);
  expect(few).toHaveLength(64);
  const labs = [...colours].map((c) => labFromRgb8([c & 255, (c >> 8) & 255, (c >> 16) & 255]));
  for (const axis of [0, 1, 2] as const) {
    const mean = labs.reduce((sum, lab) => sum + lab[axis], 0) / labs.length;
    // Cells of eight codes are told by the mean of their codes, which is not quite that of their colours.
    expect(few.reduce((sum, { lab, share }) => sum + share * lab[axis], 0)).toBeCloseTo(mean, 1);
  }
  const away = (set: typeof few) =>
    labs.reduce((sum, lab) => sum + Math.min(...set.map((each) => deltaE76(each.lab, lab))), 0) / labs.length;
  expect(away(few)).toBeLessThan(14);
  expect(away(many)).toBeLessThan(away(few) / 2);
  expect(count.weigh(1)[0]!.share).toBeCloseTo(1, 9);
});

test('where nothing prints there are no colours', () => {
  const count = new ColourCount();
  count.add(Uint32Array.of(code(1, 2, 3)), Uint8Array.of(0));
  expect(count.weigh(10)).toEqual([]);
});
