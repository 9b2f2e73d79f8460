import { expect, test } from '@playwright/test';
import type { JobView } from '@/protocol/jobs';
import { openSign, settled } from './support';

test('tight edges are walked through, trapped by one press, and a screen is laid off on the table', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'edges.svg');
  const trapMm = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).sheet.fit.trapMm;
  const pixels = () =>
    page.getByTestId('table').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL('image/png'));
  await page.getByRole('tab', { name: /^Fit/ }).click();
  await settled(page);
  const survives = page.getByTestId('survives');
  await expect(survives).toContainText('may lie off by 0 mm before white or garment shows', {
    timeout: 60_000,
  });

  const zoom = page.getByTestId('zoom');
  const before = await zoom.innerText();
  await page.getByRole('button', { name: 'The next edge' }).click();
  await expect(page.getByText(/^edge 1 of \d+$/)).toBeVisible();
  await expect(page.getByRole('img', { name: /^Section of .* through the edge/ })).toBeVisible();
  await expect.poll(() => zoom.innerText()).not.toBe(before);
  await page.getByRole('button', { name: 'The next edge' }).click();
  await expect(page.getByText(/^edge 2 of \d+$/)).toBeVisible();

  await page.getByRole('button', { name: 'Trap by 0.15 mm' }).first().click();
  await expect.poll(trapMm).toBe(0.15);
  await expect(survives).not.toContainText('by 0 mm', { timeout: 60_000 });
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(trapMm).toBe(0);

  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await settled(page);
  const straight = await pixels();
  await page.getByRole('button', { name: / down and to the right$/ }).click();
  await expect(page.getByText('1 screen lies off')).toBeVisible();
  await settled(page);
  await expect.poll(pixels).not.toBe(straight);
  await page.getByRole('button', { name: 'put back' }).click();
  await settled(page);
  await expect.poll(pixels).toBe(straight);
  // Nothing of the job was changed by looking.
  expect(await trapMm()).toBe(0);
});
