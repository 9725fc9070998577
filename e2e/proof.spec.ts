import { expect } from '@playwright/test';
import { test } from './live';
import { outlineRow, picker, saved, seriousFaults, undoAll } from './support';

test('the proof sheet: true pages, ordered and narrowed, one designed with, several side by side', async ({ page }) => {
  await page.goto('/studio/workbench/hut-page');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Proof sheet' }).click();
  const sheet = page.getByRole('region', { name: 'Proof sheet' });
  const tiles = sheet.getByRole('button', { name: /^Design with/ });
  // Those that it answers: three are answered by another template. All of the type are a choice beside it.
  const which = sheet.getByLabel('Which records');
  await expect(which).toHaveText(/It answers 11/);
  await expect(tiles).toHaveCount(11);
  await which.selectOption('all');
  await expect(tiles).toHaveCount(14);
  const first = sheet.frameLocator('iframe').first();
  await expect(first.getByRole('heading', { name: 'Grey Crag Hut' })).toBeVisible();
  await expect(sheet.getByText('5 hidden').first()).toBeVisible();

  await sheet.getByLabel('in the order').selectOption({ label: 'of the longest title' });
  await expect(tiles.first()).toHaveAccessibleName(/Society’s Jubilee House/);
  await sheet.getByLabel('where').selectOption({ label: 'A day there, as a film' });
  await expect.poll(() => tiles.count()).toBeLessThan(14);
  const withFilm = await tiles.count();
  expect(withFilm).toBeGreaterThan(0);
  await sheet.getByLabel('Appears or not').selectOption({ label: 'is hidden' });
  await expect(tiles).toHaveCount(14 - withFilm);
  await sheet.getByLabel('where').selectOption({ label: 'everything is as it is' });
  await sheet.getByLabel('Only with the term').selectOption({ index: 1 });
  await expect.poll(() => tiles.count()).toBeLessThan(14);
  await sheet.getByLabel('Only with the term').selectOption({ index: 0 });

  // Pages that are out of sight are no pages yet.
  expect(await sheet.locator('iframe').count()).toBeLessThanOrEqual(14);
  await sheet.getByLabel('Put Windle Pass Hut beside others').check();
  await sheet.getByLabel('Put Grey Crag Hut beside others').check();
  await sheet.getByRole('button', { name: 'Put 2 side by side' }).click();
  const left = page.getByRole('region', { name: 'Page of Windle Pass Hut' });
  const right = page.getByRole('region', { name: 'Page of Grey Crag Hut' });
  await expect(left.frameLocator('iframe').getByRole('heading', { name: 'Windle Pass Hut' })).toBeVisible();
  await left.evaluate((pane) => (pane.scrollTop = 300));
  await expect.poll(() => right.evaluate((pane) => pane.scrollTop)).toBe(300);
  await page.getByRole('button', { name: 'Back to the proof sheet' }).click();

  await sheet.getByRole('button', { name: 'Design with Bentgrass Hut' }).click();
  await expect(page.locator('nav button[aria-current]')).toHaveText('Bentgrass Hut');
});

