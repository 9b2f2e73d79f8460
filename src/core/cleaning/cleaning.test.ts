import { type Rgb8, formatHexColour } from '../colour';
import { type Outline, areasSvg, cleanArtwork } from '.';
import type { CleanedArtwork } from './cleanArtwork';
import { Upsampler } from './upsample';
import { blurLabels, vote } from './smoothLabels';

const WHITE: Rgb8 = [255, 255, 255];
const RED: Rgb8 = [200, 16, 46];
const BLUE: Rgb8 = [31, 78, 121];

/** Artwork by a function of the middle of each pixel; what covers a pixel in part is found by eight by eight places in it. */
function drawn(width: number, height: number, at: (x: number, y: number) => Rgb8 | null) {
  const data = new Uint8Array(width * height * 4);
  const parts = 8;
  for (let i = 0; i < width * height; i++) {
    let [r, g, b, a] = [0, 0, 0, 0];
    for (let k = 0; k < parts * parts; k++) {
      const colour = at(
        (i % width) + ((k % parts) + 0.5) / parts,
        Math.floor(i / width) + (Math.floor(k / parts) + 0.5) / parts,
      );
      if (!colour) continue;
      r += colour[0];
      g += colour[1];
      b += colour[2];
      a++;
    }
    data.set([r / (a || 1), g / (a || 1), b / (a || 1), (255 * a) / parts ** 2].map(Math.round), i * 4);
  }
  return {
    width,
    height,
    read: (rect: { x: number; y: number; width: number; height: number }) => {
      const out = new Uint8Array(rect.width * rect.height * 4);
      for (let y = 0; y < rect.height; y++) {
        const from = ((rect.y + y) * width + rect.x) * 4;
        out.set(data.subarray(from, from + rect.width * 4), y * rect.width * 4);
      }
      return { rect, data: out };
    },
  };
}

const request = (colours: readonly Rgb8[], more = {}) => ({
  colours,
  purity: 5,
  leastPx: 2,
  withoutFrame: false,
  ...more,
});

function areaOf(cleaned: CleanedArtwork, colour: Rgb8) {
  return cleaned.areas.find((each) => each.colour === formatHexColour(colour))!;
}

/** Corners and ends of an outline's segments. */
const pointsOf = ({ segments }: Outline) => segments.map(({ to }) => to);

/** Area inside of outlines, in pixels, by the polygon through 16 points of each segment (the shoelace formula). */
function enclosed(outlines: readonly Outline[]): number {
  let sum = 0;
  for (const { from, segments } of outlines) {
    let [x, y] = from;
    for (const segment of segments) {
      const [sx, sy] = [x, y];
      for (let k = 1; k <= 16; k++) {
        const t = k / 16;
        const [u, v] =
          segment.kind === 'line'
            ? [sx + t * (segment.to[0] - sx), sy + t * (segment.to[1] - sy)]
            : [0, 1].map(
                (axis) =>
                  (1 - t) ** 3 * [sx, sy][axis]! +
                  3 * (1 - t) ** 2 * t * segment.one[axis]! +
                  3 * (1 - t) * t * t * segment.two[axis]! +
                  t ** 3 * segment.to[axis]!,
              );
        sum += (x * v! - u! * y) / 2;
        [x, y] = [u!, v!];
      }
    }
  }
  return Math.abs(sum);
}

test('a disc keeps its place and size, and its outline is few curves', () => {
  const art = drawn(60, 50, (x, y) => (Math.hypot(x - 31.3, y - 24.6) < 15.2 ? RED : WHITE));
  const disc = areaOf(cleanArtwork(art, request([WHITE, RED])), RED);
  expect(disc.outlines).toHaveLength(1);
  expect(enclosed(disc.outlines)).toBeGreaterThan(Math.PI * 15.2 ** 2 * 0.99);
  expect(enclosed(disc.outlines)).toBeLessThan(Math.PI * 15.2 ** 2 * 1.01);
  for (const [x, y] of pointsOf(disc.outlines[0]!)) {
    expect(Math.abs(Math.hypot(x - 31.3, y - 24.6) - 15.2)).toBeLessThan(0.15);
  }
  expect(disc.outlines[0]!.segments.length).toBeLessThan(24);
});

