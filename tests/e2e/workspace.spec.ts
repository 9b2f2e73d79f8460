import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { PLAIN_KERNELS } from '@/core/kernels';
import {
  clipToPrint,
  evaluatePlates,
  plateArtworkNeed,
  predictPrint,
  preparePlateJob,
  viewLevel,
} from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { openArtwork } from '@/server/artwork/artworkSource';
import { takeInArtwork } from '@/server/artwork/openArtworkFile';
import { fitPlace, viewOf } from '@/ui/workspace/table/tablePlace';
import { SIGN, chooseArtwork, openSign, settled, temporaryFile } from './support';

test('the desk shows the demo jobs as prints on their garments', async ({ page }) => {
  await page.goto('/');
  for (const name of [
    'The Net Loft',
    'Brackwater Rowers',
    'Breakwater at dusk',
    'Kite & Kelp festival crew',
  ]) {
    // Other tests leave jobs on the desk; tiles far down do not stand in the page.
    await page.getByRole('searchbox', { name: 'Search jobs' }).fill(name);
    await expect(page.getByRole('heading', { level: 2, name })).toBeVisible();
  }
  const picture = page.getByRole('img', { name: 'Print of Kite & Kelp festival crew on Harbour navy' });
  await expect(picture).toBeVisible();
  expect(await picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(300);
});

test('dropped artwork becomes a job with plates, a base and a judged resolution', async ({ page }) => {
  const png = await sharp(Buffer.from((await renderSign(900)).buffer))
    .png()
    .toBuffer();
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('sign small.png', png));
  await page.waitForURL(/\/jobs\//);
  await settled(page);
  await page.getByRole('tab', { name: 'Artwork' }).click();
  await expect(page.getByText('900 × 600 px', { exact: false })).toBeVisible();
  const width = page.getByLabel('Width');
  await width.fill('6in');
  await width.press('Enter');
  await expect(page.getByTestId('resolution')).toContainText('150 dpi at print size, too low');
  await width.fill('76.2 mm');
  await width.press('Enter');
  await expect(page.getByTestId('resolution')).toContainText('300 dpi at print size, right');
  await width.fill('12 cubits');
  await width.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'unknown unit' })).toBeVisible();
  const screens = page
    .getByRole('list', { name: 'Screens' })
    .getByRole('listitem')
    .filter({ hasText: 'mesh' });
  await expect(screens).toHaveCount(5);
  await expect(screens.first()).toContainText('Base white');
  await expect(screens.last()).toContainText('Highlight white');
});

test('every page comes whole from the server, and the browser finds nothing to complain of', async ({
  page,
}) => {
  const id = await openSign(page, 'whole.svg');
  const complaints: string[] = [];
  page.on('pageerror', (error) => complaints.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error') complaints.push(message.text());
  });
  for (const route of ['/', '/stock', `/jobs/${id}`, `/jobs/${id}/press`, `/jobs/${id}/approval`]) {
    const answer = await page.goto(route, { waitUntil: 'networkidle' });
    expect([route, answer!.status()]).toEqual([route, 200]);
  }
  expect(complaints).toEqual([]);
});

async function renderSign(width: number) {
  const { Resvg } = await import('@resvg/resvg-js');
  const png = new Resvg(SIGN, { fitTo: { mode: 'width', value: width } }).render().asPng();
  return { buffer: png };
}

