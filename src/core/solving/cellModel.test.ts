import { randomOf } from '../../../tests/testSheet';
import { type LinearRgb, ciede2000, labFromLinear, linearFromRgb8, parseHexColour } from '../colour';
import { CellAreas } from './cellModel';
import { modelOf } from './nestedModel';
import { ColourSolver } from './colourSolver';
import type { InkStack, StackInk } from './inkStack';

const light = (hex: string): LinearRgb => linearFromRgb8(parseHexColour(hex));
const ink = (hex: string, opacity: number, cell?: StackInk['cell']): StackInk => ({
  colour: light(hex),
  opacity,
  cost: 'none',
  ...(cell && { cell }),
});
const under = { group: 1, under: true };
const beside = { group: 1, under: false };

/** A base and three inks that divide cells, with an ink between them and one on top whose dots lie as chance has it. */
const MIXED: InkStack = {
  grounds: [{ garment: light('#2a1c30'), without: [] }],
  inks: [
    ink('#f6f6f3', 0.85, under),
    ink('#fcdc14', 0.7, beside),
    ink('#00a4be', 0.4),
    ink('#de2224', 0.75, beside),
    ink('#183aaa', 0.75, beside),
    ink('#d61878', 0.3),
  ],
};
/** The same without those two. */
const CELLS: InkStack = { ...MIXED, inks: MIXED.inks.filter(({ cell }) => cell) };

function print(stack: InkStack, tones: readonly number[]): LinearRgb {
  const out = new Float64Array(3);
  modelOf(stack).print(Float64Array.from(tones), out);
  return [out[0]!, out[1]!, out[2]!];
}

/** Areas of a cell that leave some of it bare, and the coverages that they have: those of the base are all of them. */
function cellTones(random: () => number, others: number) {
  const parts = Array.from({ length: others + 2 }, () => random());
  const sum = parts.reduce((all, part) => all + part, 0);
  const [bare, white, ...inks] = parts.map((part) => part / sum) as [number, number, ...number[]];
  return { bare, white, inks, base: 1 - bare };
}

test('a divided cell prints as the mean of its areas, each laid as full layers', () => {
  // Neugebauer (1937): the print is the mean of what lies in each part of it, by area. Beside it Demichel (1924) for the two inks that lie by chance.
  const random = randomOf(21);
  for (let k = 0; k < 40; k++) {
    const { bare, white, inks, base } = cellTones(random, 3);
    const [between, top] = [random(), random()];
    const mean = [0, 0, 0];
    const add = (area: number, layers: readonly number[]) => {
      let colour = [...MIXED.grounds[0]!.garment];
      for (const layer of layers) {
        const { colour: own, opacity } = MIXED.inks[layer]!;
        colour = colour.map((below, c) => opacity * own[c]! + (1 - opacity) * below * own[c]!);
      }
      colour.forEach((each, c) => (mean[c]! += area * each));
    };
    const parts: [number, number[]][] = [
      [bare, []],
      [white, [0]],
      [inks[0]!, [0, 1]],
      [inks[1]!, [0, 3]],
      [inks[2]!, [0, 4]],
    ];
    for (const [area, layers] of parts) {
      for (const chance of [0, 1, 2, 3]) {
        const has = [(chance & 1) === 1, chance > 1];
        const weight = (has[0] ? between : 1 - between) * (has[1] ? top : 1 - top);
        const all = [...layers, ...(has[0] ? [2] : []), ...(has[1] ? [5] : [])].sort((p, q) => p - q);
        add(area * weight, all);
      }
    }
    const tones = [base, inks[0]!, between, inks[1]!, inks[2]!, top];
    print(MIXED, tones).forEach((each, c) => expect(each).toBeCloseTo(mean[c]!, 12));
  }
});

