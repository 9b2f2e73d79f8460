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
  await page.waitForTimeout(400);
}

async function picture(name) {
  await page.screenshot({ path: path.join(out, `${name}.png`) });
  process.stdout.write(`${name}.png\n`);
}

async function open(name, step) {
  await page.goto(base);
  await page.getByRole('link').filter({ hasText: name }).click();
  await page.waitForURL(/\/jobs\//);
  await page.getByRole('tab', { name: step }).click();
  await settle();
}

await page.goto(base);
await page.waitForTimeout(1200);
await picture('jobs');
await open('Kite & Kelp', 'Artwork');
await picture('artwork');
await open('Kite & Kelp', 'Plates');
await picture('plates');
await open('Net Loft', 'Fit');
await picture('fit');
await open('Kite & Kelp', 'Film');
await page.getByRole('button', { name: 'Make films' }).click();
await page.getByRole('link', { name: /films\.zip/ }).waitFor({ timeout: 120_000 });
await picture('film');
await browser.close();
