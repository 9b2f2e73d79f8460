import sharp from 'sharp';
import { PICTURE_SIDE } from '@/core/texture';
import { hashSamples, pngOfSamples, samplesOfPng } from '.';

const grey = Uint8Array.from({ length: PICTURE_SIDE * PICTURE_SIDE }, (_, i) => (i * 7) % 256);

test('samples come back from their PNG as they were', async () => {
  const png = await pngOfSamples(grey);
  expect(Buffer.compare(await samplesOfPng(png, hashSamples(grey)), grey)).toBe(0);
});

test.each([
  ['another picture', async () => pngOfSamples(grey.map((value) => 255 - value))],
  [
    'a picture of another size',
    async () =>
      sharp(grey, { raw: { width: 512, height: 2048, channels: 1 } })
        .resize(64)
        .png()
        .toBuffer(),
  ],
  [
    'a drawing that is called a PNG',
    async () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="1024" height="1024"/>'),
  ],
  ['a PNG that is cut off', async () => (await pngOfSamples(grey)).subarray(0, 5000)],
  ['nothing', async () => Buffer.alloc(0)],
])('%s is refused in words', async (_what, made) => {
  await expect(samplesOfPng(await made(), hashSamples(grey))).rejects.toThrow(/damaged, or another one/);
});
