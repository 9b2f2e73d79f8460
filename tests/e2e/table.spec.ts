import { expect, test } from '@playwright/test';
import type { JobSheet } from '@/core/sheet';
import { chooseArtwork, openSign, settled, SIGN, temporaryFile } from './support';

test('the pallet plays the build-up, and the table says when it is not at the end', async ({ page }) => {
  await openSign(page, 'pallet.svg');
  const pallet = page.getByRole('slider', { name: /^Pallet/ });
  await expect(pallet).toHaveAttribute('aria-valuetext', 'complete');
  await pallet.focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByText('The print after 1 of 5 screens')).toBeVisible();
  await page.reload();
  await expect(page.getByText('The print after 1 of 5 screens')).toBeVisible();
  await page.getByRole('button', { name: 'print all' }).click();
  await expect(pallet).toHaveAttribute('aria-valuetext', 'complete');
});

test('flashes, heads and second passes have their place, and a run too long for the press is told', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'run.svg');
  const add = async (what: string) => {
    await page.getByRole('button', { name: 'Add to the run' }).click();
    await page.getByRole('menuitem', { name: what }).click();
    await expect(page.getByTestId('save-state')).toHaveText('saved');
  };
  await expect(page.getByText('7 of 10 heads, 2 of 2 flashes')).toBeVisible();
  await add('Flash');
  await expect(page.getByText('the run does not fit')).toBeVisible();
  await expect(page.getByRole('tab', { name: /Plates.*severe findings/ })).toBeVisible();
  await page.getByRole('button', { name: 'Take flash out' }).first().click();
  await expect(page.getByText('7 of 10 heads, 2 of 2 flashes')).toBeVisible();
  await add('The same screen again');
  await expect(page.getByText('8 of 10 heads')).toBeVisible();
  await add('Empty head');
  await expect(page.getByText('9 of 10 heads')).toBeVisible();
  const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet };
  const base = sheet.plates[0]!.id;
  expect(sheet.run.filter((each) => each.kind === 'screen' && each.plateId === base)).toHaveLength(2);
});

test('a screen keeps the number of its film when the order changes', async ({ page }) => {
  await openSign(page, 'numbers.svg');
  const screens = page
    .getByRole('list', { name: 'Screens' })
    .getByRole('listitem')
    .filter({ hasText: 'mesh' });
  const numbers = async () =>
    (await screens.allInnerTexts()).map((text) => Number(text.trim().split(/\s/)[0]));
  expect(await numbers()).toEqual([1, 2, 3, 4, 5]);
  await screens.nth(1).getByRole('button', { name: /^Move/ }).focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  await page.keyboard.press('ArrowRight');
  await page.waitForTimeout(300);
  await page.keyboard.press('Space');
  await expect.poll(numbers).toEqual([1, 3, 2, 4, 5]);
});

test('readings tell each plate, the prediction and the difference; pins stay and follow changes', async ({
  page,
}) => {
  await openSign(page, 'read.svg');
  await page.keyboard.press('0');
  const table = page.getByTestId('table');
  const box = (await table.boundingBox())!;
  const readings = page.getByRole('region', { name: 'Readings' });
  // The middle of the sign is green board beside the red lamp.
  await table.hover({ position: { x: box.width * 0.52, y: box.height / 2 } });
  await expect(readings).toContainText(/Base white\s*100/);
  await expect(readings).toContainText(/Green\s*100/);
  await table.click({ position: { x: box.width * 0.52, y: box.height / 2 } });
  await expect(readings.getByRole('button', { name: 'Take pin 1 out' })).toBeVisible();
  await page.getByRole('tab', { name: 'Plates' }).click();
  await page.getByRole('button', { name: 'Ink for #2b7a4b' }).click();
  await page.getByRole('option', { name: 'the garment supplies it' }).click();
  await table.hover({ position: { x: 3, y: 3 } });
  await page.reload();
  await settled(page);
  const pinned = readings.locator('div').last();
  await expect(pinned).not.toContainText(/Base white/);
});

test('difference, dots, wipe and comparing show two pictures of one place', async ({ page }) => {
  await openSign(page, 'wipe.svg');
  await page.keyboard.press('x');
  await expect(page.getByText('CIEDE2000 from the artwork')).toBeVisible();
  await page.keyboard.press('w');
  const wipe = page.getByRole('slider', { name: 'Wipe' });
  await expect(wipe).toHaveAttribute('aria-valuenow', '50');
  await wipe.press('ArrowLeft');
  await expect(wipe).toHaveAttribute('aria-valuenow', '48');
  await page.keyboard.press('Escape');
  await page.getByRole('application').focus();
  await page.keyboard.down('c');
  await expect(page.getByText('Artwork, while the key is held')).toBeVisible();
  await page.keyboard.up('c');
  await expect(page.getByText('Artwork, while the key is held')).toHaveCount(0);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog').getByText('hold C')).toBeVisible();
});