test('corners stay corners, at their places', () => {
  // A square turned by 20 degrees.
  const [cos, sin] = [Math.cos(0.35), Math.sin(0.35)];
  const inside = (x: number, y: number) =>
    Math.max(Math.abs((x - 30) * cos + (y - 30) * sin), Math.abs((y - 30) * cos - (x - 30) * sin)) < 16;
  const cleaned = cleanArtwork(
    drawn(60, 60, (x, y) => (inside(x, y) ? BLUE : WHITE)),
    request([WHITE, BLUE]),
  );
  const square = areaOf(cleaned, BLUE);
  const points = pointsOf(square.outlines[0]!);
  for (const [u, v] of [
    [16, 16],
    [-16, 16],
    [16, -16],
    [-16, -16],
  ] as const) {
    const corner = [30 + u * cos - v * sin, 30 + u * sin + v * cos] as const;
    expect(Math.min(...points.map(([x, y]) => Math.hypot(x - corner[0], y - corner[1])))).toBeLessThan(0.25);
  }
});

test('areas that are painted over others leave no gap: each outline below has all that lies above it', () => {
  const art = drawn(48, 48, (x, y) => (x < 24 ? (y < 20 ? RED : WHITE) : BLUE));
  const { areas, shares } = cleanArtwork(art, request([WHITE, RED, BLUE]));
  // The largest is painted first and goes over the whole artwork.
  expect(areas[0]!.colour).toBe(formatHexColour(BLUE));
  expect(enclosed(areas[0]!.outlines)).toBeCloseTo(48 * 48, 1);
  expect(enclosed(areas[1]!.outlines)).toBeCloseTo(24 * 48, -1);
  expect(enclosed(areas[2]!.outlines)).toBeCloseTo(24 * 20, -1);
  expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 2);
});

test('a smooth edge whose middle is the colour of another area gets no rim of it', () => {
  const GREY: Rgb8 = [128, 128, 128];
  const BLACK: Rgb8 = [0, 0, 0];
  const art = drawn(64, 40, (x, y) => (x > 52 ? GREY : Math.hypot(x - 22, y - 20) < 16 ? BLACK : WHITE));
  const grey = areaOf(cleanArtwork(art, request([WHITE, BLACK, GREY])), GREY);
  for (const [x] of grey.outlines.flatMap(pointsOf)) expect(x).toBeGreaterThan(50);
});

test('transparent artwork stays so', () => {
  const art = drawn(40, 40, (x, y) => (Math.hypot(x - 20, y - 20) < 10 ? RED : null));
  const { areas } = cleanArtwork(art, request([RED]));
  expect(areas).toHaveLength(1);
  expect(enclosed(areas[0]!.outlines)).toBeCloseTo(Math.PI * 100, -1);
});

test('pieces below a limit are dropped and counted, holes too', () => {
  const speck = (x: number, y: number) => Math.max(Math.abs(x - 10), Math.abs(y - 10)) < 1.5;
  const hole = (x: number, y: number) => Math.max(Math.abs(x - 30), Math.abs(y - 30)) < 1.5;
  const art = drawn(48, 48, (x, y) =>
    speck(x, y) || (Math.hypot(x - 30, y - 30) < 12 && !hole(x, y)) ? RED : WHITE,
  );
  const kept = cleanArtwork(art, request([WHITE, RED], { leastPx: 4 }));
  expect(areaOf(kept, RED).outlines).toHaveLength(3);
  expect(kept.specks.count).toBe(0);
  const dropped = cleanArtwork(art, request([WHITE, RED], { leastPx: 16 }));
  expect(areaOf(dropped, RED).outlines).toHaveLength(1);
  expect(dropped.specks.count).toBe(2);
  // Two squares of nine pixels, whose corners are round by then.
  expect(dropped.specks.areaPx).toBeGreaterThan(12);
  expect(dropped.specks.areaPx).toBeLessThan(18);
});

test('where compression has damaged a picture, small pieces nearly of the colour round them are its noise', () => {
  const NEAR: Rgb8 = [244, 244, 240];
  const spot = (x: number, y: number, radius: number) => Math.hypot(x - 30, y - 30) < radius;
  const piecesOf = (radius: number, purity: number) =>
    areaOf(
      cleanArtwork(
        drawn(60, 60, (x, y) => (spot(x, y, radius) ? NEAR : x < 6 ? RED : WHITE)),
        request([WHITE, NEAR, RED], { purity }),
      ),
      NEAR,
    );
  expect(piecesOf(3.5, 5)).toBeUndefined();
  expect(piecesOf(3.5, 2)).toBeDefined();
  expect(piecesOf(8, 5)).toBeDefined();
});

