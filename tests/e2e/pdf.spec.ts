import { type Page, expect, test } from '@playwright/test';
import { PDFDocument, rgb } from 'pdf-lib';
import type { JobView } from '@/protocol/jobs';
import { pdfPage } from '../hostile/pdfFile';
import { SPOT_PDF, separation } from '../spotPdf';
import { choose, chooseArtwork, openArtwork, settled, temporaryFile } from './support';

const sectionOf = (page: Page, title: string) =>
  page.locator('section').filter({ has: page.getByRole('heading', { name: title, exact: true }) });

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

test('the plates that a PDF names are offered, taken as they are, and given back', async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  const id = await openArtwork(page, 'spot inks.pdf', SPOT_PDF);
  const sheetOf = async () => ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).sheet;
  const before = await sheetOf();
  await page.getByRole('tab', { name: /^Plates/ }).click();
  await expect(
    page.getByText(/The file names 7 plates of its own: Harbour Teal, Kiln Red, White/),
  ).toBeVisible();
  await choose(page, 'Printed as', 'plates of the file');
  await settled(page);
  const section = sectionOf(page, 'Plates of the file');
  await expect(section.getByRole('listitem')).toHaveCount(7);
  await expect(page.getByLabel('Underbase', { exact: true })).toHaveText('White');
  await expect.poll(async () => (await sheetOf()).layers[0]!.kind).toBe('supplied');
  const taken = await sheetOf();
  expect(taken.plates.map(({ role, ink }) => `${role} ${ink.name}`)).toEqual([
    'underbase White',
    'colour Process yellow',
    'colour Harbour Teal',
    'colour Process cyan',
    'colour Process magenta',
    'colour Kiln Red',
    'colour Process black',
  ]);
  expect(taken.fit.chokeMm).toBe(0);
  // Process black is left out; it can come back.
  await section.getByRole('button', { name: 'Leave Process black out' }).click();
  await expect(section.getByText('left out')).toBeVisible();
  await expect.poll(async () => (await sheetOf()).plates.length).toBe(6);
  await section.getByRole('button', { name: 'Print Black' }).click();
  await expect.poll(async () => (await sheetOf()).plates.length).toBe(7);
  // A base that is made here lies below all inks and is drawn back from the garment.
  await choose(page, 'Underbase', 'made here');
  await expect.poll(async () => (await sheetOf()).fit.chokeMm).toBeNull();
  const made = await sheetOf();
  expect(made.plates[0]).toMatchObject({ role: 'underbase', sources: [] });
  expect(made.plates.find(({ ink }) => ink.name === 'White')!.role).toBe('colour');
  await settled(page);
  await choose(page, 'Underbase', 'none');
  await expect
    .poll(async () => (await sheetOf()).plates.some(({ role }) => role === 'underbase'))
    .toBe(false);
  expect((await sheetOf()).fit.chokeMm).toBe(0);
  // Back to flat colours the job is as it came in, fit and all.
  await choose(page, 'Printed as', 'flat colours on inks');
  await expect.poll(async () => (await sheetOf()).layers[0]!.kind).toBe('flat');
  const back = await sheetOf();
  expect([back.fit, back.plates]).toEqual([before.fit, before.plates]);
  // Exported and brought in again it has its plates once more.
  await choose(page, 'Printed as', 'plates of the file');
  await expect.poll(async () => (await sheetOf()).layers[0]!.kind).toBe('supplied');
  await settled(page);
  const bundle = await (await request.get(`/api/jobs/${id}/export`)).body();
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('spot.zip', bundle));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  await settled(page);
  await page.getByRole('tab', { name: /^Plates/ }).click();
  await expect(sectionOf(page, 'Plates of the file').getByRole('listitem')).toHaveCount(7);
});

test('a file of more plates than a job has is refused in words, and the job stays', async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  const inks = Array.from({ length: 17 }, (_, k) => `Ink${k}`);
  const pdf = pdfPage(inks.map((ink, k) => `/${ink} cs 1 scn ${10 * k + 5} 20 8 80 re f`).join('\n'), {
    page: `/Resources << /ColorSpace << ${inks.map((ink) => `/${ink} ${separation(ink)}`).join(' ')} >> >>`,
  });
  const id = await openArtwork(page, 'many inks.pdf', pdf);
  await page.getByRole('tab', { name: /^Plates/ }).click();
  await choose(page, 'Printed as', 'plates of the file');
  await expect(page.getByText(/The file names 17 plates; a job has 16 at most/)).toBeVisible();
  const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as JobView;
  expect(sheet.layers[0]!.kind).toBe('flat');
});