test('history lasts: versions are named, looked at and gone back to, also from another browser', async ({
  page,
  browser,
  baseURL,
}) => {
  await openSign(page, 'history.svg');
  await page.getByRole('tab', { name: 'Fit' }).click();
  const choke = page.getByLabel('Choke', { exact: true });
  for (const value of ['0.2 mm', '0.3 mm', '0.4 mm']) {
    await choke.fill(value);
    await choke.press('Enter');
    await expect(page.getByTestId('save-state')).toHaveText('saved');
  }
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByText('choke from 0.2 mm to 0.3 mm')).toBeVisible();
  const name = page.getByRole('textbox', { name: 'Name of version 2' });
  await name.fill('approved');
  await name.press('Enter');
  await page.getByRole('button', { name: 'Look at version 2' }).click();
  await expect(page.getByText('Looking at version 2')).toBeVisible();
  await expect(choke).toHaveValue('0.2 mm');
  await page.getByRole('button', { name: 'Back to now' }).click();
  await expect(choke).toHaveValue('0.4 mm');

  const other = await (await browser.newContext({ baseURL: baseURL! })).newPage();
  await other.goto(page.url());
  await settled(other);
  await other.getByRole('button', { name: 'History' }).click();
  await expect(other.getByRole('textbox', { name: 'Name of version 2' })).toHaveValue('approved');
  await other.getByRole('button', { name: 'Go back to version 2' }).click();
  await other.getByRole('tab', { name: 'Fit' }).click();
  await expect(other.getByLabel('Choke', { exact: true })).toHaveValue('0.2 mm');
  await choke.fill('0.5 mm');
  await choke.press('Enter');
  await expect(page.getByText('changed in another window')).toBeVisible();
  await expect(choke).toHaveValue('0.2 mm');
  await other.context().close();
});

test('work goes on while the server is away and is saved when it is back', async ({ page, request }) => {
  const id = await openSign(page, 'away.svg');
  await page.getByRole('tab', { name: 'Fit' }).click();
  await page.route('**/api/jobs/**', (route) => route.abort());
  const choke = page.getByLabel('Choke', { exact: true });
  await choke.fill('0.25 mm');
  await choke.press('Enter');
  await expect(page.getByText('waiting for the server')).toBeVisible();
  await expect(choke).toHaveValue('0.25 mm');
  await page.unroute('**/api/jobs/**');
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet };
  expect(sheet.fit.chokeMm).toBeCloseTo(0.25, 9);
});

test('a colour is picked from the artwork, its closeness set, its ink taken from stock', async ({ page }) => {
  await openSign(page, 'picked.svg');
  await page.keyboard.press('0');
  await page.getByRole('tab', { name: 'Plates' }).click();
  await page.getByRole('button', { name: 'Ink for #f4c542' }).click();
  await page.getByRole('option', { name: 'the garment supplies it' }).click();
  const screens = page
    .getByRole('list', { name: 'Screens' })
    .getByRole('listitem')
    .filter({ hasText: 'mesh' });
  await expect(screens).toHaveCount(4);
  await screens.nth(1).getByRole('button').first().click();
  const closeness = page.getByRole('slider', { name: /Closeness of/ });
  await closeness.focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('button', { name: 'as found' })).toBeVisible();
  await page.getByRole('button', { name: /^nearest:/ }).click();
  const option = page.getByRole('option').first();
  const ink = (await option.innerText()).split(',')[0]!;
  await option.click();
  await expect(screens.nth(1)).toContainText(ink);
  await page.getByRole('button', { name: 'here', exact: true }).click();
  const table = page.getByTestId('table');
  const box = (await table.boundingBox())!;
  await table.click({ position: { x: 5, y: box.height / 2 } });
  await expect(page.getByRole('alert').filter({ hasText: 'no artwork at that place' })).toBeVisible();
  // The white of the lamp and the white line are one colour; only the lamp's gets an ink of its own.
  await page.getByRole('button', { name: 'here', exact: true }).click();
  await table.click({ position: { x: box.width / 2 + box.width * 0.11, y: box.height / 2 } });
  await expect(page.getByRole('button', { name: 'Ink for a part of #ffffff' })).toBeVisible();
  await expect(screens).toHaveCount(5);
});

