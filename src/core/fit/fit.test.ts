import { testSheet } from '../../../tests/testSheet';
import { PLAIN_KERNELS } from '../kernels';
import { FRESH_MEMORY } from '../raster';
import {
  BARE,
  type LabelMap,
  changePlate,
  changeRole,
  mergePlates,
  setBaseUnder,
  setLightBase,
  trapPairs,
} from '../separation';
import {
  type JobSheet,
  type TrapPairSetting,
  effectiveChokeMm,
  paletteOf,
  parseJobSheet,
  withPairSetting,
  withPalette,
} from '../sheet';
import { FitStages, NOTHING_NEAR, fitGrowthMm, fitHalo, fitPlates, shapeStages, touchedBy } from '.';

// Discs and half planes at 20 pixels to the millimetre: what fit makes of them is known from their geometry.

const PX_PER_MM = 20;
const SIDE = 160;

const sheet = testSheet({
  colours: [
    { rgb: [200, 56, 46], area: 0.5 },
    { rgb: [16, 20, 28], area: 0.3 },
  ],
  print: { widthMm: 100, chosen: false },
  garment: { name: 'Royal', colour: '#1d3f9b' },
});
/** Red on a base, and a dark ink without one. */
const dark = paletteOf(sheet)[1]!.plateId!;
const red = paletteOf(sheet)[0]!.plateId!;
const job = changePlate(sheet, dark, { baseStrength: 0 });
const base = job.plates.find(({ role }) => role === 'underbase')!.id;

type Fit = Partial<JobSheet['fit']>;
const with_ = (fit: Fit, from: JobSheet = job): JobSheet => ({
  ...from,
  fit: {
    ...from.fit,
    chokeMm: 0,
    spreadMm: 0,
    underDarkMm: 0,
    highlightChokeMm: 0,
    keepMm: 0,
    ...fit,
  },
});

/** Labels by what stands at a place, in millimetres from the middle. */
function labelsOf(at: (x: number, y: number) => number): LabelMap {
  const label = new Uint8Array(SIDE * SIDE);
  for (let i = 0; i < label.length; i++) {
    const [x, y] = [(i % SIDE) + 0.5 - SIDE / 2, Math.floor(i / SIDE) + 0.5 - SIDE / 2];
    label[i] = at(x / PX_PER_MM, y / PX_PER_MM);
  }
  return { rect: { x: 0, y: 0, width: SIDE, height: SIDE }, label, tones: null };
}

const disc = (radius: number) => labelsOf((x, y) => (Math.hypot(x, y) < radius ? 0 : BARE));

/** Area of a plate in square millimetres. */
function areaOf(labels: LabelMap, of: JobSheet, plateId: string): number {
  const { planes } = fitPlates(labels, of, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY);
  const { shape } = planes.find(({ plate }) => plate.id === plateId)!;
  return shape.reduce((sum, value) => sum + (value === 255 ? 1 : 0), 0) / PX_PER_MM ** 2;
}

const ring = (radius: number) => Math.PI * radius ** 2;
/** Half a pixel all round a disc of 3 mm. */
const ROUND_ERROR = 2 * Math.PI * 3 * (0.5 / PX_PER_MM);

test.each([0.1, 0.25, 0.5])('a base is choked by %s mm all round, and the colour stays', (mm) => {
  expect(Math.abs(areaOf(disc(3), with_({ chokeMm: mm }), base) - ring(3 - mm))).toBeLessThan(ROUND_ERROR);
  expect(Math.abs(areaOf(disc(3), with_({ chokeMm: mm }), red) - ring(3))).toBeLessThan(ROUND_ERROR);
});

test.each([0.1, 0.3])(
  'a colour is spread by %s mm into bare garment; its base ends at the choke from the edge that the artwork has',
  (mm) => {
    const spread = with_({ spreadMm: mm, chokeMm: 0.2 });
    expect(Math.abs(areaOf(disc(3), spread, red) - ring(3 + mm))).toBeLessThan(ROUND_ERROR);
    expect(Math.abs(areaOf(disc(3), spread, base) - ring(3 - 0.2))).toBeLessThan(ROUND_ERROR);
    expect(fitGrowthMm(spread)).toBe(mm);
  },
);

