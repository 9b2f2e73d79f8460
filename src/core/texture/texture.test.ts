import { testSheet } from '../../../tests/testSheet';
import { PLAIN_KERNELS } from '../kernels';
import { FRESH_MEMORY } from '../raster';
import { DEFAULT_TEXTURE, type JobSheet, TEXTURES, type Texture } from '../sheet';
import { TILE_MM, TILE_SIDE, sampleHoles, sparedPlates, tileOf, wearOf } from '.';

const GRID = { widthPx: 900, heightPx: 700, pxPerMm: 8 };
const texture = (change: Partial<Texture> = {}): Texture => ({
  ...DEFAULT_TEXTURE,
  strength: 0.3,
  ...change,
});

function holes(of: Texture, rect = { x: 0, y: 0, width: GRID.widthPx, height: GRID.heightPx }, grid = GRID) {
  const out = new Uint8Array(rect.width * rect.height);
  sampleHoles(of, grid, rect, out);
  return out;
}

const shareOf = (mask: Uint8Array) => mask.reduce((sum, value) => sum + +(value !== 0), 0) / mask.length;

describe.each(TEXTURES)('%s', (kind) => {
  test('wears as much as its strength says, on its whole tile', () => {
    const { ranks } = tileOf(texture({ kind }));
    for (const strength of [0.05, 0.2, 0.5, 0.9]) {
      const worn = ranks.reduce((sum, rank) => sum + +(rank < strength * 65536), 0) / ranks.length;
      expect(Math.abs(worn - strength)).toBeLessThan(0.002);
    }
  });

  test('goes on at its border as inside of it', () => {
    const { side, ranks } = tileOf(texture({ kind, contrast: 1 }));
    // Steps from column to column: those over the border are no larger than others.
    const step = (x: number) => {
      let sum = 0;
      for (let y = 0; y < side; y++) {
        sum += Math.abs(ranks[y * side + x]! - ranks[y * side + ((x + 1) % side)]!);
      }
      return sum / side;
    };
    const inside = Array.from({ length: side - 1 }, (_, x) => step(x));
    expect(step(side - 1)).toBeLessThanOrEqual(Math.max(...inside));
  });
});

test('a part has the holes of the whole', () => {
  for (const kind of ['cracked', 'edges'] as const) {
    const own = texture({ kind, angleDeg: 33, scale: 1.7, xMm: 12.3, yMm: -4.5, secondDeg: 70 });
    const whole = holes(own);
    const rect = { x: 311, y: 207, width: 97, height: 61 };
    const part = holes(own, rect);
    for (let y = 0; y < rect.height; y++) {
      const from = (rect.y + y) * GRID.widthPx + rect.x;
      expect(part.subarray(y * rect.width, (y + 1) * rect.width)).toEqual(
        whole.subarray(from, from + rect.width),
      );
    }
  }
});

test('moved by its own period it is the same, and moved by whole pixels it is moved', () => {
  const still = holes(texture());
  expect(holes(texture({ xMm: TILE_SIDE * TILE_MM, yMm: -TILE_SIDE * TILE_MM }))).toEqual(still);
  const right = holes(texture({ xMm: 10 / GRID.pxPerMm }));
  let same = 0;
  for (let y = 0; y < GRID.heightPx; y++) {
    for (let x = 10; x < GRID.widthPx; x++) {
      same += +(right[y * GRID.widthPx + x] === still[y * GRID.widthPx + x - 10]);
    }
  }
  expect(same / (GRID.heightPx * (GRID.widthPx - 10))).toBeGreaterThan(0.9999);
});

test('turned by a quarter it runs the other way: streaks across become streaks down', () => {
  const runs = (mask: Uint8Array, along: number) => {
    let changes = 0;
    for (let i = along; i < mask.length; i++) changes += +(mask[i] !== mask[i - along]);
    return changes;
  };
  const across = holes(texture({ kind: 'brushed', contrast: 1 }));
  expect(runs(across, GRID.widthPx)).toBeGreaterThan(3 * runs(across, 1));
  const down = holes(texture({ kind: 'brushed', contrast: 1, angleDeg: 90 }));
  expect(runs(down, 1)).toBeGreaterThan(3 * runs(down, GRID.widthPx));
});

test('twice as large it is the same at twice the resolution', () => {
  const small = holes(texture({ scale: 0.5 }));
  const large = holes(texture({ scale: 1 }), undefined, { ...GRID, pxPerMm: 4 });
  expect(shareOf(small)).toBeGreaterThan(0.1);
  let off = 0;
  small.forEach((value, i) => (off += +(value !== large[i])));
  expect(off).toBe(0);
});

test('a second layer adds its holes to those of the first', () => {
  const first = holes(texture({ kind: 'speckle' }));
  const both = holes(texture({ kind: 'speckle', secondDeg: 60 }));
  expect(first.every((value, i) => value === 0 || both[i] === 255)).toBe(true);
  expect(shareOf(both)).toBeGreaterThan(1.4 * shareOf(first));
});

test('less contrast breaks holes up and wears as much', () => {
  const rims = (mask: Uint8Array) =>
    mask.reduce((sum, value, i) => sum + +(i > 0 && value !== mask[i - 1]), 0);
  const clean = holes(texture({ kind: 'washed', contrast: 1 }));
  const grainy = holes(texture({ kind: 'washed', contrast: 0.2 }));
  expect(rims(grainy)).toBeGreaterThan(2 * rims(clean));
});

test('wear of the edges is strongest at the border, and there is none in the middle', () => {
  const worn = holes(texture({ kind: 'edges', strength: 0.8 }));
  const inner = holes(texture({ kind: 'edges', strength: 0.8 }), { x: 300, y: 300, width: 300, height: 100 });
  expect(shareOf(inner)).toBe(0);
  expect(shareOf(worn.subarray(0, 20 * GRID.widthPx))).toBeGreaterThan(0.5);
});

test('plates whose dots interlock are left out together', () => {
  const sheet = testSheet();
  const [, one, other] = sheet.plates;
  const interlocked: JobSheet = {
    ...sheet,
    plates: sheet.plates.map((plate) =>
      plate === one || plate === other ? { ...plate, screen: { ...plate.screen, interlock: 1 } } : plate,
    ),
    texture: texture({ spared: [one!.id] }),
  };
  expect([...sparedPlates(interlocked)]).toEqual([one!.id, other!.id]);
});

test('colours share their holes, those of the base are wider, and what is spared has none', () => {
  const sheet = testSheet();
  const [base, one, other] = sheet.plates;
  const rect = { x: 100, y: 100, width: 200, height: 150 };
  const worn = { ...sheet, texture: texture({ spared: [other!.id] }) };
  const wear = wearOf(worn, GRID, rect, PLAIN_KERNELS, FRESH_MEMORY)!;
  expect(wear.holesOf(other!.id)).toBeNull();
  const [wide, own] = [wear.holesOf(base!.id)!, wear.holesOf(one!.id)!];
  expect(own).toEqual(holes(worn.texture, rect));
  expect(own.every((value, i) => value === 0 || wide[i] === 255)).toBe(true);
  expect(shareOf(wide)).toBeGreaterThan(shareOf(own));
  expect(wearOf({ ...worn, texture: null }, GRID, rect, PLAIN_KERNELS, FRESH_MEMORY)).toBeNull();
});
