// npm run screenshots: draws the pictures of the README anew, from the running demo.
import { mkdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
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
await page.waitForTimeout(1200);
await picture('jobs');
await step('artwork', 'Kite & Kelp', 'Artwork');
await step('plates', 'Kite & Kelp', 'Plates', ['k', 'k']);
await step('fit', 'Net Loft', 'Fit');
await step('difference', 'Net Loft', 'Plates', ['x', 'w']);
await step('dots', 'Rowers', 'Dots', ['d', 'o']);
await open('Kite & Kelp', 'Film');
await page.getByRole('button', { name: 'Make films' }).click();
await page.getByRole('link', { name: /films\.zip/ }).waitFor({ timeout: 120_000 });
await page.keyboard.press('f');
await settle();
await picture('film');
const job = page.url();
await page.goto(`${base}/stock`);
await page.waitForTimeout(800);
await picture('stock');
await page.goto(`${job}/press`);
await page.waitForTimeout(4000);
await picture('press-sheet');
await page.goto(`${job}/approval`);
await page.getByRole('img', { name: 'The print on a drawn garment' }).waitFor({ timeout: 60_000 });
await page.waitForTimeout(500);
await picture('approval');
await browser.close();