test('a highlight is drawn back by its own choke', () => {
  const lit = changeRole(job, red, 'highlight');
  const area = areaOf(disc(3), with_({ highlightChokeMm: 0.2 }, lit), red);
  expect(Math.abs(area - ring(2.8))).toBeLessThan(ROUND_ERROR);
});

test('base runs under a dark ink beside it, as far as it is told and no farther', () => {
  // Red on the left half, dark on the right one, 6 mm high; nothing is bare within reach of the middle.
  const halves = labelsOf((x) => (x < 0 ? 0 : 1));
  const plain = areaOf(halves, with_({}), base);
  const under = areaOf(halves, with_({ underDarkMm: 0.3 }), base);
  expect(under - plain).toBeCloseTo((0.3 * SIDE) / PX_PER_MM, 0);
});

test('a stroke that the choke would take keeps a core of the width that is to be kept', () => {
  // 0.3 mm wide: a choke of 0.2 mm from both sides leaves nothing.
  const stroke = labelsOf((x, y) => (Math.abs(x) < 0.15 && Math.abs(y) < 3 ? 0 : BARE));
  expect(areaOf(stroke, with_({ chokeMm: 0.2 }), base)).toBe(0);
  const kept = areaOf(stroke, with_({ chokeMm: 0.2, keepMm: 0.15 }), base);
  // Within a pixel of its width.
  expect(Math.abs(kept / 6 - 0.15)).toBeLessThan(1 / PX_PER_MM);
});

describe('stages', () => {
  const all = with_({ chokeMm: 0.2, spreadMm: 0.1, underDarkMm: 0.3, highlightChokeMm: 0.1, keepMm: 0.1 });

  it('that change nothing are not there', () => {
    expect(shapeStages(with_({}))).toEqual([]);
    expect(fitHalo(with_({}), PX_PER_MM)).toBe(0);
    expect(shapeStages(all).map(({ name }) => name)).toEqual([
      'spread',
      'highlight choke',
      'under dark',
      'base choke',
    ]);
  });

  it('have keys of their settings alone', () => {
    const keys = (of: JobSheet) => shapeStages(of).map(({ key }) => key);
    expect(keys({ ...all, name: 'Other', plates: [] })).toEqual(keys(all));
    expect(keys(with_({ ...all.fit, underDarkMm: 0.4 }))).not.toEqual(keys(all));
  });

  it('touch a block where what they look for is near', () => {
    const ready = shapeStages(all);
    expect(touchedBy(ready, NOTHING_NEAR)).toBe('nothing');
    expect(touchedBy(ready, { ...NOTHING_NEAR, darkBesideBased: true })).toBe('everything');
    expect(touchedBy(ready, { ...NOTHING_NEAR, bareNear: true })).toBe('everything');
    expect(touchedBy(shapeStages(with_({ chokeMm: 0.2 })), { ...NOTHING_NEAR, bareNear: true })).toBe('base');
    expect(touchedBy(shapeStages(with_({ trapMm: 0.2 })), { ...NOTHING_NEAR, bareNear: true })).toBe(
      'nothing',
    );
    expect(touchedBy(shapeStages(with_({ trapMm: 0.2 })), { ...NOTHING_NEAR, edgeNear: true })).toBe(
      'everything',
    );
  });

  it('look far enough: what lies farther changes nothing in the middle', () => {
    const halo = Math.ceil(fitHalo(all, PX_PER_MM));
    const near = disc(2);
    const far = labelsOf((x, y) => {
      const beyond = Math.max(Math.abs(x), Math.abs(y)) * PX_PER_MM > 10 + halo;
      return beyond ? 1 : Math.hypot(x, y) < 2 ? 0 : BARE;
    });
    const middle = (labels: LabelMap) =>
      fitPlates(labels, all, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY).planes.map(({ shape }) =>
        [...shape].filter((_, i) => {
          const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
          return Math.abs(x - SIDE / 2) < 10 && Math.abs(y - SIDE / 2) < 10;
        }),
      );
    expect(middle(far)).toEqual(middle(near));
  });

  it('that were made for the same labels are used again, and the next one begins behind them', () => {
    const labels = disc(3);
    const made = new FitStages();
    const first = fitPlates(labels, all, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY, made);
    const changed = with_({ ...all.fit, chokeMm: 0.4 });
    const second = fitPlates(labels, changed, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY, made);
    const shape = ({ planes }: typeof first, id: string) =>
      planes.find(({ plate }) => plate.id === id)!.shape;
    expect(shape(second, red)).toBe(shape(first, red));
    expect(shape(second, base)).not.toEqual(shape(first, base));
    const fresh = fitPlates(labels, changed, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY);
    expect(shape(second, base)).toEqual(shape(fresh, base));
  });
});

