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

test('a check that fails is told as one, and can be tried again', async ({ page }) => {
  await openSign(page, 'unchecked.svg');
  await page.getByRole('tab', { name: /^Fit/ }).click();
  const running = page.getByText('The whole print is being checked');
  await expect(page.getByTestId('survives')).toBeVisible({ timeout: 60_000 });
  await expect(running).toBeHidden({ timeout: 60_000 });
  // Workers that check rest after four seconds; the next ones fetch the drawing again.
  await page.waitForTimeout(6000);
  const drawings = '**/api/artwork/*/drawing';
  await page.route(drawings, (route) => route.abort());
  const choke = page.getByLabel('Choke', { exact: true });
  await choke.fill('0.4 mm');
  await choke.press('Enter');
  const failed = page.getByRole('alert').filter({ hasText: 'ended with an error' });
  await expect(failed).toBeVisible({ timeout: 60_000 });
  await page.unroute(drawings);
  await failed.getByRole('button', { name: 'Check again' }).click();
  await expect(failed).toBeHidden();
  await expect(running).toBeHidden({ timeout: 60_000 });
  await expect(failed).toBeHidden();
});
