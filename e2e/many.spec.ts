import { expect } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, picker, saved, shelfRow, undoAll } from './support';

interface Warden {
  id: number;
  title: string;
  status: string;
}

test('what is counted, and what can be chosen, is of all records: not of those that a screen opens with', async ({
  page,
  request,
}) => {
  const made = await request.post('/api/v1/types/warden/generate', { data: { count: 4500, seed: 5 } });
  expect(made.status()).toBeLessThan(300);
  const path = { from: 'record', steps: ['@title'] };
  const kept = await request.post('/api/v1/rules', {
    data: {
      name: 'Names with an a',
      typeId: 'warden',
      rule: { group: 'all', rules: [{ test: 'text.contains', path, operand: 'a' }] },
    },
  });
  const rule = (await kept.json()) as { id: string };
  const all: Warden[] = [];
  for (let at = 1, total = 1; all.length < total; at++) {
    const found = await request.get(`/api/v1/records?type=warden&per_page=100&page=${at}`);
    const answer = (await found.json()) as { items: Warden[]; total: number };
    all.push(...answer.items);
    total = answer.total;
  }
  const published = all.filter(({ status }) => status === 'published');
  const holding = published.filter(({ title }) => /a/i.test(title));
  expect(published.length).toBeGreaterThan(4500);
  await page.goto('/studio/rules');
  await expect(page.getByRole('row', { name: /Names with an a/ })).toContainText(
    `${holding.length.toLocaleString('en')} of ${published.length.toLocaleString('en')}`,
  );

  // The last of them is on no page of the table of huts, and not among those that the workbench opens with.
  const last = all.reduce((one, other) => (other.id > one.id ? other : one));
  await page.goto('/studio/content/hut');
  await page.getByRole('button', { name: 'Filter' }).click();
  await page.getByRole('button', { name: 'Add a test' }).click();
  await page.getByLabel('Field').selectOption({ label: 'Warden' });
  await page.getByLabel('Test', { exact: true }).selectOption('relation.any');
  await page.getByPlaceholder('Add by title').fill(last.title);
  await page.getByRole('option', { name: last.title }).first().click();
  // The next one can be typed.
  await expect(page.getByPlaceholder('Add by title')).toHaveValue('');
  await page.getByRole('button', { name: 'Show these' }).click();
  await expect(page.locator('[data-total]')).toHaveText('0 found');

  await page.goto('/studio/workbench/hut-page');
  await page
    .getByRole('treeitem', { name: /Warden/ })
    .first()
    .click();
  await page.getByRole('tab', { name: 'Appears' }).click();
  await page.getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /^Warden/ })
    .first()
    .click();
  await page.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption('relation.any');
  await page.getByPlaceholder('Add by title').fill(last.title);
  await page.getByRole('option', { name: last.title }).first().click();
  await expect(page.locator('[data-total]')).toHaveText(/Appears for 0 of/);
  await expect(page.getByRole('link', { name: last.title })).toBeVisible();
  await undoAll(page);
  await saved(page);

  // What leads to it shows it as the site does, wherever it is.
  const hut = (await (await request.get('/api/v1/records/10')).json()) as { values: Record<string, unknown> };
  const led = (values: Record<string, unknown>) =>
    request.patch('/api/v1/records/10', { headers: ANY, data: { values: { hut_warden: values.hut_warden } } });
  expect((await led({ hut_warden: [last.id] })).ok()).toBe(true);
  await page.reload();
  await expect(canvas(page).getByText(last.title)).toBeVisible();
  await expect(shelfRow(page, 'Warden')).toContainText(last.title);
  expect(await (await request.get('/huts/grey-crag-hut')).text()).toContain(last.title);
  expect((await led(hut.values)).ok()).toBe(true);

  await request.delete(`/api/v1/rules/${rule.id}`, { headers: ANY });
  const gone = await request.delete('/api/v1/types/warden/generate', { headers: ANY });
  expect(gone.status()).toBeLessThan(300);
});
