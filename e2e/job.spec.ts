import { expect } from '@playwright/test';
import { test } from './live';
import {
  ANY,
  released,
  canvas,
  drag,
  newTemplate,
  openWorkbench,
  outlineRow,
  picker,
  saved,
  shelfRow,
  place,
} from './support';

test('a record template from blank: five elements, bound by drag and by pick, with a rule', async ({ page }) => {
  await page.goto('/studio');
  await page.getByRole('button', { name: 'New template' }).click();
  await page.getByRole('radio', { name: /The page of every trail/ }).check();
  await page.getByLabel('blank').check();
  await page.getByRole('button', { name: 'Make it' }).click();
  await page.waitForURL(/workbench/);

  // Every field stands on the shelf with the value of the record on screen.
  await expect(shelfRow(page, 'Length')).toContainText('14.2 km');
  await page.getByLabel('Find a field or a value').fill('past all three');
  // The field itself, and the excerpt that is made of it.
  await expect(page.locator('[data-shelf-key]')).toHaveCount(2);
  await page.getByLabel('Find a field or a value').fill('');

  const middle = { x: 900, y: 300 };
  await drag(page, shelfRow(page, 'Title'), middle);
  await expect(canvas(page).locator('h1')).toHaveText('Three Tarns Round');
  await drag(page, shelfRow(page, 'Route picture'), page.locator('[data-outline-scroll]'));
  await expect(canvas(page).locator('img')).toHaveAttribute('alt', 'The way of Three Tarns Round');
  await drag(page, shelfRow(page, 'Length'), page.locator('[data-outline-scroll]'));
  await expect(canvas(page)).toContainText('14.2 km');

  // A box with a text in it, bound by picking.
  await outlineRow(page, 'Page').click();
  await place(page, 'box');
  await place(page, 'text');
  await page.getByRole('button', { name: 'Bind text' }).click();
  await page.getByPlaceholder('Find a field or a value').last().fill('closed');
  await picker(page)
    .getByRole('button', { name: /Closed until/ })
    .first()
    .click();
  await page.getByLabel('Before', { exact: true }).fill('Closed until ');
  await page.getByRole('button', { name: 'Format', exact: true }).click();
  await picker(page).getByRole('button', { name: 'Full' }).click();

  // The box appears only where the way is closed in the future.
  await outlineRow(page, 'Box').click();
  await page.getByRole('tab', { name: 'Appears' }).click();
  await page.getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /Closed until/ })
    .first()
    .click();
  await page.getByLabel('Test', { exact: true }).selectOption('day.future');
  await expect(page.getByText('Appears when Closed until is in the future.')).toBeVisible();
  await expect(page.getByText('Hidden here')).toBeVisible();
  await expect(outlineRow(page, 'Box')).toContainText('Closed until is in the future: saw nothing');

  // Flipped by key, the reason follows the record.
  for (let i = 0; i < 3; i++) await page.keyboard.press('.');
  await expect(page.locator('nav [aria-current="true"]')).toHaveText('Windle Traverse');
  await expect(page.getByText('Appears here')).toBeVisible();
  await expect(canvas(page)).toContainText('Closed until');
  await saved(page);

  // Put before the one that answers now.
  const id = page.url().split('/').at(-1);
  const template = (await (await page.request.get(`/api/v1/templates/${id}`)).json()) as object;
  await page.request.put(`/api/v1/templates/${id}`, { headers: ANY, data: { ...template, order: -1 } });
  await released(page.request);
  // Nothing else is published: the section stands in one record and not in the other.
  const open = await (await page.request.get('/trails/larch-walk')).text();
  const closed = await (await page.request.get('/trails/windle-traverse')).text();
  expect(open).toContain('<h1>Larch Walk</h1>');
  expect(open).toContain('5.4\u00a0km');
  expect(open).not.toContain('Closed until');
  expect(closed).toContain('Closed until');
  expect(closed).toMatch(/Closed until \w+,? \d+ \w+ 20\d\d/);
  await page.goto('/studio');
  await page.request.delete(`/api/v1/templates/${id}`, { headers: ANY });
  await released(page.request);
});

