/** Sizes that files state, and the print size that a job opens with. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { startPrint } from '@/core/separation';
import { takeInArtwork } from '@/server/artwork';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-size-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const DISC =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><circle cx="50" cy="50" r="50" fill="#c8202a"/></svg>';
const disc = (width: number) => new Resvg(DISC, { fitTo: { mode: 'width', value: width } }).render().asPng();

describe('the size', () => {
  test.each([
    [{ widthPx: 24, heightPx: 24, ownWidthMm: 6.35 }, 304.8, true],
    [{ widthPx: 800, heightPx: 600, ownWidthMm: null }, 304.8, true],
    // 72 dpi: 3000 px would be 41 in.
    [{ widthPx: 3000, heightPx: 2000, ownWidthMm: 1058 }, 304.8, true],
    [{ widthPx: 100, heightPx: 400, ownWidthMm: null }, 101.6, true],
    [{ widthPx: 3000, heightPx: 2000, ownWidthMm: 254 }, 254, false],
  ])('of %j is %d mm', (facts, widthMm, chosen) => {
    expect(startPrint(facts)).toEqual({ widthMm, chosen });
  });

  test('of a picture with two resolutions has the right proportions', async () => {
    const file = path.join(folder, 'fax.tif');
    // 200 dpi across, 100 dpi down: a circle of 300 x 150 pixels.
    const squeezed = sharp(disc(300)).resize(300, 150, { fit: 'fill' });
    await squeezed.tiff({ xres: 200 / 25.4, yres: 100 / 25.4 }).toFile(file);
    const { facts } = await takeInArtwork(file, 'fax.tif', mkdtempSync(path.join(folder, 'fax-')));
    expect([facts.widthPx, facts.heightPx]).toEqual([300, 300]);
    expect(facts.oblong).toEqual({ widthPx: 300, heightPx: 150 });
    expect(facts.ownWidthMm).toBeCloseTo((300 / 200) * 25.4, 1);
  });

  test.each(['png', 'jpg', 'webp'])('of a picture without a resolution is none: %s', async (type) => {
    const file = path.join(folder, `plain.${type}`);
    // The encoder of PNG states 72 dpi of its own; the renderer states none.
    if (type === 'png') writeFileSync(file, disc(300));
    else await sharp(disc(300)).flatten({ background: '#fff' }).toFile(file);
    const { facts } = await takeInArtwork(file, `plain.${type}`, mkdtempSync(path.join(folder, 'plain-')));
    expect(facts.ownWidthMm).toBeNull();
  });

  test.each(['png', 'jpg'])('of a picture is its own where it states one: %s', async (type) => {
    const file = path.join(folder, `own.${type}`);
    await sharp(disc(300)).flatten({ background: '#fff' }).withMetadata({ density: 150 }).toFile(file);
    const { facts } = await takeInArtwork(file, `own.${type}`, mkdtempSync(path.join(folder, 'own-')));
    expect(facts.ownWidthMm).toBeCloseTo(2 * 25.4, 1);
  });
});
