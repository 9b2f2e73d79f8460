import { randomOf, testSheet } from '../../../tests/testSheet';
import {
  type JobSheet,
  firstPasses,
  garmentOf,
  otherGarments,
  paletteOf,
  parseJobSheet,
  withOtherGarment,
} from '../sheet';
import {
  addColour,
  addInk,
  assignColour,
  changeBackground,
  changeGarment,
  changePlate,
  changeRole,
  colourOf,
  leaveOut,
  mergePlates,
  removeColour,
  setCloseness,
  setTint,
  setWhite,
  splitColour,
  toSimulated,
  toSpot,
} from '.';

const RED = '#c8382e';
const YELLOW = '#f2d13a';
const sheet = testSheet();
const entry = (of: JobSheet, colour: string) => paletteOf(of).find((each) => each.colour === colour)!;
const inkOf = (of: JobSheet, colour: string) =>
  of.plates.find(({ id }) => id === entry(of, colour).plateId)?.ink.name;
const roles = (of: JobSheet) => of.plates.map(({ role }) => role);
const BOX: [number, number][] = [
  [0.1, 0.1],
  [0.4, 0.1],
  [0.4, 0.4],
];

describe('a new job', () => {
  it('has a plate for each colour over a base, light before dark, and a run that prints them so', () => {
    expect(roles(sheet)).toEqual(['underbase', 'colour', 'colour']);
    expect(sheet.plates.map(({ number }) => number)).toEqual([1, 2, 3]);
    expect(inkOf(sheet, RED)).toBe('Red');
    expect(sheet.plates[1]!.id).toBe(entry(sheet, YELLOW).plateId);
    expect(firstPasses(sheet.run)).toEqual(sheet.plates.map(({ id }) => id));
  });

  it('leaves a colour to the garment that shows it anyway', () => {
    const navy = testSheet({
      colours: [
        { rgb: [0x18, 0x25, 0x40], area: 0.6 },
        { rgb: [200, 56, 46], area: 0.2 },
      ],
    });
    expect(entry(navy, '#182540').plateId).toBeNull();
    expect(roles(navy)).toEqual(['underbase', 'colour']);
  });
});

describe('colours', () => {
  it('go to another plate, whose own is gone then', () => {
    const merged = assignColour(sheet, entry(sheet, RED).id, entry(sheet, YELLOW).plateId);
    expect(inkOf(merged, RED)).toBe(inkOf(sheet, YELLOW));
    expect(roles(merged)).toEqual(['underbase', 'colour']);
    expect(mergePlates(sheet, entry(sheet, RED).plateId!, entry(sheet, YELLOW).plateId!).plates).toEqual(
      merged.plates,
    );
    const apart = assignColour(merged, entry(merged, RED).id, 'new');
    expect(roles(apart)).toEqual(['underbase', 'colour', 'colour']);
    expect(inkOf(apart, RED)).toBe('Red');
  });

  it('that all go to the garment leave no base', () => {
    const bare = paletteOf(sheet).reduce((next, { id }) => assignColour(next, id, null), sheet);
    expect(bare.plates).toEqual([]);
    expect(bare.run.filter(({ kind }) => kind === 'screen')).toEqual([]);
    const back = assignColour(bare, entry(bare, RED).id, 'new');
    expect(roles(back)).toEqual(['underbase', 'colour']);
  });

  it('keep their tint on another plate, and are solid again once the garment had them', () => {
    const { id } = entry(sheet, RED);
    const pale = setTint(sheet, id, 0.3);
    expect(entry(assignColour(pale, id, entry(sheet, YELLOW).plateId), RED).tint).toBe(0.3);
    const bare = assignColour(pale, id, null);
    expect(entry(assignColour(bare, id, entry(sheet, YELLOW).plateId), RED).tint).toBe(1);
  });

  it('are added once, and taken out with the parts that were split from them', () => {
    expect(addColour(sheet, RED)).toBe(sheet);
    const more = addColour(sheet, '#2f7f86');
    expect(paletteOf(more)).toHaveLength(3);
    expect(entry(more, '#2f7f86').plateId).not.toBeNull();
    const split = splitColour(more, entry(more, RED).id, BOX);
    expect(
      paletteOf(split)
        .filter(({ colour }) => colour === RED)
        .map(({ within }) => within),
    ).toEqual([null, BOX]);
    // Part and rest have inks of their own.
    expect(new Set(paletteOf(split).map(({ plateId }) => plateId)).size).toBe(4);
    const less = removeColour(split, entry(split, RED).id);
    expect(paletteOf(less).map(({ colour }) => colour)).toEqual([YELLOW, '#2f7f86']);
    expect(() => colourOf(less, entry(split, RED).id)).toThrow(/taken out/);
    // An id is not given again while another colour has it.
    const again = addColour(less, '#101010');
    expect(new Set(paletteOf(again).map(({ id }) => id)).size).toBe(3);
  });

  it('have a closeness of their own', () => {
    const { id } = entry(sheet, RED);
    expect(entry(setCloseness(sheet, id, 7), RED).closeness).toBe(7);
    expect(entry(setCloseness(setCloseness(sheet, id, 7), id, null), RED).closeness).toBeNull();
  });

  it('are refused beyond the most that a sheet holds', () => {
    const hex = (k: number) => `#${(k * 4001 + 4096).toString(16).padStart(6, '0')}`;
    let full = sheet;
    // Each on the plate of another, so that plates do not run out first.
    for (let k = 0; paletteOf(full).length < 64; k++) {
      const next = addColour(full, hex(k));
      full = assignColour(next, entry(next, hex(k)).id, entry(next, RED).plateId);
    }
    expect(() => addColour(full, '#0a0b0c')).toThrow(/64 colours already/);
    expect(parseJobSheet(full)).toEqual(full);
  });
});

