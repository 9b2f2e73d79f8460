// npm run screenshots: draws the pictures of the README anew, from the running demo.
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
import sharp from 'sharp';
import { CHROMIUM } from './lib/browser.mjs';
import { root } from './lib/system.mjs';

const out = path.join(root, 'docs/screenshots');
const { web } = JSON.parse(readFileSync(path.join(root, '.local/ports.json'), 'utf8'));
const base = `http://127.0.0.1:${web}`;
mkdirSync(out, { recursive: true });

const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });

async function settle() {
  await page.waitForFunction(
    () => document.querySelector('[data-testid=table-settled]')?.dataset.busy === 'false',
  );
  // The small pictures of the run come a moment later.
  await page.waitForSelector('[data-station] canvas', { timeout: 30_000 });
  await page.waitForTimeout(400);
}

async function picture(name) {
  await page.screenshot({ path: path.join(out, `${name}.png`) });
  process.stdout.write(`${name}.png\n`);
}

async function open(name, tab) {
  await page.goto(base);
  await page.getByRole('link').filter({ hasText: name }).click();
  await page.waitForURL(/\/jobs\//);
  await page.getByRole('tab', { name: tab }).click();
  await settle();
}

/** The picture of a step, with what the table shows there. */
async function step(name, job, tab, keys = []) {
  await open(job, tab);
  for (const key of keys) await page.keyboard.press(key);
  await settle();
  await page.mouse.move(430, 300);
  await page.waitForTimeout(1200);
  await picture(name);
  await page.evaluate(() => {
    for (const key of Object.keys(localStorage))
      if (key.startsWith('kerameus.view.')) localStorage.removeItem(key);
  });
}

await page.goto(base);
// The prints of the jobs are drawn in the background.
await page
  .getByRole('img', { name: /^Print of/ })
  .nth(2)
  .waitFor({ timeout: 120_000 });
await page.waitForTimeout(1200);
await picture('jobs');
/** A drawing of the demo as a coarse JPEG, cleaned; the job is gone again afterwards. */
async function cleaned() {
  const drawing = path.join(root, 'src/demo/artwork/harbour-kites.svg');
  const jpeg = await sharp(drawing)
    .resize(520)
    .flatten({ background: '#ffffff' })
    .jpeg({ quality: 55 })
    .toBuffer();
  await page.goto(base);
  await page
    .getByLabel('Artwork file', { exact: true })
    .setInputFiles({ name: 'kites from the web.jpg', mimeType: 'image/jpeg', buffer: jpeg });
  await page.waitForURL(/\/jobs\//, { timeout: 120_000 });
  const id = page.url().split('/').pop();
  await page.getByRole('tab', { name: 'Artwork' }).click();
  await settle();
  await page.getByRole('button', { name: 'Show smooth areas' }).click();
  await page.getByRole('button', { name: 'Take the smooth areas' }).waitFor({ timeout: 120_000 });
  await page.waitForTimeout(1500);
  await picture('smooth');
  await page.request.delete(`${base}/api/jobs/${id}`);
}

await cleaned();
await step('artwork', 'Kite & Kelp', 'Artwork');
await step('plates', 'Kite & Kelp', 'Plates', ['k', 'k']);
await step('fit', 'Net Loft', 'Fit');
await open('Breakwater', 'Plates');
await page.keyboard.press('k');
// All numbers of screens have their inks.
await page.getByRole('radio', { name: '10', exact: true, disabled: false }).waitFor({ timeout: 60_000 });
await page
  .getByRole('button', { name: /^Swap / })
  .first()
  .waitFor({ timeout: 60_000 });
await settle();
await page.mouse.move(430, 300);
await page.waitForTimeout(4000);
await picture('tones');

await open('Breakwater', 'Artwork');
await page.getByRole('button', { name: 'Show the print on White' }).click();
await settle();
await page
  .getByText(/[\d.]+ off/)
  .nth(1)
  .waitFor({ timeout: 60_000 });
await page.mouse.move(430, 300);
await page.waitForTimeout(1200);
await picture('garments');
await page.getByRole('button', { name: 'Show the print on Pitch black' }).click();
await page.getByRole('tab', { name: 'Dots' }).click();
await page.keyboard.press('y');
const ways = page.getByRole('radiogroup', { name: 'How dots that meet lie' });
await ways.getByText('best', { exact: true }).waitFor({ timeout: 60_000 });
await ways.scrollIntoViewIfNeeded();
await settle();
await page.mouse.move(430, 300);
await page.waitForTimeout(1200);
await picture('reasons');
await page.keyboard.press('p');
await step('difference', 'Net Loft', 'Plates', ['x', 'w']);

const sheet = page.getByRole('complementary', { name: 'Sheet of the step' });

async function scrollTo(text) {
  await sheet.getByRole('heading', { name: text }).evaluate((heading) => heading.scrollIntoView());
}

await open('Kite & Kelp', 'Fit');
await page.getByTestId('survives').waitFor({ timeout: 60_000 });
for (let k = 0; k < 3; k++) await page.getByRole('button', { name: 'The next edge' }).click();
await settle();
await page
  .getByRole('button', { name: / to the left$/ })
  .first()
  .click();
await scrollTo('Screens that lie off');
await settle();
await page.waitForTimeout(800);
await picture('edges');
await page.getByRole('button', { name: 'put back' }).click();

await open('Rowers', 'Fit');
await page.getByRole('button', { name: /^Worn texture/ }).click();
await page.getByRole('button', { name: 'Cracks' }).click();
await scrollTo('Worn texture');
await settle();
await page.waitForTimeout(4000);
await settle();
await picture('texture');
await page.keyboard.press('Control+z');
await settle();

/** The glow of the lantern, which prints as dots. */
async function openDots() {
  await open('Net Loft', 'Dots');
  await page.getByRole('button', { name: /^3 / }).first().click();
}

await openDots();
await page.keyboard.press('d');
await page.getByRole('button', { name: 'Actual dots' }).click();
await page.getByRole('application').focus();
for (const key of ['Shift+ArrowUp', 'Shift+ArrowRight', 'Shift+ArrowRight']) await page.keyboard.press(key);
await settle();
await picture('dots');
await scrollTo('Dots that meet');
await sheet.getByRole('radio', { name: /interlocked/ }).click();
await sheet.getByRole('radio', { name: /dispersed.*\d$/ }).waitFor({ timeout: 30_000 });
await settle();
await picture('interlocked');
await page.keyboard.press('Control+z');
await page.keyboard.press('p');
await page.keyboard.press('0');
await page.getByRole('button', { name: /^From film to print/ }).click();
await scrollTo('From film to print');
await page.getByRole('button', { name: 'Readings of a wedge' }).click();
const readings = execFileSync(process.execPath, ['devices/densitometer.mjs'], {
  cwd: root,
  encoding: 'utf8',
});
await page.getByLabel('Film and print in %').fill(readings);
await page.getByRole('button', { name: 'Use them' }).click();
await scrollTo('From film to print');
await settle();
await page.waitForTimeout(800);
await picture('gain');
await page.keyboard.press('Control+z');

await open('Kite & Kelp', 'Film');
await page.getByRole('button', { name: 'Make films' }).click();
await page.getByRole('link', { name: /films\.zip/ }).waitFor({ timeout: 120_000 });
await page.keyboard.press('f');
await settle();
await picture('film');
await page.getByRole('button', { name: /^Files/ }).click();
await page.getByLabel('PDF, films beside each other').check();
await page.getByRole('img', { name: /films beside each other/ }).waitFor();
await scrollTo('films on one roll or larger sheet, with cut marks');
await picture('ganged');
await page.keyboard.press('Escape');
await page.getByLabel('PDF, films beside each other').uncheck();
await scrollTo('Print the films');
await page.getByRole('button', { name: 'Send to the printer' }).click();
await page.getByText(/[1-9] of \d films/).waitFor({ timeout: 30_000 });
const job = page.url();
await page.goto(`${base}/stock`);
await page.waitForTimeout(800);
await picture('stock');
await page.goto(`${job}/press`);
// Coverage comes with the survey of the print.
await page.getByRole('cell', { name: /%$/ }).first().waitFor({ timeout: 60_000 });
await page.waitForTimeout(500);
await picture('press-sheet');
await page.goto(`${job}/approval`);
await page.getByRole('img', { name: 'The print on a drawn garment' }).waitFor({ timeout: 60_000 });
await page.waitForTimeout(500);
await picture('approval');
await browser.close();
