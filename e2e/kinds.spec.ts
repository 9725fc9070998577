import { expect } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, newTemplate, place, saved, shelfRow, drag } from './support';

test('a duration is typed as people write it, sorted by its length, and a quote says who said it', async ({
  page,
  request,
}) => {
  const made = await request.post('/api/v1/types', {
    data: {
      id: 'saying',
      key: 'saying',
      name: 'Saying',
      plural: 'Sayings',
      base: 'sayings',
      taxonomyIds: [],
      fields: [
        { id: 'saying_words', key: 'words', label: 'Said', kind: 'longtext', settings: {} },
        { id: 'saying_who', key: 'who', label: 'Who', kind: 'text', settings: {} },
        { id: 'saying_took', key: 'took', label: 'It took', kind: 'duration', settings: {} },
      ],
    },
  });
  expect(made.status()).toBe(201);
  await page.goto('/studio/content/saying/new');
  await page.waitForLoadState('networkidle');
  await page.getByLabel('Title', { exact: true }).fill('On fog');
  await page.getByLabel('Said').fill('Fog is only weather that has sat down.');
  await page.getByLabel('Who').fill('Ivo Castellan');
  await page.getByLabel('It took').fill('2:30');
  await page.getByLabel('Who').focus();
  await page.getByLabel('Status').selectOption('published');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.waitForURL(/saying\/\d+$/);
  const { items } = (await (await request.get('/api/v1/records?type=saying')).json()) as {
    items: { id: number; values: Record<string, unknown> }[];
  };
  expect(items[0]?.values.saying_took).toBe('PT2H30M');

  const id = await newTemplate(request, { name: 'Saying', typeId: 'saying' });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await expect(shelfRow(page, 'It took')).toContainText('2 hours, 30 minutes');
  await place(page, 'quote');
  await page.getByRole('button', { name: 'Bind words' }).click();
  await page.locator('[data-popover-content]').getByText('Said', { exact: true }).click();
  await page.getByRole('button', { name: 'Bind who said so' }).click();
  await page.locator('[data-popover-content]').getByText('Who', { exact: true }).click();
  await expect(canvas(page).locator('figure blockquote')).toHaveText('Fog is only weather that has sat down.');
  await expect(canvas(page).locator('figure figcaption')).toHaveText('Ivo Castellan');
  await drag(page, shelfRow(page, 'It took'), page.locator('[data-outline-scroll]'));
  await expect(canvas(page)).toContainText('2 hours, 30 minutes');
  await saved(page);
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
  await request.delete('/api/v1/types/saying', { headers: ANY });
});

test('what is wrong with the status and the author of a record stands beside them', async ({ page }) => {
  await page.goto('/studio/content/hut/new');
  await page.waitForLoadState('networkidle');
  await page.getByLabel('Title', { exact: true }).fill('Nowhere hut');
  await page.getByLabel('Status').selectOption('scheduled');
  // The author goes while the form is open.
  await page.route('**/api/v1/records', (route) =>
    route.request().method() === 'POST'
      ? route.continue({
          postData: JSON.stringify({ ...(route.request().postDataJSON() as object), authorId: 99_999 }),
        })
      : route.continue(),
  );
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.locator('aside').getByText(/moment at which it is published/)).toBeVisible();
  await page.getByLabel('Status').selectOption('draft');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(
    page
      .locator('aside')
      .getByText(/author/)
      .last(),
  ).toBeVisible();
});
