import AxeBuilder from '@axe-core/playwright';
import { type Page, expect, test } from '@playwright/test';
import pg from 'pg';
import sharp from 'sharp';
import type { JobSheet } from '@/core/sheet';
import { chooseArtwork, openSign, settled, temporaryFile, unfold } from './support';

async function violations(page: Page): Promise<string[]> {
  const result = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  return result.violations.map(
    (each) => `${each.id}: ${each.nodes.map((node) => node.target.join(' ')).join(', ')}`,
  );
}

test('no screen breaks WCAG 2.2 AA as far as axe can tell', async ({ page }) => {
  test.setTimeout(180_000);
  const id = await openSign(page, 'axe.svg');
  for (const step of ['Artwork', 'Plates', 'Fit', 'Dots', 'Film']) {
    await page.getByRole('tab', { name: step }).click();
    await settled(page);
    expect.soft(await violations(page), step).toEqual([]);
  }
  for (const [name, address] of [
    ['jobs', '/'],
    ['stock', '/stock'],
    ['press sheet', `/jobs/${id}/press`],
    ['approval', `/jobs/${id}/approval`],
  ] as const) {
    await page.goto(address);
    await page.waitForTimeout(1500);
    expect.soft(await violations(page), name).toEqual([]);
  }
});

test('jobs are found, duplicated, deleted and brought back', async ({ page }) => {
  await openSign(page, 'dock sign.svg');
  await page.goto('/');
  const search = page.getByRole('searchbox', { name: 'Search jobs' });
  await search.fill('dock sign');
  const tile = page.getByRole('heading', { level: 2, name: 'dock sign', exact: true });
  await expect(tile).toHaveCount(1);
  await expect(page.getByTestId('job-count')).toHaveText(/^1 of \d+$/);
  await page.getByRole('button', { name: 'More for dock sign', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await page.waitForURL(/\/jobs\//);
  await expect(page.getByLabel('Name of the job')).toHaveValue('dock sign (copy)');
  await page.goto('/');
  await search.fill('dock sign');
  await expect(page.getByRole('heading', { level: 2 })).toHaveCount(2);
  await page.getByRole('button', { name: 'More for dock sign', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(tile).toHaveCount(0);
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(tile).toHaveCount(1);
  await search.fill('nothing of the kind');
  await expect(page.getByText('No job has')).toBeVisible();
});

test('a job goes out as a zip and comes in again as it was', async ({ page, request }) => {
  const id = await openSign(page, 'travelling.svg');
  await page.getByRole('tab', { name: 'Fit' }).click();
  await page.getByLabel('Choke', { exact: true }).fill('0.4mm');
  await page.getByLabel('Choke', { exact: true }).press('Enter');
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  const exported = await request.get(`/api/jobs/${id}/export`);
  expect(exported.headers()['content-disposition']).toContain('travelling.kerameus.zip');
  const bytes = await exported.body();
  expect(Buffer.compare(bytes, await (await request.get(`/api/jobs/${id}/export`)).body())).toBe(0);
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('travelling.zip', bytes));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  const again = page.url().split('/').pop()!;
  expect(again).not.toBe(id);
  const sheets = await Promise.all(
    [id, again].map(async (each) => (await (await request.get(`/api/jobs/${each}`)).json()).sheet),
  );
  expect(sheets[1]).toEqual(sheets[0]);
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('cut.zip', bytes.subarray(0, bytes.length / 2)));
  await expect(page.getByRole('alert').filter({ hasText: 'zip is damaged' })).toBeVisible();
});

test('stock is edited in place, checked, and a job keeps what it took', async ({ page }) => {
  await page.goto('/stock');
  await page.getByRole('tab', { name: /Garments/ }).click();
  await page.getByRole('button', { name: 'Add a garment' }).click();
  const name = page.getByRole('textbox', { name: /^Name, garment/ }).last();
  await name.fill('Test tidewrack');
  await name.press('Enter');
  await page.reload();
  await page.getByRole('tab', { name: /Garments/ }).click();
  await expect(page.getByRole('textbox', { name: /^Name, garment/ }).last()).toHaveValue('Test tidewrack');
  await openSign(page, 'stocked.svg');
  await page.getByRole('button', { name: 'Garment Test tidewrack' }).click();
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await page.goto('/stock');
  await page.getByRole('tab', { name: /Presses/ }).click();
  const heads = page.getByRole('textbox', { name: 'Heads, press 1' });
  await heads.fill('99');
  await heads.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'from 1 to 24' })).toBeVisible();
  await page.getByRole('tab', { name: /Garments/ }).click();
  await page
    .getByRole('button', { name: /^Take garment/ })
    .last()
    .click();
  await page.goBack();
  await settled(page);
  await page.getByRole('tab', { name: 'Artwork' }).click();
  await expect(page.getByText('Test tidewrack').first()).toBeVisible();
});

