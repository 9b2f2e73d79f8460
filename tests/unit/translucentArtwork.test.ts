/** Drawings that are nowhere opaque: their colours print as far as they cover. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { ciede2000, labFromRgb8 } from '@/core/colour';
import { separate } from './commandLine';

const GARMENT = '#203040';
const page = (inside: string) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">${inside}</svg>`;
const RED = (opacity: number) =>
  `<rect x="10" y="10" width="40" height="60" fill="#c02020" opacity="${opacity}"/>`;
const GREEN = '<circle cx="70" cy="60" r="20" fill="#20a040" opacity="0.7"/>';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-translucent-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The mean of a square in the middle of each of both shapes. */
async function middles(picture: Buffer, width: number) {
  const scale = width / 100;
  return Promise.all(
    [
      [30, 40],
      [70, 60],
    ].map(async ([x, y]) => {
      const side = Math.round(8 * scale);
      const { data } = await sharp(picture)
        .removeAlpha()
        .extract({
          left: Math.round((x! - 4) * scale),
          top: Math.round((y! - 4) * scale),
          width: side,
          height: side,
        })
        .raw()
        .toBuffer({ resolveWithObject: true });
      const sums = [0, 0, 0];
      data.forEach((code, i) => (sums[i % 3]! += code));
      const [r, g, b] = sums.map((sum) => sum / (data.length / 3)) as [number, number, number];
      return labFromRgb8([Math.round(r), Math.round(g), Math.round(b)]);
    }),
  );
}

test.each([
  ['beside opaque colours', RED(1) + GREEN, 2],
  ['alone', RED(0.5) + GREEN, 2],
  ['of one colour', RED(0.5) + GREEN.replace('#20a040', '#c02020'), 1],
])('translucent colours print as they look over the garment: %s', async (name, inside, inks) => {
  const file = path.join(folder, `${name}.svg`);
  writeFileSync(file, page(inside));
  const out = path.join(folder, name);
  const options = { width: '3in', garment: GARMENT, formats: 'tiff', marks: 'none' };
  expect(separate(file, out, options).status).toBe(0);
  const report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as {
    plates: unknown[];
    difference: { mean: number };
  };
  expect(report.plates).toHaveLength(1 + inks);
  // The renderer of a library lays the drawing over the garment.
  const wanted = new Resvg(page(`<rect width="100" height="100" fill="${GARMENT}"/>${inside}`), {
    fitTo: { mode: 'width', value: 400 },
  });
  const printed = readFileSync(path.join(out, 'preview.png'));
  const { width } = await sharp(printed).metadata();
  const [looks, prints] = [await middles(wanted.render().asPng(), 400), await middles(printed, width)];
  looks.forEach((lab, k) => expect(ciede2000(lab, prints[k]!)).toBeLessThan(3));
  expect(report.difference.mean).toBeLessThan(1.5);
});
