import { expect, test } from '@playwright/test';
import type { JobSheet } from '@/core/sheet';
import { chooseArtwork, settled, temporaryFile } from './support';

const LAMP = `<svg xmlns="http://www.w3.org/2000/svg" width="6in" height="4in" viewBox="0 0 600 400">
  <linearGradient id="g"><stop offset=".05" stop-color="#f4c542"/><stop offset=".95" stop-color="#c8452f"/></linearGradient>
  <rect x="40" y="40" width="520" height="320" fill="url(#g)"/></svg>`;

test('a tone curve is dragged, typed, moved by keys and taken away; each gesture is one version', async ({
  page,
  request,
}) => {
  await page.goto('/');
  await chooseArtwork(page, temporaryFile('lamp.svg', LAMP));
  await page.waitForURL(/\/jobs\//);
  await settled(page);
  const id = page.url().split('/').pop()!;
  const job = async () =>
    (await (await request.get(`/api/jobs/${id}`)).json()) as { version: number; sheet: JobSheet };
  const ink = 'Red';
  const curveOf = ({ sheet }: { sheet: JobSheet }) =>
    sheet.plates.find((plate) => plate.ink.name === ink)!.stages.map(({ points }) => points);
  await page.getByRole('tab', { name: 'Dots' }).click();
  await page
    .getByRole('list', { name: 'Screens' })
    .getByRole('listitem')
    .filter({ hasText: ink })
    .first()
    .getByRole('button')
    .first()
    .click();
  const chart = page.getByRole('group', { name: `Tone curve of ${ink}` });
  await expect(chart).toBeVisible();
  await chart.scrollIntoViewIfNeeded();
  expect(curveOf(await job())).toEqual([]);
  const before = (await job()).version;

  // A point is added where the chart is pressed, and follows until it is let go.
  const box = (await chart.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * 0.5);
  await page.mouse.down();
  const table = page.getByTestId('table');
  await settled(page);
  const laid = await table.screenshot();
  for (let k = 1; k <= 10; k++)
    await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * (0.5 + 0.02 * k));
  // The table follows the hand; the job is what it was until that lets go.
  await expect
    .poll(async () => Buffer.compare(await table.screenshot(), laid), { timeout: 15_000 })
    .not.toBe(0);
  expect((await job()).version).toBe(before);
  await page.mouse.up();
  await expect.poll(async () => (await job()).version).toBe(before + 1);
  const [dragged] = curveOf(await job());
  expect(dragged).toHaveLength(3);
  expect(dragged![1]![0]).toBeCloseTo(0.5, 1);
  expect(dragged![1]![1]).toBeLessThan(0.35);
  await settled(page);

  const typed = page.getByLabel('Point 2: prints as, %');
  await typed.fill('150');
  await expect(page.getByRole('alert').filter({ hasText: 'from 0 to 100' })).toBeVisible();
  await typed.fill('40');
  await typed.press('Enter');
  await expect.poll(async () => curveOf(await job())[0]?.[1]?.[1]).toBe(0.4);

  await page.getByRole('slider', { name: /^Point 2 of the curve/ }).focus();
  await page.keyboard.press('ArrowUp');
  await expect.poll(async () => curveOf(await job())[0]?.[1]?.[1]).toBe(0.41);
  await page.keyboard.press('Delete');
  await expect.poll(async () => curveOf(await job())).toEqual([]);

  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => curveOf(await job())[0]?.[1]?.[1]).toBe(0.41);
  await page.reload();
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByText(`tone curve of ${ink}`).first()).toBeVisible();
});
