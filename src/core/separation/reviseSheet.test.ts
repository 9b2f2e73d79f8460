import { parseHexColour } from '../colour';
import { jobSheetSchema, layerOf, paletteOf } from '../sheet';
import { createJobSheet } from './createJobSheet';
import { changePlate, setTint } from './editPlates';
import { type Revision, reviseSheet } from './reviseSheet';

const found = (hex: string, area: number) => ({ rgb: parseHexColour(hex), area });
const artwork = (letter: string, widthPx = 400, heightPx = 300) => ({
  sha256: letter.repeat(64),
  fileName: `${letter}.svg`,
  kind: 'vector' as const,
  widthPx,
  heightPx,
});
const WHITE = { colour: '#ffffff', onAllSides: true, inside: 0 };

const JOB = createJobSheet({
  name: 'Harbour',
  artwork: artwork('a'),
  colours: [found('#ffffff', 0.5), found('#c8102e', 0.2), found('#f0b030', 0.2), found('#1f4e79', 0.1)],
  purity: 2.5,
  transitions: [],
  background: WHITE,
  backgroundWish: 'auto',
  print: { widthMm: 200, chosen: false },
  garment: { name: 'Navy', colour: '#16233f' },
  inks: 'auto',
  date: '2026-03-14',
});

function revision(colours: [string, number][], more: Partial<Revision> = {}): Revision {
  return {
    artwork: artwork('b'),
    colours: colours.map(([hex, area]) => found(hex, area)),
    transitions: [],
    purity: 2.5,
    background: WHITE,
    before: colours.map(() => null),
    ...more,
  };
}

const SAME: [string, number][] = [
  ['#ffffff', 0.5],
  ['#c8102e', 0.2],
  ['#f0b030', 0.2],
  ['#1f4e79', 0.1],
];

const plateFor = (sheet: typeof JOB, hex: string) => {
  const { plateId } = paletteOf(sheet).find(({ colour }) => colour === hex)!;
  return sheet.plates.find(({ id }) => id === plateId);
};

test('the same colours in another file keep everything but the artwork', () => {
  const red = plateFor(JOB, '#c8102e')!;
  const worked = changePlate(JOB, red.id, { mesh: 305, ink: { ...red.ink, name: 'Signal' } });
  const { sheet, carried } = reviseSheet(worked, revision(SAME));
  expect(sheet).toEqual({ ...worked, artworks: [{ ...artwork('b'), id: worked.artworks[0]!.id }] });
  expect(carried.kept.every(({ by }) => by === 'colour')).toBe(true);
  expect(carried).toMatchObject({ added: [], lost: [], plates: [], stretch: 1 });
});

test('a colour at the place of one that is gone takes over its plate, tint and settings, and the ink its name', () => {
  const blue = plateFor(JOB, '#1f4e79')!;
  const worked = changePlate(JOB, blue.id, { mesh: 305 });
  const next: [string, number][] = [...SAME.slice(0, 3), ['#2e8b57', 0.1]];
  const { sheet, carried } = reviseSheet(worked, revision(next, { before: [null, null, null, 3] }));
  const green = plateFor(sheet, '#2e8b57')!;
  expect(green).toMatchObject({
    id: blue.id,
    number: blue.number,
    mesh: 305,
    ink: { name: 'Green', colour: '#2e8b57' },
  });
  expect(carried.kept).toContainEqual({ from: '#1f4e79', to: '#2e8b57', by: 'place' });
});

test('an ink of another colour than the artwork stays what it is', () => {
  const blue = plateFor(JOB, '#1f4e79')!;
  const ink = { ...blue.ink, name: 'Own mix', colour: '#203f70' };
  const next: [string, number][] = [...SAME.slice(0, 3), ['#2e8b57', 0.1]];
  const worked = changePlate(JOB, blue.id, { ink });
  const { sheet } = reviseSheet(worked, revision(next, { before: [null, null, null, 3] }));
  expect(plateFor(sheet, '#2e8b57')!.ink).toEqual(ink);
});

test('a colour that has only given room to another keeps its own plate', () => {
  const next: [string, number][] = [...SAME, ['#7a3fa0', 0.05]];
  const { sheet, carried } = reviseSheet(JOB, revision(next, { before: [null, null, null, null, 2] }));
  expect(plateFor(sheet, '#f0b030')!.ink.colour).toBe('#f0b030');
  expect(carried.added).toEqual([{ colour: '#7a3fa0', plate: 'Violet', isNew: true }]);
});

test('a new colour that an ink prints goes to that ink, as the first of equals', () => {
  const { sheet, carried } = reviseSheet(JOB, revision([...SAME, ['#c02a3a', 0.02]]));
  expect(plateFor(sheet, '#c02a3a')!.id).toBe(plateFor(JOB, '#c8102e')!.id);
  expect(carried.added).toEqual([{ colour: '#c02a3a', plate: 'Red', isNew: false }]);
  expect(sheet.plates).toHaveLength(JOB.plates.length);
});

test('plates without work go, the others stay in their order', () => {
  const { sheet, carried } = reviseSheet(JOB, revision(SAME.filter(([hex]) => hex !== '#f0b030')));
  expect(carried.plates).toEqual(['Yellow']);
  expect(carried.lost).toEqual(['#f0b030']);
  expect(sheet.plates.map(({ id }) => id)).toEqual(
    JOB.plates.map(({ id }) => id).filter((id) => id !== plateFor(JOB, '#f0b030')!.id),
  );
  expect(jobSheetSchema.safeParse(sheet).success).toBe(true);
});

test('tints and choices about the background are carried over, other proportions told', () => {
  const id = paletteOf(JOB).find(({ colour }) => colour === '#1f4e79')!.id;
  const tinted = setTint(JOB, id, 0.4);
  const { sheet, carried } = reviseSheet(tinted, revision(SAME, { artwork: artwork('b', 400, 330) }));
  expect(paletteOf(sheet).find(({ colour }) => colour === '#1f4e79')!.tint).toBe(0.4);
  expect(layerOf(sheet).background).toEqual(layerOf(JOB).background);
  expect(carried.stretch).toBeCloseTo(1.1, 9);
  expect(sheet.print.widthMm).toBe(200);
  expect(sheet.print.heightMm).toBeCloseTo(165, 9);
});
