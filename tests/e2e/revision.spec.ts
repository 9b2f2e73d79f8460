import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import type { TaskView } from '@/protocol/tasks';
import type { JobView } from '@/protocol/jobs';
import { openArtwork, settled, temporaryFile } from './support';

const DESIGN = (bar: string, extra = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="75mm" viewBox="0 0 400 300">
<rect width="400" height="300" fill="#fff"/><circle cx="120" cy="150" r="90" fill="#c8102e"/>
<rect x="180" y="60" width="160" height="180" fill="#f0b030"/><path d="M60 260h280v20h-280z" fill="${bar}"/>${extra}</svg>`;

test('a coarse picture becomes a drawing of smooth areas, and undo brings the picture back', async ({
  page,
  request,
}) => {
  const jpeg = await sharp(Buffer.from(DESIGN('#1f4e79')))
    .resize(240)
    .jpeg({ quality: 60 })
    .toBuffer();
  const id = await openArtwork(page, 'coarse.jpg', jpeg);
  const kind = async () => ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).artwork.kind;
  await page.getByRole('tab', { name: /^Artwork/ }).click();
  const colours = page.getByLabel('Colours');
  await colours.fill('4');
  await colours.press('Enter');
  await page.getByRole('button', { name: 'Show smooth areas' }).click();
  const take = page.getByRole('button', { name: 'Take the smooth areas' });
  await expect(take).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('revision-notes')).toContainText('4 colours.');
  // Looking changes nothing.
  expect(await kind()).toBe('raster');
  await page.getByRole('button', { name: 'Leave the job as it is' }).click();
  await expect(take).toBeHidden();
  expect(await kind()).toBe('raster');

  await page.getByRole('button', { name: 'Show smooth areas' }).click();
  const link = page.getByRole('link', { name: 'Save as SVG' });
  await expect(link).toBeVisible({ timeout: 60_000 });
  const svg = await (await request.get((await link.getAttribute('href'))!)).text();
  expect(svg.match(/<path /g)).toHaveLength(4);
  await take.click();
  await expect.poll(kind).toBe('vector');
  await settled(page);
  await expect(page.getByText('vector: sharp at any size')).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(kind).toBe('raster');
});

test('a revised file keeps inks and settings, and films that are the same stay byte for byte', async ({
  page,
  request,
}) => {
  const id = await openArtwork(page, 'sign.svg', DESIGN('#1f4e79'));
  const job = async () => (await (await request.get(`/api/jobs/${id}`)).json()) as JobView;
  const films = async () => {
    await page.getByRole('button', { name: 'Make films' }).click();
    await expect
      .poll(
        async () => {
          const task = (await (await request.get(`/api/jobs/${id}/films`)).json()) as TaskView | null;
          return task?.state === 'done' ? task.version : 0;
        },
        { timeout: 60_000 },
      )
      .toBe((await job()).version);
    return (await (await request.get(`/api/jobs/${id}/films`)).json()) as TaskView;
  };
  const first = await films();
  const before = await job();

  await page.getByRole('tab', { name: /^Artwork/ }).click();
  await page.getByLabel('Revised artwork file').setInputFiles(temporaryFile('sign.svg', DESIGN('#2e8b57')));
  const notes = page.getByTestId('revision-notes');
  await expect(notes).toContainText('Another colour at the same place', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Take the revised file' }).click();
  await expect.poll(async () => (await job()).version).toBe(before.version + 1);
  const after = await job();
  expect(after.sheet.plates.map(({ id: plate, mesh }) => [plate, mesh])).toEqual(
    before.sheet.plates.map(({ id: plate, mesh }) => [plate, mesh]),
  );
  expect(after.sheet.plates.map(({ ink }) => ink.colour)).toContain('#2e8b57');

  const second = await films();
  const bytes = async (task: TaskView, name: string) =>
    (await request.get(`/api/tasks/${task.id}/files/${name}`)).body();
  const same = second.files.filter(({ unchangedSince }) => unchangedSince !== null);
  // The base, yellow and red print as before; the green bar's film has another name.
  expect(same.map(({ name }) => name).filter((name) => name.endsWith('.tif'))).toEqual([
    '01-base-white.tif',
    '02-yellow.tif',
    '03-red.tif',
  ]);
  for (const { name, unchangedSince } of same) {
    expect(unchangedSince).toBe(first.version);
    expect((await bytes(first, name)).equals(await bytes(second, name))).toBe(true);
  }
  await expect(page.getByText('as before').first()).toBeVisible();
});

test('a revised file that is none is refused in words, and the job stays', async ({ page }) => {
  await openArtwork(page, 'sign.svg', DESIGN('#1f4e79'));
  await page.getByRole('tab', { name: /^Artwork/ }).click();
  await page.getByLabel('Revised artwork file').setInputFiles(temporaryFile('note.txt', 'no artwork at all'));
  await expect(page.getByRole('alert').filter({ hasText: /artwork|file/i })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('sign.svg').first()).toBeVisible();
});
