import FFT from 'fft.js';
import {
  buildThresholdTile,
  eyeSensitivity,
  findAngles,
  meshBeats,
  pairBeats,
  planeAlone,
  screenLayers,
  tripleBeats,
} from '.';

const MESH_230 = { count: 230, threadUm: 45 };

// Derived: period = 1 / |f1 - f2|. 45 lpi at 22.5 degrees on a mesh of 230: (5, -2) lies at (242.3, 2.95) per inch.
test('45 lpi at 22.5 degrees on a mesh of 230 beats at 2.0 mm by (5, -2)', () => {
  const beat = meshBeats({ lpi: 45, angleDeg: 22.5 }, MESH_230, 0.4).find(
    ({ orders }) => orders[0] === 5 && orders[1] === -2,
  );
  expect(beat!.orders.slice(2)).toEqual([1, 0]);
  expect(beat!.periodMm).toBeCloseTo(2.006, 2);
});

// Derived: two equal screens a degrees apart beat at 1 / (2 f sin(a / 2)).
test.each([5, 15, 30])('equal screens %d degrees apart', (apart) => {
  const expected = 25.4 / (2 * 45 * Math.sin((apart * Math.PI) / 360));
  const beats = pairBeats({ lpi: 45, angleDeg: 22.5 }, { lpi: 45, angleDeg: 22.5 + apart }, 0.5);
  const found = beats.some(({ periodMm }) => Math.abs(periodMm / expected - 1) < 1e-6);
  expect(found).toBe(expected >= 1.5);
});

test('plates of one angle and frequency do not beat', () => {
  expect(pairBeats({ lpi: 45, angleDeg: 22.5 }, { lpi: 45, angleDeg: 22.5 }, 0.5)).toEqual([]);
});

// Derived: the offset-press set 71.6/18.4/45 at one frequency closes at 5.3 mm at 45 lpi; 22.5/52.5/82.5 sums to nothing.
test('three plates beat together, unless their vectors close', () => {
  const at = (angleDeg: number) => ({ lpi: 45, angleDeg });
  const offset = tripleBeats(at(71.6), at(18.4), at(45), 0.5);
  expect(offset.some(({ periodMm }) => Math.abs(periodMm - 5.3) < 0.1)).toBe(true);
  const clear = tripleBeats(at(22.5), at(52.5), at(82.5), 0.5);
  expect(clear.every(({ periodMm }) => periodMm < 3 || periodMm > 1e4)).toBe(true);
});

// Mannos and Sakrison 1974: the best is near 8 cycles a degree, which at 600 mm is a period of 1.3 mm.
test('the eye sees best near 8 cycles a degree', () => {
  const best = (600 * Math.tan(Math.PI / 180)) / 8;
  expect(eyeSensitivity(best)).toBeGreaterThan(0.97);
  expect(eyeSensitivity(best * 6)).toBeLessThan(0.5);
  expect(eyeSensitivity(best / 6)).toBeLessThan(0.1);
});

const SIDE = 1024;
const DPI = 1200;

function dots(lpi: number, angleDeg: number, tone: number): Uint8Array {
  const { region, bits: packed } = planeAlone({
    tone: new Uint16Array(SIDE * SIDE).fill(Math.round(tone * 65535)),
    width: SIDE,
    rows: SIDE,
    originX: 0,
    originY: 0,
    tile: buildThresholdTile({ dpi: DPI, lpi, angleDeg, shape: 'round' }),
  });
  screenLayers(region);
  return Uint8Array.from({ length: SIDE * SIDE }, (_, i) => (packed[i >> 3]! >> (7 - (i & 7))) & 1);
}

/** Period in mm of the strongest frequency between two bounds, by Fourier transform of a windowed picture. */
function strongestPeriod(picture: Float64Array, shortestMm: number, longestMm: number): number {
  const fft = new FFT(SIDE);
  const window = (k: number) => 0.5 - 0.5 * Math.cos((2 * Math.PI * k) / SIDE);
  const rows = Array.from({ length: SIDE }, (_, y) => {
    const out = fft.createComplexArray();
    const line = Array.from({ length: SIDE }, (_, x) => picture[y * SIDE + x]! * window(x) * window(y));
    fft.transform(out, fft.toComplexArray(line));
    return out;
  });
  let best = { power: 0, period: 0 };
  const perMm = DPI / 25.4 / SIDE;
  const most = Math.ceil(1 / shortestMm / perMm) + 1;
  for (let u = -most; u <= most; u++) {
    const column = fft.createComplexArray();
    const at = ((u + SIDE) % SIDE) * 2;
    for (let y = 0; y < SIDE; y++) {
      column[2 * y] = rows[y]![at]!;
      column[2 * y + 1] = rows[y]![at + 1]!;
    }
    const out = fft.createComplexArray();
    fft.transform(out, column);
    for (let v = 0; v <= most; v++) {
      const period = 1 / (Math.hypot(u, v) * perMm || 1e-9);
      if (period < shortestMm || period > longestMm) continue;
      const power = out[2 * v]! ** 2 + out[2 * v + 1]! ** 2;
      if (power > best.power) best = { power, period };
    }
  }
  return best.period;
}

test('the real dots of two plates show the period that is predicted', () => {
  const [one, other] = [dots(45, 22.5, 0.4), dots(45, 34.5, 0.4)];
  const mean = 0.4 * 0.4;
  const both = Float64Array.from(one, (dot, i) => dot * other[i]! - mean);
  const predicted = pairBeats({ lpi: 45, angleDeg: 22.5 }, { lpi: 45, angleDeg: 34.5 }, 0.4)[0]!;
  const found = strongestPeriod(both, 1.5, 8);
  expect(Math.abs(found / predicted.periodMm - 1)).toBeLessThan(0.07);
});

test('the real dots of a plate on a woven mesh show the period that is predicted', () => {
  const plate = dots(45, 22.5, 0.25);
  const pitch = DPI / 230;
  const open = 1 - (230 * 45) / 25400;
  const through = (k: number) => {
    // The share of a pixel that lies in an opening, from sixteen places in it.
    let sum = 0;
    for (let s = 0; s < 16; s++) sum += ((k + (s + 0.5) / 16) / pitch) % 1 < open ? 1 : 0;
    return sum / 16;
  };
  const opening = Float64Array.from({ length: SIDE }, (_, k) => through(k));
  const ink = Float64Array.from(plate, (dot, i) => dot * opening[i % SIDE]! * opening[Math.floor(i / SIDE)]!);
  const mean = ink.reduce((sum, each) => sum + each, 0) / ink.length;
  for (let i = 0; i < ink.length; i++) ink[i]! -= mean;
  const beats = meshBeats({ lpi: 45, angleDeg: 22.5 }, MESH_230, 0.25).filter(
    ({ periodMm }) => periodMm > 1.5 && periodMm < 6,
  );
  const predicted = [...beats].sort((p, q) => q.strength - p.strength)[0]!;
  expect(Math.abs(strongestPeriod(ink, 1.5, 6) / predicted.periodMm - 1)).toBeLessThan(0.07);
});

test('angles: plates that overlap are set apart, those that do not may share', () => {
  const pairs = new Set(['0,1', '1,2', '0,2']);
  const angles = findAngles(4, (p, q) => (pairs.has([p, q].sort().join()) ? 0.3 : 0));
  expect(new Set(angles.slice(0, 3)).size).toBe(3);
  expect(findAngles(3, () => 0)).toEqual([22.5, 22.5, 22.5]);
});
