import FFT from 'fft.js';
import { planeAlone, screenLayers } from './screenLayers';
import { type ScreenGeometry, realScreen } from './screenLattice';
import { type ThresholdTile, buildThresholdTile, tilePosition } from './thresholdTile';

const SIDE = 1024;

const tiles = new Map<string, ThresholdTile>();

function tileOf(geometry: ScreenGeometry): ThresholdTile {
  const key = JSON.stringify(geometry);
  const tile = tiles.get(key) ?? buildThresholdTile(geometry);
  tiles.set(key, tile);
  return tile;
}

/** A plane of one tone, screened: 1 = ink. */
function screened(geometry: ScreenGeometry, tone: number, originX = 0, originY = 0): Uint8Array {
  const tile = tileOf(geometry);
  const { region, bits: packed } = planeAlone({
    tone: new Uint16Array(SIDE * SIDE).fill(tone),
    width: SIDE,
    rows: SIDE,
    originX,
    originY,
    tile,
  });
  screenLayers(region);
  return Uint8Array.from({ length: SIDE * SIDE }, (_, i) => (packed[i >> 3]! >> (7 - (i & 7))) & 1);
}

/** The strongest frequency of an image and its direction, by Fourier transform with a window and a fitted peak. */
function strongestFrequency(bits: Uint8Array, near: number): { lpi: number; angles: number[] } {
  const fft = new FFT(SIDE);
  const window = Float64Array.from(
    { length: SIDE },
    (_, k) => 0.5 - 0.5 * Math.cos((2 * Math.PI * k) / SIDE),
  );
  const mean = bits.reduce((sum, bit) => sum + bit, 0) / bits.length;
  const re = new Float64Array(SIDE * SIDE);
  const im = new Float64Array(SIDE * SIDE);
  const out = fft.createComplexArray();
  for (let y = 0; y < SIDE; y++) {
    const row = Float64Array.from(
      { length: SIDE },
      (_, x) => (bits[y * SIDE + x]! - mean) * window[x]! * window[y]!,
    );
    fft.transform(out, fft.toComplexArray(row));
    for (let x = 0; x < SIDE; x++) {
      re[y * SIDE + x] = out[2 * x]!;
      im[y * SIDE + x] = out[2 * x + 1]!;
    }
  }
  const power = new Float64Array(SIDE * SIDE);
  const column = fft.createComplexArray();
  for (let x = 0; x < SIDE; x++) {
    for (let y = 0; y < SIDE; y++) {
      column[2 * y] = re[y * SIDE + x]!;
      column[2 * y + 1] = im[y * SIDE + x]!;
    }
    fft.transform(out, column);
    for (let y = 0; y < SIDE; y++) power[y * SIDE + x] = Math.hypot(out[2 * y]!, out[2 * y + 1]!);
  }
  const at = (x: number, y: number) => power[((y + SIDE) % SIDE) * SIDE + ((x + SIDE) % SIDE)]!;
  const reach = Math.ceil(near * 1.4);
  const peaks: { x: number; y: number; power: number }[] = [];
  for (let y = -reach; y <= reach; y++) {
    for (let x = 1; x <= reach; x++) {
      const here = at(x, y);
      if (Math.hypot(x, y) < near * 0.6) continue;
      let top = true;
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) if (at(x + dx, y + dy) > here) top = false;
      if (top) peaks.push({ x, y, power: here });
    }
  }
  peaks.sort((p, q) => q.power - p.power);
  const centroid = ({ x, y }: { x: number; y: number }) => {
    let sum = 0;
    let sx = 0;
    let sy = 0;
    for (let dy = -2; dy <= 2; dy++) {
      for (let dx = -2; dx <= 2; dx++) {
        const weight = at(x + dx, y + dy) ** 2;
        sum += weight;
        sx += weight * (x + dx);
        sy += weight * (y + dy);
      }
    }
    return { x: sx / sum, y: sy / sum };
  };
  const two = peaks.slice(0, 2).map(centroid);
  return {
    lpi: Math.hypot(two[0]!.x, two[0]!.y) / SIDE,
    // y points down in the image, so a positive angle is counter-clockwise as seen.
    angles: two.map(({ x, y }) => ((Math.atan2(-y, x) * 180) / Math.PI + 180) % 90),
  };
}

