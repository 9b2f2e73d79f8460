import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';

/** Artwork that is not the demo's: a sign with a soft-edged lamp left out, in three colours and white. */
export const SIGN = `<svg xmlns="http://www.w3.org/2000/svg" width="6in" height="4in" viewBox="0 0 600 400">
  <rect x="40" y="60" width="520" height="280" rx="30" fill="#2b7a4b"/>
  <path d="M90 300L190 120L290 300Z" fill="#f4c542"/>
  <circle cx="420" cy="200" r="90" fill="#c8452f"/>
  <circle cx="420" cy="200" r="40" fill="#ffffff"/>
  <path d="M60 370H540" stroke="#ffffff" stroke-width="3"/>
</svg>`;

export function temporaryFile(name: string, content: string | Uint8Array): string {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'kerameus-e2e-')), name);
  writeFileSync(file, content);
  return file;
}

/** Brings a file to the page as a user who chooses it. */
export async function chooseArtwork(page: Page, file: string): Promise<void> {
  await page.getByLabel('Artwork file', { exact: true }).setInputFiles(file);
}

/** Waits until the table shows what was asked for. */
export async function settled(page: Page): Promise<void> {
  await page.waitForFunction(
    () => document.querySelector<HTMLElement>('[data-testid=table-settled]')?.dataset.busy === 'false',
  );
}

/** Makes a job of artwork and waits for its table. Returns the job's id. */
export async function openArtwork(page: Page, name: string, content: string | Uint8Array): Promise<string> {
  await page.goto('/');
  await chooseArtwork(page, temporaryFile(name, content));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  await settled(page);
  return page.url().split('/').pop()!;
}

/** Makes a job of the sign and waits for its table. */
export function openSign(page: Page, name = 'sign.svg'): Promise<string> {
  return openArtwork(page, name, SIGN);
}

/** Takes one of a list. */
export async function choose(page: Page, label: string, option: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).click();
  await page.getByRole('option', { name: option, exact: true }).click();
}

/** Opens a folded section of the step that is shown, by its title. */
export async function unfold(page: Page, title: string): Promise<void> {
  const folded = page
    .getByRole('button', { expanded: false })
    .filter({ has: page.getByRole('heading', { name: title, exact: true }) });
  if ((await folded.count()) > 0) await folded.click();
}
