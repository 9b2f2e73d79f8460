import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { outcome } from './commandLine';

// Films of a part of the artwork, read by libvips and held against the outline's own geometry.

const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-part-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const DPI = 600;
/** Percent of the artwork. */
const CORNERS = [
  [10, 15],
  [85, 30],
  [40, 90],
] as const;
const PART = CORNERS.map((corner) => corner.join(',')).join(' ');
const square = (inside: string) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="2in" height="2in" viewBox="0 0 100 100">${inside}</svg>`;
const FLAT = square('<rect width="100" height="100" fill="#c8382e"/>');
const TONED = square(
  '<defs><linearGradient id="g"><stop stop-color="#c8382e"/><stop offset="1" stop-color="#2a5f9b"/></linearGradient></defs><rect width="100" height="100" fill="url(#g)"/>',
);
const pixels = (svg: string, width: number) =>
  new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render().asPng();

interface Report {
  readonly plates: readonly { readonly file: string; readonly name: string }[];
  readonly part: readonly (readonly number[])[] | null;
}

/** How far a place lies inside of the triangle, in device pixels; negative outside. */
function insideBy(x: number, y: number): number {
  const side = (2 * DPI) / 100;
  const points = CORNERS.map(([px, py]) => [px * side, py * side] as const);
  return Math.min(
    ...points.map(([ax, ay], k) => {
      const [bx, by] = points[(k + 1) % 3]!;
      return ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / Math.hypot(bx - ax, by - ay);
    }),
  );
}

/** The inks of all films over each other, over the print alone: 1 = ink. */
async function inked(name: string, bytes: string | Uint8Array, options: readonly string[]) {
  const file = path.join(folder, `${name}.${typeof bytes === 'string' ? 'svg' : 'png'}`);
  writeFileSync(file, bytes);
  const out = path.join(folder, name);
  const size = ['--width', '2in', '--garment', '#16233f', '--dpi', String(DPI), '--marks', 'none'];
  expect(outcome(['separate', file, '--out', out, ...size, '--sheet', '8.5x11in', ...options])).toMatchObject(
    { status: 0 },
  );
  const { plates, part } = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report;
  expect(part).toEqual(options.includes('--part') ? CORNERS : null);
  const side = 2 * DPI;
  const ink = new Uint8Array(side * side);
  for (const plate of plates) {
    const film = path.join(out, plate.file);
    const { width, height } = await sharp(film).metadata();
    const place = {
      left: Math.round((width - side) / 2),
      top: Math.round((height - side) / 2),
      width: side,
      height: side,
    };
    const { data } = await sharp(film)
      .extract(place)
      .toColourspace('b-w')
      .raw()
      .toBuffer({ resolveWithObject: true });
    for (let i = 0; i < ink.length; i++) if (data[i]! < 128) ink[i] = 1;
  }
  return { ink, out };
}

/** How far ink lies outside of the triangle, and bareness inside of it, in device pixels. */
function worst(ink: Uint8Array) {
  const side = 2 * DPI;
  let [outside, bare] = [0, 0];
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const inside = insideBy(x + 0.5, y + 0.5);
      if (ink[y * side + x] === 1) outside = Math.max(outside, -inside);
      else bare = Math.max(bare, inside);
    }
  }
  return { outside, bare };
}

test('a drawing is cut at its part to the device pixel', async () => {
  const { ink, out } = await inked('flat', FLAT, ['--part', PART]);
  const { outside, bare } = worst(ink);
  expect(outside).toBeLessThan(1);
  expect(bare).toBeLessThan(1);
  // Its films are made again from the sheet.
  const again = path.join(folder, 'again');
  expect(outcome(['films', path.join(out, 'job.json'), '--out', again])).toMatchObject({ status: 0 });
  expect(readFileSync(path.join(again, '02-red.tif'))).toEqual(readFileSync(path.join(out, '02-red.tif')));
}, 120_000);

test('a picture is cut within a part of its own pixels', async () => {
  // Six device pixels to one of the picture.
  const { ink } = await inked('picture', pixels(FLAT, 200), ['--part', PART]);
  const { outside, bare } = worst(ink);
  expect(outside).toBeLessThan(2.5);
  // At a corner an edge of pixels is rounder than the outline.
  expect(bare).toBeLessThan(6);
}, 120_000);

test('tones end at the part as a hard edge, with nothing beyond it and all as it was inside', async () => {
  const picture = pixels(TONED, 300);
  const tones = ['--method', 'simulated', '--inks', 'red=#c8382e,blue=#2a5f9b'];
  const { ink } = await inked('tones', picture, [...tones, '--part', PART]);
  const { outside } = worst(ink);
  expect(outside).toBeLessThan(2.5);
  // Farther inside than the base is drawn back, every dot is the one that the whole artwork has there.
  const whole = await inked('whole tones', picture, tones);
  let [compared, other] = [0, 0];
  for (let i = 0, side = 2 * DPI; i < ink.length; i++) {
    if (insideBy((i % side) + 0.5, Math.floor(i / side) + 0.5) < 0.6 * (DPI / 25.4)) continue;
    compared++;
    if (ink[i] !== whole.ink[i]) other++;
  }
  expect(compared).toBeGreaterThan(0.2 * ink.length);
  expect(other).toBe(0);
}, 120_000);

test.each([
  ['10,10 60,10', /2 of at least three corners/],
  ['10,10 60,10 here', /"here" is no corner/],
  ['10,10 60,10 60,900', /"60,900" is no corner/],
])('a part "%s" is refused in words', (part, words) => {
  const file = path.join(folder, 'flat.svg');
  const out = path.join(folder, 'refused');
  const { status, err } = outcome([
    'separate',
    file,
    '--out',
    out,
    '--width',
    '2in',
    '--garment',
    '#16233f',
    '--part',
    part,
  ]);
  expect(status).not.toBe(0);
  expect(err).toMatch(words);
  expect(existsSync(path.join(out, 'films.pdf'))).toBe(false);
});