describe.each([
  { dpi: 720, lpi: 45, angleDeg: 0 },
  { dpi: 720, lpi: 45, angleDeg: 90 },
  { dpi: 720, lpi: 50, angleDeg: -90 },
  { dpi: 1440, lpi: 65, angleDeg: 180 },
])('a screen along the film, $lpi lpi at $angleDeg degrees, $dpi dpi', (geometry) => {
  it('repeats along rows and columns at its own period, and nowhere between', () => {
    const bits = screened(geometry, 22000);
    const period = geometry.dpi / geometry.lpi;
    const cells = 20;
    const alike = (dx: number, dy: number) => {
      let same = 0;
      for (let y = 0; y < 400; y++) {
        for (let x = 0; x < 400; x++) {
          if (bits[y * SIDE + x] === bits[(y + dy) * SIDE + x + dx]) same++;
        }
      }
      return same / (400 * 400);
    };
    const whole = Math.round(cells * period);
    const half = Math.round((cells + 0.5) * period);
    expect(alike(whole, 0)).toBeGreaterThan(0.95);
    expect(alike(0, whole)).toBeGreaterThan(0.95);
    // Half a period on dots and openings have changed places; a third of the film is ink.
    expect(alike(half, 0)).toBeLessThan(0.75);
    expect(alike(0, half)).toBeLessThan(0.75);
  });
});

// A sample of what is asked for: 35 to 65 lpi, 720 to 2880 dpi, whole and half degrees, those along the film included.
it.each([
  [720, 45, 0],
  [720, 65, 0.5],
  [720, 35, 45],
  [1440, 45, 82.5],
  [1440, 50, 90],
  [2880, 65, 89.5],
])(
  'a screen at %d dpi, %d lpi and %d degrees keeps both to 0.07 %% and 0.025 degrees',
  (dpi, lpi, angleDeg) => {
    const tile = buildThresholdTile({ dpi, lpi, angleDeg });
    expect(Math.abs(tile.lpi / lpi - 1)).toBeLessThan(7e-4);
    expect(Math.abs(tile.angleDeg - angleDeg)).toBeLessThan(0.025);
  },
);

describe.each([
  { dpi: 720, lpi: 45, angleDeg: 22.5 },
  { dpi: 720, lpi: 45, angleDeg: 45 },
  { dpi: 720, lpi: 55, angleDeg: 52.5 },
  { dpi: 600, lpi: 40, angleDeg: 82.5 },
  { dpi: 720, lpi: 35, angleDeg: -15 },
])('a screen of $lpi lpi at $angleDeg degrees, $dpi dpi', (geometry) => {
  it('has that frequency and angle in its Fourier transform, to 1 %', () => {
    const cycles = (geometry.lpi / geometry.dpi) * SIDE;
    const found = strongestFrequency(screened(geometry, 20000), cycles);
    expect(Math.abs((found.lpi * geometry.dpi) / geometry.lpi - 1)).toBeLessThan(0.01);
    const wanted = ((geometry.angleDeg % 90) + 90) % 90;
    for (const angle of found.angles) {
      const off = Math.abs(angle - wanted);
      expect(Math.min(off, 90 - off)).toBeLessThan(0.5);
    }
  });

  it('is told truly by the tile', () => {
    const tile = tileOf(geometry);
    expect(Math.abs(tile.lpi / geometry.lpi - 1)).toBeLessThan(0.0007);
    expect(Math.abs(tile.angleDeg - geometry.angleDeg)).toBeLessThan(0.025);
  });

  it('covers each tone exactly to one pixel of the tile', () => {
    const tile = tileOf(geometry);
    for (const tone of [1, 655, 6554, 16384, 32768, 49152, 58982, 65534]) {
      let inked = 0;
      for (let row = 0; row < tile.rows; row++) {
        for (let k = 0; k < tile.length; k++) if (tone >= tile.thresholds[row * tile.stride + k]!) inked++;
      }
      const places = tile.rows * tile.length;
      expect(Math.abs(inked - (tone / 65535) * places)).toBeLessThanOrEqual(1 + places / 65535);
    }
  });
});

test('a tone scale has the coverage asked for, and more tone never gives less ink', () => {
  const geometry = { dpi: 720, lpi: 45, angleDeg: 22.5 };
  let before: Uint8Array = new Uint8Array(SIDE * SIDE);
  for (let step = 0; step <= 10; step++) {
    const bits = screened(geometry, Math.round((step / 10) * 65535));
    const coverage = bits.reduce((sum, bit) => sum + bit, 0) / bits.length;
    expect(Math.abs(coverage - step / 10)).toBeLessThan(0.002);
    expect(before.every((bit, i) => bit <= bits[i]!)).toBe(true);
    before = bits;
  }
});

test('a strip from elsewhere on the print continues the same dots', () => {
  const geometry = { dpi: 720, lpi: 45, angleDeg: 22.5 };
  const here = screened(geometry, 30000);
  const there = screened(geometry, 30000, 200, 96);
  let different = 0;
  for (let y = 0; y < 500; y++) {
    for (let x = 0; x < 500; x++) {
      if (there[y * SIDE + x] !== here[(y + 96) * SIDE + x + 200]) different++;
    }
  }
  expect(different).toBe(0);
});

