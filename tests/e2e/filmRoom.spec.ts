import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Page, expect, test } from '@playwright/test';
import { choose, openSign, settled, unfold } from './support';

async function makeFilms(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Make films' }).click();
  await expect(page.getByRole('link', { name: 'films.zip' }).first()).toBeVisible({ timeout: 60_000 });
}

/** Python's zipfile finds in the archive the bytes of each film that stands beside it. */
async function archiveIsWhole(page: Page): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-zip-'));
  const links = await page
    .getByRole('link', { name: /\.(tif|pdf|zip)/ })
    .evaluateAll((all) =>
      all.map((link) => [(link as HTMLAnchorElement).download, (link as HTMLAnchorElement).href] as const),
    );
  for (const [name, href] of links) {
    writeFileSync(path.join(folder, name), await (await page.request.get(href)).body());
  }
  const script =
    'import sys, zipfile, pathlib\n' +
    'folder = pathlib.Path(sys.argv[1])\n' +
    'zip = zipfile.ZipFile(folder / "films.zip")\n' +
    'print(*sorted(n for n in zip.namelist() if zip.read(n) == (folder / n).read_bytes()), sep="\\n")';
  const same = execFileSync('python3', ['-c', script, folder], { encoding: 'utf8' }).trim().split('\n');
  const names = links.map(([name]) => name).filter((name) => name !== 'films.zip');
  expect(names.filter((name) => name.endsWith('.tif')).length).toBeGreaterThan(1);
  expect(same).toEqual(names.sort());
}

/** What poppler says of a PDF among the finished files: its pages, and the size of the first in inches. */
async function pages(page: Page, name: string): Promise<{ count: number; width: number; height: number }> {
  const href = await page.getByRole('link', { name }).getAttribute('href');
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'kerameus-film-')), 'film.pdf');
  writeFileSync(file, await (await page.request.get(href!)).body());
  const info = execFileSync('pdfinfo', [file], { encoding: 'utf8' });
  const [, width, height] = /Page size:\s+([\d.]+) x ([\d.]+)/.exec(info)!;
  return {
    count: Number(/Pages:\s+(\d+)/.exec(info)![1]),
    width: Number(width) / 72,
    height: Number(height) / 72,
  };
}

test('a print too wide for its sheet is told to be turned, and turned it fits', async ({ page }) => {
  await openSign(page, 'wide sign.svg');
  await page.getByRole('tab', { name: 'Film' }).click();
  const field = (name: string) => page.getByLabel(name, { exact: true });
  await field('Width').fill('5.6 in');
  await field('Width').press('Enter');
  await expect(page.getByText(/Turn the film a quarter/)).toBeVisible();
  await page.getByLabel('Turned a quarter').check();
  await expect(page.getByText(/Turn the film a quarter/)).toBeHidden();
  await expect(page.getByRole('img', { name: /Film sheet of/ })).toBeVisible();
  await makeFilms(page);
  const films = await pages(page, 'films.pdf');
  expect(films.width).toBeCloseTo(5.6, 2);
  expect(films.height).toBeCloseTo(19, 2);
});

test('on a roll each film takes what it needs, and films lie beside each other on a wider one', async ({
  page,
}) => {
  await openSign(page, 'roll sign.svg');
  await page.getByRole('tab', { name: 'Film' }).click();
  await choose(page, 'Sheet size', 'Roll, 13 in');
  const said = page.getByText(/each film takes .* of the roll/);
  await expect(said).toBeVisible();
  const [, inches] = /takes ([\d.]+) in/.exec((await said.textContent())!)!;
  await unfold(page, 'Files');
  await page.getByLabel('PDF, films beside each other').check();
  await expect(page.getByLabel('What ganged films lie on')).toContainText('Roll, 24 in');
  await choose(page, 'What ganged films lie on', 'Roll, 13 in');
  // A film as wide as the roll does not lie on it with its cut marks: said before anything is made.
  await expect(page.getByText(/too large for the roll/)).toBeVisible();
  await choose(page, 'What ganged films lie on', 'Roll, 24 in');
  await makeFilms(page);
  const films = await pages(page, 'films.pdf');
  expect(films.width).toBeCloseTo(13, 2);
  expect(films.height).toBeCloseTo(Number(inches), 1);
  const gang = await pages(page, 'gang.pdf');
  expect([gang.count, Math.round(gang.width * 100)]).toEqual([1, 2400]);
  expect(gang.height).toBeGreaterThan(films.height * films.count);
});