test('an archive item edited in place changes in every turn, and on the site', async ({ page }) => {
  await openWorkbench(page, 'hut-list');
  await expect(canvas(page).locator('li[data-loop=huts]')).toHaveCount(6);
  // Picked on the canvas, in the second turn.
  await canvas(page).locator('li').nth(1).locator('h2').scrollIntoViewIfNeeded();
  const box = (await canvas(page).locator('li').nth(1).locator('h2').boundingBox())!;
  await page.mouse.click(box.x + 20, box.y + box.height / 2);
  await expect(outlineRow(page, 'Title').nth(0)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Settings of Heading' })).toBeVisible();
  await page.getByLabel('After', { exact: true }).first().fill(' *');
  await expect(canvas(page).locator('h2', { hasText: '*' })).toHaveCount(6);

  // Its shelf reads from the turn that was picked.
  await expect(page.locator('[data-shelf-group="loop:huts"]')).toBeVisible();
  await drag(
    page,
    shelfRow(page, 'Comfort'),
    outlineRow(page, /Hut/).filter({ has: page.locator('[title="Repeats"]') }),
  );
  await expect(canvas(page).locator('li', { hasText: '2.5' }).first()).toBeVisible();
  await saved(page);

  await released(page.request);
  const html = await (await page.request.get('/huts/')).text();
  expect(html.match(/ \*<\/a><\/h2>/g)).toHaveLength(6);
  expect(html).toContain('rel="next"');
  const second = await (await page.request.get('/huts/page/2/')).text();
  expect(second.match(/ \*<\/a><\/h2>/g)).toHaveLength(6);
  expect((await page.request.get('/huts/page/4/')).status()).toBe(404);

  // Undo to where it was; redo; undo again.
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(canvas(page).locator('h2', { hasText: '*' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(canvas(page).locator('h2', { hasText: '*' })).toHaveCount(6);
  await page.keyboard.press('Control+z');
  await saved(page);
  await released(page.request);
  expect(await (await page.request.get('/huts/')).text()).not.toContain(' *</a>');
});

test('a loop over a query: source, filter, order and limit', async ({ page }) => {
  await openWorkbench(page, 'trail-list');
  await page
    .getByRole('treeitem')
    .filter({ hasText: 'Short walk' })
    .filter({ has: page.locator('[title="Repeats"]') })
    .click();
  await page.getByRole('tab', { name: 'Repeats' }).click();
  await expect(page.getByText(/Yields 3: Garden Path, Lamp Store Loop, Larch Walk/)).toBeVisible();
  await page.getByLabel('At most', { exact: true }).fill('2');
  await expect(page.getByText(/Yields 2: Garden Path, Lamp Store Loop/)).toBeVisible();
  await page.getByRole('button', { name: 'Turn the order round' }).click();
  await expect(page.getByText(/Yields 2: /)).not.toContainText('Garden Path');
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
});

test('fields of a related record can be reached, and a relation dropped brings a loop', async ({ page }) => {
  await page.request.post('/api/v1/templates', { data: { name: 'Second hut page', purpose: 'record', typeId: 'hut' } });
  const { items: templates } = (await (await page.request.get('/api/v1/templates?per_page=200')).json()) as {
    items: { id: string; name: string }[];
  };
  const id = templates.find((t) => t.name === 'Second hut page')!.id;
  await page.goto(`/studio/workbench/${id}`);
  await page.getByRole('button', { name: 'Unfold Warden' }).click();
  const names = page.locator('[data-shelf-key="record|hut_warden/@title"]');
  await expect(names).toContainText('Ivo Castellan');
  await drag(page, names, { x: 900, y: 300 });
  await expect(canvas(page).locator('h2')).toHaveText('Ivo Castellan');
  await drag(page, page.locator('[data-shelf-key="record|hut_trails"]'), page.locator('[data-outline-scroll]'));
  await expect(canvas(page).locator('li h3')).toHaveText(['Three Tarns Round', 'Crag Stairs', 'Ridge of Larks']);
  // The threads lead from the shelf to the outline.
  await expect(page.locator('svg[data-threads]')).toHaveAttribute('data-threads', '4');
  await page.request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

test('what two people do to one template both lands, and nothing is overwritten', async ({ page }) => {
  const id = await newTemplate(page.request, { name: 'Of one', typeId: 'hut' });
  const kept = async () =>
    (await (await page.request.get(`/api/v1/templates/${id}`)).json()) as { name: string; tree: { elements: object } };
  const elsewhere = async (name: string) =>
    page.request.put(`/api/v1/templates/${id}`, { headers: ANY, data: { ...(await kept()), name } });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await elsewhere('Of two');
  await place(page, 'text');
  await saved(page);
  expect((await kept()).name).toBe('Of two');
  expect(Object.keys((await kept()).tree.elements)).toHaveLength(2);
  // The same place is another matter.
  await expect(page.getByLabel('Name of the template')).toHaveValue('Of two');
  await elsewhere('Of three');
  await page.getByLabel('Name of the template').fill('Of four');
  await page.getByLabel('Name of the template').press('Tab');
  await expect(page.locator('[data-save]')).toContainText('Not saved: This template has been changed elsewhere');
  expect((await kept()).name).toBe('Of three');
  await page.evaluate(() => window.addEventListener('beforeunload', (event) => event.stopImmediatePropagation(), true));
  await page.request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

test('what is typed survives a server that cannot be reached', async ({ page }) => {
  await openWorkbench(page, 'trail-list');
  await page.route('**/api/v1/templates/**', (route) => route.abort());
  await outlineRow(page, 'Three short ones').or(outlineRow(page, 'Heading')).first().click();
  await page.getByLabel('Name of the template').fill('All the trails');
  await page.getByLabel('Name of the template').press('Tab');
  await expect(page.locator('[data-save]')).toContainText('The server cannot be reached');
  await page.unroute('**/api/v1/templates/**');
  await saved(page);
  expect(((await (await page.request.get('/api/v1/templates/trail-list')).json()) as { name: string }).name).toBe(
    'All the trails',
  );
});