test('the table in the browser shows what the core computes in Node, to one level of 255', async ({
  page,
  request,
}) => {
  const id = await openSign(page);
  const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet };
  const canvas = page.getByTestId('table');
  const shown = await canvas.evaluate((element: HTMLCanvasElement) => ({
    width: element.width,
    height: element.height,
    pixels: [...element.getContext('2d')!.getImageData(0, 0, element.width, element.height).data],
  }));
  const size = { width: shown.width, height: shown.height };
  const part = clipToPrint(sheet, viewOf(fitPlace(sheet, size), size))!;
  const level = viewLevel(sheet, part.view);
  const job = preparePlateJob(sheet, null, PLAIN_KERNELS);
  const taken = await takeInArtwork(
    temporaryFile('sign.svg', SIGN),
    'sign.svg',
    mkdtempSync(path.join(tmpdir(), 'sign-')),
  );
  const source = openArtwork(taken.files);
  const planes = evaluatePlates(
    job,
    level.grid,
    level.region,
    source.read(plateArtworkNeed(job, level.grid, level.region)),
  );
  const expected = predictPrint(planes, sheet, level, part.view, PLAIN_KERNELS);
  let worst = 0;
  let inked = 0;
  for (let y = 0; y < part.view.height; y++) {
    for (let x = 0; x < part.view.width; x++) {
      for (let c = 0; c < 3; c++) {
        const here = shown.pixels[((part.y + y) * shown.width + part.x + x) * 4 + c]!;
        const there = expected[(y * part.view.width + x) * 4 + c]!;
        worst = Math.max(worst, Math.abs(here - there));
        if (here > 150) inked++;
      }
    }
  }
  // The browser draws in two bands, each at an origin of its own: a pixel on their seam may round differently.
  expect(worst).toBeLessThanOrEqual(1);
  expect(inked).toBeGreaterThan(1000);
});

test('changes are versions: undo, redo, and a second writer is told', async ({ page, request }) => {
  const id = await openSign(page);
  await page.getByRole('tab', { name: 'Fit' }).click();
  const choke = page.getByLabel('Choke', { exact: true });
  await choke.fill('0.5pt');
  await choke.press('Enter');
  await expect(choke).toHaveValue('0.18 mm');
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(choke).toHaveValue('0.15 mm');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(choke).toHaveValue('0.18 mm');
  await page.reload();
  await expect(page.getByLabel('Choke', { exact: true })).toHaveValue('0.18 mm');

  const job = (await (await request.get(`/api/jobs/${id}`)).json()) as { version: number; sheet: JobSheet };
  const mine = { ...job.sheet, name: 'From elsewhere' };
  expect(
    (await request.patch(`/api/jobs/${id}`, { data: { base: job.version, sheet: mine } })).status(),
  ).toBe(200);
  expect(
    (await request.patch(`/api/jobs/${id}`, { data: { base: job.version, sheet: mine } })).status(),
  ).toBe(409);
  await page.getByLabel('Choke', { exact: true }).fill('1px');
  await page.getByLabel('Choke', { exact: true }).press('Enter');
  await expect(page.getByText('changed in another window')).toBeVisible();
  await expect(page.getByLabel('Name of the job')).toHaveValue('From elsewhere');
});

test('inks are renamed, merged and left to the garment; screens are lifted and reordered by keyboard', async ({
  page,
}) => {
  await openSign(page);
  await page.getByRole('tab', { name: 'Plates' }).click();
  const screens = page
    .getByRole('list', { name: 'Screens' })
    .getByRole('listitem')
    .filter({ hasText: 'mesh' });
  await expect(screens).toHaveCount(5);
  await screens.nth(1).getByRole('button').first().click();
  const name = page.getByLabel('Name', { exact: true });
  await name.fill('Lamp yellow');
  await name.press('Enter');
  await expect(screens.nth(1)).toContainText('Lamp yellow');
  await page.getByRole('button', { name: 'Merge into' }).click();
  await page.getByRole('option').first().click();
  await expect(screens).toHaveCount(4);
  await page.getByRole('button', { name: 'Ink for #ffffff' }).click();
  await page.getByRole('option', { name: 'the garment supplies it' }).click();
  await expect(screens).toHaveCount(3);
  const names = async () =>
    (await screens.allInnerTexts()).map((text) => text.split('\n').slice(0, 2).join(' '));
  const before = await names();
  const lift = screens.nth(0).getByRole('button', { name: /^Lift/ });
  await lift.click();
  await expect(screens.nth(0).getByRole('button', { name: /back on the table/ })).toBeVisible();
  await screens.nth(1).getByRole('button', { name: /^Move/ }).focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  await page.keyboard.press('ArrowRight');
  await page.waitForTimeout(300);
  await page.keyboard.press('Space');
  await expect.poll(async () => (await names())[2]).toBe(before[1]);
});

