import { testSheet } from '../../../tests/testSheet';
import { assignColour, changePlate, setTint, toSimulated } from '../separation';
import { backgroundOf, droppedBackground } from './background';
import { garmentOf, otherGarments, setRuns, withGarment, withOtherGarment, withoutGarment } from './garments';
import { freeColourId, freeGarmentId } from './ids';
import {
  artworkOf,
  flatLayer,
  fullToneLayer,
  printsTones,
  methodOf,
  paletteOf,
  transitionsOf,
  withBackground,
  withMask,
  withPalette,
} from './layers';
import { withArtworkFacts } from './withArtworkFacts';

const sheet = testSheet();
const tones = toSimulated(sheet, { background: null });

describe('colours and the plates that print them', () => {
  it('are read from layers and sources, and written back as they were', () => {
    const palette = paletteOf(sheet);
    expect(palette.map(({ colour, tint }) => [colour, tint])).toEqual([
      ['#c8382e', 1],
      ['#f2d13a', 1],
    ]);
    expect(palette.every(({ plateId }) => sheet.plates.some(({ id }) => id === plateId))).toBe(true);
    expect(withPalette(sheet, palette)).toEqual(sheet);
  });

  it('are the same list while layers and plates are the same', () => {
    const renamed = { ...sheet, name: 'Other' };
    expect(paletteOf(renamed)).toBe(paletteOf(sheet));
    const other = changePlate(sheet, sheet.plates[0]!.id, { mesh: 90 });
    expect(paletteOf(other)).not.toBe(paletteOf(sheet));
    expect(paletteOf(other)).toEqual(paletteOf(sheet));
  });

  it('say nothing of a plate that is not there: the garment supplies them', () => {
    const lost = withPalette(
      sheet,
      paletteOf(sheet).map((each) => ({ ...each, plateId: 'gone' })),
    );
    expect(paletteOf(lost).map(({ plateId }) => plateId)).toEqual([null, null]);
  });

  it('keep their tints where others change', () => {
    const [first, second] = paletteOf(setTint(setTint(sheet, 'c1', 0.25), 'c2', 0.75));
    expect([first!.tint, second!.tint]).toEqual([0.25, 0.75]);
  });

  it('are none where plates are tones, which are left as they are', () => {
    expect(paletteOf(tones)).toEqual([]);
    expect(withPalette(tones, paletteOf(sheet))).toBe(tones);
  });
});

test('a layer is flat or full tone, and says so', () => {
  expect([printsTones(sheet), methodOf(sheet), fullToneLayer(sheet)]).toEqual([false, 'spot', null]);
  expect([printsTones(tones), methodOf(tones), flatLayer(tones)]).toEqual([true, 'simulated', null]);
  expect(transitionsOf(tones)).toEqual([]);
  expect(fullToneLayer(tones)!.solvedFor).toBe('#16233f');
});

test('a background that prints is none that is dropped', () => {
  const ground = { colour: '#ffffff', drop: 'keep' as const, open: true };
  const kept = withBackground(sheet, ground);
  expect([backgroundOf(kept), droppedBackground(kept)]).toEqual([ground, null]);
  expect(droppedBackground(withBackground(sheet, { ...ground, drop: 'outside' }))!.colour).toBe('#ffffff');
  expect(droppedBackground(sheet)).toBeNull();
});

test('a mask is of the layer and changes nothing else', () => {
  const outline: [number, number][] = [
    [0, 0],
    [1, 0],
    [0.5, 1],
  ];
  const masked = withMask(sheet, outline);
  expect(flatLayer(masked)!.mask).toEqual(outline);
  expect(withMask(masked, null)).toEqual(sheet);
});

test('garments have ids of their own, which none gets while another has it', () => {
  const [sand, black] = [
    { name: 'Sand', colour: '#ece4d2' },
    { name: 'Black', colour: '#141416' },
  ];
  const worn = withOtherGarment(withOtherGarment(sheet, sand), black);
  expect(worn.garments.map(({ id }) => id)).toEqual(['g1', 'g2', 'g3']);
  const less = withoutGarment(worn, 'g2');
  expect(otherGarments(less).map(({ name }) => name)).toEqual(['Black']);
  expect(freeGarmentId(less.garments)).not.toBe('g3');
  // The one that the plates are made for stays.
  expect(withoutGarment(worn, 'g1')).toEqual(worn);
  const left = setRuns(setRuns(worn, 'g2', 'base-white', false), 'g1', 'base-white', false);
  expect(left.garments.map(({ without }) => without)).toEqual([[], ['base-white'], []]);
  expect(setRuns(left, 'g2', 'base-white', true)).toEqual(worn);
  // A plate that is gone is left out nowhere, and what all plates are made for leaves none out.
  const bare = paletteOf(sheet).reduce((next, { id }) => assignColour(next, id, null), left);
  expect(bare.garments.map(({ without }) => without)).toEqual([[], [], []]);
  expect(withGarment(left, sand).garments[0]).toMatchObject({ id: 'g2', without: [] });
  const swapped = withGarment(worn, black);
  expect(garmentOf(swapped).id).toBe('g3');
  expect(otherGarments(swapped).map(({ name }) => name)).toEqual(['Sand']);
  expect(freeColourId([{ id: 'c1' }, { id: 'c3' }])).toBe('c4');
  expect(freeColourId([{ id: 'c3' }, { id: 'c2' }])).toBe('c4');
});

test('what stored artwork says of itself goes before what a sheet says', () => {
  const facts = { sha256: 'a'.repeat(64), kind: 'raster' as const, widthPx: 7, heightPx: 9 };
  const told = withArtworkFacts(sheet, facts);
  expect(artworkOf(told)).toEqual({ id: 'a1', fileName: 'sign.svg', ...facts });
});
