import { markNearBoundary } from './markNearBoundary';
import { nearestSet } from './nearestSet';
import { stampDiscs } from './stampDiscs';

type Inside = (x: number, y: number) => boolean;

/** A shape sampled at pixel centres, 255 = in. */
function raster(size: number, inside: Inside, finer = 1): Uint8Array {
  const n = size * finer;
  const mask = new Uint8Array(n * n);
  for (let y = 0; y < n; y++) {
    for (let x = 0; x < n; x++) {
      if (inside((x + 0.5) / finer - 0.5, (y + 0.5) / finer - 0.5)) mask[y * n + x] = 255;
    }
  }
  return mask;
}

function choke(mask: Uint8Array, size: number, radius: number): Uint8Array {
  const near = new Uint8Array(mask.length);
  markNearBoundary(mask, size, size, radius, near);
  return mask.map((value, i) => (near[i] ? 0 : value));
}

function spread(mask: Uint8Array, size: number, radius: number): Uint8Array {
  const near = new Uint8Array(mask.length);
  markNearBoundary(mask, size, size, radius, near);
  return mask.map((value, i) => (near[i] ? 255 : value));
}

const area = (mask: Uint8Array) => mask.reduce((sum, value) => sum + (value ? 1 : 0), 0);

/**
 * The area left by a choke by the definition of distance: on a raster four times as fine, each sample is held against every
 * sample just outside the shape.
 */
function oracleChokeArea(size: number, inside: Inside, radius: number): number {
  const finer = 4;
  const n = size * finer;
  const fine = raster(size, inside, finer);
  const edge: number[] = [];
  for (let i = 0; i < n * n; i++) {
    if (fine[i]) continue;
    if (fine[i - 1] || fine[i + 1] || fine[i - n] || fine[i + n]) edge.push(i % n, Math.floor(i / n));
  }
  // The edge lies half a sample before the first sample outside.
  const limit = (radius * finer + 0.5) ** 2;
  let kept = 0;
  for (let i = 0; i < n * n; i++) {
    if (!fine[i]) continue;
    const x = i % n;
    const y = Math.floor(i / n);
    let near = false;
    for (let k = 0; k < edge.length && !near; k += 2)
      near = (x - edge[k]!) ** 2 + (y - edge[k + 1]!) ** 2 < limit;
    if (!near) kept++;
  }
  return kept / (finer * finer);
}

describe('choke and spread against closed forms', () => {
  const size = 96;
  const centre = 47.3;

  // A disc of radius R choked by d is a disc of radius R - d.
  it.each([0.6, 1, 2.5, 4.25, 7.9, 20])('a disc choked by %d', (d) => {
    const disc: Inside = (x, y) => (x - centre) ** 2 + (y - centre) ** 2 <= 36 * 36;
    const measured = Math.sqrt(area(choke(raster(size, disc), size, d)) / Math.PI);
    expect(Math.abs(measured - (36 - d))).toBeLessThan(0.15);
  });

  it.each([0.6, 1, 2.5, 4.25, 7.9])('a disc spread by %d', (d) => {
    const disc: Inside = (x, y) => (x - centre) ** 2 + (y - centre) ** 2 <= 30 * 30;
    const measured = Math.sqrt(area(spread(raster(size, disc), size, d)) / Math.PI);
    expect(Math.abs(measured - (30 + d))).toBeLessThan(0.15);
  });

  // A square of side s choked by d has the side s - 2d; edges of whole pixels lie half a pixel from the centres.
  it.each([1, 3, 5.25, 9])('a square choked by %d keeps its corners', (d) => {
    const square: Inside = (x, y) => x > 19.5 && x < 69.5 && y > 19.5 && y < 69.5;
    const result = choke(raster(size, square), size, d);
    const columns = [...result.subarray(45 * size, 46 * size)].filter(Boolean).length;
    expect(Math.abs(columns - (50 - 2 * d))).toBeLessThanOrEqual(1);
    expect(area(result)).toBe(columns * columns);
  });

  it.each([0, 10, 22.5, 30, 45, 60])('a half plane at %d degrees moves by the radius', (degrees) => {
    const angle = (degrees * Math.PI) / 180;
    for (const [d, offset] of [
      [1.5, 0.1],
      [4.25, 0.4],
      [8.6, 0.77],
    ] as const) {
      const depth = (x: number, y: number) =>
        (x - 48 - offset) * Math.cos(angle) + (y - 48 - offset) * Math.sin(angle);
      const before = raster(size, (x, y) => depth(x, y) >= 0);
      const after = choke(before, size, d);
      // Mean shift of the edge: lost area over length, in a band across the edge away from the plane's border.
      let lost = 0;
      for (let y = 0; y < size; y++) {
        for (let x = 0; x < size; x++) {
          const along = -(x - 48 - offset) * Math.sin(angle) + (y - 48 - offset) * Math.cos(angle);
          if (Math.abs(along) < 20 && before[y * size + x] && !after[y * size + x] && depth(x, y) < 20)
            lost++;
        }
      }
      const length = 40;
      // A binary edge along the axis knows its place to half a pixel; slanting ones average out.
      const tolerance = degrees % 90 === 0 ? 0.51 : 0.3;
      expect(Math.abs(lost / length - d)).toBeLessThan(tolerance);
    }
  });
});

