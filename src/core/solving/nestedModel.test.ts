import { randomOf } from '../../../tests/testSheet';
import {
  type LinearRgb,
  ciede2000,
  labFromLinear,
  layerOver,
  linearFromRgb8,
  parseHexColour,
} from '../colour';
import { ColourSolver } from './colourSolver';
import type { InkStack, StackInk } from './inkStack';
import { modelOf } from './nestedModel';

const light = (hex: string): LinearRgb => linearFromRgb8(parseHexColour(hex));
const ink = (hex: string, opacity: number, nest?: number): StackInk => ({
  colour: light(hex),
  opacity,
  cost: 'none',
  ...(nest === undefined ? {} : { nest }),
});

/** Two grids of three and two inks, and one ink whose dots lie as chance has it between them. */
const NESTS: InkStack = {
  grounds: [{ garment: light('#2a1c30'), without: [] }],
  inks: [
    ink('#f6f6f3', 0.85, 1),
    ink('#fcdc14', 0.7, 2),
    ink('#00a4be', 0.4),
    ink('#de2224', 0.75, 1),
    ink('#183aaa', 0.75, 2),
    ink('#d61878', 0.3, 1),
  ],
};

function print(stack: InkStack, tones: readonly number[]): number[] {
  const out = new Float64Array(3);
  modelOf(stack).print(Float64Array.from(tones), out);
  return [...out];
}

test('prints the mean of what stands at each threshold, as films of one grid have it', () => {
  // Independent of the parts that the model makes: thresholds of a cell in many even steps, each nest with its own, and every ink where a threshold is below its coverage.
  const STEPS = 40;
  const random = randomOf(5);
  for (let k = 0; k < 10; k++) {
    // On the steps, so that counting them is exact.
    const tones = NESTS.inks.map(() => Math.round(random() * STEPS) / STEPS);
    if (k === 0) tones.fill(0.5);
    if (k === 1) [tones[0], tones[1], tones[3]] = [1, 0, 0];
    const mean = [0, 0, 0];
    for (let u = 0; u < STEPS; u++) {
      for (let v = 0; v < STEPS; v++) {
        let colour: LinearRgb = NESTS.grounds[0]!.garment;
        NESTS.inks.forEach((each, i) => {
          const laid = layerOver(colour, each);
          const chance = (below: number, c: number) => below + tones[i]! * (laid[c]! - below);
          if (each.nest === undefined) colour = colour.map(chance) as unknown as LinearRgb;
          else if (((each.nest === 1 ? u : v) + 0.5) / STEPS < tones[i]!) colour = laid;
        });
        colour.forEach((each, c) => (mean[c]! += each / STEPS ** 2));
      }
    }
    print(NESTS, tones).forEach((each, c) => expect(each).toBeCloseTo(mean[c]!, 10));
  }
});

test('its slopes are those of small changes', () => {
  const random = randomOf(6);
  const model = modelOf(NESTS);
  for (let k = 0; k < 20; k++) {
    const tones = Float64Array.from(NESTS.inks, () => random());
    if (k % 3 === 0) tones[k % 6] = 0;
    const slopes = new Float64Array(18);
    model.print(tones, new Float64Array(3));
    model.slopes(tones, slopes);
    for (let i = 0; i < 6; i++) {
      const moved = [...tones];
      const step = 1e-7;
      moved[i]! += step;
      const [one, other] = [print(NESTS, [...tones]), print(NESTS, moved)];
      for (let c = 0; c < 3; c++) {
        expect(slopes[i * 3 + c]!).toBeCloseTo((other[c]! - one[c]!) / step, 5);
      }
    }
  }
});

test('the solver finds tones that print as well as those of a blind search do', () => {
  const one: InkStack = { ...NESTS, inks: NESTS.inks.map((each) => ({ ...each, nest: 1 })) };
  const model = modelOf(one);
  const solver = new ColourSolver(one);
  const random = randomOf(7);
  const out = new Float64Array(3);
  for (let k = 0; k < 6; k++) {
    // A colour that dots of one grid print.
    model.print(
      Float64Array.from(one.inks, (_, i) => (i === 0 ? 0.6 + 0.4 * random() : random() * 0.8)),
      out,
    );
    const wanted = labFromLinear([out[0]!, out[1]!, out[2]!]);
    const off = (tones: Float64Array) => {
      model.print(tones, out);
      return ciede2000(labFromLinear([out[0]!, out[1]!, out[2]!]), wanted);
    };
    let [best, found] = [Infinity, Infinity];
    for (const start of [0.1, 0.3, 0.5, 0.7, 0.9]) {
      const tones = new Float64Array(6).fill(start);
      solver.solve([wanted], tones, null, 40);
      found = Math.min(found, off(tones));
    }
    for (let n = 0; n < 4000; n++) best = Math.min(best, off(Float64Array.from(one.inks, () => random())));
    expect(found).toBeLessThan(best);
  }
});