describe('a trap', () => {
  /** Pixels of a plate's plane. */
  const shapeOf = (labels: LabelMap, of: JobSheet, plateId: string) =>
    fitPlates(labels, of, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY).planes.find(
      ({ plate }) => plate.id === plateId,
    )!.shape;
  const trapped = (mm: number, from = job) => with_({ trapMm: mm }, from);
  // The first of the job's plates that print colour prints first.
  const [first, later] = job.plates.filter(({ role }) => role === 'colour').map(({ id }) => id) as [
    string,
    string,
  ];
  const labelOfPlate = (id: string) => paletteOf(job).findIndex(({ plateId }) => plateId === id);
  const [one, other] = [labelOfPlate(first), labelOfPlate(later)];

  it.each([0.1, 0.15, 0.3])('of %s mm runs the light colour under the dark one, which stays', (mm) => {
    const halves = labelsOf((x) => (x < 0 ? 0 : 1));
    const [source, target] = [red, dark];
    const grownBy =
      (areaOf(halves, trapped(mm), source) - areaOf(halves, trapped(0), source)) / (SIDE / PX_PER_MM);
    expect(Math.abs(grownBy - mm)).toBeLessThan(0.5 / PX_PER_MM);
    expect(areaOf(halves, trapped(mm), target)).toBe(areaOf(halves, trapped(0), target));
    expect(areaOf(halves, trapped(mm), base)).toBe(areaOf(halves, trapped(0), base));
  });

  it('turns with the print order where the later ink hides what is under it', () => {
    // Two opaque inks that are equally light: only the order tells them apart.
    const hue = (of: JobSheet, id: string, colour: string): JobSheet => {
      const plate = of.plates.find((each) => each.id === id)!;
      return changePlate(of, id, { ink: { ...plate.ink, colour, opacity: 0.98 }, baseStrength: 1 });
    };
    const opaque = hue(hue(job, first, '#b06a2c'), later, '#2f8f5b');
    const turned = { ...opaque, plates: [...opaque.plates].reverse() };
    const pair = (of: JobSheet) => trapPairs(of).map(({ source, target }) => [source, target]);
    expect(pair(opaque)).toEqual([[first, later]]);
    expect(pair(turned)).toEqual([[later, first]]);
  });

  describe('set for one pair by hand', () => {
    const halves = labelsOf((x) => (x < 0 ? 0 : 1));
    const grownBy = (of: JobSheet, id: string) =>
      (areaOf(halves, of, id) - areaOf(halves, trapped(0), id)) / (SIDE / PX_PER_MM);
    const by = (grows: TrapPairSetting['grows'], mm: number | null, jobMm = 0.15) =>
      withPairSetting(trapped(jobMm), { plateIds: [dark, red], grows, mm, clearMm: 0 });

    it('grows the other way, as far as it says', () => {
      const turned = by({ plateId: dark }, 0.3);
      expect(Math.abs(grownBy(turned, dark) - 0.3)).toBeLessThan(0.5 / PX_PER_MM);
      expect(grownBy(turned, red)).toBe(0);
    });

    it('meets where it is told to', () => {
      const none = by('none', null);
      expect([grownBy(none, red), grownBy(none, dark)]).toEqual([0, 0]);
    });

    it('is trapped though the job is not', () => {
      expect(Math.abs(grownBy(by('model', 0.2, 0), red) - 0.2)).toBeLessThan(0.5 / PX_PER_MM);
    });

    it('leaves bare garment between them, and the base drawn back from that', () => {
      const gap = by('gap', 0.5, 0);
      for (const id of [red, dark]) expect(Math.abs(grownBy(gap, id) + 0.25)).toBeLessThan(0.5 / PX_PER_MM);
      // Without it the base runs under the dark ink; with it it ends as far inside of the red as from any bare garment.
      const choke = effectiveChokeMm(gap);
      const plain = with_({ trapMm: 0, underDarkMm: 0 });
      const shorter = (areaOf(halves, gap, base) - areaOf(halves, plain, base)) / (SIDE / PX_PER_MM);
      expect(Math.abs(shorter + 0.25 + choke)).toBeLessThan(1 / PX_PER_MM);
    });

    it('has a gap of 0.02 in where it does not say how wide', () => {
      expect(Math.abs(grownBy(by('gap', null, 0.15), red) + 0.254)).toBeLessThan(0.5 / PX_PER_MM);
    });

    it('is forgotten when nothing of its own is left, and when a plate of it goes', () => {
      const plain: TrapPairSetting = { plateIds: [red, dark], grows: 'model', mm: null, clearMm: 0 };
      expect(withPairSetting(by('none', null), plain)).toEqual(trapped(0.15));
      const merged = mergePlates(by('none', null), dark, red);
      expect(merged.fit.pairs).toEqual([]);
    });

    it('goes on under the other colour, inside of where both end', () => {
      // The one that prints first; nothing is bare but beyond the plane, which is no edge.
      const [first, later] = job.plates.filter(({ id }) => id === red || id === dark).map(({ id }) => id);
      const over = by('over', 0.3, 0.15);
      expect(Math.abs(grownBy(over, first!) - SIDE / 2 / PX_PER_MM)).toBeLessThan(0.5 / PX_PER_MM);
      expect(grownBy(over, later!)).toBe(0);
      // A square of the later one on bare garment, the first beside its left half: the first stays 0.3 mm inside of three of its sides.
      const [one, other] = [first, later].map((id) =>
        paletteOf(job).findIndex((each) => each.plateId === id),
      );
      const square = labelsOf((x, y) =>
        Math.abs(y) < 1.5 && x < 1.5 && x > -3 ? (x < 0 ? one! : other!) : BARE,
      );
      const area = areaOf(square, over, first!) - areaOf(square, trapped(0), first!);
      expect(Math.abs(area - 1.2 * 2.4)).toBeLessThan((2 * (1.2 + 2.4) * 0.5) / PX_PER_MM);
    });

    it('leaves parts beside a gap clear that are narrower than it says', () => {
      // A dark bar with a slit of red of 0.8 mm in it, and red all round.
      const barred = labelsOf((x, y) => (Math.abs(x) < 2 && Math.abs(y) < 2 && Math.abs(x) > 0.4 ? 1 : 0));
      const gap = by('gap', 0.2, 0);
      const cleared = withPairSetting(gap, { ...gap.fit.pairs[0]!, clearMm: 1 });
      const lost = areaOf(barred, gap, red) - areaOf(barred, cleared, red);
      // Of the slit 0.6 mm are left beside the gap; its ends open into wide red.
      expect(lost).toBeGreaterThan(0.6 * 3.2);
      expect(lost).toBeLessThan(0.6 * 4.4);
      expect(areaOf(barred, cleared, dark)).toBe(areaOf(barred, gap, dark));
    });

    it('is refused in words where it makes no sense', () => {
      const wrong = (pairs: JobSheet['fit']['pairs']) => () =>
        parseJobSheet({ ...job, fit: { ...job.fit, pairs } });
      const pair = { plateIds: [dark, red], grows: 'none', mm: null, clearMm: 0 } as TrapPairSetting;
      expect(wrong([{ ...pair, plateIds: [dark, 'gone'] }])).toThrow(/"gone", which is not there/);
      expect(wrong([{ ...pair, plateIds: [dark, dark] }])).toThrow(/must be two plates/);
      expect(wrong([{ ...pair, grows: { plateId: base } }])).toThrow(/neither of the two/);
      expect(wrong([pair, { ...pair, plateIds: [red, dark] }])).toThrow(/a second time/);
    });
  });

  it('never takes more than a third of a stroke, from each side', () => {
    // The dark stroke is 0.3 mm wide, between red on both sides: a trap of 0.3 mm would close over it.
    const stroke = labelsOf((x) => (Math.abs(x) < 0.15 ? 1 : 0));
    const plain = areaOf(stroke, trapped(0), red);
    const grown = (areaOf(stroke, trapped(0.3), red) - plain) / (SIDE / PX_PER_MM);
    expect(grown).toBeGreaterThan(0.1);
    expect(grown).toBeLessThanOrEqual(2 * 0.1 + 1e-9);
  });

  it('of a stroke that grows is no wider than a third of it', () => {
    const stroke = labelsOf((x) => (Math.abs(x) < 0.15 ? 0 : 1));
    const grown = (areaOf(stroke, trapped(0.3), red) - areaOf(stroke, trapped(0), red)) / (SIDE / PX_PER_MM);
    expect(grown).toBeGreaterThan(0.1);
    expect(grown).toBeLessThanOrEqual(2 * 0.1 + 1e-9);
  });

  it('does not reach across bare garment, nor into it', () => {
    const apart = labelsOf((x) => (x < -0.1 ? 0 : x > 0.1 ? 1 : BARE));
    for (const id of [red, dark]) expect(areaOf(apart, trapped(0.4), id)).toBe(areaOf(apart, trapped(0), id));
    const beside = labelsOf((x, y) => (y < 0 ? BARE : x < 0 ? 0 : 1));
    const shape = shapeOf(beside, trapped(0.4), red);
    for (let y = 0; y < SIDE / 2; y++) for (let x = 0; x < SIDE; x++) expect(shape[y * SIDE + x]).toBe(0);
  });

  it('changes nothing farther from an edge than it is wide, whatever the block', () => {
    const of = trapped(0.2);
    const halo = Math.ceil(fitHalo(of, PX_PER_MM));
    const wave = (x: number, y: number) => (Math.sin(3 * y) * 0.3 + Math.sin(11 * y) * 0.1 < x ? one : other);
    const whole = shapeOf(labelsOf(wave), of, red);
    const cut = labelsOf((x, y) =>
      Math.max(Math.abs(x), Math.abs(y)) * PX_PER_MM > 12 + halo ? BARE : wave(x, y),
    );
    const part = shapeOf(cut, of, red);
    for (let y = -12; y < 12; y++) {
      for (let x = -12; x < 12; x++) {
        const at = (y + SIDE / 2) * SIDE + x + SIDE / 2;
        expect(part[at]).toBe(whole[at]);
      }
    }
    const plain = shapeOf(labelsOf(wave), trapped(0), red);
    const changed = whole.reduce((sum, value, i) => sum + (value === plain[i] ? 0 : 1), 0);
    expect(changed).toBeGreaterThan(0);
    expect(changed).toBeLessThan(1.6 * 0.2 * PX_PER_MM * SIDE);
  });
});

