import { type ChildProcess, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync } from 'node:fs';
import net from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Page, expect, test } from '@playwright/test';
import { chooseArtwork, openSign, settled, temporaryFile, unfold } from './support';

/** A glow on a dark garment: plates with dots. */
const GLOW = `<svg xmlns="http://www.w3.org/2000/svg" width="6in" height="4in" viewBox="0 0 600 400">
  <defs><radialGradient id="g"><stop offset="0" stop-color="#f0b030"/><stop offset="1" stop-color="#f0b030" stop-opacity="0"/></radialGradient></defs>
  <circle cx="200" cy="200" r="180" fill="url(#g)"/>
  <rect x="420" y="80" width="140" height="240" fill="#d8412f"/>
</svg>`;

async function openGlow(page: Page, name: string): Promise<void> {
  await page.goto('/');
  await chooseArtwork(page, temporaryFile(name, GLOW));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  await settled(page);
}

async function makeFilms(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Make films' }).click();
  await expect(page.getByRole('link', { name: /\.tif/ }).first()).toBeVisible({ timeout: 60_000 });
}

/** Fingerprints of the films as they are downloaded. */
async function fingerprints(page: Page): Promise<Map<string, string>> {
  const links = await page
    .getByRole('link', { name: /\.tif/ })
    .evaluateAll((all) =>
      all.map((link) => [(link as HTMLAnchorElement).download, (link as HTMLAnchorElement).href] as const),
    );
  const found = new Map<string, string>();
  for (const [name, href] of links) {
    const body = await (await page.request.get(href)).body();
    found.set(name, createHash('sha256').update(body).digest('hex'));
  }
  return found;
}

test('dots that meet are set to interlock, by one undoable gesture, and say what a shift costs', async ({
  page,
}) => {
  const blend = `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="2in" viewBox="0 0 400 200">
    <defs><linearGradient id="g"><stop offset="0.25" stop-color="#f0b030"/><stop offset="0.75" stop-color="#d8412f"/></linearGradient></defs>
    <rect width="400" height="120" fill="url(#g)"/><rect y="130" width="190" height="70" fill="#f0b030"/><rect x="210" y="130" width="190" height="70" fill="#d8412f"/>
  </svg>`;
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('blend.svg', blend));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  await settled(page);
  await page.getByRole('tab', { name: 'Dots' }).click();
  const ways = page.getByRole('radiogroup', { name: 'How dots that meet lie' });
  await expect(ways.getByRole('radio', { name: /one angle/ })).toBeChecked({ timeout: 20_000 });
  await expect(ways.getByRole('radio', { name: /\d$/ })).toHaveCount(4, { timeout: 30_000 });
  await ways.getByRole('radio', { name: /interlocked/ }).click();
  await expect(ways.getByRole('radio', { name: /interlocked/ })).toBeChecked();
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  // Keys go on working where the click has left the focus.
  await page.keyboard.press('Control+z');
  await expect(ways.getByRole('radio', { name: /one angle/ })).toBeChecked();
  await page.keyboard.press('Control+Shift+z');
  await expect(ways.getByRole('radio', { name: /interlocked/ })).toBeChecked();
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await page.reload();
  await expect(ways.getByRole('radio', { name: /interlocked/ })).toBeChecked({ timeout: 20_000 });
  await page.keyboard.press('Control+z');
  await expect(ways.getByRole('radio', { name: /one angle/ })).toBeChecked();
});

test('files are what was ticked, called as the pattern says', async ({ page }) => {
  await openSign(page, 'harbour sign.svg');
  await page.getByRole('tab', { name: 'Film' }).click();
  await unfold(page, 'Files');
  await page.getByLabel('PNG, 1 bit, a file for each film').check();
  await page.getByLabel('PDF of inks, all on one page').check();
  await page.getByLabel('the print, transparent PNG').check();
  const names = page.getByLabel('Names');
  await names.fill('{job}_{shirt}');
  await expect(page.getByRole('alert').filter({ hasText: '{shirt}, which is not known' })).toBeVisible();
  await names.fill('{job}_{n}_{lpi}');
  await names.press('Enter');
  await makeFilms(page);
  for (const name of [
    'films.pdf',
    'inks.pdf',
    'halftones.json',
    'print.png',
    'harbour-sign_01_45.tif',
    'harbour-sign_01_45.png',
  ]) {
    await expect(page.getByRole('link', { name, exact: false }).first()).toBeVisible();
  }
});

test('one film is made again; the others stay, byte for byte', async ({ page }) => {
  await openGlow(page, 'again.svg');
  await makeFilms(page);
  const before = await fingerprints(page);
  expect(before.size).toBe(3);
  await page.getByRole('button', { name: /^2 / }).first().click();
  await page.getByRole('tab', { name: 'Dots' }).click();
  // Another angle would change how the glow's base fades, and with it more than this film.
  await unfold(page, 'From film to print');
  const gain = page.getByLabel('Gain at 50 %, %');
  await gain.fill('8');
  await gain.press('Enter');
  await page.getByRole('tab', { name: 'Film' }).click();
  await expect(page.getByText(/files are from an older state of the job/)).toBeVisible();
  await page.getByRole('button', { name: /^Make only .* again$/ }).click();
  await expect(page.getByRole('link', { name: /\.tif/ }).first()).toBeHidden();
  await expect(page.getByRole('link', { name: /\.tif/ }).first()).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Made from an older state of the job.')).toBeHidden();
  const after = await fingerprints(page);
  expect([...after.keys()].sort()).toEqual([...before.keys()].sort());
  const changed = [...after].filter(([name, hash]) => before.get(name) !== hash).map(([name]) => name);
  expect(changed).toHaveLength(1);
  expect(changed[0]).toMatch(/^02-/);
});

