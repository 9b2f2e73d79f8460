import FFT from 'fft.js';
import {
  MASK_SIDE,
  buildDispersedTile,
  planeAlone,
  screenLayers,
  tilePosition,
  voidAndClusterOrder,
} from '.';

const COUNT = MASK_SIDE * MASK_SIDE;

test('every place of the mask is inked once', () => {
  expect(new Set(voidAndClusterOrder()).size).toBe(COUNT);
});

// Ulichney 1993: dots without a pattern have little power below their principal frequency, sqrt(g) per dot for a tone g up to a half.
test.each([0.1, 0.25, 0.5])('at a tone of %d dots have little power in low frequencies', (tone) => {
  const order = voidAndClusterOrder();
  const fft = new FFT(MASK_SIDE);
  const rows = Array.from({ length: MASK_SIDE }, (_, y) => {
    const line = Array.from(
      { length: MASK_SIDE },
      (_, x) => (order[y * MASK_SIDE + x]! < tone * COUNT ? 1 : 0) - tone,
    );
    const out = fft.createComplexArray();
    fft.transform(out, fft.toComplexArray(line));
    return out;
  });
  const principal = Math.sqrt(Math.min(tone, 1 - tone));
  let [low, lowCount, high, highCount] = [0, 0, 0, 0];
  for (let u = 0; u < MASK_SIDE; u++) {
    const column = fft.createComplexArray();
    for (let y = 0; y < MASK_SIDE; y++) {
      column[2 * y] = rows[y]![2 * u]!;
      column[2 * y + 1] = rows[y]![2 * u + 1]!;
    }
    const out = fft.createComplexArray();
    fft.transform(out, column);
    for (let v = 0; v < MASK_SIDE; v++) {
      const fu = Math.min(u, MASK_SIDE - u) / MASK_SIDE;
      const fv = Math.min(v, MASK_SIDE - v) / MASK_SIDE;
      const frequency = Math.hypot(fu, fv);
      if (frequency === 0) continue;
      const power = out[2 * v]! ** 2 + out[2 * v + 1]! ** 2;
      if (frequency < principal / 3) {
        low += power;
        lowCount++;
      } else if (frequency > 0.8 * principal) {
        high += power;
        highCount++;
      }
    }
  }
  expect(low / lowCount / (high / highCount)).toBeLessThan(0.1);
});

test('dispersed dots have their size, their tone, and the same place in any strip', () => {
  const tile = buildDispersedTile({ dpi: 720, dotUm: 141 });
  expect(tile.length).toBe(MASK_SIDE * 4);
  const side = tile.length;
  const strip = (originX: number, originY: number, width: number, rows: number, tone: number) => {
    const { region, bits: out } = planeAlone({
      tone: new Uint16Array(width * rows).fill(Math.round(tone * 65535)),
      width,
      rows,
      originX,
      originY,
      tile,
    });
    screenLayers(region);
    return Uint8Array.from({ length: width * rows }, (_, i) => (out[i >> 3]! >> (7 - (i & 7))) & 1);
  };
  for (const tone of [0.03, 0.2, 0.5, 0.8]) {
    const whole = strip(0, 0, side, side, tone);
    const inked = whole.reduce((sum, bit) => sum + bit, 0);
    expect(Math.abs(inked / whole.length - tone)).toBeLessThan(1 / COUNT + 1e-9);
    let broken = 0;
    for (let y = 0; y < side; y++) {
      for (let x = 0; x < side; x++) {
        if (whole[y * side + x] !== whole[(y - (y % 4)) * side + x - (x % 4)]) broken++;
      }
    }
    expect(broken).toBe(0);
  }
  const whole = strip(0, 0, side, side, 0.4);
  const part = strip(-120 + side, 77, 64, 30, 0.4);
  for (let y = 0; y < 30; y++) {
    for (let x = 0; x < 64; x++) {
      expect(part[y * 64 + x]).toBe(whole[((77 + y) % side) * side + ((x - 120 + 2 * side) % side)]);
    }
  }
  expect(tilePosition(tile, -1, -1)).toBe((side - 1) * tile.stride + side - 1);
});