describe('lines that are thickened', () => {
  const thickened = (mm: number) => with_({ thickenMm: mm });
  const line = (widthMm: number) =>
    labelsOf((x, y) => (Math.abs(x) < widthMm / 2 && Math.abs(y) < 3 ? 0 : BARE));

  it.each([0.1, 0.2])('of %s mm are as wide as they are told to be, and their base with them', (widthMm) => {
    const area = areaOf(line(widthMm), thickened(0.4), red);
    // Within a pixel of its width, and longer by no more than what it grew at its ends.
    expect(area).toBeGreaterThan((0.4 - 1 / PX_PER_MM) * 6);
    expect(area).toBeLessThan((0.4 + 1 / PX_PER_MM) * (6 + 0.4));
    expect(areaOf(line(widthMm), thickened(0.4), base)).toBeCloseTo(area, 9);
  });

  it('of the width or more stay as they are, and so do corners', () => {
    expect(areaOf(line(0.5), thickened(0.4), red)).toBe(areaOf(line(0.5), thickened(0), red));
    const star = labelsOf((x, y) => (isInStar(x, y, 3, 1.3) ? 0 : BARE));
    const grown = areaOf(star, thickened(0.3), red) - areaOf(star, thickened(0), red);
    // Nothing but its sharp tips gets round.
    expect(grown).toBeLessThan(5 * Math.PI * 0.15 ** 2);
  });

  it('become dots of that size, where they were smaller', () => {
    const dot = areaOf(disc(0.1), thickened(0.6), red);
    expect(Math.abs(dot - ring(0.3))).toBeLessThan(2 * Math.PI * 0.3 * (1 / PX_PER_MM));
  });

  it('grow into no colour that prints over them', () => {
    const [first, later] = job.plates.filter(({ id }) => id === red || id === dark).map(({ id }) => id);
    const labelOf = (id?: string) => paletteOf(job).findIndex((each) => each.plateId === id);
    const inside = (thin?: string, wide?: string) =>
      labelsOf((x) => (Math.abs(x) < 0.1 ? labelOf(thin) : labelOf(wide)));
    const grown = (thin?: string, wide?: string) =>
      areaOf(inside(thin, wide), thickened(0.4), thin!) - areaOf(inside(thin, wide), thickened(0), thin!);
    expect(grown(first, later)).toBe(0);
    expect(grown(later, first) / (SIDE / PX_PER_MM)).toBeCloseTo(0.2, 1);
  });
});