describe('another garment', () => {
  it('takes the place of the one that was there, and of another of the same colour', () => {
    const worn = withOtherGarment(withOtherGarment(sheet, { name: 'Sand', colour: '#ece4d2' }), {
      name: 'Black',
      colour: '#141416',
    });
    const black = changeGarment(worn, { name: 'Black', colour: '#141416' });
    expect(garmentOf(black)).toMatchObject({ name: 'Black', colour: '#141416' });
    expect(otherGarments(black).map(({ name }) => name)).toEqual(['Sand']);
    expect(new Set(black.garments.map(({ id }) => id)).size).toBe(2);
  });

  it('shows colours that lose their ink, and gives one to what the old one showed', () => {
    const red = changeGarment(sheet, { name: 'Red', colour: RED });
    expect(entry(red, RED).plateId).toBeNull();
    const back = changeGarment(red, { name: 'Navy', colour: '#16233f' });
    expect(inkOf(back, RED)).toBe('Red');
  });

  it('suggests base strengths anew where they stood as suggested, and leaves those that somebody chose', () => {
    const chosen = changePlate(sheet, entry(sheet, RED).plateId!, { baseStrength: 0.5 });
    const white = changeGarment(chosen, { name: 'White', colour: '#fafafa' });
    const strengths = white.plates
      .filter(({ role }) => role === 'colour')
      .map(({ baseStrength }) => baseStrength);
    expect(strengths).toContain(0.5);
    expect(strengths).toContain(0);
  });
});

describe('a background', () => {
  const paper = testSheet({
    colours: [
      { rgb: [40, 120, 70], area: 0.6 },
      { rgb: [200, 56, 46], area: 0.2 },
    ],
    background: { colour: '#287846', onAllSides: true, inside: 0.1 },
  });

  it('that is left to the garment everywhere needs no ink, and gets one when it prints', () => {
    expect(entry(paper, '#287846').plateId).not.toBeNull();
    const bare = changeBackground(paper, 'everywhere');
    expect(entry(bare, '#287846').plateId).toBeNull();
    const printed = changeBackground(bare, 'keep');
    expect(entry(printed, '#287846').plateId).not.toBeNull();
    expect(parseJobSheet(printed)).toEqual(printed);
  });
});

