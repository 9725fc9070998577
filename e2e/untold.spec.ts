import { expect, type Page, type Route } from '@playwright/test';
import { test } from './live';

/** What the server says here. */
const REFUSED = 'The server is at something else.';
const refuse = (route: Route) =>
  route.fulfill({ status: 500, contentType: 'application/problem+json', body: JSON.stringify({ title: REFUSED }) });

interface Place {
  at: string;
  open: (page: Page) => Promise<unknown>;
  asks: string;
  looking: string;
  /** What is said of a site that has none. */
  none: string | RegExp;
}
const button = (name: string | RegExp) => (page: Page) => page.getByRole('button', { name }).first().click();
const PLACES: Place[] = [
  { at: 'serves', open: button('Redirects'), asks: '**/redirects?*', looking: 'Reading …', none: '0 kept' },
  {
    at: 'workbench/hut-page',
    asks: '**/versions',
    looking: 'Reading …',
    none: 'Nothing has been changed yet.',
    open: async (page) => {
      await button('What was done')(page);
      await button('Earlier versions')(page);
    },
  },
  {
    at: 'rules',
    open: button('Open'),
    asks: '**/api/v1/rules',
    looking: 'Looking for what uses it …',
    none: 'Nothing uses it yet.',
  },
  {
    at: 'authors',
    asks: '**/api/v1/media?*',
    looking: 'Looking …',
    none: /Nothing here yet|^0 /,
    open: async (page) => {
      await page.locator('main li button').first().click();
      await button(/^Choose a/)(page);
    },
  },
  {
    at: 'menus',
    asks: '**/titles?types=*',
    looking: 'Looking …',
    none: 'Nothing is called so.',
    open: async (page) => {
      await page.getByLabel('Leads to').first().selectOption('record');
      await page
        .getByPlaceholder(/by title$/)
        .first()
        .click();
    },
  },
  {
    at: 'content/hut/10',
    asks: '**/people/names',
    looking: 'Reading …',
    none: 'There is no other author.',
    open: (page) => page.getByText('Which authors write it').click(),
  },
  {
    at: 'content/hut/10',
    asks: '**/activity?*',
    looking: 'Reading …',
    none: /^Nothing since/,
    open: (page) => page.getByText('Who did what').click(),
  },
];
for (const { at, open, asks, looking, none } of PLACES)
  test(`what is looked for is not said to be nothing, nor is a refusal kept back: ${asks} on ${at}`, async ({
    page,
  }) => {
    let held: (route: Route) => void = () => undefined;
    const asked = new Promise<Route>((go) => (held = go));
    await page.goto(`/studio/${at}`);
    await page.route(asks, (route) => (route.request().method() === 'GET' ? held(route) : route.continue()));
    await open(page);
    const route = await asked;
    await expect(page.getByText(looking, { exact: true }).filter({ visible: true })).toBeVisible();
    await expect(page.getByText(none)).toHaveCount(0);
    await refuse(route);
    await expect(page.getByText(REFUSED)).toBeVisible();
    await expect(page.getByText(looking, { exact: true }).filter({ visible: true })).toHaveCount(0);
    await expect(page.getByText(none)).toHaveCount(0);
    await expect(page.getByRole('button', { name: 'Close what is said' })).toHaveCount(0);
  });

test('nothing fails in silence: a type that cannot be deleted, and what no place tells of', async ({ page }) => {
  await page.goto('/studio/content/warden/fields');
  await page.route('**/api/v1/types/warden', (route) =>
    route.request().method() === 'DELETE' ? refuse(route) : route.continue(),
  );
  await page.getByRole('button', { name: 'Delete this content type' }).click();
  await page.getByRole('button', { name: 'Delete all of it' }).click();
  await expect(page.getByRole('status').filter({ hasText: REFUSED })).toBeVisible();

  await page.evaluate(() => void Promise.reject(new Error('A thread broke')));
  const told = page.getByRole('alert').filter({ hasText: 'This did not work: A thread broke.' });
  await expect(told).toBeVisible();
  await page.getByRole('button', { name: 'Close what is said' }).click();
  await expect(told).toHaveCount(0);
});
