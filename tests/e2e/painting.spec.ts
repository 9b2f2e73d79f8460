import { writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import sharp from 'sharp';
import { tablesFor } from '@/core/pipeline';
import { type JobSheet, backgroundOf, methodOf, paletteOf } from '@/core/sheet';
import { tableOf } from '@/core/solving';
import { painting } from '../painting';
import { chooseArtwork, settled, temporaryFile } from './support';

/** A made-up painting of 4 x 4.7 in as a PNG file. */
async function paintingFile(name: string): Promise<string> {
  const [width, height] = [600, 700];
  const { data } = painting(width, height, 5, 'oval');
  const file = temporaryFile(name, '');
  const picture = sharp(data, { raw: { width, height, channels: 4 } });
  writeFileSync(file, await picture.withMetadata({ density: 150 }).png().toBuffer());
  return file;
}

test('a painting opens as tones, follows its inks, and goes back to flat colours', async ({
  page,
  request,
}) => {
  // Inks are looked for anew with each change, and the print is surveyed behind that: more than a minute on a slow machine.
  test.setTimeout(240_000);
  await page.goto('/');
  const told = page.context().waitForEvent('response', (response) => /\/api\/tables\//.test(response.url()));
  await chooseArtwork(page, await paintingFile('meadow.png'));
  await page.waitForURL(/\/jobs\//, { timeout: 60_000 });
  await settled(page);
  const id = page.url().split('/').pop()!;
  const sheet = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet }).sheet;
  expect((await sheet()).layers).toMatchObject([{ kind: 'full-tone', solvedFor: '#16233f' }]);
  // The worker has solved its table meanwhile, as the page would have.
  const response = await told;
  expect(response.status()).toBe(200);
  const { entries } = tableOf(tablesFor(await sheet())[0]!);
  const solved = Buffer.from(entries.buffer, entries.byteOffset, entries.byteLength);
  expect(Buffer.compare(await response.body(), solved)).toBe(0);

  await page.getByRole('tab', { name: 'Plates' }).click();
  const reach = page.getByTestId('reach');
  await expect(reach).toContainText('from the artwork on average', { timeout: 60_000 });
  const reached = async () => Number(/is ([\d.]+) from/.exec((await reach.textContent())!)![1]);
  const whole = await reached();

  // Without one of its inks the print is farther from the artwork, and one step back brings it again.
  const { plates } = await sheet();
  const names = async () => (await sheet()).plates.map(({ ink }) => ink.name);
  const ink = plates.find(({ role }) => role === 'colour')!.ink.name;
  await page.getByRole('button', { name: `Leave ${ink} out` }).click();
  await expect.poll(names).not.toContain(ink);
  await expect.poll(reached, { timeout: 60_000 }).toBeGreaterThan(whole + 0.3);
  await page.keyboard.press('Control+z');
  await expect.poll(names).toContain(ink);
  await page.getByRole('button', { name: 'Add an ink' }).click();
  await page.getByRole('option', { name: 'Driftwood' }).click();
  await expect.poll(names).toContain('Driftwood');

  const based = page.getByRole('checkbox', { name: 'White under them' });
  await expect(based).toBeChecked();
  await based.uncheck();
  await expect.poll(async () => (await sheet()).plates.some(({ role }) => role === 'underbase')).toBe(false);

  await page.getByRole('button', { name: 'Printed as' }).click();
  await page.getByRole('option', { name: 'flat colours on inks' }).click();
  await expect(page.getByRole('heading', { name: 'Colours' })).toBeVisible();
  await expect.poll(async () => methodOf(await sheet())).toBe('spot');
  expect(paletteOf(await sheet()).length).toBeGreaterThan(5);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => methodOf(await sheet())).toBe('simulated');
});

test('a painting becomes films without a word from anybody, and tells why it is off and how its dots would lie best', async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await page.goto('/');
  await chooseArtwork(page, await paintingFile('heath.png'));
  await page.waitForURL(/\/jobs\//, { timeout: 60_000 });
  await settled(page);
  const id = page.url().split('/').pop()!;
  const layer = async () => {
    const read = (await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet };
    return read.sheet.layers[0];
  };
  // Sliders keep what they are moved to, by keys as by hand.
  await page.getByRole('tab', { name: 'Plates' }).click();
  const wish = page.getByRole('slider', { name: 'More base' });
  for (let k = 1; k <= 3; k++) {
    await wish.press('ArrowRight');
    await expect(wish).toHaveValue(String(k));
  }
  await expect.poll(layer).toMatchObject({ baseWish: 0.03 });

  // Why the print is off is shown with the share of each reason, and dots are compared on the artwork.
  await page.keyboard.press('Escape');
  await page.getByRole('radio', { name: 'Reasons' }).click();
  await expect(page.getByText('beyond these inks')).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'beyond these inks' })).toContainText('%', {
    timeout: 60_000,
  });
  await page.getByRole('tab', { name: 'Dots' }).click();
  const ways = page.getByRole('radiogroup', { name: 'How dots that meet lie' });
  await expect(ways.getByText('best', { exact: true })).toHaveCount(1, { timeout: 60_000 });
  await expect(ways.getByText('…')).toHaveCount(0);

  await page.getByRole('button', { name: 'Make films' }).first().click();
  const links = page.getByRole('link', { name: /\.tif/ });
  await expect(links.first()).toBeVisible({ timeout: 80_000 });
  const job = (await (await request.get(`/api/jobs/${page.url().split('/').pop()!}`)).json()) as {
    sheet: JobSheet;
  };
  await expect(links).toHaveCount(job.sheet.plates.length);
});

