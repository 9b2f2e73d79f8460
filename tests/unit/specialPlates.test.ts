/** Plates below and above the inks: their shapes by discs whose sizes are known, their places in the run, and that nothing else changes for them. */
import { fitPlates } from '@/core/fit';
import { labelLines } from '@/core/film';
import { PLAIN_KERNELS } from '@/core/kernels';
import { NO_NOTES, checkSheet, findingsOf } from '@/core/checks';
import { FRESH_MEMORY } from '@/core/raster';
import { labFromLinear } from '@/core/colour';
import {
  addGarment,
  addInk,
  changeGarment,
  mergePlates,
  predictFlat,
  setBaseUnder,
  setTogether,
  stackInks,
  toSimulated,
} from '@/core/separation';
import {
  type JobSheet,
  SPECIALS,
  addSpecial,
  alignRun,
  changeSpecial,
  describeChange,
  effectiveChokeMm,
  jobSheetSchema,
  parseJobSheet,
  paletteOf,
  removeSpecial,
} from '@/core/sheet';
import { quietSurvey } from '../quietSurvey';
import { testSheet } from '../testSheet';

const sheet = testSheet();
const PX_PER_MM = 20;
const SIDE = 400;
const labelOf = (id: string) => paletteOf(sheet).findIndex(({ plateId }) => plateId === id);