describe('tones', () => {
  const tones = toSimulated(sheet, { background: null });

  it('have plates of their inks, each with its part of the layer', () => {
    expect(roles(tones)[0]).toBe('underbase');
    expect(roles(tones).at(-1)).toBe('highlight');
    for (const { sources } of tones.plates)
      expect(sources).toEqual([{ kind: 'tones', layerId: 'l1', patches: [] }]);
    expect(paletteOf(tones)).toEqual([]);
  });

  it('go back to the flat colours that were found', () => {
    const colours = [{ rgb: [200, 56, 46] as const, area: 0.5 }];
    const flat = toSpot(tones, {
      colours: [{ rgb: [200, 56, 46], area: colours[0]!.area }],
      transitions: null,
      background: null,
    });
    expect(paletteOf(flat).map(({ colour }) => colour)).toEqual([RED]);
    expect(parseJobSheet(flat)).toEqual(flat);
  });

  it('take inks and whites in and out', () => {
    const ink = { name: 'Sage', colour: '#7f9b74', opacity: 0.7 };
    const more = addInk(tones, ink);
    expect(more.plates.map(({ ink: { name } }) => name)).toContain('Sage');
    const less = leaveOut(more, more.plates.find((plate) => plate.ink.name === 'Sage')!.id);
    expect(less.plates).toEqual(tones.plates);
    const bare = setWhite(setWhite(tones, 'underbase', false), 'highlight', false);
    expect(new Set(roles(bare))).toEqual(new Set(['colour']));
    expect(roles(setWhite(bare, 'underbase', true))[0]).toBe('underbase');
    expect(parseJobSheet(setWhite(bare, 'highlight', true)).plates.at(-1)!.role).toBe('highlight');
  });
});

// Whatever is done one after another, the sheet is one that would be read back.
test.each(Array.from({ length: 12 }, (_, k) => 1000 + 77 * k))(
  'a hundred edits from seed %d leave a valid sheet',
  (seed) => {
    const random = randomOf(seed);
    const one = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)];
    const hex = () =>
      `#${Math.floor(random() * 0xffffff)
        .toString(16)
        .padStart(6, '0')}`;
    const garments = ['#16233f', '#141416', '#fafafa', '#a12c28', RED];
    let now = testSheet({ background: { colour: RED, onAllSides: true, inside: 0.2 } });
    const edits: readonly ((of: JobSheet) => JobSheet)[] = [
      (of) => addColour(of, hex()),
      (of) => {
        const found = one(paletteOf(of));
        const target = one([
          null,
          'new' as const,
          ...of.plates.filter(({ role }) => role !== 'underbase').map(({ id }) => id),
        ]);
        return found && target !== undefined ? assignColour(of, found.id, target) : of;
      },
      (of) => {
        const found = one(paletteOf(of));
        return found ? removeColour(of, found.id) : of;
      },
      (of) => {
        const found = one(paletteOf(of));
        return found && !found.within ? splitColour(of, found.id, BOX) : of;
      },
      (of) => {
        const found = one(paletteOf(of));
        return found ? setTint(of, found.id, Math.round(random() * 100) / 100) : of;
      },
      (of) => {
        const [from, into] = [one(of.plates), one(of.plates)];
        const isInk = (plate: typeof from) => plate !== undefined && plate.role !== 'underbase';
        return isInk(from) && isInk(into) && from !== into ? mergePlates(of, from!.id, into!.id) : of;
      },
      (of) => {
        const plate = one(of.plates);
        return plate ? changePlate(of, plate.id, { baseStrength: one([0, 0.5, 1])! }) : of;
      },
      (of) => {
        const plate = one(of.plates);
        return plate ? changeRole(of, plate.id, one(['colour', 'highlight'] as const)!) : of;
      },
      (of) => changeGarment(of, { name: 'Other', colour: one(garments)! }),
      (of) => changeBackground(of, one(['keep', 'outside', 'everywhere'] as const)!),
    ];
    for (let k = 0; k < 100; k++) {
      try {
        now = one(edits)!(now);
      } catch (thrown) {
        // What is too much is refused in words, and nothing is lost.
        expect(String(thrown)).toMatch(/already/);
      }
      expect(parseJobSheet(JSON.parse(JSON.stringify(now)))).toEqual(now);
      const printed = new Set(paletteOf(now).map(({ plateId }) => plateId));
      expect(now.plates.filter(({ id, role }) => role !== 'underbase' && !printed.has(id))).toEqual([]);
      const wantsBase = now.plates.some(({ role, baseStrength }) => role !== 'underbase' && baseStrength > 0);
      expect(now.plates.some(({ role }) => role === 'underbase')).toBe(wantsBase);
    }
  },
);
