import { randomOf } from '../../../tests/testSheet';
import {
  type LinearRgb,
  ciede2000,
  decodeSrgb,
  encodeSrgb,
  labFromLinear,
  linearFromRgb8,
  parseHexColour,
} from '../colour';
import { ColourSolver, FadeTables, type InkStack, StackModel, toneFields, toneTableOf } from '.';

const light = (hex: string): LinearRgb => linearFromRgb8(parseHexColour(hex));
const ink = (hex: string, opacity: number) => ({ colour: light(hex), opacity, cost: 'none' as const });

const STACK: InkStack = {
  grounds: [{ garment: light('#17171b'), without: [] }],
  inks: [ink('#f6f6f3', 0.85), ink('#fcdc14', 0.7), ink('#de2224', 0.75), ink('#183aaa', 0.75)],
};

function printed(stack: InkStack, tones: readonly number[]): LinearRgb {
  const out = new Float64Array(3);
  new StackModel(stack).print(Float64Array.from(tones), out);
  return [out[0]!, out[1]!, out[2]!];
}

test('the print is the mean of all overlaps, each weighed by its area', () => {
  // Demichel (1924): where dots lie independently, an overlap has the product of the coverages and of what the others leave; Neugebauer (1937): the
  // print is their mean. Sixteen overlaps of four inks, each laid as full layers.
  const random = randomOf(7);
  for (let k = 0; k < 50; k++) {
    const tones = STACK.inks.map(() => random());
    const mean = [0, 0, 0];
    for (let overlap = 0; overlap < 16; overlap++) {
      let area = 1;
      let colour = [...STACK.grounds[0]!.garment];
      STACK.inks.forEach(({ colour: own, opacity }, j) => {
        const covers = (overlap >> j) % 2 === 1;
        area *= covers ? tones[j]! : 1 - tones[j]!;
        if (covers) colour = colour.map((below, c) => opacity * own[c]! + (1 - opacity) * below * own[c]!);
      });
      colour.forEach((each, c) => (mean[c]! += area * each));
    }
    printed(STACK, tones).forEach((each, c) => expect(each).toBeCloseTo(mean[c]!, 12));
  }
});

test('the slopes are those of the print', () => {
  const random = randomOf(11);
  const model = new StackModel(STACK);
  const slopes = new Float64Array(12);
  const tones = Float64Array.from(STACK.inks, () => 0.1 + 0.8 * random());
  model.print(tones, new Float64Array(3));
  model.slopes(tones, slopes);
  STACK.inks.forEach((_, k) => {
    const at = (change: number) =>
      printed(
        STACK,
        [...tones].map((tone, j) => (j === k ? tone + change : tone)),
      );
    const [above, below] = [at(1e-5), at(-1e-5)];
    above.forEach((each, c) => expect(slopes[k * 3 + c]).toBeCloseTo((each - below[c]!) / 2e-5, 6));
  });
});