test('inks are proposed for each number of screens, and one set of films serves a white garment too', async ({
  page,
  request,
}) => {
  // Every number of screens is looked for, twice, and then films for two garments: minutes on a slow machine.
  test.setTimeout(240_000);
  await page.goto('/');
  await chooseArtwork(page, await paintingFile('dunes.png'));
  await page.waitForURL(/\/jobs\//, { timeout: 60_000 });
  await settled(page);
  const id = page.url().split('/').pop()!;
  const sheet = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet }).sheet;
  await page.getByRole('tab', { name: 'Plates' }).click();
  const screens = page.getByRole('radiogroup', { name: 'Screens' });
  // Better inks for a number may be found until all are looked for.
  await expect(screens.getByRole('radio', { name: '10', exact: true })).toBeEnabled({ timeout: 60_000 });
  await screens.getByRole('radio', { name: '4', exact: true }).click();
  await expect.poll(async () => (await sheet()).plates.length).toBe(4);
  await expect(page.getByTestId('screens')).toContainText('4 screens');
  // What is never proposed is in none of the sets that are found anew.
  const [banned] = (await sheet()).plates.filter(({ role }) => role === 'colour').map(({ ink }) => ink.name);
  await page.getByRole('button', { name: 'Never propose an ink' }).click();
  await page.getByRole('option', { name: banned! }).click();
  await screens.getByRole('radio', { name: '5', exact: true }).click({ timeout: 60_000 });
  await expect.poll(async () => (await sheet()).plates.length).toBe(5);
  expect((await sheet()).plates.map(({ ink }) => ink.name)).not.toContain(banned);

  await page.getByRole('tab', { name: 'Artwork' }).click();
  await page.getByRole('button', { name: 'Garment', exact: true }).click();
  await page.getByRole('option', { name: 'White' }).click();
  await page.getByRole('checkbox', { name: 'Find the films for all of them together' }).check();
  await expect.poll(async () => (await sheet()).layers).toMatchObject([{ together: true }]);
  const { garments, plates } = await sheet();
  const whites = plates.filter(({ role }) => role !== 'colour').map((plate) => plate.id);
  expect(garments[1]!.without).toEqual(whites);
  await expect(page.getByText(/[\d.]+ off/)).toHaveCount(2, { timeout: 60_000 });
});

test('a drawing is printed by tones, and the paper that it stands on is left to the garment', async ({
  page,
  request,
}) => {
  const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="3in" viewBox="0 0 400 300">
    <linearGradient id="g"><stop stop-color="#c33"/><stop offset=".5" stop-color="#e8c23a"/><stop offset="1" stop-color="#2a6bb0"/></linearGradient>
    <rect width="400" height="300" fill="#fff"/><circle cx="200" cy="150" r="110" fill="url(#g)"/></svg>`;
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('buoy on paper.svg', drawing));
  await page.waitForURL(/\/jobs\//);
  await settled(page);
  const id = page.url().split('/').pop()!;
  const sheet = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet }).sheet;
  await page.getByRole('tab', { name: 'Plates' }).click();
  await page.getByRole('button', { name: 'Printed as' }).click();
  await page.getByRole('option', { name: 'tones of all inks' }).click();
  await expect.poll(async () => methodOf(await sheet())).toBe('simulated');
  expect(backgroundOf(await sheet())).toMatchObject({ colour: '#ffffff', drop: 'outside' });
  const reach = page.getByTestId('reach');
  const reached = async () => Number(/is ([\d.]+) from/.exec((await reach.textContent()) ?? '')?.[1]);
  await expect.poll(reached, { timeout: 60_000 }).toBeLessThan(3);

  // Off the disc nothing prints; on it something does.
  await page.keyboard.press('0');
  const table = page.getByTestId('table');
  const box = (await table.boundingBox())!;
  const readings = page.getByRole('region', { name: 'Readings' });
  await table.hover({ position: { x: box.width / 2, y: box.height / 2 } });
  await expect(readings).toContainText(/Base white\s*\d/);
  await page.getByRole('tab', { name: 'Artwork' }).click();
  await page.getByRole('radio', { name: 'printed', exact: true }).click();
  await expect.poll(async () => backgroundOf(await sheet())?.drop).toBe('keep');
  await page.getByRole('radio', { name: 'left to the garment round the design' }).click();
  await expect.poll(async () => backgroundOf(await sheet())?.drop).toBe('outside');
});

test('a table that is being solved is waited for, and none that comes too late or not at all', async ({
  request,
}) => {
  const client = new pg.Client({ connectionString: process.env.KERAMEUS_DATABASE_URL });
  await client.connect();
  const [solving, late, failing, none] = ['d', 'e', 'f', '0'].map((digit) => digit.repeat(64));
  const get = (name: string) => request.get(`/api/tables/${name}`);
  try {
    await client.query(
      `insert into solved_tables (name, created_at) values ($1, now()), ($2, now() - interval '11 seconds'), ($3, now())`,
      [solving, late, failing],
    );
    expect((await get(late!)).status()).toBe(204);
    expect((await get(none!)).status()).toBe(204);
    const answers = [get(solving!), get(failing!)];
    let answered = 0;
    for (const answer of answers) void answer.then(() => answered++);
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(answered).toBe(0);
    await client.query('update solved_tables set entries = $2 where name = $1', [
      solving,
      Buffer.from('table'),
    ]);
    await client.query('delete from solved_tables where name = $1', [failing]);
    const [there, gone] = await Promise.all(answers);
    expect(await there!.text()).toBe('table');
    expect(gone!.status()).toBe(204);
  } finally {
    await client.query('delete from solved_tables where name = any($1)', [[solving, late, failing]]);
    await client.end();
  }
});