test('readings of a wedge take the place of a gain; contradictions are told', async ({ page }) => {
  await openGlow(page, 'wedge.svg');
  await page.getByRole('button', { name: /^2 / }).first().click();
  await page.getByRole('tab', { name: 'Dots' }).click();
  await unfold(page, 'From film to print');
  // y = a + 0.4 sqrt(a (1 - a)) is a half for a = 0.3143.
  await expect(page.getByText('film of 31.4 % prints 50 %')).toBeVisible();
  const [wedge] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Film of a step wedge' }).click(),
  ]);
  expect(wedge.suggestedFilename()).toMatch(/^wedge-.*\.pdf$/);
  await page.getByRole('button', { name: 'Readings of a wedge' }).click();
  const readings = page.getByLabel('Film and print in %');
  await readings.fill('25 60\n50 40\n75 90');
  await page.getByRole('button', { name: 'Use them' }).click();
  await expect(page.getByText('At 50 % the wedge reads 40 %')).toBeVisible();
  await readings.fill('25 41\n50 70\n75 90');
  await page.getByRole('button', { name: 'Use them' }).click();
  await expect(page.getByText('Measured: 5 steps, 50 % prints 70 %')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Gain at 50 %, %')).toHaveValue('20');
});

test('angles are found, and dots are seen from a distance', async ({ page }) => {
  await openGlow(page, 'angles.svg');
  await page.getByRole('tab', { name: 'Dots' }).click();
  const find = page.getByRole('button', { name: 'Find angles' });
  await expect(find).toBeVisible({ timeout: 20_000 });
  await find.click();
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await expect(page.getByText(/on \d+ % of meshes as they come|none that shows/)).toBeVisible();
  await page.getByRole('radio', { name: 'Dots' }).click();
  await page.getByRole('button', { name: 'Actual dots' }).click();
  await settled(page);
  const table = page.getByTestId('table');
  const contrast = () =>
    table.evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas
        .getContext('2d')!
        .getImageData(canvas.width / 2 - 40, canvas.height / 2 - 40, 80, 80);
      let [low, high] = [255, 0];
      for (let i = 0; i < data.length; i += 4) {
        low = Math.min(low, data[i]!);
        high = Math.max(high, data[i]!);
      }
      return high - low;
    });
  const close = await contrast();
  await page.getByRole('button', { name: 'Dots seen from' }).click();
  await page.getByRole('option', { name: 'from 4 m' }).click();
  await settled(page);
  await expect.poll(contrast).toBeLessThan(close / 2);
});

test.describe('on the film printer', () => {
  let device: ChildProcess;
  let port: number;
  const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-printed-'));

  test.beforeAll(async ({ request }) => {
    port = await new Promise<number>((resolve) => {
      const server = net.createServer();
      server.listen(0, '127.0.0.1', () => {
        const { port: found } = server.address() as net.AddressInfo;
        server.close(() => resolve(found));
      });
    });
    device = spawn(
      process.execPath,
      ['devices/filmPrinter.mjs', '--port', String(port), '--out', folder, '--seconds', '0.2'],
      { stdio: ['ignore', 'pipe', 'ignore'] },
    );
    await new Promise((resolve) => device.stdout!.once('data', resolve));
    const { version, stock } = (await (await request.get('/api/stock')).json()) as {
      version: number;
      stock: { printers: { name: string; dpi: number; widthMm: number; uri: string }[] };
    };
    const printer = {
      name: 'Printer of the tests',
      dpi: 720,
      widthMm: 330.2,
      uri: `ipp://127.0.0.1:${port}/ipp/print`,
    };
    const printers = [printer, ...stock.printers.filter(({ name }) => name !== printer.name)];
    const saved = await request.put('/api/stock', { data: { base: version, stock: { ...stock, printers } } });
    expect(saved.ok()).toBe(true);
  });
  test.afterAll(() => device.kill());

  test('films are sent, an empty printer is waited for, and all of them lie there', async ({ page }) => {
    await openSign(page, 'printed.svg');
    await makeFilms(page);
    await fetch(`http://127.0.0.1:${port}/fail`, { method: 'POST', body: 'out-of-film' });
    await page.getByRole('button', { name: 'Printer for the films' }).click();
    await page.getByRole('option', { name: /Printer of the tests/ }).click();
    await page.getByRole('button', { name: 'Send to the printer' }).click();
    await expect(page.getByText(/Printer of the tests stopped, out of film: 0 of \d films/)).toBeVisible({
      timeout: 20_000,
    });
    await fetch(`http://127.0.0.1:${port}/fail`, { method: 'POST' });
    await expect(page.getByText('All films are printed.')).toBeVisible({ timeout: 30_000 });
    const films = await page.getByRole('link', { name: /\.tif/ }).count();
    expect(readdirSync(folder)).toHaveLength(films);
  });

  test('a printer that is away is told, and nothing is lost', async ({ page }) => {
    await openSign(page, 'away.svg');
    await makeFilms(page);
    await fetch(`http://127.0.0.1:${port}/fail`, { method: 'POST', body: 'offline' });
    await page.getByRole('button', { name: 'Printer for the films' }).click();
    await page.getByRole('option', { name: /Printer of the tests/ }).click();
    await page.getByRole('button', { name: 'Send to the printer' }).click();
    await expect(page.getByRole('alert').filter({ hasText: 'cannot be reached' })).toBeVisible({
      timeout: 20_000,
    });
    await expect(page.getByRole('link', { name: /\.tif/ }).first()).toBeVisible();
    await fetch(`http://127.0.0.1:${port}/fail`, { method: 'POST' });
  });
});
