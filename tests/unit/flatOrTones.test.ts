/** What artwork opens as, flat colours or tones, where most of it is neither opaque nor flat. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { formatHexColour, parseHexColour } from '@/core/colour';
import { isFullTone } from '@/core/separation';
import { analyseArtwork, openArtwork, takeInArtwork } from '@/server/artwork';
import { painting } from '../painting';
import { randomOf } from '../testSheet';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-flat-or-tones-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const picture = (svg: string, width: number) =>
  new Resvg(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 300">${svg}</svg>`, {
    fitTo: { mode: 'width', value: width },
  })
    .render()
    .asPng();

const raw = (data: Uint8Array, width: number, height: number) =>
  sharp(data, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();

async function analysed(bytes: Buffer) {
  const into = mkdtempSync(path.join(folder, 'in-'));
  const file = path.join(into, 'art');
  writeFileSync(file, bytes);
  const { facts, files } = await takeInArtwork(file, 'art', into);
  const source = openArtwork(files);
  try {
    const analysis = analyseArtwork(source, facts);
    const colours = analysis.colours.map(({ rgb }) => formatHexColour(rgb));
    return { ...analysis, colours, isToned: isFullTone(analysis.flatShare, analysis.transitions) };
  } finally {
    source.close();
  }
}

test('an icon of sixteen pixels without two alike is tones; one that is wholly transparent is not', async () => {
  const random = randomOf(5);
  const noise = Uint8Array.from({ length: 16 * 16 * 4 }, (_, i) => (i % 4 === 3 ? 255 : 256 * random()));
  expect((await analysed(await raw(noise, 16, 16))).isToned).toBe(true);
  expect((await analysed(await raw(new Uint8Array(16 * 16 * 4), 16, 16))).isToned).toBe(false);
});

test('colours that nothing lies between are flat, however few their pixels are; an icon of which no colour is found is tones', async () => {
  for (const [width, height] of [
    [1, 1],
    [1, 40],
  ] as const) {
    const red = Uint8Array.from({ length: width * height * 4 }, (_, i) => [200, 40, 40, 255][i % 4]!);
    const { isToned, colours } = await analysed(await raw(red, width, height));
    expect([isToned, colours]).toEqual([false, ['#c82828']]);
  }
  // Shaded, and all of it within an edge's reach of nothing: not even ends of its gradient are found.
  const ball = picture(
    '<radialGradient id="g"><stop stop-color="#9ad0f5"/><stop offset="1" stop-color="#12407a"/></radialGradient><circle cx="200" cy="150" r="110" fill="url(#g)"/>',
    16,
  );
  const icon = await sharp(ball).webp({ lossless: true }).toBuffer();
  expect(await analysed(icon)).toMatchObject({ isToned: true, colours: [] });
});

test('thin lines on nothing are flat colours, though a coarse level of them has none', async () => {
  const lines = ['#101010', '#c8382e', '#1f5f9b'].flatMap((colour, c) =>
    Array.from({ length: 8 }, (_, k) => {
      const y = 10 + 12 * (3 * k + c);
      return `<path d="M10 ${y}q190 ${20 - 6 * k} 380 0" fill="none" stroke="${colour}" stroke-width=".3"/>`;
    }),
  );
  const { isToned, colours } = await analysed(picture(lines.join(''), 2400));
  expect(isToned).toBe(false);
  expect(colours).toHaveLength(3);
});

test('at 60 % a painting is tones, and flat shapes are flat colours that fade', async () => {
  const { data } = painting(400, 300, 11, 'none');
  const faint = data.map((code, i) => (i % 4 === 3 ? 153 : code));
  expect(await analysed(await raw(faint, 400, 300))).toMatchObject({ isToned: true, transparentShare: 1 });
  const shapes = await analysed(
    picture(
      '<g opacity=".6"><rect x="20" y="20" width="150" height="120" fill="#cc3333"/><rect x="60" y="180" width="280" height="90" fill="#0066cc"/></g>',
      1200,
    ),
  );
  expect(shapes.isToned).toBe(false);
  // The renderer multiplies by alpha in eight bits.
  const codes = [...shapes.colours].sort().map((colour) => parseHexColour(colour));
  expect(codes).toHaveLength(2);
  [
    [0x00, 0x66, 0xcc],
    [0xcc, 0x33, 0x33],
  ].forEach((drawn, k) =>
    drawn.forEach((code, c) => expect(Math.abs(codes[k]![c]! - code)).toBeLessThanOrEqual(2)),
  );
  // Each with itself: it fades out into nothing.
  expect(shapes.transitions).toEqual(
    expect.arrayContaining(shapes.colours.map((colour) => [colour, colour])),
  );
});
