import { expect } from '@playwright/test';
import { test } from './live';

test('what was deleted is found and brought back, long after the screen that deleted it has gone', async ({
  page,
  request,
}) => {
  const made = await request.post('/api/v1/records', { data: { typeId: 'hut', title: 'Lost lamp hut' } });
  const { id } = (await made.json()) as { id: number };
  await page.goto(`/studio/content/hut/${id}`);
  await request.delete(`/api/v1/records/${id}`, { headers: { 'if-match': '*' } });
  await page.goto('/studio');
  await page.getByRole('link', { name: 'Removed' }).click();
  await page.getByLabel('Find by name').fill('lost lamp');
  await page.keyboard.press('Enter');
  const row = page.getByRole('row', { name: /Lost lamp hut/ });
  await expect(row).toContainText('1 record');
  await expect(page.locator('[data-total]')).toHaveText('1 found');
  await page.getByRole('button', { name: /^Bring back .*Lost lamp hut/ }).click();
  await expect(page.getByRole('status')).toContainText('Brought back');
  await expect(row).toHaveCount(0);
  expect((await request.get(`/api/v1/records/${id}`)).status()).toBe(200);
  // For how long it is kept is set here, and said.
  await page.getByLabel('Kept for').fill('90');
  await page.getByRole('button', { name: 'Set' }).click();
  await expect(page.getByRole('status')).toHaveText('What is deleted can be brought back for 90 days.');
  await page.reload();
  await expect(page.getByLabel('Kept for')).toHaveValue('90');
  await request.put('/api/v1/removals/days', { data: { days: 30 } });
});