test('the press sheet holds the run, and the approval comes as PNG and PDF', async ({ page, request }) => {
  const id = await openSign(page, 'approved.svg');
  await page.goto(`/jobs/${id}/press`);
  await expect(page.getByRole('row')).toHaveCount(1 + 5 + 2);
  await expect(page.getByRole('row').nth(1)).toContainText('Base white');
  await expect(page.getByRole('row').nth(2)).toContainText('Flash');
  await page.goto(`/jobs/${id}/approval`);
  await expect(page.getByRole('img', { name: 'The print on a drawn garment' })).toBeVisible({
    timeout: 60_000,
  });
  const links = page.getByRole('link', { name: /approval\.(png|pdf)/ });
  await expect(links).toHaveCount(2);
  const pdf = await request.get((await links.last().getAttribute('href'))!);
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');
});

test('a job with a week of versions opens, and its history comes page by page', async ({ page, request }) => {
  const id = await openSign(page, 'long history.svg');
  const client = new pg.Client({ connectionString: process.env.KERAMEUS_DATABASE_URL });
  await client.connect();
  try {
    // Sixty an hour, a week long.
    await client.query(
      `insert into job_versions (job_id, number, parent, sheet)
       select job_id, n, n - 1, jsonb_set(sheet, '{fit,chokeMm}', to_jsonb(0.1 + (n % 50) / 100.0))
       from job_versions, generate_series(2, 10080) n where job_id = $1 and number = 1`,
      [id],
    );
    await client.query('update jobs set head = 10080 where id = $1', [id]);
  } finally {
    await client.end();
  }
  await page.reload();
  await settled(page);
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByRole('dialog').getByRole('listitem')).toHaveCount(100);
  await page.getByRole('button', { name: 'Older ones' }).click();
  await expect(page.getByRole('dialog').getByRole('listitem')).toHaveCount(200);
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect
    .poll(async () => ((await (await request.get(`/api/jobs/${id}`)).json()) as { version: number }).version)
    .toBe(10079);
});

test('all plates are set in one grid, several together', async ({ page, request }) => {
  const id = await openSign(page, 'grid.svg');
  await page.getByRole('tab', { name: 'Dots' }).click();
  await page.getByRole('button', { name: 'All plates in one grid' }).click();
  const grid = page.getByRole('dialog');
  await grid.getByRole('checkbox', { name: 'Tick Yellow' }).check();
  await grid.getByRole('checkbox', { name: 'Tick Red' }).check();
  await grid.getByRole('textbox', { name: 'Angle of Red' }).fill('52.5');
  await grid.getByRole('textbox', { name: 'Angle of Red' }).press('Enter');
  await grid.getByRole('combobox', { name: 'Mesh of Yellow' }).selectOption('230');
  await grid.getByRole('textbox', { name: 'Ink of film 4' }).fill('Buoy green');
  await grid.getByRole('textbox', { name: 'Ink of film 4' }).press('Enter');
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet };
  const shown = sheet.plates.map((plate) => [plate.ink.name, plate.mesh, plate.screen.angleDeg]);
  expect(shown.slice(1, 4)).toEqual([
    ['Yellow', 230, 52.5],
    ['Red', 230, 52.5],
    ['Buoy green', 180, 22.5],
  ]);
});

test('five hundred jobs stay usable', async ({ page, request }) => {
  test.setTimeout(120_000);
  const id = await openSign(page, 'many.svg');
  // Copies share the picture once it is drawn.
  await expect
    .poll(async () => (await request.get(`/api/jobs/${id}/picture`)).status(), { timeout: 60_000 })
    .toBe(200);
  for (let k = 0; k < 500; k += 25) {
    await Promise.all(
      Array.from({ length: 25 }, () =>
        request.post(`/api/jobs/${id}/duplicate`).then((each) => expect(each.status()).toBe(201)),
      ),
    );
  }
  await page.goto('/');
  await expect(page.getByTestId('job-count')).toHaveText(/^5\d\d on the desk$/);
  // Only the tiles near the window stand in the page.
  expect(await page.getByRole('heading', { level: 2 }).count()).toBeLessThan(40);
  const search = page.getByRole('searchbox', { name: 'Search jobs' });
  await search.fill('kite');
  await expect(page.getByRole('heading', { level: 2 })).toHaveText(['Kite & Kelp festival crew']);
  const jobs = (await (await request.get('/api/jobs')).json()) as { id: string; name: string }[];
  for (const job of jobs.filter((each) => each.name === 'many (copy)')) {
    await request.delete(`/api/jobs/${job.id}`);
  }
});

