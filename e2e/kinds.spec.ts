import { expect } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, newTemplate, place, released, saved, shelfRow, drag } from './support';

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

test('an amount of money is typed with its currency, refused beside its field, and compared on the published page', async ({
  page,
  request,
}) => {
  const created = await request.post('/api/v1/types', {
    data: {
      id: 'ticket',
      key: 'ticket',
      name: 'Ticket',
      plural: 'Tickets',
      base: 'tickets',
      taxonomyIds: [],
      fields: [
        { id: 'ticket_price', key: 'price', label: 'Price', kind: 'money', settings: { currency: 'EUR' } },
        {
          id: 'ticket_parts',
          key: 'parts',
          label: 'Parts',
          kind: 'rows',
          settings: {
            fields: [{ id: 'ticket_part', key: 'part', label: 'Costs', kind: 'money', settings: { currency: 'EUR' } }],
          },
        },
      ],
    },
  });
  expect(created.status()).toBe(201);
  await page.goto('/studio/content/ticket/new');
  await page.waitForLoadState('networkidle');
  await page.getByLabel('Title', { exact: true }).fill('Summer pass');
  const price = page.getByLabel('Price', { exact: true });
  await price.fill('twelve');
  await page.getByLabel('Status').selectOption('published');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('This is an amount with its currency, such as 12.50 EUR.').first()).toBeVisible();
  await price.fill('12,5');
  await page.getByLabel('Currency of Price').selectOption('CHF');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.waitForURL(/ticket\/\d+$/);
  await expect(price).toHaveValue('12.50');

  const record = (title: string, values: object) =>
    request.post('/api/v1/records', { data: { typeId: 'ticket', title, status: 'published', values } });
  await record('Family', {
    ticket_price: '30 EUR',
    ticket_parts: [{ ticket_part: '0.10 EUR' }, { ticket_part: '0.20 EUR' }, { ticket_part: '5 CHF' }],
  });
  const serves = [{ on: 'type', typeId: 'ticket' }];
  const template = await request.post('/api/v1/templates', { data: { name: 'Ticket', purpose: 'record', serves } });
  const { id } = (await template.json()) as { id: string };
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await expect(shelfRow(page, 'Price')).toContainText(/CHF\s12\.50|€30\.00/);
  await place(page, 'text');
  await page
    .getByRole('textbox', { name: /fixed words|Text/ })
    .first()
    .fill('Not cheap');
  await page.getByRole('tab', { name: /Appears/ }).click();
  await page.getByRole('button', { name: 'Add a test' }).last().click();
  await page.locator('[data-popover-content]').getByText('Price', { exact: true }).click();
  await page.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption('money.ge');
  await page.getByRole('textbox', { name: 'Value' }).fill('10');
  await expect(page.getByText('Appears when Price ≥ €10.00.')).toBeVisible();
  await expect(page.locator('[data-total]')).toHaveText(/Appears for 1 of\s+2/);
  await saved(page);
  await released(request);
  const has = async (slug: string) => (await (await request.get(`/tickets/${slug}`)).text()).includes('Not cheap');
  expect([await has('family'), await has('summer-pass')]).toEqual([true, false]);
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
  await request.delete('/api/v1/types/ticket', { headers: ANY });
  await released(request);
});
