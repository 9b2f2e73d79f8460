import { relabelWithin } from './relabelWithin';

const SIDE = 64;
const rect = { x: 0, y: 0, width: SIDE, height: SIDE };
const DIAMOND: [number, number][] = [
  [0.5, 0.1],
  [0.9, 0.5],
  [0.5, 0.9],
  [0.1, 0.5],
];
const local = { label: 3, from: 1, outline: DIAMOND };
/** The left half is colour 1, the right half colour 2. */
const halves = () => Uint8Array.from({ length: SIDE * SIDE }, (_, i) => (i % SIDE < SIDE / 2 ? 1 : 2));

test('gives a colour inside an outline its own label, and leaves other colours and what lies outside', () => {
  const labels = halves();
  relabelWithin(labels, rect, [local], SIDE, SIDE);
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      // Inside of a diamond: by the sum of distances from its middle.
      const inside = Math.abs((x + 0.5) / SIDE - 0.5) + Math.abs((y + 0.5) / SIDE - 0.5) < 0.4;
      expect(labels[y * SIDE + x]).toBe(x >= SIDE / 2 ? 2 : inside ? 3 : 1);
    }
  }
});

test('is the same in a part of the raster as in all of it', () => {
  const whole = halves();
  relabelWithin(whole, rect, [local], SIDE, SIDE);
  const part = { x: 9, y: 21, width: 30, height: 17 };
  const labels = new Uint8Array(part.width * part.height).map(
    (_, i) => halves()[(part.y + Math.floor(i / part.width)) * SIDE + part.x + (i % part.width)]!,
  );
  relabelWithin(labels, part, [local], SIDE, SIDE);
  labels.forEach((label, i) =>
    expect(label).toBe(whole[(part.y + Math.floor(i / part.width)) * SIDE + part.x + (i % part.width)]),
  );
});

test('outlines take their colours one after another: what the first took is no longer there for the second', () => {
  const labels = halves();
  relabelWithin(labels, rect, [local, { ...local, label: 4 }], SIDE, SIDE);
  expect(labels.includes(3)).toBe(true);
  expect(labels.includes(4)).toBe(false);
});