test('several files become several jobs, and one that is none is named', async ({ page }) => {
  await page.goto('/');
  const svg = (colour: string) =>
    `<svg xmlns="http://www.w3.org/2000/svg" width="3in" height="3in"><rect width="100%" height="100%" fill="${colour}"/></svg>`;
  await page
    .locator('input[type=file]')
    .setInputFiles([
      temporaryFile('first of three.svg', svg('#c8452f')),
      temporaryFile('second of three.txt', 'no artwork'),
      temporaryFile('third of three.svg', svg('#2b7a4b')),
    ]);
  await expect(page.getByText('2 new jobs are on the desk')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('alert').filter({ hasText: 'second of three.txt' })).toContainText(
    '1 of 3 files',
  );
  for (const name of ['first of three', 'third of three']) {
    await page.getByRole('searchbox', { name: 'Search jobs' }).fill(name);
    await expect(page.getByRole('heading', { level: 2, name })).toBeVisible();
  }
});

test('an outline clicked on the table is the part that prints; a key takes a corner back, another leaves it', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'part.svg');
  const masks = async () => {
    const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet };
    return sheet.layers.map(({ mask }) => mask);
  };
  const clickAt = async (x: number, y: number) => {
    const box = (await page.getByTestId('table').boundingBox())!;
    await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
  };
  await unfold(page, 'Part that prints');
  await page.getByRole('button', { name: 'Outline a part' }).click();
  await clickAt(0.3, 0.3);
  await clickAt(0.6, 0.3);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Outline a part' })).toBeVisible();
  expect(await masks()).toEqual([null]);

  await page.getByRole('button', { name: 'Outline a part' }).click();
  for (const [x, y] of [
    [0.3, 0.3],
    [0.7, 0.3],
    [0.9, 0.9],
  ] as const) {
    await clickAt(x, y);
  }
  await page.keyboard.press('Backspace');
  await expect(page.getByText('2 corners, 1 more at least.')).toBeVisible();
  await clickAt(0.5, 0.7);
  // The first corner closes it.
  await clickAt(0.3, 0.3);
  await expect.poll(async () => (await masks())[0]?.length).toBe(3);
  await settled(page);
  await expect(page.getByText('What lies outside of 3 corners is left out.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(masks).toEqual([null]);
});

test('what does not run for another garment is missing from its print, and from nothing else', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'garments.svg');
  const read = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet }).sheet;
  const plates = (await read()).plates.length;
  await page.getByLabel('Garment', { exact: true }).last().click();
  await page.getByRole('option').filter({ hasText: 'Sand' }).click();
  await expect.poll(async () => (await read()).garments.length).toBe(2);
  const colour = async () => {
    await settled(page);
    const box = (await page.getByTestId('table').boundingBox())!;
    const shot = await page.screenshot({
      clip: { x: box.x + box.width * 0.22, y: box.y + box.height * 0.5, width: 4, height: 4 },
    });
    const { data } = await sharp(shot).raw().toBuffer({ resolveWithObject: true });
    return [data[0]!, data[1]!, data[2]!];
  };
  const printed = await colour();
  const other = (await read()).garments[1]!;
  await page.getByRole('button', { name: `Green runs on ${other.name}` }).click();
  await expect.poll(async () => (await read()).garments.map(({ without }) => without.length)).toEqual([0, 1]);
  await expect(page.getByText('and 1 of them does not run here')).toBeVisible();
  await expect.poll(colour).not.toEqual(printed);
  // On the garment that the plates are made for all of them print, and all have their films.
  await page.getByRole('button', { name: 'Show the print on Navy' }).click();
  await expect(page.getByText('does not run here')).toBeHidden();
  const own = await colour();
  expect(own[1]! - own[0]!).toBeGreaterThan(30);
  expect((await read()).plates.length).toBe(plates);
  await page.goto(`/jobs/${id}/press`);
  await expect(page.getByText(`${other.name} (without 4 Green)`)).toBeVisible();
});