test.each([1, 2.53, 6.4, 11.7])(
  'a choke by %d of a shape with corners, holes and slants agrees with a full search for the nearest point outside',
  (d) => {
    const size = 120;
    const shape: Inside = (x, y) => {
      const tilted =
        Math.abs((x - 60) * 0.8 + (y - 60) * 0.6) < 40 && Math.abs((x - 60) * -0.6 + (y - 60) * 0.8) < 30;
      const hole = (x - 66) ** 2 + (y - 54) ** 2 < 90;
      return (tilted && !hole) || (x > 8 && x < 22.5 && y > 80 && y < 112);
    };
    const ours = area(choke(raster(size, shape), size, d));
    const perimeter = 2 * (80 + 60) + 60 + 2 * (14.5 + 32);
    // Mean deviation of the edge in pixels; edges along the axes move by whole pixels only.
    expect(Math.abs(ours - oracleChokeArea(size, shape, d)) / perimeter).toBeLessThan(0.2);
  },
);

test('choking is the dual of spreading', () => {
  const size = 40;
  const mask = raster(size, (x, y) => Math.hypot(x - 17, y - 22) < 9.3 || (x > 28 && y < 12));
  const inverse = mask.map((value) => 255 - value);
  const chokedInverse = choke(inverse, size, 3.3).map((value) => 255 - value);
  expect(Buffer.compare(spread(mask, size, 3.3), chokedInverse)).toBe(0);
});

test('a part of a plane gives what the whole gives', () => {
  const size = 90;
  const mask = raster(size, (x, y) => Math.sin(x / 5) + Math.cos(y / 7) > 0.3);
  const radius = 5.6;
  const whole = new Uint8Array(size * size);
  markNearBoundary(mask, size, size, radius, whole);
  const halo = 10;
  const part = new Uint8Array((20 + 2 * halo) * (20 + 2 * halo));
  const side = 20 + 2 * halo;
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) part[y * side + x] = mask[(y + 30) * size + x + 25]!;
  const near = new Uint8Array(side * side);
  markNearBoundary(part, side, side, radius, near);
  for (let y = halo; y < halo + 20; y++) {
    for (let x = halo; x < halo + 20; x++) expect(near[y * side + x]).toBe(whole[(y + 30) * size + x + 25]);
  }
});

test('a radius of nothing marks nothing, and a plane of one colour has no boundary', () => {
  const out = new Uint8Array(100).fill(7);
  markNearBoundary(new Uint8Array(100).fill(255), 10, 10, 4, out);
  expect(out.every((value) => value === 0)).toBe(true);
  markNearBoundary(
    raster(10, (x) => x > 4),
    10,
    10,
    0,
    out,
  );
  expect(out.every((value) => value === 0)).toBe(true);
});

test('the nearest set pixel is the one a full search finds', () => {
  const width = 31;
  const height = 23;
  const set = new Uint8Array(width * height);
  for (let i = 3; i < set.length; i += 67) set[i] = 255;
  const nearest = new Int32Array(width * height);
  nearestSet(set, width, height, 6, nearest);
  for (let i = 0; i < set.length; i++) {
    const distances = [...set.keys()]
      .filter((j) => set[j])
      .map((j) => Math.hypot((i % width) - (j % width), Math.floor(i / width) - Math.floor(j / width)));
    const best = Math.min(...distances);
    if (set[i] || best > 6) expect(nearest[i]).toBe(-1);
    else {
      const j = nearest[i]!;
      expect(set[j]).toBe(255);
      expect(
        Math.hypot((i % width) - (j % width), Math.floor(i / width) - Math.floor(j / width)),
      ).toBeCloseTo(best, 12);
    }
  }
});

test('discs cover the pixels whose centres they hold', () => {
  const out = new Uint8Array(5 * 4);
  stampDiscs(Float64Array.from([1, 1, 1, 4, 3, 0.2]), 5, 4, out);
  const rows = [0, 1, 2, 3].map((y) =>
    [...out.subarray(y * 5, y * 5 + 5)].map((v) => (v ? '#' : '.')).join(''),
  );
  expect(rows).toEqual(['.#...', '###..', '.#...', '....#']);
});
