import { expect, test } from '@playwright/test';
import type { JobView } from '@/protocol/jobs';
import { openSign, settled } from './support';

test('a texture wears all plates, is moved by hand on the table, spares a plate, and is taken back', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'texture.svg');
  const texture = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).sheet.texture;
  const pixels = () =>
    page.getByTestId('table').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL('image/png'));
  await page.getByRole('tab', { name: /^Fit/ }).click();
  await settled(page);
  const whole = await pixels();
  await page.getByRole('button', { name: /^Worn texture/ }).click();
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