test('a frame is found, and taken away with what lies outside of it only where that is asked for', () => {
  const art = drawn(80, 60, (x, y) => {
    const toEdge = Math.min(x, y, 80 - x, 60 - y);
    if (toEdge > 3 && toEdge < 6) return BLUE;
    return Math.hypot(x - 40, y - 30) < 14 ? RED : WHITE;
  });
  const kept = cleanArtwork(art, request([WHITE, RED, BLUE]));
  expect(kept.frame).not.toBeNull();
  expect(areaOf(kept, BLUE)).toBeDefined();
  expect(kept.shares[2]).toBeGreaterThan(0.1);
  const without = cleanArtwork(art, request([WHITE, RED, BLUE], { withoutFrame: true }));
  expect(areaOf(without, BLUE)).toBeUndefined();
  expect(enclosed(areaOf(without, RED).outlines)).toBeCloseTo(Math.PI * 14 ** 2, -1);
});

test('a ring is no frame where it does not go round everything', () => {
  const art = drawn(60, 60, (x, y) => (Math.abs(Math.hypot(x - 24, y - 30) - 14) < 2 ? BLUE : WHITE));
  expect(cleanArtwork(art, request([WHITE, BLUE])).frame).toBeNull();
});

test('artwork of one colour is one rectangle, and nothing at all is refused in words', () => {
  const { areas } = cleanArtwork(
    drawn(7, 1, () => RED),
    request([RED]),
  );
  expect(areas).toHaveLength(1);
  expect(enclosed(areas[0]!.outlines)).toBeCloseTo(7, 6);
  expect(() =>
    cleanArtwork(
      drawn(5, 5, () => null),
      request([RED]),
    ),
  ).toThrow(/Nothing of the artwork is left/);
});

test('artwork of any size is worked through in tiles without a seam', () => {
  const art = drawn(150, 20, (x, y) => (Math.abs(y - 10 - 4 * Math.sin(x / 9)) < 3 ? RED : WHITE));
  const band = areaOf(cleanArtwork(art, request([WHITE, RED])), RED);
  expect(band.outlines).toHaveLength(1);
  expect(enclosed(band.outlines)).toBeCloseTo(6 * 150, -1);
});

test('upsampling keeps a flat picture, and a straight slope in its middle', () => {
  const width = 12;
  const slope = Float32Array.from({ length: width * width * 4 }, (_, i) => (i >> 2) % width);
  const places = new Float64Array(16 * 4);
  new Upsampler(4).pixel(slope, width, width, 5, 6, places);
  // Middles of the four places of pixel 5; Lanczos passes a slope on to about 1 in 100.
  [4.625, 4.875, 5.125, 5.375].forEach((expected, k) => expect(places[k * 4]).toBeCloseTo(expected, 1));
});

test('single pixels are outvoted, and a blurred straight edge stays where it is', () => {
  const [width, height] = [20, 20];
  const label = Uint8Array.from({ length: width * height }, (_, i) => (i % width < 10 ? 0 : 1));
  label[5 * width + 4] = 1;
  const voted = vote(label, width, height);
  expect(voted[5 * width + 4]).toBe(0);
  const { label: smooth, margin } = blurLabels(voted, width, height);
  expect([...smooth.subarray(10 * width, 11 * width)].indexOf(1)).toBe(10);
  expect(margin[10 * width + 9]).toBe(margin[10 * width + 10]);
});

test('the drawing says its size and paints in order', () => {
  const { areas } = cleanArtwork(
    drawn(20, 10, (x) => (x < 8 ? RED : WHITE)),
    request([WHITE, RED]),
  );
  const svg = areasSvg(areas, { widthPx: 20, heightPx: 10, widthMm: 100, heightMm: 50 });
  expect(svg).toContain('width="100mm" height="50mm" viewBox="0 0 20 10"');
  expect([...svg.matchAll(/fill="(#\w+)"/g)].map(([, colour]) => colour)).toEqual(['#ffffff', '#c8102e']);
});