describe('the underbase under a colour', () => {
  const strengthAt = (of: JobSheet, x: number) => {
    const halves = labelsOf((at) => (at < 0 ? 0 : 1));
    const { planes } = fitPlates(halves, of, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY);
    const plane = planes.find(({ plate }) => plate.id === base)!;
    const at = (SIDE / 2) * SIDE + SIDE / 2 + Math.round(x * PX_PER_MM);
    return plane.shape[at] === 0 ? 0 : (plane.tone?.[at] ?? 65535) / 65535;
  };
  const [redId, darkId] = paletteOf(job).map(({ id }) => id) as [string, string];

  it('is as strong as its ink wants, unless the colour says otherwise', () => {
    const plain = with_({});
    expect([strengthAt(plain, -2), strengthAt(plain, 2)]).toEqual([1, 0]);
    const own = setBaseUnder(setBaseUnder(plain, redId, 0.4), darkId, 0.75);
    expect(strengthAt(own, -2)).toBeCloseTo(0.4, 4);
    expect(strengthAt(own, 2)).toBeCloseTo(0.75, 4);
    expect(setBaseUnder(setBaseUnder(own, redId, null), darkId, null)).toEqual(plain);
  });

  it('follows the lightness of the artwork, alone or as the least', () => {
    const curve: [number, number][] = [
      [0, 0],
      [1, 1],
    ];
    // CIELAB lightness by the formulas of CIE 15 and IEC 61966-2-1.
    const lightOf = (rgb: readonly number[]) => {
      const linear = rgb.map((code) =>
        code / 255 <= 0.04045 ? code / 255 / 12.92 : ((code / 255 + 0.055) / 1.055) ** 2.4,
      );
      const y = 0.2126 * linear[0]! + 0.7152 * linear[1]! + 0.0722 * linear[2]!;
      return (116 * Math.cbrt(y) - 16) / 100;
    };
    const alone = setLightBase(with_({}), { curve, over: 'alone' });
    // The adaptation to D50 moves a saturated red's lightness by a unit or two.
    expect(Math.abs(strengthAt(alone, -2) - lightOf([200, 56, 46]))).toBeLessThan(0.03);
    expect(Math.abs(strengthAt(alone, 2) - lightOf([16, 20, 28]))).toBeLessThan(0.03);
    const least = setLightBase(with_({}), { curve, over: 'least' });
    expect(strengthAt(least, -2)).toBe(1);
    expect(strengthAt(least, 2)).toBeCloseTo(strengthAt(alone, 2), 9);
    // What a colour says itself goes before.
    expect(strengthAt(setBaseUnder(least, redId, 0), -2)).toBe(0);
  });
});

