import { randomOf, testSheet } from '../../../tests/testSheet';
import { START_STOCK, fullToneLayer, parseJobSheet, withOtherGarment, withoutGarment } from '../sheet';
import {
  addGarment,
  addInk,
  changeGarment,
  chooseInkSet,
  inkCandidates,
  leaveOut,
  runsOn,
  setTogether,
  setWhite,
  toSimulated,
  toSpot,
  wishInk,
} from '.';

const BLACK = { name: 'Pitch black', colour: '#17171b' };
const WHITE = { name: 'White', colour: '#fafaf8' };
const stockInk = (name: string) => START_STOCK.inks.find((ink) => ink.name === name)!;
const tar = stockInk('Tar');

const toned = () => toSimulated(testSheet({ garment: BLACK }), { background: null });
const both = () => setTogether(addGarment(addInk(toned(), tar), WHITE), true);
const leftOut = (sheet: ReturnType<typeof toned>, place: number) =>
  sheet.garments[place]!.without.map((id) => sheet.plates.find((plate) => plate.id === id)!.ink.name);

test('no black on black, no whites on white (common practice, no source)', () => {
  expect(runsOn({ role: 'colour', ink: tar }, BLACK.colour)).toBe(false);
  expect(runsOn({ role: 'colour', ink: tar }, WHITE.colour)).toBe(true);
  const white = stockInk('Quay white');
  expect(runsOn({ role: 'underbase', ink: white }, WHITE.colour)).toBe(false);
  expect(runsOn({ role: 'highlight', ink: white }, BLACK.colour)).toBe(true);
  expect(runsOn({ role: 'colour', ink: stockInk('Lagoon') }, WHITE.colour)).toBe(true);
  const sheet = both();
  expect(leftOut(sheet, 0)).toEqual(['Tar']);
  expect(leftOut(sheet, 1)).toEqual(['Base white', 'Highlight white']);
});

test('what runs for some garments only prints right after the base', () => {
  const sheet = both();
  expect(sheet.plates.map(({ ink }) => ink.name).slice(0, 2)).toEqual(['Base white', 'Tar']);
  expect(sheet.plates.at(-1)!.role).toBe('highlight');
  expect(parseJobSheet(sheet)).toEqual(sheet);
});

test('films for one garment alone have no plates that it does not run', () => {
  const alone = setTogether(both(), false);
  expect(alone.plates.map(({ ink }) => ink.name)).not.toContain('Tar');
  expect(alone.garments[0]!.without).toEqual([]);
  expect(parseJobSheet(alone)).toEqual(alone);
});

test('inks that could print are those that one of the garments could use', () => {
  const names = (sheet: ReturnType<typeof toned>) =>
    inkCandidates(sheet, START_STOCK.inks, []).map(({ ink }) => ink.name);
  const dark = names(toned());
  expect(dark).not.toContain('Tar');
  expect([dark[0], dark.at(-1)]).toEqual(['Base white', 'Highlight white']);
  const onWhite = names(changeGarment(toned(), WHITE));
  expect(onWhite).toContain('Tar');
  expect(onWhite.filter((name) => name.endsWith('white'))).toEqual([]);
  expect(names(both()).slice(0, 2)).toEqual(['Base white', 'Tar']);
  // From light to dark between them, and nothing that is banned.
  const banned = inkCandidates(toned(), START_STOCK.inks, ['Lemon sail', 'Base white']);
  expect(banned.map(({ ink }) => ink.name)).not.toContain('Lemon sail');
  expect(banned.at(-1)!.after).toBeNull();
});

test('a chosen set keeps what was set for plates whose inks stay', () => {
  const sheet = toned();
  const scarlet = sheet.plates.find(({ ink }) => ink.name === 'Signal scarlet')!;
  const changed = {
    ...sheet,
    plates: sheet.plates.map((plate) => (plate === scarlet ? { ...plate, mesh: 305 } : plate)),
  };
  const chosen = chooseInkSet(changed, [
    { role: 'underbase', ink: { name: 'Base white', colour: '#f6f6f3', opacity: 0.85 } },
    { role: 'colour', ink: stockInk('Sun gold') },
    { role: 'colour', ink: scarlet.ink },
  ]);
  expect(chosen.plates.map(({ ink, number }) => `${number} ${ink.name}`)).toEqual([
    '1 Base white',
    '2 Sun gold',
    '3 Signal scarlet',
  ]);
  expect(chosen.plates[2]).toMatchObject({ id: scarlet.id, mesh: 305 });
  expect(parseJobSheet(chosen)).toEqual(chosen);
});

test('an ink that is banned is not pinned as well', () => {
  const sheet = wishInk(wishInk(toned(), 'Lagoon', 'pin'), 'Lagoon', 'ban');
  expect(fullToneLayer(sheet)).toMatchObject({ pinned: [], banned: ['Lagoon'] });
  expect(fullToneLayer(wishInk(sheet, 'Lagoon', 'free'))).toMatchObject({ pinned: [], banned: [] });
});

test('a garment that turns light or dark takes chosen inks without their whites, or with them', () => {
  const chosen = leaveOut(toned(), toned().plates[3]!.id);
  const roles = (sheet: typeof chosen) =>
    sheet.plates.map(({ role }) => role).filter((role) => role !== 'colour');
  const light = changeGarment(chosen, WHITE);
  expect(roles(light)).toEqual([]);
  expect(roles(changeGarment(light, BLACK))).toEqual(['underbase', 'highlight']);
});

test('any edits of a job for several garments leave a sheet that is read back equal', () => {
  const random = randomOf(20);
  let sheet = both();
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  for (let k = 0; k < 300; k++) {
    const edits = [
      () => setTogether(sheet, random() < 0.8),
      () => (sheet.plates.length < 12 ? addInk(sheet, pick(START_STOCK.inks)) : sheet),
      () => (sheet.plates.length > 2 ? leaveOut(sheet, pick(sheet.plates).id) : sheet),
      () => changeGarment(sheet, pick(START_STOCK.garments)),
      () =>
        sheet.garments.length < 5
          ? addGarment(sheet, { name: `Garment ${k}`, colour: pick(START_STOCK.garments).colour })
          : withoutGarment(sheet, sheet.garments[1]!.id),
      () =>
        withOtherGarment(
          sheet.garments.length < 6 ? sheet : withoutGarment(sheet, sheet.garments[2]!.id),
          BLACK,
        ),
      () => {
        const flat = toSpot(sheet, {
          colours: [{ rgb: [200, 56, 46], area: 0.5 }],
          transitions: [],
          background: null,
        });
        expect(parseJobSheet(flat)).toEqual(flat);
        return toSimulated(flat, { background: null });
      },
      () => setWhite(sheet, pick(['underbase', 'highlight'] as const), random() < 0.5),
      () => wishInk(sheet, pick(START_STOCK.inks).name, pick(['pin', 'ban', 'free'] as const)),
    ];
    const next = pick(edits)();
    sheet = next.plates.length > 0 ? next : both();
    expect(parseJobSheet(sheet)).toEqual(sheet);
  }
});