test("what the film printer makes of tones is kept with it, and an ink's gain with its screen", async ({
  page,
}) => {
  await openSign(page, 'curve sign.svg');
  await page.getByRole('tab', { name: 'Film' }).click();
  await unfold(page, 'Film printer');
  await choose(page, 'Film printer', 'Film printer, fine, 1440 dpi');
  await expect(page.getByLabel('Film resolution, dpi')).toHaveValue('1440');
  await page.getByRole('button', { name: 'Readings of its film …' }).click();
  await page.getByLabel(/Asked and measured on film/).fill('25 30\n50 60\n75 82');
  await page.getByRole('button', { name: 'Use them' }).click();
  await expect(page.getByText('Its own curve: 5 steps, 50 % comes out as 60 %')).toBeVisible();

  await page.getByRole('tab', { name: 'Dots' }).click();
  await unfold(page, 'From film to print');
  await page.getByRole('button', { name: 'Readings of a wedge …' }).click();
  await page.getByLabel(/Film and print in %/).fill('25 38\n50 69\n75 90');
  await page.getByRole('button', { name: 'Use them' }).click();
  await page.getByRole('button', { name: /^Keep for / }).click();
  await expect(page.getByText('Kept in stock').first()).toBeVisible();
  await expect(page.getByRole('button', { name: /^Keep for / })).toBeHidden();

  // The next job begins with neither, and finds both.
  await openSign(page, 'next sign.svg');
  await page.getByRole('tab', { name: 'Film' }).click();
  await unfold(page, 'Film printer');
  await expect(page.getByText('Tones come out as they are asked for')).toBeVisible();
  await choose(page, 'Film printer', 'Film printer, fine, 1440 dpi');
  await expect(page.getByText('50 % comes out as 60 %')).toBeVisible();
  await page.getByRole('tab', { name: 'Dots' }).click();
  await unfold(page, 'From film to print');
  await page.getByRole('button', { name: /^Use what .* measured/ }).click();
  await expect(page.getByText(/Measured: 5 steps, 50 % prints 69 %/)).toBeVisible();
});

test('films of an older state are told one by one, and earlier sets stay at hand', async ({ page }) => {
  await openSign(page, 'older sign.svg');
  await page.getByRole('tab', { name: 'Film' }).click();
  await makeFilms(page);
  await expect(page.getByText(/older state/)).toHaveCount(0);
  await page.getByRole('tab', { name: 'Dots' }).click();
  await page.getByLabel('Frequency, lpi').fill('35');
  await page.getByLabel('Frequency, lpi').press('Enter');
  await page.getByRole('tab', { name: 'Film' }).click();
  // The film of that plate, and what holds all of them.
  await expect(page.getByText(/^\d+ of \d+ files are from an older state of the job\.$/)).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'films.zip' })).toContainText('older state');
  await page.getByRole('button', { name: /^Make only / }).click();
  await expect(page.getByRole('link', { name: /\.tif/ }).first()).toBeHidden();
  await expect(page.getByRole('link', { name: /\.tif/ }).first()).toBeVisible({ timeout: 60_000 });
  await settled(page);
  await page.waitForTimeout(1000);
  await expect(page.getByText(/older state/)).toHaveCount(0);
  await archiveIsWhole(page);
  await page.getByRole('button', { name: '1 earlier set' }).click();
  await expect(page.getByRole('link', { name: /films\.zip/ })).toHaveCount(2);
  await settled(page);
});

test('two browsers make films of one job at the same time, and both get whole sets', async ({
  page,
  browser,
}) => {
  await openSign(page, 'both sign.svg');
  const other = await (await browser.newContext()).newPage();
  await other.goto(page.url());
  await settled(other);
  for (const each of [page, other]) {
    await each.getByRole('tab', { name: 'Film' }).click();
    await each.getByRole('button', { name: 'Make films' }).click();
  }
  for (const each of [page, other]) {
    await expect(each.getByRole('link', { name: 'films.zip' }).first()).toBeVisible({ timeout: 90_000 });
  }
  const [one, two] = await Promise.all(
    [page, other].map(async (each) => {
      const href = await each.getByRole('link', { name: 'films.zip' }).first().getAttribute('href');
      return (await each.request.get(href!)).body();
    }),
  );
  // The same job gives the same bytes.
  expect(Buffer.compare(one!, two!)).toBe(0);
  await other.close();
});