describe('a solved colour', () => {
  const random = randomOf(3);
  const wanted = Array.from({ length: 200 }, () => STACK.inks.map(() => Math.max(0, random() * 1.4 - 0.4)));

  it('prints as itself wherever the inks reach it', () => {
    const solver = new ColourSolver(STACK);
    const differences = wanted.map((tones) => {
      const lab = labFromLinear(printed(STACK, tones));
      // From one start alone it may end in a valley beside the lowest.
      const [first, second] = [0.15, 0.5].map((start) => {
        const found = new Float64Array(4).fill(start);
        const worth = solver.solve([lab], found, null);
        expect(found.every((tone) => tone >= 0 && tone <= 1)).toBe(true);
        return { found, worth };
      });
      const { found } = first!.worth < second!.worth ? first! : second!;
      return ciede2000(lab, labFromLinear(printed(STACK, [...found])));
    });
    const mean = differences.reduce((sum, each) => sum + each, 0) / differences.length;
    expect(mean).toBeLessThan(0.3);
    expect(Math.max(...differences)).toBeLessThan(1.5);
  });

  it('costs no more than what a search of the whole space by chance and by small steps finds', () => {
    // A general optimiser beside it: random starts, then steps that shrink where none helps (Rastrigin's random search with reductions, 1963).
    const solver = new ColourSolver(STACK);
    for (const hex of ['#7a3b10', '#88a0c8', '#f0e0a0', '#00d050', '#302050', '#ff00ff']) {
      const lab = labFromLinear(light(hex));
      const value = (tones: Float64Array) => new ColourSolver(STACK).worth([lab], tones);
      let least = Infinity;
      for (let start = 0; start < 12; start++) {
        let tones = Float64Array.from(STACK.inks, () => random());
        let own = value(tones);
        for (let size = 0.3; size > 1e-4;) {
          let better = false;
          for (let k = 0; k < 40; k++) {
            const next = tones.map((tone) => Math.min(1, Math.max(0, tone + size * (2 * random() - 1))));
            const reached = value(next);
            if (reached < own) [tones, own, better] = [next, reached, true];
          }
          if (!better) size /= 2;
        }
        least = Math.min(least, own);
      }
      const found = [0.15, 0.5].map((start) => solver.solve([lab], new Float64Array(4).fill(start), null));
      expect(Math.min(...found)).toBeLessThan(least + 0.02 + 0.01 * least);
    }
  });
});

describe('a table', () => {
  const table = toneTableOf(STACK);
  const tones = new Uint16Array(4);
  const shares = () => [...tones].map((tone) => tone / 65535);

  it('prints colours that the inks reach within what an eye sees', () => {
    const random = randomOf(5);
    let [sum, count] = [0, 0];
    for (let k = 0; k < 3000; k++) {
      const amounts = STACK.inks.map((_, j) =>
        j === 0 && random() < 0.6 ? 1 : Math.max(0, random() * 1.6 - 0.6),
      );
      const linear = printed(STACK, amounts);
      const codes = linear.map(
        (each) => 255 * (each <= 0.0031308 ? 12.92 * each : 1.055 * each ** (1 / 2.4) - 0.055),
      );
      if (codes.some((code) => code < 0 || code > 255)) continue;
      const rgb = codes.map((code) => Math.round(code)) as [number, number, number];
      table.find(...rgb, tones);
      sum += ciede2000(labFromLinear(linearFromRgb8(rgb)), labFromLinear(printed(STACK, shares())));
      count++;
    }
    expect(count).toBeGreaterThan(2500);
    expect(sum / count).toBeLessThan(0.8);
  });

  it('leaves the garment bare where it is wanted, and never jumps from one colour to the next', () => {
    table.find(0x17, 0x17, 0x1b, tones);
    expect(Math.max(...shares())).toBeLessThan(0.03);
    let before: number[] | null = null;
    for (let code = 0; code < 256; code++) {
      table.find(code, 255 - code, 128, tones);
      const now = shares();
      before?.forEach((each, k) => expect(Math.abs(each - now[k]!)).toBeLessThan(0.08));
      before = now;
    }
  });

  it('gives the same for pixels beside each other as for each alone', () => {
    const colours = Uint32Array.from([0x0000ff, 0x0000ff, 0x123456, 0xffffff, 0x0000ff]);
    const wanted = Uint8Array.from([1, 1, 0, 1, 1]);
    const planes = STACK.inks.map(() => new Uint16Array(5).fill(9));
    toneFields({ table, colours, wanted, planes });
    colours.forEach((colour, i) => {
      table.find(colour & 255, (colour >> 8) & 255, colour >> 16, tones);
      planes.forEach((plane, k) => expect(plane[i]).toBe(wanted[i] === 0 ? 0 : tones[k]));
    });
  });
});

