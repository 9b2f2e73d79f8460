import { expect, test } from '@playwright/test';
import type { JobView } from '@/protocol/jobs';
import { openSign, settled, unfold } from './support';

test('the base prints a white by itself, follows the lightness of the artwork, and a key takes that back after a tick', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'whites.svg');
  const sheet = async () => ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).sheet;
  const roles = async () => (await sheet()).plates.map(({ role }) => role);
  await page.getByRole('tab', { name: /^Plates/ }).click();
  await settled(page);
  expect(await roles()).toContain('highlight');
  await page.getByRole('button', { name: 'print with the base' }).click();
  await expect.poll(roles).not.toContain('highlight');
  const { plates, layers, run } = await sheet();
  const white =
    layers[0]?.kind === 'flat' ? layers[0].colours.find(({ colour }) => colour === '#ffffff') : null;
  const base = plates.find(({ role }) => role === 'underbase')!;
  expect(base.sources.flatMap((source) => (source.kind === 'colours' ? source.colours : []))).toEqual([
    { colourId: white!.id, tint: 1 },
  ]);
  // The flash before the white's own screen has nothing behind it any more.
  expect(run.at(-1)!.kind).toBe('screen');

  await page.getByRole('tab', { name: /^Fit/ }).click();
  await settled(page);
  const light = page.getByLabel('By the artwork’s lightness');
  await light.check();
  await expect.poll(async () => (await sheet()).fit.lightBase?.over).toBe('alone');
  await expect(page.getByText(/^lightness 50 gets/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await sheet()).fit.lightBase).toBeNull();
  await expect(light).not.toBeChecked();
});

test('a second white is added as a special plate, and one colour goes on under another', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'second.svg');
  const sheet = async () => ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).sheet;
  await page.getByRole('tab', { name: /^Plates/ }).click();
  await unfold(page, 'Special plates');
  await page.getByRole('button', { name: 'Add a special plate' }).click();
  await page.getByRole('menuitem', { name: /^Second white/ }).click();
  await expect
    .poll(async () =>
      (await sheet()).run.slice(0, 4).map((each) => (each.kind === 'screen' ? each.plateId : each.kind)),
    )
    .toEqual(['base-white', 'flash', 'hit', 'flash']);
  await settled(page);

  await page.getByRole('tab', { name: /^Fit/ }).click();
  await unfold(page, 'Colours that touch');
  const row = page.getByTestId('trap-directions').getByRole('listitem').first();
  await row.getByRole('button').first().click();
  await page.getByRole('option', { name: / from itself$/ }).click();
  await expect.poll(async () => (await sheet()).fit.pairs[0]?.grows).toBe('over');
  await expect(row).toContainText('goes on below all of');
  await expect(row.getByLabel('It stays inside by')).toHaveValue('0.15 mm');
  await settled(page);
});
