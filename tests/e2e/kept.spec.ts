import { expect, test } from '@playwright/test';
import { type JobSheet, keptOf, methodOf } from '@/core/sheet';
import { chooseArtwork, settled, temporaryFile, unfold } from './support';

const BAR = '#a83279';
/** Two bars of one colour over a gradient. */
const DRAWING = `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="3in" viewBox="0 0 400 300">
  <linearGradient id="g"><stop stop-color="#c33"/><stop offset=".5" stop-color="#e8c23a"/><stop offset="1" stop-color="#2a6bb0"/></linearGradient>
  <rect width="400" height="300" fill="url(#g)"/>
  <rect x="40" y="60" width="320" height="40" fill="${BAR}"/><rect x="40" y="200" width="320" height="40" fill="${BAR}"/></svg>`;

test('flat colours stay solid where artwork is printed by tones, on any ink, and where they are outlined', async ({
  page,
  request,
}) => {
  // Inks are looked for twice.
  test.setTimeout(180_000);
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('two bars.svg', DRAWING));
  await page.waitForURL(/\/jobs\//);
  await settled(page);
  const id = page.url().split('/').pop()!;
  const sheet = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet }).sheet;
  const barOf = async () => keptOf(await sheet()).find(({ colour }) => colour === BAR);
  const inkOf = async () => {
    const [now, bar] = [await sheet(), await barOf()];
    return now.plates.find((plate) => plate.id === bar?.plateId)?.ink ?? null;
  };
  await page.getByRole('tab', { name: 'Plates' }).click();
  await page.getByRole('button', { name: 'Printed as' }).click();
  await page.getByRole('option', { name: 'tones of all inks' }).click();
  await expect.poll(async () => methodOf(await sheet()), { timeout: 60_000 }).toBe('simulated');

  // As dots, then on an ink of its own: of exactly its colour, and one screen more.
  await unfold(page, 'Kept solid');
  const ways = page.getByRole('button', { name: `What prints ${BAR}` });
  await ways.click();
  await page.getByRole('option', { name: 'dots, like the rest' }).click();
  await expect.poll(async () => (await barOf())?.as).toBe('dots');
  const { length } = (await sheet()).plates;
  await ways.click();
  await page.getByRole('option', { name: 'an ink of its own' }).click();
  await expect.poll(async () => (await inkOf())?.colour).toBe(BAR);
  expect((await sheet()).plates).toHaveLength(length + 1);

  // Only the upper bar: what touches a place in like colours is outlined.
  await page.getByRole('button', { name: 'only inside …' }).first().click();
  await page.getByRole('button', { name: 'Area of like colours' }).click();
  await page.keyboard.press('0');
  await settled(page);
  const table = page.getByTestId('table');
  const box = (await table.boundingBox())!;
  // The print is centred: the upper bar lies a quarter of its height above the middle.
  await table.click({ position: { x: box.width / 2, y: box.height * 0.36 } });
  const take = page.getByRole('button', { name: `Keep ${BAR} only here` });
  await expect(take).toBeEnabled({ timeout: 30_000 });
  await take.click();
  await expect.poll(async () => (await barOf())?.within?.length ?? 0).toBeGreaterThanOrEqual(4);
  const ys = (await barOf())!.within!.map(([, y]) => y);
  expect(Math.min(...ys)).toBeGreaterThan(0.15);
  expect(Math.max(...ys)).toBeLessThan(0.38);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await barOf())?.within).toBeNull();
});
