import { expect } from '@playwright/test';
import { test } from './live';
import { canvas, openWorkbench, seriousFaults } from './support';

test('a record is changed in its form, with errors beside the field', async ({ page }) => {
  await page.goto('/studio/content/hut');
  await page.getByRole('link', { name: 'Larchwell Cottage' }).click();
  await page.getByLabel('Altitude').fill('99999');
  await page.getByLabel('Booking link', { exact: true }).fill('javascript:alert(1)');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('This is at most 6000.')).toBeVisible();
  await expect(page.getByText('An address starts with https://')).toBeVisible();
  await expect(page.getByLabel('Altitude')).toHaveValue('99999');

  await page.getByLabel('Altitude').fill('1465');
  await page.getByLabel('Booking link', { exact: true }).fill('https://booking.larkfell.example/larchwell');
  await page.getByLabel('Warning').fill('Wasps under the <eaves>.');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved')).toBeVisible();
  const html = await (await page.request.get('/huts/larchwell-cottage')).text();
  expect(html).toContain('1,465\u00a0m above the sea loch');
  expect(html).toContain('Wasps under the &lt;eaves&gt;.');
});

test('from an empty type to a page: fields, a record, and the site', async ({ page }) => {
  await page.goto('/studio/content');
  await page.getByRole('link', { name: 'New content type' }).click();
  await page.getByLabel('One is called').fill('Lamp');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.waitForURL(/content\/t_\w+\/fields/);
  const typeId = /content\/(t_\w+)/.exec(page.url())![1];
  await page.getByRole('button', { name: 'Add a field' }).click();
  await page.getByLabel('Label of field 1').fill('Brightness');
  await page.getByLabel('Kind of Brightness').selectOption('number');
  await page.getByLabel('Unit').fill('lm');
  await page.getByRole('button', { name: 'Add a field' }).click();
  await page.getByLabel('Label of field 2').fill('Wick');
  await page.getByLabel('Kind of Wick').selectOption('choice');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('A choice has at least one option.')).toBeVisible();
  await page.getByPlaceholder('One on each line').fill('Round\nFlat');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved')).toBeVisible();

  await page.goto(`/studio/content/${typeId}/new`);
  await page.getByLabel('Title').fill('Storm lamp');
  await page.getByLabel('Brightness').fill('320');
  await page.getByLabel('Wick').selectOption('flat');
  await page.getByLabel('Status').selectOption('published');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.waitForURL(/\/\d+$/);
  // Nothing of a new type is seen before it is released, and it is said so wherever it is worked on.
  await expect(page.getByText('Visitors see it once Lamps are released')).toBeVisible();
  expect((await page.request.get('/lamps/storm-lamp')).status()).toBe(404);
  await page.goto('/studio/content');
  const lamps = page.locator('section', { has: page.getByRole('link', { name: 'Lamps', exact: true }) });
  await expect(lamps.getByText('not released')).toBeVisible();
  await page.goto('/studio/release');
  await expect(page.getByRole('list', { name: 'Changes' })).toContainText('Lamps');
  await page.getByRole('button', { name: /^Release \d+ changes?$/ }).click();
  await expect(page.getByText(/^Released\. Visitors see release/)).toBeVisible();
  const html = await (await page.request.get('/lamps/storm-lamp')).text();
  expect(html).toContain('Brightness: 320\u00a0lm');
  expect(html).toContain('Wick: Flat');
});

test('shelf and outline fold away, widths change, and the outline is walked by key', async ({ page }) => {
  await openWorkbench(page, 'hut-page');
  await page.getByRole('treeitem').first().focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('region', { name: 'Settings of Heading' })).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('region', { name: 'Settings of Title and state' })).toBeVisible();
  await page.getByLabel('Width of the page on the canvas').selectOption('390');
  await expect(page.locator('iframe')).toHaveCSS('width', '390px');
  await page.getByRole('button', { name: 'Fold shelf and outline' }).click();
  await expect(page.getByRole('tree')).toHaveCount(0);
  await page.getByRole('button', { name: 'Shortcuts' }).click();
  await expect(page.getByRole('dialog')).toContainText('Undo, redo');
});

test('the canvas is apart from the studio and runs nothing', async ({ page }) => {
  await openWorkbench(page, 'hut-page');
  await expect(page.locator('iframe')).toHaveAttribute('sandbox', 'allow-same-origin');
  const font = await canvas(page).evaluate((main) => getComputedStyle(main.ownerDocument.body).backgroundColor);
  expect(font).toBe('rgb(251, 250, 246)');
});

test('axe finds nothing serious on the screens of the studio', async ({ page }) => {
  for (const path of [
    '/studio',
    '/studio/content',
    '/studio/content/hut',
    '/studio/content/hut/fields',
    '/studio/content/hut/10',
    '/studio/content/new',
    '/studio/content/hut/new',
    '/studio/content/trail/files',
    '/studio/library?open=1',
    '/studio/terms/region',
    '/studio/authors',
    '/studio/workbench/hut-page',
    '/studio/workbench/trail-list',
  ]) {
    await page.goto(path);
    await page.waitForLoadState('networkidle');
    // Whoever reads by landmarks finds what a screen is about (HTML standard, 4.4.14: one main element that is not hidden).
    await expect(page.getByRole('main'), path).toHaveCount(1);
    expect([path, await seriousFaults(page)]).toEqual([path, []]);
  }
});

test('the site is named on the desk', async ({ page, request }) => {
  await page.goto('/studio');
  await page.getByLabel('Tagline of the site').fill('Roofs & ridges');
  await page.getByLabel('Tagline of the site').press('Tab');
  await expect
    .poll(async () => (await request.get('/')).text())
    .toContain('<p class="text text-s">Roofs &amp; ridges</p>');
  // The screen reads the site anew after a change; the next one follows that.
  await page.waitForLoadState('networkidle');
  await page.getByLabel('Name of the site').fill(' ');
  await page.getByLabel('Name of the site').press('Tab');
  await expect(page.getByText('A site has a name.')).toBeVisible();
});
