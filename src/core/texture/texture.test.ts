import { testSheet } from '../../../tests/testSheet';
import { PLAIN_KERNELS } from '../kernels';
import { FRESH_MEMORY } from '../raster';
import { DEFAULT_TEXTURE, type JobSheet, TEXTURES, type Texture, addSpecial } from '../sheet';
import { PICTURE_SIDE, TILE_MM, TILE_SIDE, givePicture, sampleHoles, sparedPlates, tileOf, wearOf } from '.';

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
    const { values } = tileOf(texture({ kind }));
    for (const strength of [0.05, 0.2, 0.5, 0.9]) {
      const worn = values.reduce((sum, rank) => sum + +(rank < strength * 65536), 0) / values.length;
      expect(Math.abs(worn - strength)).toBeLessThan(0.002);
    }
  });

  test('goes on at its border as inside of it', () => {
    const { side, values } = tileOf(texture({ kind, contrast: 1 }));
    // Steps from column to column: those over the border are no larger than others.
    const step = (x: number) => {
      let sum = 0;
      for (let y = 0; y < side; y++) {
        sum += Math.abs(values[y * side + x]! - values[y * side + ((x + 1) % side)]!);
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
  // White once more lies below the inks as the base does.
  const twice = addSpecial(worn, 'hit');
  const hit = twice.plates.find(({ special }) => special !== null)!.id;
  expect(wearOf(twice, GRID, rect, PLAIN_KERNELS, FRESH_MEMORY)!.holesOf(hit)).toEqual(wide);
  expect(wearOf({ ...worn, texture: null }, GRID, rect, PLAIN_KERNELS, FRESH_MEMORY)).toBeNull();
});

describe('a picture as a texture', () => {
  const picture = { sha256: 'b'.repeat(64), fileName: 'ramp.png', aspect: 0.5, light: false };
  const of = (change: Partial<Texture> = {}) => texture({ kind: 'picture', picture, contrast: 1, ...change });
  /** Dark at the left, light at the right. */
  const ramp = Uint8Array.from(
    { length: PICTURE_SIDE * PICTURE_SIDE },
    (_, i) => ((i % PICTURE_SIDE) * 256) / PICTURE_SIDE,
  );
  beforeAll(() => givePicture(picture.sha256, ramp));

  it('wears its dark parts first, or its light ones', () => {
    const { side, values } = tileOf(of());
    const at = (x: number) => values[5 * side + x]! / 65536;
    for (const x of [0.1, 0.5, 0.9]) expect(at(Math.round(x * PICTURE_SIDE))).toBeCloseTo(x, 2);
    const light = tileOf(of({ picture: { ...picture, light: true } })).values;
    expect(light[5 * side + Math.round(0.1 * PICTURE_SIDE)]! / 65536).toBeCloseTo(0.9, 2);
  });

  it('goes on as in a mirror at its borders, and is as high as it is wide only where its file is', () => {
    const { side, aspect, values } = tileOf(of());
    expect([side, aspect]).toEqual([2 * PICTURE_SIDE, 0.5]);
    for (let k = 0; k < PICTURE_SIDE; k += 97) {
      expect(values[7 * side + PICTURE_SIDE + k]).toBe(values[7 * side + PICTURE_SIDE - 1 - k]);
      expect(values[(side - 1 - k) * side + 3]).toBe(values[k * side + 3]);
    }
  });

  it('wears any share of a plain picture, where nothing is darker than the rest', () => {
    const plain = { ...picture, sha256: 'c'.repeat(64) };
    givePicture(plain.sha256, new Uint8Array(PICTURE_SIDE * PICTURE_SIDE).fill(200));
    const { values, limitOf } = tileOf(of({ picture: plain }));
    for (const strength of [0.1, 0.3, 0.8]) {
      const limit = limitOf(strength);
      const worn = values.reduce((sum, value) => sum + +(value < limit), 0) / values.length;
      // Its grain has some places of equal height.
      expect(Math.abs(worn - strength)).toBeLessThan(0.04);
    }
  });

  it('that is not here is told in words', () => {
    expect(() => tileOf(of({ picture: { ...picture, sha256: 'd'.repeat(64) } }))).toThrow(/is not here/);
  });
});