test('coverage follows the rules: totals, never and always, what a change gains, and everything in a few records', async ({
  page,
}) => {
  await page.goto('/studio/workbench/trail-page');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Coverage', exact: true }).click();
  const table = page.getByRole('region', { name: 'Where each section appears' });
  await expect(table.getByText('18 published trails')).toBeVisible();
  const huts = table.getByRole('img', { name: /^Huts on the way appears for [1-9]\d* of 18$/ });
  const [, before] = /for (\d+) of/.exec((await huts.getAttribute('aria-label')) ?? '') ?? [];
  const sides = page.getByRole('complementary', { name: 'What it comes to' });
  await expect(sides.getByText(/^\s*\d+\s+combinations occur/)).toBeVisible();

  // A test more, and the section loses trails at once.
  await table.getByRole('button', { name: 'Huts on the way' }).click();
  const settings = page.getByRole('region', { name: 'Settings of Huts on the way' });
  await settings.getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /^Hours/ })
    .first()
    .click();
  await settings.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption('order.gt');
  await settings
    .getByRole('textbox', { name: 'Value' })
    .or(settings.getByRole('spinbutton', { name: 'Value' }))
    .fill('100');
  await expect(table.getByRole('img', { name: 'Huts on the way appears for 0 of 18' })).toBeVisible();
  await expect(sides.getByText(`no longer appears for ${before}:`)).toBeVisible();
  await expect(settings.locator('[data-total]')).toHaveText(/Appears for 0 of\s+18\s+trails/);
  await expect(settings.getByText(`Since it was opened it has lost ${before}:`)).toBeVisible();
  await page.keyboard.press('Escape');
  await undoAll(page);
  await expect(table.getByRole('img', { name: `Huts on the way appears for ${before} of 18` })).toBeVisible();

  const all = sides.getByRole('button', { name: /^See everything in \d+ records$/ });
  const [, few] = /in (\d+)/.exec((await all.textContent()) ?? '') ?? [];
  await all.click();
  const strip = page.getByRole('navigation', { name: 'Record strip' });
  await expect(strip.getByRole('button', { name: `${few} for everything shown and hidden ×` })).toBeVisible();
  const records = strip.locator('button[title]:not([title^="Back"])');
  await expect(records).toHaveCount(Number(few));
  await strip.getByRole('button', { name: /for everything/ }).click();
  await expect(records).toHaveCount(18);
  await saved(page);
});

test('why a published page is as it is, for its designer alone', async ({ page, request }) => {
  await page.goto('/studio/workbench/hut-page');
  await page.waitForLoadState('networkidle');
  await page.getByRole('link', { name: 'Why', exact: true }).click();
  const why = page.getByRole('complementary', { name: 'Why' });
  await expect(why.getByRole('link', { name: 'Hut page' })).toBeVisible();
  await why.getByRole('button', { name: /Warning/ }).click();
  await expect(why.getByText('It is hidden: its rule does not hold.')).toBeVisible();
  await expect(
    why.getByText(/To turn it round: “Warning has a value” would have to hold; it saw nothing\./),
  ).toBeVisible();
  await page.frameLocator('iframe').getByRole('heading', { name: 'Rooms' }).click();
  await expect(why.getByText(/nothing hides it|holds/).first()).toBeVisible();
  await why.getByRole('button', { name: /Warning/ }).click();
  await why.getByRole('link', { name: 'To the rule, on the workbench' }).click();
  await expect(page.getByRole('tab', { name: 'Appears by rule' })).toHaveAttribute('aria-selected', 'true');
  await expect(outlineRow(page, 'Warning')).toHaveAttribute('aria-selected', 'true');
  const html = await (await request.get('/huts/grey-crag-hut')).text();
  for (const word of ['data-element', 'Before you set out', '<script src', '<script>'])
    expect(html).not.toContain(word);
});

test('axe finds nothing serious on the proof sheet, side by side, coverage, kept rules and published pages', async ({
  page,
}) => {
  test.slow();
  const faults = async (where: string) => (await seriousFaults(page)).map((fault) => `${where}: ${fault}`);
  const found: string[] = [];
  await page.goto('/studio/workbench/hut-page');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Proof sheet' }).click();
  await page.getByLabel('Put Windle Pass Hut beside others').check();
  await page.getByLabel('Put Grey Crag Hut beside others').check();
  found.push(...(await faults('proof sheet')));
  await page.getByRole('button', { name: 'Put 2 side by side' }).click();
  found.push(...(await faults('side by side')));
  await page.getByRole('button', { name: 'Coverage', exact: true }).click();
  await page.getByRole('button', { name: 'Appears by rule Warning' }).click();
  await expect(page.locator('[data-total]')).toBeVisible();
  found.push(...(await faults('coverage')));
  await page.goto('/studio/rules');
  found.push(...(await faults('rules')));
  await page.getByRole('button', { name: 'Open' }).first().click();
  found.push(...(await faults('a kept rule')));
  await page.goto('/studio/site/huts/windle-pass-hut');
  await page
    .getByRole('complementary', { name: 'Why' })
    .getByRole('button', { name: /Warning/ })
    .click();
  found.push(...(await faults('a published page')));
  expect(found).toEqual([]);
});
