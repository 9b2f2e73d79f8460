import { type Rgb8, ciede2000, labFromLinear, labFromRgb8, linearFromRgb8, parseHexColour } from '../colour';
import { modelOf } from './nestedModel';
import { TABLE_SIDE } from './codes';
import type { InkStack } from './inkStack';
import { toneTableOf } from './toneTable';

const light = (hex: string) => linearFromRgb8(parseHexColour(hex));
const ink = (colour: string, opacity: number, cost: 'none' | 'dark' = 'none') => ({
  colour: light(colour),
  opacity,
  cost,
});

/** Yellow, red, blue and black on a white garment. */
const plain: InkStack = {
  grounds: [{ garment: light('#fafaf8'), without: [] }],
  inks: [
    ink('#fcdc14', 0.7),
    ink('#de2224', 0.75),
    ink('#183aaa', 0.75, 'dark'),
    ink('#16161a', 0.95, 'dark'),
  ],
};
const LONE = 0.04;
const calm: InkStack = { ...plain, inks: plain.inks.map((each) => ({ ...each, lone: LONE })) };

const model = modelOf(plain);
const print = (tones: Float64Array) => {
  const out = new Float64Array(3);
  model.print(tones, out);
  return labFromLinear([out[0]!, out[1]!, out[2]!]);
};

/** Inks of a colour whose dots stand alone and differ by 30 in lightness from what is round them. */
function loneOf(tones: Float64Array): number[] {
  return [...tones.keys()].filter((k) => {
    if (tones[k]! <= 0.002 || tones[k]! >= LONE) return false;
    const [dot, round] = [1, 0].map((tone) => print(tones.with(k, tone))[0]);
    return Math.abs(dot! - round!) >= 30;
  });
}

function tonesAt(stack: InkStack, [r, g, b]: Rgb8): Float64Array {
  const found = new Uint16Array(stack.inks.length);
  toneTableOf(stack).find(r, g, b, found);
  return Float64Array.from(found, (tone) => tone / 65535);
}

/** The colours that a table is solved for. */
function nodes(): Rgb8[] {
  const codes = Array.from({ length: TABLE_SIDE }, (_, k) => Math.round((k * 255) / (TABLE_SIDE - 1)));
  return codes.flatMap((r) => codes.flatMap((g) => codes.map((b): Rgb8 => [r, g, b])));
}

test('light colours lose their lone dark dots, as far as others make up for them within 1', () => {
  let [before, after] = [0, 0];
  let worst = 0;
  for (const rgb of nodes()) {
    const lab = labFromRgb8(rgb);
    if (lab[0] < 60) continue;
    const [with_, without] = [tonesAt(plain, rgb), tonesAt(calm, rgb)];
    if (loneOf(with_).length > 0) before++;
    if (loneOf(without).length > 0) after++;
    worst = Math.max(worst, ciede2000(print(without), lab) - ciede2000(print(with_), lab));
  }
  expect(before).toBeGreaterThan(500);
  expect(after).toBeLessThan(before * 0.7);
  // The solver's weighed difference is near to CIEDE2000, not the same; neighbours pull a little more.
  expect(worst).toBeLessThan(2);
});

test('light skin is printed without lone dots', () => {
  // Light skin tones: few dark dots in them are seen at once. Common practice, no source.
  for (const rgb of [
    [240, 200, 170],
    [232, 184, 150],
  ] as Rgb8[]) {
    const tones = tonesAt(calm, rgb);
    expect(loneOf(tones)).toEqual([]);
    expect(ciede2000(print(tones), labFromRgb8(rgb))).toBeLessThan(
      ciede2000(print(tonesAt(plain, rgb)), labFromRgb8(rgb)) + 1,
    );
  }
});

test('colours that no lone dots are near to are printed as before', () => {
  const one = tonesAt(plain, [40, 40, 40]);
  const other = tonesAt(calm, [40, 40, 40]);
  one.forEach((tone, k) => expect(other[k]).toBeCloseTo(tone, 2));
});

test('the table stays smooth: a gradient of the artwork is one of every plate', () => {
  const { entries, lanes, count } = toneTableOf(calm);
  const steps: number[] = [];
  for (let node = 0; node < TABLE_SIDE ** 3; node++) {
    for (const [stride, place] of [
      [1, node % TABLE_SIDE],
      [TABLE_SIDE, Math.floor(node / TABLE_SIDE) % TABLE_SIDE],
      [TABLE_SIDE ** 2, Math.floor(node / TABLE_SIDE ** 2)],
    ] as const) {
      if (place === TABLE_SIDE - 1) continue;
      let most = 0;
      for (let k = 0; k < count; k++) {
        const step = Math.abs(entries[(node + stride) * lanes + k]! - entries[node * lanes + k]!);
        most = Math.max(most, step / 65535);
      }
      steps.push(most);
    }
  }
  steps.sort((p, q) => p - q);
  // What a table is asked for: 95 % of the steps between neighbouring nodes within 0.16, the largest within 0.45.
  expect(steps[Math.floor(steps.length * 0.95)]).toBeLessThan(0.16);
  expect(steps.at(-1)).toBeLessThan(0.45);
});