test('from the dropped file to the films by keyboard alone', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'New job from artwork' }).focus();
  await page.keyboard.press('Enter');
  await (await chooser).setFiles(temporaryFile('by keys.svg', SIGN));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  await settled(page);
  await page.getByRole('tab', { name: 'Artwork' }).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('tab', { name: 'Fit' })).toHaveAttribute('aria-selected', 'true');
  await page.getByLabel('Choke', { exact: true }).focus();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('0.2mm');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await page.getByRole('application').focus();
  await page.keyboard.press('2');
  await expect(page.getByText('1 plate is lifted')).toBeVisible();
  await page.keyboard.press('l');
  await page.keyboard.press('ControlOrMeta+Enter');
  const zip = page.getByRole('link', { name: /films\.zip/ });
  await expect(zip).toBeVisible({ timeout: 90_000 });
  const download = page.waitForEvent('download');
  await zip.focus();
  await page.keyboard.press('Enter');
  expect((await download).suggestedFilename()).toBe('films.zip');
});

test('a job whose artwork cannot be read any more still opens', async ({ page }) => {
  await openSign(page, 'lost.svg');
  await page.route('**/api/artwork/**', (route) =>
    route.fulfill({ status: 404, json: { code: 'artwork-missing', message: 'The artwork is gone.' } }),
  );
  await page.reload();
  await expect(page.getByRole('alert').filter({ hasText: 'The table cannot be drawn' })).toBeVisible();
  await page.getByRole('tab', { name: 'Plates' }).click();
  await expect(page.getByRole('heading', { name: 'Colours' })).toBeVisible();
  await chooseArtwork(page, temporaryFile('empty.png', ''));
  await expect(page.getByRole('alert').filter({ hasText: 'is empty' })).toBeVisible();
});

test.describe('small windows', () => {
  test.use({ viewport: { width: 1024, height: 700 } });
  test('everything is within reach at 1024 x 700', async ({ page }) => {
    await openSign(page, 'small.svg');
    for (const name of ['Artwork', 'Plates', 'Fit', 'Dots', 'Film']) {
      await expect(page.getByRole('tab', { name })).toBeInViewport();
    }
    await expect(page.getByRole('button', { name: 'Make films' })).toBeInViewport();
    await expect(page.getByRole('slider', { name: /^Pallet/ })).toBeAttached();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1024);
    const tableBox = (await page.getByTestId('table').boundingBox())!;
    expect(tableBox.height).toBeGreaterThan(300);
  });
});

test.describe('the browser enlarged to 200 %', () => {
  // 1280 x 800 at 200 % is 640 x 400 in CSS pixels.
  test.use({ viewport: { width: 640, height: 400 }, deviceScaleFactor: 2 });
  test('nothing is out of reach', async ({ page }) => {
    await openSign(page, 'enlarged.svg');
    for (const part of [
      page.getByRole('tab', { name: 'Film' }),
      page.getByRole('button', { name: 'Make films' }),
      page.getByRole('button', { name: 'Undo' }),
      page.getByRole('slider', { name: /^Pallet/ }),
      page.getByRole('button', { name: 'Fold' }),
    ]) {
      await part.scrollIntoViewIfNeeded();
      await expect(part).toBeInViewport();
    }
    await page.getByRole('button', { name: 'Fold' }).click();
    await expect(page.getByRole('button', { name: 'Unfold' })).toBeVisible();
    const table = (await page.getByTestId('table').boundingBox())!;
    expect(Math.min(table.width, table.height)).toBeGreaterThan(200);
  });
});

test('steps have keys, a comma takes the pallet back, and Enter gives the keys back to the table', async ({
  page,
}) => {
  await openSign(page, 'keys.svg');
  const tab = (name: string) => page.getByRole('tab', { name });
  for (const [key, name] of [
    ['Shift+Digit3', 'Fit'],
    ['Shift+Digit5', 'Film'],
    ['Shift+Digit1', 'Artwork'],
  ] as const) {
    await page.keyboard.press(key);
    await expect(tab(name)).toHaveAttribute('aria-selected', 'true');
  }
  const passes = async () => {
    const kept = await page.evaluate(
      () => Object.entries(localStorage).find(([key]) => key.startsWith('kerameus.view.'))?.[1],
    );
    return (JSON.parse(kept ?? '{}') as { passes?: number | null }).passes ?? null;
  };
  await page.keyboard.press(',');
  await expect.poll(passes).toBeGreaterThan(0);
  const before = (await passes())!;
  await page.keyboard.press(',');
  await expect.poll(passes).toBe(before - 1);
  await page.getByLabel('Width').fill('7in');
  await page.keyboard.press('Enter');
  await page.keyboard.press('e');
  await expect.poll(passes).toBeNull();
});
