import { type APIRequestContext, type Page, expect, test } from '@playwright/test';
import type { JobView } from '@/protocol/jobs';
import { openSign, settled } from './support';

/** Unfolds the textures of a job, and tells its texture, what the table shows, and what it showed before. */
async function openTextures(page: Page, request: APIRequestContext, id: string) {
  const texture = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).sheet.texture;
  const pixels = () =>
    page.getByTestId('table').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL('image/png'));
  await page.getByRole('tab', { name: /^Fit/ }).click();
  await settled(page);
  const whole = await pixels();
  await page.getByRole('button', { name: /^Worn texture/ }).click();
  return { texture, pixels, whole };
}

test('a texture wears all plates, is moved by hand on the table, spares a plate, and is taken back', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'texture.svg');
  const { texture, pixels, whole } = await openTextures(page, request, id);
  await page.getByRole('button', { name: 'Cracks' }).click();
  await expect.poll(async () => (await texture())?.kind).toBe('cracked');
  await settled(page);
  await expect.poll(pixels).not.toBe(whole);
  const worn = await pixels();

  await page.getByRole('button', { name: 'Move it on the table' }).click();
  const box = (await page.getByTestId('table').boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 300);
  await page.mouse.down();
  await page.mouse.move(box.x + 345, box.y + 270, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => (await texture())!.xMm).toBeGreaterThan(1);
  expect((await texture())!.yMm).toBeLessThan(-0.5);
  await settled(page);
  await expect.poll(pixels).not.toBe(worn);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Move it on the table' })).toBeVisible();

  // White would show in the holes of the colours.
  await page.getByRole('checkbox', { name: 'Base white' }).uncheck();
  await expect(page.getByText('it shows in the holes of the colours')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Base white' }).check();
  await expect(page.getByText('it shows in the holes of the colours')).toHaveCount(0);

  await page.getByRole('button', { name: 'No texture' }).click();
  await expect.poll(texture).toBeNull();
  await settled(page);
  await expect.poll(pixels).toBe(whole);
});

test('a drawing becomes a texture, its light parts can be worn instead, and a file that is none is refused', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'pictured.svg');
  const { texture, pixels, whole } = await openTextures(page, request, id);
  const input = page.getByLabel('Picture of a texture');
  await input.setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no picture') });
  await expect(page.getByRole('alert')).toBeVisible({ timeout: 30_000 });
  expect(await texture()).toBeNull();

  const stripes = Array.from({ length: 20 }, (_, k) => `<rect y="${k * 20}" width="400" height="8"/>`).join(
    '',
  );
  await input.setInputFiles({
    name: 'stripes.svg',
    mimeType: 'image/svg+xml',
    buffer: Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400" viewBox="0 0 400 400">${stripes}</svg>`,
    ),
  });
  await expect
    .poll(async () => (await texture())?.picture?.fileName, { timeout: 30_000 })
    .toBe('stripes.svg');
  // 8 of 20 are dark.
  expect((await texture())!.strength).toBeCloseTo(0.4, 1);
  await settled(page);
  await expect.poll(pixels).not.toBe(whole);
  const dark = await pixels();
  await page.getByLabel('Light parts are worn, not dark ones').check();
  await settled(page);
  await expect.poll(pixels).not.toBe(dark);

  // An exported job has the picture with it.
  const zip = await (await request.get(`/api/jobs/${id}/export`)).body();
  const { sha256 } = (await texture())!.picture!;
  expect(zip.includes(Buffer.from(`texture-${sha256.slice(0, 16)}.png`))).toBe(true);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(texture).toBeNull();
  await settled(page);
  await expect.poll(pixels).toBe(whole);
});