/** A yellow disc of 5 mm beside a red one of 3 mm, on bare garment. */
function labels() {
  const label = Uint8Array.from({ length: SIDE * SIDE }, (_, i) => {
    const [x, y] = [(i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5];
    if (Math.hypot(x - 130, y - 200) < 5 * PX_PER_MM) return labelOf('yellow');
    return Math.hypot(x - 310, y - 200) < 3 * PX_PER_MM ? labelOf('red') : 254;
  });
  return { rect: { x: 0, y: 0, width: SIDE, height: SIDE }, label, tones: null };
}

function areasMm2(of: JobSheet): Map<string, number> {
  const { planes } = fitPlates(labels(), of, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY);
  expect(planes.map(({ plate }) => plate.id)).toEqual(of.plates.map(({ id }) => id));
  return new Map(
    planes.map(({ plate, shape }) => [
      plate.id,
      shape.reduce((sum, each) => sum + (each === 255 ? 1 : 0), 0) / PX_PER_MM ** 2,
    ]),
  );
}

const disc = (radius: number) => Math.PI * radius * radius;

test('it prints where everything prints, and as far beyond or inside as it is told', () => {
  for (const growMm of [0, 0.4, -0.4]) {
    const of = changeSpecial(addSpecial(sheet, 'clear'), 'clear', { growMm });
    const expected = disc(5 + growMm) + disc(3 + growMm);
    expect(areasMm2(of).get('clear')! / expected).toBeCloseTo(1, 2);
  }
});

test('it prints at the plates that it is given to alone', () => {
  const of = changeSpecial(addSpecial(sheet, 'adhesive'), 'adhesive', { over: ['red'], growMm: -0.1 });
  expect(areasMm2(of).get('adhesive')! / disc(2.9)).toBeCloseTo(1, 2);
});

test('the other plates stay as they are to the pixel', () => {
  const before = areasMm2(sheet);
  const of = SPECIALS.reduce((now, kind) => addSpecial(now, kind), sheet);
  const after = areasMm2(of);
  for (const [id, area] of before) expect(after.get(id)).toBe(area);
  expect(jobSheetSchema.safeParse(of).error).toBeUndefined();
});

test('white in dots takes what of the base is less than solid, and the base keeps the rest: together they are the base as it was', () => {
  const red = paletteOf(sheet).find(({ plateId }) => plateId === 'red')!;
  const faint = setBaseUnder(sheet, red.id, 0.4);
  const planesOf = (of: JobSheet) =>
    new Map(
      fitPlates(labels(), of, PX_PER_MM, PLAIN_KERNELS, FRESH_MEMORY).planes.map((plane) => [
        plane.plate.id,
        plane,
      ]),
    );
  const before = planesOf(faint).get('base-white')!;
  const parted = addSpecial(faint, 'halftone');
  expect(parseJobSheet(parted)).toEqual(parted);
  const after = planesOf(parted);
  const [solid, dots] = [after.get('base-white')!, after.get('halftone')!];
  const area = { solid: 0, dots: 0 };
  before.shape.forEach((is, i) => {
    const weak = is !== 0 && before.tone![i]! < 65535;
    if (solid.shape[i] !== (is !== 0 && !weak ? 255 : 0) || dots.shape[i] !== (weak ? 255 : 0))
      throw new Error(`parted otherwise at ${i}`);
    if (weak && dots.tone![i] !== before.tone![i]) throw new Error(`another tone at ${i}`);
    area.solid += solid.shape[i]! / 255;
    area.dots += dots.shape[i]! / 255;
  });
  // The yellow disc's base is solid, the red one's is not; both are drawn back by the choke.
  const choke = effectiveChokeMm(faint);
  expect(area.solid / PX_PER_MM ** 2 / disc(5 - choke)).toBeCloseTo(1, 2);
  expect(area.dots / PX_PER_MM ** 2 / disc(3 - choke)).toBeCloseTo(1, 2);
  expect(solid.tone).toBeNull();
  // The same white lies below, so each colour is foretold to print as before; the plates have the same screen.
  for (const entry of paletteOf(faint)) {
    expect(predictFlat(parted, entry).print).toEqual(predictFlat(faint, entry).print);
  }
});

test('white in dots needs a base with dots of its own, and runs where the base runs', () => {
  const none = { ...sheet, plates: sheet.plates.filter(({ role }) => role !== 'underbase') };
  expect(() => addSpecial(none, 'halftone')).toThrow(/no underbase/);
  const two = addSpecial(sheet, 'halftone');
  expect(() => addSpecial(two, 'halftone')).toThrow(/already/);
  const interlocked = {
    ...two,
    plates: two.plates.map((plate) =>
      plate.role === 'underbase' ? { ...plate, screen: { ...plate.screen, interlock: 1 } } : plate,
    ),
  };
  expect(() => parseJobSheet(interlocked)).toThrow(/divide cells/);
  // Without the base that it was parted from it prints nothing, rather than everything.
  const lost = alignRun({ ...two, plates: two.plates.filter(({ role }) => role !== 'underbase') });
  expect(lost.plates.some(({ id }) => id === 'halftone')).toBe(true);
  expect(areasMm2(lost).get('halftone')).toBe(0);
  const white = { ...lost, plates: lost.plates.filter(({ id }) => id !== 'halftone') };
  for (const entry of paletteOf(lost)) {
    expect(predictFlat(lost, entry).print).toEqual(predictFlat(white, entry).print);
  }
  const order = two.run.flatMap((each) => (each.kind === 'screen' ? [each.plateId] : []));
  expect(order.slice(0, 2)).toEqual(['base-white', 'halftone']);
});

test('what lies below prints first and is flashed, what lies on top last and behind a flash', () => {
  const words = ({ run }: JobSheet) =>
    run.map((station) => (station.kind === 'screen' ? station.plateId : station.kind));
  const blocked = addSpecial(sheet, 'blocker');
  expect(words(blocked).slice(0, 3)).toEqual(['blocker', 'flash', sheet.plates[0]!.id]);
  const cleared = addSpecial(blocked, 'clear');
  expect(words(cleared).slice(-2)).toEqual(['flash', 'clear']);
  // Films are numbered along the run, and none of it is a base that prints too late.
  expect(cleared.plates.map(({ number }) => number)).toEqual(cleared.plates.map((_, k) => k + 1));
  expect(checkSheet(cleared).map(({ code }) => code)).not.toContain('base-not-first');
  expect(labelLines(cleared, cleared.plates[0]!, cleared.plates.length).join(' ')).toContain('dye blocker');
  expect(describeChange(sheet, blocked)).toContain('with Dye blocker');
});

test('a second white lies on the flashed base and in its shape, a thin one on wet colours, and both are in the predicted print', () => {
  const words = ({ run }: JobSheet) =>
    run.map((station) => (station.kind === 'screen' ? station.plateId : station.kind));
  const base = sheet.plates[0]!.id;
  const hit = addSpecial(sheet, 'hit');
  expect(words(hit).slice(0, 4)).toEqual([base, 'flash', 'hit', 'flash']);
  expect(areasMm2(hit).get('hit')).toBeLessThan(areasMm2(hit).get(base)!);
  const yellow = paletteOf(sheet).find(({ plateId }) => plateId === 'yellow')!;
  const lightness = (of: JobSheet) => labFromLinear(predictFlat(of, yellow).print)[0];
  // White once more hides more of the dark garment.
  expect(lightness(hit)).toBeGreaterThan(lightness(sheet));
  // A dye blocker has no colour that the print model knows of.
  expect(lightness(addSpecial(sheet, 'blocker'))).toBe(lightness(sheet));
  const thin = words(addSpecial(sheet, 'thin'));
  const at = thin.indexOf('thin');
  expect(sheet.plates.find(({ id }) => id === thin[at - 1])?.role).toBe('colour');
});

test('tones are solved for as if it were not there, and it stays when a job becomes one of tones', () => {
  const flat = addSpecial(addSpecial(sheet, 'blocker'), 'clear');
  const toned = toSimulated(flat, { background: null });
  expect(jobSheetSchema.safeParse(toned).error).toBeUndefined();
  expect(toned.plates.filter(({ special }) => special !== null).map(({ id }) => id)).toEqual([
    'blocker',
    'clear',
  ]);
  const plain = toSimulated(sheet, { background: null });
  expect(stackInks(toned)).toEqual(stackInks(plain));
  // Inks that come or go leave it where it is.
  const more = addInk(toned, { name: 'Violet', colour: '#6a2f8f', opacity: 0.7 });
  expect([more.plates[0]!.id, more.plates.at(-1)!.id]).toEqual(['blocker', 'clear']);
  expect(jobSheetSchema.safeParse(more).error).toBeUndefined();
  const together = setTogether(addGarment(toned, { name: 'White', colour: '#ffffff' }), true);
  expect(jobSheetSchema.safeParse(together).error).toBeUndefined();
  expect(together.garments.flatMap(({ without }) => without)).not.toContain('blocker');
});

test('it stays when inks are merged or another garment is chosen, and what it lay at follows', () => {
  const of = changeSpecial(addSpecial(sheet, 'puff'), 'puff', { over: ['red', 'yellow'] });
  const merged = mergePlates(of, 'red', 'yellow');
  expect(merged.plates.find(({ id }) => id === 'puff')!.special!.over).toEqual(['yellow']);
  const moved = changeGarment(of, { name: 'White', colour: '#ffffff' });
  expect(moved.plates.some(({ id }) => id === 'puff')).toBe(true);
  expect(jobSheetSchema.safeParse(moved).error).toBeUndefined();
  expect(removeSpecial(of, 'puff')).toEqual(sheet);
});

test('nothing is told of it that is told of inks', () => {
  const of = addSpecial(sheet, 'discharge');
  const codes = (each: JobSheet) => findingsOf(each, NO_NOTES, quietSurvey(each)).map(({ code }) => code);
  expect(codes(of)).toEqual(codes(sheet));
});

test('sheets in which it makes no sense are refused in words', () => {
  const of = addSpecial(sheet, 'clear');
  const wrong = (change: (plate: JobSheet['plates'][number]) => object) =>
    jobSheetSchema.safeParse({ ...of, plates: of.plates.map((plate) => ({ ...plate, ...change(plate) })) });
  const tell = (result: ReturnType<typeof wrong>) => result.error?.issues[0]?.message ?? '';
  const special = { kind: 'clear', over: ['gone'], growMm: 0 };
  expect(tell(wrong(({ id }) => (id === 'clear' ? { special } : {})))).toContain('"gone"');
  expect(tell(wrong(({ id }) => (id === 'clear' ? { special: null } : {})))).toContain('must be set');
  expect(tell(wrong(({ id }) => (id === 'red' ? { special: { ...special, over: null } } : {})))).toContain(
    'for no other',
  );
});