test('positions left of and above the corner are in the same tile', () => {
  const tile = buildThresholdTile({ dpi: 720, lpi: 45, angleDeg: 22.5 });
  const one = tilePosition(tile, -5, -3);
  expect(tilePosition(tile, -5 + tile.length, -3)).toBe(one);
  expect((tilePosition(tile, -5, -2) - one + tile.length) % tile.length).toBe(tile.shift);
});

test('a screen finer than the film holds is refused', () => {
  expect(() => buildThresholdTile({ dpi: 300, lpi: 120, angleDeg: 0 })).toThrow(/fewer than 4 dots/);
});

/** Areas of the connected parts of a picture that lie clear of its border. */
function partsOf(bits: Uint8Array, value: number): number[] {
  const seen = new Uint8Array(bits.length);
  const areas: number[] = [];
  for (let start = 0; start < bits.length; start++) {
    if (bits[start] !== value || seen[start]) continue;
    const open = [start];
    seen[start] = 1;
    let [area, inside] = [0, true];
    while (open.length > 0) {
      const at = open.pop()!;
      area++;
      const x = at % SIDE;
      const y = Math.floor(at / SIDE);
      if (x === 0 || y === 0 || x === SIDE - 1 || y === SIDE - 1) inside = false;
      for (const next of [x > 0 ? at - 1 : -1, x < SIDE - 1 ? at + 1 : -1, at - SIDE, at + SIDE]) {
        if (next < 0 || next >= bits.length || seen[next] || bits[next] !== value) continue;
        seen[next] = 1;
        open.push(next);
      }
    }
    if (inside) areas.push(area);
  }
  return areas;
}

// 155 µm on a mesh of 230 is 6 % of a cell at 45 lpi. Common practice, no source.
describe('dots that would not hold keep their size and become fewer', () => {
  const geometry = { dpi: 720, lpi: 45, angleDeg: 22.5, smallest: 0.06, largest: 0.9 };
  const cell = (720 / 45) ** 2;

  it.each([0.005, 0.02, 0.045])('at a tone of %d', (tone) => {
    const bits = screened(geometry, Math.round(tone * 65535));
    const covered = bits.reduce((sum, bit) => sum + bit, 0) / bits.length;
    expect(Math.abs(covered - tone)).toBeLessThan(0.002);
    const dots = partsOf(bits, 1);
    expect(dots.filter((area) => area < 0.06 * cell * 0.8).length / dots.length).toBeLessThan(0.02);
    const share = (dots.length / ((SIDE / 16) * (SIDE / 16))) * 0.06;
    expect(Math.abs(share / tone - 1)).toBeLessThan(0.15);
  });

  it.each([0.93, 0.98])('and openings that would plug as well, at %d', (tone) => {
    const bits = screened(geometry, Math.round(tone * 65535));
    const covered = bits.reduce((sum, bit) => sum + bit, 0) / bits.length;
    expect(Math.abs(covered - tone)).toBeLessThan(0.002);
    const openings = partsOf(bits, 0);
    expect(openings.length).toBeGreaterThan(100);
    expect(openings.filter((area) => area < 0.1 * cell * 0.8).length / openings.length).toBeLessThan(0.02);
  });

  it('nothing changes between the two', () => {
    const { dpi, lpi, angleDeg } = geometry;
    for (const tone of [0.1, 0.5, 0.85]) {
      const value = Math.round(tone * 65535);
      const [held, free] = [screened(geometry, value), screened({ dpi, lpi, angleDeg }, value)];
      expect(Buffer.compare(held, free)).toBe(0);
    }
  });
});

test('over all usual screens frequency and angle stay near what was asked, and tones have room', () => {
  let worst = { angle: 0, frequency: 0, pixels: Number.POSITIVE_INFINITY };
  let count = 0;
  for (const dpi of [720, 1200, 1440, 2400, 2880]) {
    for (let lpi = 35; lpi <= 65; lpi++) {
      for (let angleDeg = 0; angleDeg < 90; angleDeg += 0.5) {
        const real = realScreen({ dpi, lpi, angleDeg });
        worst = {
          angle: Math.max(worst.angle, Math.abs(real.angleDeg - angleDeg)),
          frequency: Math.max(worst.frequency, Math.abs(real.lpi / lpi - 1)),
          pixels: Math.min(worst.pixels, real.pixels),
        };
        count++;
      }
    }
  }
  expect(count).toBe(5 * 31 * 180);
  // A quarter of a tenth of a degree, seven parts in ten thousand; a wedge of 256 steps within one part in ten thousand.
  expect(worst.angle).toBeLessThan(0.025);
  expect(worst.frequency).toBeLessThan(0.0007);
  expect(1 / worst.pixels).toBeLessThan(1e-4);
});
