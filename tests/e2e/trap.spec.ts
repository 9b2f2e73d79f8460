import { expect, test } from '@playwright/test';
import type { JobView } from '@/protocol/jobs';
import { openSign, settled } from './support';

test('a trap is typed, says which colour grows into which, and is taken back', async ({ page, request }) => {
  const id = await openSign(page, 'trap.svg');
  const fit = async () => ((await (await request.get(`/api/jobs/${id}`)).json()) as JobView).sheet.fit;
  await page.getByRole('tab', { name: /^Fit/ }).click();
  const field = page.getByLabel('Trap', { exact: true });
  await expect(field).toHaveValue('0 mm');
  await expect(page.getByTestId('trap-directions')).toHaveCount(0);
  await field.fill('0.2 mm');
  await field.press('Enter');
  await settled(page);
  await page.getByRole('button', { name: /^Colours that touch/ }).click();
  await expect(page.getByTestId('trap-directions')).toContainText(' runs 0.2 mm into ');
  await expect.poll(async () => (await fit()).trapMm).toBe(0.2);
  // Wider than any press needs: it is not taken.
  await field.fill('9 mm');
  await field.press('Enter');
  await settled(page);
  expect((await fit()).trapMm).toBe(0.2);
  await field.press('Escape');
  // Two of them are told to meet, and set back.
  const pair = page.getByTestId('trap-directions').getByRole('button').first();
  await pair.click();
  await page.getByRole('option', { name: / meet$/ }).click();
  await expect.poll(async () => (await fit()).pairs).toHaveLength(1);
  await expect(page.getByTestId('trap-directions')).toContainText('they meet');
  await pair.click();
  await page.getByRole('option', { name: 'garment between them' }).click();
  await expect(page.getByTestId('trap-directions')).toContainText('stay open between them');
  await expect.poll(async () => (await fit()).pairs[0]!.grows).toBe('gap');
  await pair.click();
  await page.getByRole('option', { name: /as the model says$/ }).click();
  await expect.poll(async () => (await fit()).pairs).toHaveLength(0);
  for (let k = 0; k < 3; k++) await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(async () => (await fit()).trapMm).toBe(0.2);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(async () => (await fit()).trapMm).toBe(0);
  await expect(field).toHaveValue('0 mm');
});