test('films come as a PDF, TIFFs and a zip, and measure right', async ({ page }) => {
  await openSign(page);
  await page.getByRole('button', { name: 'Make films' }).click();
  await expect(page.getByRole('link', { name: /films\.zip/ })).toBeVisible({ timeout: 60_000 });
  const names = await page.getByRole('link', { name: /\.tif/ }).allInnerTexts();
  expect(names).toHaveLength(5);
  expect(names[0]).toMatch(/^01-base-white\.tif/);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /films\.pdf/ }).click();
  const file = await (await download).path();
  const info = execFileSync('pdfinfo', [file], { encoding: 'utf8' });
  expect(info).toMatch(/Pages:\s+5/);
  expect(info).toMatch(/Page size:\s+936 x 1368 pts/);
  const zipped = page.waitForEvent('download');
  await page.getByRole('link', { name: /films\.zip/ }).click();
  const zip = readFileSync(await (await zipped).path());
  expect(zip.subarray(0, 2).toString()).toBe('PK');
  expect(zip.includes('05-highlight-white.tif')).toBe(true);
});

test('a print that does not fit its sheet is refused with what would fit', async ({ page }) => {
  await openSign(page);
  await page.getByRole('tab', { name: 'Artwork' }).click();
  const width = page.getByLabel('Width');
  await width.fill('20in');
  await width.press('Enter');
  await page.getByRole('tab', { name: 'Film' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'off the sheet' }).first()).toContainText(
    'larger sheet',
  );
  await page.getByRole('button', { name: 'Make films' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'off the sheet' })).toHaveCount(2);
});

test('bad files are refused in words, and leave nothing behind', async ({ page, request }) => {
  const before = ((await (await request.get('/api/jobs')).json()) as unknown[]).length;
  for (const [name, content, words] of [
    ['empty.png', '', 'is empty'],
    ['cut.svg', SIGN.slice(0, 200), 'The SVG is broken'],
    [
      'outside.png',
      '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><image href="/etc/passwd"/></svg>',
      'outside itself',
    ],
    ['paper.jpg', '%PDF-1.7', 'The PDF is damaged'],
  ] as const) {
    await page.goto('/');
    await chooseArtwork(page, temporaryFile(name, content));
    await expect(page.getByRole('alert').filter({ hasText: words })).toBeVisible();
  }
  expect(((await (await request.get('/api/jobs')).json()) as unknown[]).length).toBe(before);
});

test('a colour chooses its plate and a plate its colour; sections that are set once a year are folded and stay as they were left', async ({
  page,
}) => {
  await openSign(page, 'chosen.svg');
  await page.getByRole('tab', { name: 'Plates' }).click();
  const green = page.getByRole('button', { name: 'Choose the plate that prints #2b7a4b' });
  await green.click();
  await expect(green).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('heading', { name: 'Ink of Green' })).toBeVisible();
  const screens = page.getByRole('list', { name: 'Screens' });
  await screens.getByRole('button', { name: /Red/ }).first().click();
  await expect(green).toHaveAttribute('aria-pressed', 'false');

  await page.getByRole('tab', { name: 'Film' }).click();
  const marks = page.getByRole('button', { name: /^Marks/ });
  await expect(marks).toContainText('registration');
  await expect(page.getByLabel('Mark size')).toBeHidden();
  await marks.click();
  await expect(page.getByLabel('Mark size')).toBeVisible();
  await page.getByRole('tab', { name: 'Fit' }).click();
  await page.getByRole('tab', { name: 'Film' }).click();
  await expect(page.getByLabel('Mark size')).toBeVisible();
});