describe('a colour that the base prints itself', () => {
  const itself = withPalette(
    job,
    paletteOf(job).map((entry, k) => (k === 1 ? { ...entry, plateId: base } : entry)),
  );
  const choked = (from: JobSheet) => with_({ chokeMm: 0.3 }, from);

  it('is as large as the artwork has it, though base under inks is drawn back', () => {
    const white = labelsOf((x, y) => (Math.hypot(x, y) < 3 ? 1 : BARE));
    expect(Math.abs(areaOf(white, choked(itself), base) - ring(3))).toBeLessThan(ROUND_ERROR);
    expect(Math.abs(areaOf(disc(3), choked(itself), base) - ring(2.7))).toBeLessThan(ROUND_ERROR);
  });

  it('is not spread, as no white is, though colours beside it are', () => {
    const white = labelsOf((x, y) => (Math.hypot(x, y) < 3 ? 1 : BARE));
    const spread = with_({ spreadMm: 0.3, chokeMm: 0.3 }, itself);
    expect(Math.abs(areaOf(white, spread, base) - ring(3))).toBeLessThan(ROUND_ERROR);
    expect(Math.abs(areaOf(disc(3), spread, red) - ring(3.3))).toBeLessThan(1.1 * ROUND_ERROR);
  });

  it('goes over into the base of the colour beside it without a gap', () => {
    const both = labelsOf((x, y) => (Math.hypot(x, y) < 3 ? (x < 0 ? 0 : 1) : BARE));
    const area = areaOf(both, choked(itself), base);
    expect(Math.abs(area - (ring(3) + ring(2.7)) / 2)).toBeLessThan(2 * ROUND_ERROR);
  });

  it('prints at its tint', () => {
    const tinted = withPalette(
      itself,
      paletteOf(itself).map((entry, k) => (k === 1 ? { ...entry, tint: 0.5 } : entry)),
    );
    const white = labelsOf((x, y) => (Math.hypot(x, y) < 3 ? 1 : BARE));
    const { planes } = fitPlates(white, choked(tinted), PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY);
    const { shape, tone } = planes.find(({ plate }) => plate.id === base)!;
    const tones = new Set(Array.from(shape, (value, i) => (value === 255 ? tone![i]! : 0)));
    expect([...tones].sort()).toEqual([0, Math.round(0.5 * 65535)]);
  });
});