test('the slopes are those of the print', () => {
  const random = randomOf(5);
  const model = modelOf(MIXED);
  const { base, inks } = cellTones(random, 3);
  const tones = [base, inks[0]!, 0.4, inks[1]!, inks[2]!, 0.7];
  const slopes = new Float64Array(tones.length * 3);
  model.print(Float64Array.from(tones), new Float64Array(3));
  model.slopes(Float64Array.from(tones), slopes);
  tones.forEach((_, k) => {
    const at = (change: number) =>
      print(
        MIXED,
        tones.map((tone, j) => (j === k ? tone + change : tone)),
      );
    const [above, below] = [at(1e-5), at(-1e-5)];
    above.forEach((each, c) => expect(slopes[k * 3 + c]).toBeCloseTo((each - below[c]!) / 2e-5, 6));
  });
});

describe('a colour that is solved for divided cells', () => {
  const random = randomOf(9);
  const areas = new CellAreas(CELLS);
  const solver = new ColourSolver(CELLS);
  const solve = (lab: readonly [number, number, number]) => {
    const tones = Float64Array.from([0.5, 0.15, 0.15, 0.15]);
    const worth = solver.solve([lab], tones, null, 12);
    return { tones, worth };
  };

  it('fills no cell more than once, and has its inks on the base', () => {
    for (let k = 0; k < 60; k++) {
      const lab = labFromLinear([random(), random(), random()]);
      const [base, ...inks] = solve(lab).tones as unknown as number[];
      const sum = inks.reduce((all, tone) => all + tone, 0);
      expect(sum).toBeLessThan(1 + 1e-9);
      expect(base!).toBeGreaterThan(sum - 1e-9);
      expect(base!).toBeLessThan(1 + 1e-9);
    }
  });

  it('prints as itself wherever the inks reach it', () => {
    const differences = Array.from({ length: 150 }, () => {
      const { inks, base } = cellTones(random, 3);
      const lab = labFromLinear(print(CELLS, [base, ...inks]));
      return ciede2000(lab, labFromLinear(print(CELLS, [...solve(lab).tones])));
    });
    expect(differences.reduce((sum, each) => sum + each, 0) / differences.length).toBeLessThan(0.15);
    expect(Math.max(...differences)).toBeLessThan(0.5);
  });

  it('costs no more than what a search by chance and by shrinking steps finds', () => {
    // Rastrigin's random search with reductions (1963), in the areas of a cell.
    const value = (shown: Float64Array) => {
      const tones = new Float64Array(4);
      areas.toTones(shown, tones);
      return new ColourSolver(CELLS).worth([lab], tones);
    };
    let lab = labFromLinear([0, 0, 0]);
    for (const hex of ['#7a3b10', '#88a0c8', '#f0e0a0', '#00d050', '#302050', '#ff00ff', '#ffffff']) {
      lab = labFromLinear(light(hex));
      let least = Infinity;
      for (let start = 0; start < 6; start++) {
        const { white, inks } = cellTones(random, 3);
        let shown = Float64Array.from([white, ...inks]);
        let own = value(shown);
        for (let size = 0.3; size > 1e-4;) {
          let better = false;
          for (let k = 0; k < 40; k++) {
            const next = shown.map((area) => Math.max(0, area + size * (2 * random() - 1)));
            const sum = next.reduce((all, area) => all + area, 0);
            if (sum > 1) next.forEach((area, j) => (next[j] = area / sum));
            const reached = value(next);
            if (reached < own) [shown, own, better] = [next, reached, true];
          }
          if (!better) size /= 2;
        }
        least = Math.min(least, own);
      }
      expect(solve(lab).worth).toBeLessThan(least + 0.02 + 0.01 * least);
    }
  });

  it('prints on a garment that its base does not run for as on the bare garment', () => {
    const stack = { ...CELLS, grounds: [{ garment: light('#f4f4f2'), without: [0] }] };
    const bare = {
      ...CELLS,
      inks: CELLS.inks.slice(1),
      grounds: [{ garment: light('#f4f4f2'), without: [] }],
    };
    const on = print(stack, [0.9, 0.2, 0.3, 0.1]);
    print(bare, [0.2, 0.3, 0.1]).forEach((each, c) => expect(on[c]).toBeCloseTo(each, 12));
  });
});