describe('a colour that fades out', () => {
  const onBlack = { garment: light('#17171b'), without: [4] };
  const onWhite = { garment: light('#fafaf8'), without: [0] };
  const both: InkStack = {
    grounds: [onBlack, onWhite],
    inks: [STACK.inks[0]!, ...STACK.inks.slice(1), ink('#16161a', 0.95)],
  };

  it('prints nothing where nothing of it is left, and as a table says where all of it is there', () => {
    const fades = new FadeTables(both);
    const [tones, whole] = [new Uint16Array(5), new Uint16Array(5)];
    fades.find(0x00336699, tones);
    expect([...tones]).toEqual([0, 0, 0, 0, 0]);
    fades.find(0xff336699, tones);
    toneTableOf(both).find(0x99, 0x66, 0x33, whole);
    expect([...tones]).toEqual([...whole]);
  });

  it('is looked up among many as it is alone', () => {
    const fades = new FadeTables(both);
    const random = randomOf(31);
    const colours = Uint32Array.from({ length: 300 }, () => Math.floor(random() * 2 ** 32));
    const at = Int32Array.from({ length: 150 }, (_, k) => k * 2);
    const planes = both.inks.map(() => new Uint16Array(300).fill(7));
    fades.fields({ colours, at, planes, toneFields });
    const tones = new Uint16Array(5);
    colours.forEach((colour, i) => {
      fades.find(colour, tones);
      planes.forEach((plane, k) => expect(plane[i]).toBe(i % 2 === 0 ? tones[k] : 7));
    });
  });

  it('lies between itself and each garment, as programs that draw mix codes', () => {
    // Where black would print first its dots stand for the black garment; here it prints last, and the two garments agree less.
    const fades = new FadeTables(both);
    const tones = new Uint16Array(5);
    let [sum, count, opaque] = [0, 0, 0];
    for (const [r, g, b] of [
      [200, 120, 60],
      [90, 130, 170],
      [160, 150, 140],
      [120, 90, 150],
    ] as const) {
      for (const opacity of [0.25, 0.4, 0.5, 0.75]) {
        fades.find((r | (g << 8) | (b << 16) | (Math.round(opacity * 255) << 24)) >>> 0, tones);
        for (const ground of both.grounds) {
          const out = new Float64Array(3);
          new StackModel(both, ground).print(
            Float64Array.from(tones, (tone) => tone / 65535),
            out,
          );
          const print = labFromLinear([out[0]!, out[1]!, out[2]!]);
          const code = (c: number, light: number) =>
            decodeSrgb((c / 255) * opacity + encodeSrgb(light) * (1 - opacity));
          const [lr, lg, lb] = ground.garment;
          sum += ciede2000(print, labFromLinear([code(r, lr), code(g, lg), code(b, lb)]));
          opaque += ciede2000(print, labFromLinear(linearFromRgb8([r, g, b])));
          count++;
        }
      }
    }
    expect(sum / count).toBeLessThan(8);
    expect(sum / count).toBeLessThan(opaque / count / 2);
  });
});

test('a draft is found from a table that is known, and is near to the one that is found with care', () => {
  const stack = (yellow: string): InkStack => ({
    grounds: STACK.grounds,
    inks: STACK.inks.map((each, k) => (k === 1 ? ink(yellow, 0.7) : each)),
  });
  toneTableOf(stack('#fcdc14'));
  const other = stack('#f4c030');
  const draft = toneTableOf({ ...other, draft: true });
  const careful = toneTableOf(other);
  expect(draft).not.toBe(careful);
  const random = randomOf(17);
  const differences = Array.from({ length: 200 }, () => {
    const [r, g, b] = [random(), random(), random()].map((each) => Math.floor(each * 256));
    const labs = [draft, careful].map((table) => {
      const tones = new Uint16Array(4);
      table.find(r!, g!, b!, tones);
      return labFromLinear(
        printed(
          other,
          [...tones].map((tone) => tone / 65535),
        ),
      );
    });
    return ciede2000(labs[0]!, labs[1]!);
  });
  expect(differences.reduce((sum, each) => sum + each, 0) / differences.length).toBeLessThan(1);
  // Once it is found with care, it is never a draft again.
  expect(toneTableOf({ ...other, draft: true })).toBe(careful);
});
