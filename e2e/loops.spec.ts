import { expect, type Page } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, drag, openWorkbench, newTemplate, outlineRow, picker, place, saved, shelfRow } from './support';

const repeats = async (page: Page, words: string) => {
  await page
    .getByRole('treeitem')
    .filter({ hasText: words })
    .filter({ has: page.locator('[title="Repeats"]') })
    .first()
    .click();
  await page.getByRole('tab', { name: 'Repeats' }).click();
};

test('rows within rows: each level by name on the shelf, and nothing leaks', async ({ page, request }) => {
  await openWorkbench(page, 'trail-page');
  await page.locator('nav button', { hasText: 'Ridge of Larks' }).click();
  await repeats(page, 'Waypoint');
  for (const name of ['Each Waypoint', 'Each Stage', 'This Trail', 'The site'])
    await expect(page.locator('[data-shelf-group]', { hasText: name })).toBeVisible();
  await expect(page.locator('[data-yields]')).toHaveText(/^Yields 2: The spring, The cairn/);
  // Another turn looked at on the canvas: shelf and yield follow it.
  const second = canvas(page).locator('[data-loop="stages"][data-turn="1"] h3');
  await second.scrollIntoViewIfNeeded();
  const box = (await second.boundingBox())!;
  await page.mouse.click(box.x + 10, box.y + box.height / 2);
  await repeats(page, 'Waypoint');
  await expect(page.locator('[data-yields]')).toHaveText(/^Yields 1: The spring/);
  const html = await (await request.get('/trails/ridge-of-larks')).text();
  expect(html).toMatch(/Day 1: Grey Crag Hut to Windle Pass Hut/);
  expect(html.match(/The spring/g)).toHaveLength(3);
  expect(html.match(/The cairn/g)).toHaveLength(1);
});

test('a loop from blank: source by its field, filter, order, groups with a head, and a special first turn', async ({
  page,
  request,
}) => {
  const id = await newTemplate(request, { name: 'Loops', typeId: 'warden' });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await place(page, 'loop');
  await page.getByRole('tab', { name: 'Repeats' }).click();
  await page.getByRole('combobox', { name: 'Source' }).selectOption('query');
  await page.getByLabel('Content types').click();
  await page.getByRole('checkbox', { name: 'Huts' }).check();
  await expect(page.locator('[data-yields]')).toContainText(/^Yields \d+/);
  await page.getByRole('checkbox', { name: 'Trails' }).check();
  await expect(page.locator('[data-yields]')).toContainText('Yields 31');
  await page.getByRole('checkbox', { name: 'Trails' }).uncheck();
  await page.keyboard.press('Escape');
  // Ordered by a count of related records, then by title.
  await page.getByRole('button', { name: 'Order by' }).click();
  await picker(page)
    .getByRole('button', { name: /^Trails/ })
    .first()
    .click();
  await picker(page)
    .getByRole('button', { name: /How many there are/ })
    .click();
  await page.getByRole('button', { name: 'Turn the order round' }).click();
  await expect(page.locator('[data-yields]')).toContainText('Yields 13: ');
  // Grouped by state: a head comes along.
  await page.getByRole('button', { name: 'Group by' }).click();
  await picker(page).getByPlaceholder('Find a field or a value').fill('state');
  await picker(page).getByRole('button', { name: /State/ }).first().click();
  await expect(outlineRow(page, 'Head of the group')).toBeVisible();
  await drag(page, shelfRow(page, 'Title'), outlineRow(page, 'Loop').or(outlineRow(page, 'Huts')).first());
  await expect(canvas(page).locator('.group > div h2')).toHaveText(['Open', 'Closing soon', 'Closed']);
  // Only the high ones, and the story of the list says what the test removed.
  await repeats(page, 'Loop');
  await page.getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /Altitude/ })
    .first()
    .click();
  await page.getByLabel('Test', { exact: true }).selectOption('order.ge');
  await page.getByRole('spinbutton').first().fill('2000');
  await expect(page.locator('[data-story]')).toContainText(/^13 candidates · \d+ removed by “Altitude/);
  await saved(page);
  await page.goto(`/studio/workbench/${id}`);
  await expect(canvas(page).locator('.group > div h2').first()).toHaveText('Open');
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

test('loops on the site: pages that are real links, groups, nested tables and what is left out', async ({ page }) => {
  await page.goto('/huts/');
  await expect(page.locator('h3', { hasText: 'Upper Vale' })).toBeVisible();
  const table = page.getByRole('group', { name: 'Hut of the valley' }).first();
  await expect(table.getByRole('columnheader')).toHaveText(['Hut', 'Altitude', 'Bunks', 'State', 'Warden']);
  await expect(table.getByRole('rowheader').first()).toHaveText('Tarn End Bivouac');
  await page.getByRole('link', { name: 'Next page' }).click();
  await expect(page).toHaveURL(/\/huts\/page\/2\/$/);
  await page.goto('/trails/');
  await expect(page.locator('.group h3').first()).toHaveText('B');
  await page.goto('/journal/');
  await expect(page.locator('.pages [aria-current]')).toHaveText('1');
  expect(await page.locator('main h2').count()).toBe(3);
  expect((await page.request.get('/journal/page/9/')).status()).toBe(404);
  await page.goto('/huts/grey-crag-hut');
  const near = page.getByRole('group', { name: 'Hut nearby' });
  await expect(near.getByRole('link', { name: 'Grey Crag Hut' })).toHaveCount(0);
  // The row that scrolls is reached and moved by key.
  await near.focus();
  await expect(near).toBeFocused();
  await page.goto('/work-weekends/');
  const titles = await page.locator('main h3').allTextContents();
  expect(new Set(titles).size).toBe(titles.length);
  expect(titles).toHaveLength(7);
});