describe('a guard', () => {
  const spread = (guardMm: number) => with_({ spreadMm: 0.3, guardMm });
  /** Red with holes: what is bare of a block, in square millimetres. */
  const bareIn = (labels: LabelMap, of: JobSheet) => (SIDE / PX_PER_MM) ** 2 - areaOf(labels, of, red);
  const hole = (inside: (x: number, y: number) => boolean) => labelsOf((x, y) => (inside(x, y) ? BARE : 0));

  it.each<[string, (x: number, y: number) => boolean, number]>([
    ['a round counter of 0.8 mm', (x, y) => Math.hypot(x, y) < 0.4, Math.PI * 0.4 ** 2],
    ['a slit of 0.5 mm', (x, y) => Math.abs(x) < 0.25 && Math.abs(y) < 2, 0.5 * 4],
    ['a square counter of 0.7 mm', (x, y) => Math.max(Math.abs(x), Math.abs(y)) < 0.35, 0.49],
    ['a star of 5 points', (x, y) => isInStar(x, y, 0.6, 0.25), starArea(0.6, 0.25)],
  ])('keeps %s open, which a spread of 0.3 mm would close or nearly so', (_, inside, area) => {
    const labels = hole(inside);
    expect(bareIn(labels, spread(0))).toBeLessThan(0.45 * area);
    // All of it, within a pixel at its tips.
    expect(bareIn(labels, spread(1))).toBeGreaterThan(0.93 * area - 0.01);
    expect(bareIn(labels, spread(1))).toBeLessThanOrEqual(bareIn(labels, with_({})) + 1e-9);
  });

  it('leaves wide openings and their corners to the spread', () => {
    const wide = hole((x, y) => Math.max(Math.abs(x), Math.abs(y)) < 2);
    expect(bareIn(wide, spread(1))).toBe(bareIn(wide, spread(0)));
    const outside = labelsOf((x, y) => (Math.abs(x) < 2 && Math.abs(y) < 2 ? 0 : BARE));
    expect(areaOf(outside, spread(1), red)).toBe(areaOf(outside, spread(0), red));
  });
});

/** A star round the middle, its first point upwards. */
function isInStar(x: number, y: number, outer: number, inner: number): boolean {
  const turn = Math.PI / 5;
  const angle = Math.atan2(x, -y);
  const part = Math.abs((((angle % (2 * turn)) + 3 * turn) % (2 * turn)) - turn);
  const radius = Math.hypot(x, y);
  // Between a point and the notch beside it the edge is a straight line.
  const [px, py] = [outer, 0];
  const [nx, ny] = [inner * Math.cos(turn), inner * Math.sin(turn)];
  const [qx, qy] = [radius * Math.cos(part), radius * Math.sin(part)];
  return (nx - px) * (qy - py) - (ny - py) * (qx - px) > 0;
}

function starArea(outer: number, inner: number): number {
  return 5 * outer * inner * Math.sin(Math.PI / 5);
}
