import { expect, test } from '@playwright/test';
import { PDFDocument, rgb } from 'pdf-lib';
import type { JobView } from '@/protocol/jobs';
import { chooseArtwork, settled, temporaryFile } from './support';

test('a PDF opens at its first page, and another one is chosen by its picture', async ({ page, request }) => {
  const document = await PDFDocument.create();
  for (const [k, colour] of [rgb(0.8, 0.2, 0.2), rgb(0.1, 0.5, 0.3), rgb(0.1, 0.2, 0.7)].entries()) {
    document.addPage([216, 144 + 36 * k]).drawCircle({ x: 108, y: 72, size: 60, color: colour });
  }
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('three pages.pdf', await document.save()));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  const first = page.url();
  await expect(page.getByText('Page 1 of 3')).toBeVisible();
  await page.getByRole('button', { name: 'Other pages' }).click();
  const third = page.getByRole('button', { name: 'Page 3', exact: true });
  // Its picture is there, and as high as the page is.
  await expect
    .poll(() => third.locator('img').evaluate((image) => (image as HTMLImageElement).naturalHeight))
    .toBe(320);
  await expect(page.getByRole('button', { name: "Page 1, this job's" })).toBeDisabled();
  await third.click();
  await page.waitForURL((url) => String(url) !== first, { timeout: 30_000 });
  await settled(page);
  await expect(page.getByText('Page 3 of 3')).toBeVisible();
  const id = page.url().split('/').pop()!;
  const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as JobView;
  expect(sheet.name).toBe('three pages, page 3');
  expect(sheet.artworks[0]).toMatchObject({ fileName: 'three pages.pdf', page: 3, kind: 'vector' });
  // 216 x 216 points.
  expect(sheet.print.widthMm).toBeCloseTo(76.2, 3);
  expect(sheet.print.heightMm).toBeCloseTo(76.2, 3);
  // The job goes out and comes in again with its page.
  const bundle = await (await request.get(`/api/jobs/${id}/export`)).body();
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('three.zip', bundle));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  expect(page.url()).not.toContain(id);
  await expect(page.getByText('Page 3 of 3')).toBeVisible();
  const none = await request.get(`/api/artwork/${sheet.artworks[0]!.sha256}/pages/4`);
  expect(none.status()).toBe(400);
});
