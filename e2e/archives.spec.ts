import { expect } from '@playwright/test';
import { test } from './live';
import {
  ANY,
  canvas,
  openWorkbench,
  newTemplate,
  outlineRow,
  picker,
  place,
  saved,
  seriousFaults,
  released,
} from './support';

test('visitors filter, search and order a list by its address alone, without a script', async ({
  browser,
  baseURL,
}) => {
  const context = await browser.newContext({ javaScriptEnabled: false, baseURL });
  const page = await context.newPage();
  await page.goto('/trails/');
  const filters = page.locator('search.filters');
  const found = filters.getByRole('status');
  await expect(found).toHaveText('18 found.');
  // What an option would leave is said beside it.
  await expect(filters.getByRole('checkbox', { name: 'Upper Vale 7' })).toBeVisible();
  await filters.getByRole('checkbox', { name: 'Upper Vale' }).check();
  await filters.getByRole('checkbox', { name: 'Easy' }).check();
  await filters.getByRole('button', { name: 'Show' }).click();
  // What was left open does not stand in the address.
  await expect(page).toHaveURL(/\/trails\/\?where=upper-vale&grade=easy$/);
  const some = Number(/(\d+) found/.exec((await found.textContent()) ?? '')?.[1]);
  expect(some).toBeGreaterThan(0);
  expect(some).toBeLessThan(7);
  await expect(filters.getByRole('checkbox', { name: 'Easy' })).toBeChecked();
  await filters.getByRole('link', { name: 'Show all' }).click();
  await expect(page).toHaveURL(/\/trails\/$/);
  await page.goto('/trails/?sort=shortest-first&length-from=10');
  const lengths = (await page.locator('.loop article').allTextContents()).map((text) =>
    Number(/([\d.]+)\s*km/.exec(text)?.[1]),
  );
  expect(lengths.length).toBeGreaterThan(2);
  expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
  expect(Math.min(...lengths)).toBeGreaterThanOrEqual(10);
  // Nonsense is told and left out.
  await page.goto('/trails/?grade=purple&length-from=far');
  await expect(filters).toContainText('there is no “purple” to choose');
  await expect(filters).toContainText('“far” is no number');
  await expect(found).toHaveText('18 found.');
  await context.close();
});

test('archives of terms, authors, months and searches are there, linked and sound', async ({ page }) => {
  await page.goto('/journal/');
  await page.locator('.loop .terms a').first().click();
  await expect(page).toHaveURL(/\/topic\/[a-z]+\/$/);
  expect((await page.locator('.loop > li').count()) > 1).toBe(true);
  await page.goto('/journal/');
  await page.locator('.loop a[href^="/journal/20"][href$="/"]').first().click();
  await expect(page).toHaveURL(/\/journal\/\d{4}\/\d\d\/$/);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Journal entries, [A-Z][a-z]+ \d{4}$/);
  await page.goto('/region/corrie-head/');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Corrie Head');
  await page.getByRole('navigation', { name: 'Breadcrumbs' }).getByRole('link', { name: 'Upper Vale' }).click();
  await expect(page.getByRole('link', { name: 'Corrie Head' })).toBeVisible();
  await page.goto('/search/');
  await page.getByLabel('Words in huts, trails, people and stories').fill('λυκοραχη');
  await page.locator('#main').getByRole('button', { name: 'Search', exact: true }).click();
  await expect(page.locator('.loop h2')).toHaveText(['Ανδρομάχη Λυκοράχη']);
  for (const address of [
    '/trails/',
    '/region/upper-vale/',
    '/search/?q=fell',
    '/journal/?about=weather',
    '/topic/weather/',
  ]) {
    await page.goto(address);
    expect([address, await seriousFaults(page)]).toEqual([address, []]);
    await page.setViewportSize({ width: 390, height: 800 });
    expect([address, await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)]).toEqual([
      address,
      true,
    ]);
    await page.setViewportSize({ width: 1280, height: 800 });
  }
  await page.setViewportSize({ width: 390, height: 800 });
  await page.goto('/trails/');
  await expect(page.getByText('Easy', { exact: true }).first()).toBeHidden();
  await page.getByText('Filter and order').click();
  await expect(page.locator('.filters').getByText('Easy', { exact: true })).toBeVisible();
});

test('a template for the terms of a taxonomy: made on the desk, looked at term by term, with what visitors choose', async ({
  page,
  request,
}) => {
  await page.goto('/studio');
  await page.getByRole('button', { name: 'New template' }).click();
  await page.getByRole('radio', { name: /The archive of pages/ }).check();
  await page.getByRole('button', { name: 'Only for some' }).click();
  await page.getByRole('button', { name: 'Take away: All' }).click();
  await page.getByLabel('Choose what').selectOption('term');
  await page.getByLabel('Term', { exact: true }).selectOption('upper-vale');
  await expect(page.getByText('Serves the archive of Upper Vale or below.')).toBeVisible();
  // What it would take from others is told before it is made.
  await expect(page.getByText(/\d+\s+pages are answered differently than now/)).toBeVisible();
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page).toHaveURL(/\/studio\/workbench\//);
  await expect(page.getByText('Serves the archive of Upper Vale or below')).toBeVisible();
  const strip = page.getByRole('combobox', { name: 'Archive on screen' });
  const second = (await strip.locator('option').nth(1).textContent())!.trim();
  await strip.selectOption({ index: 1 });
  await expect(canvas(page).getByRole('heading', { level: 1 })).toHaveText(second);
  // The next one past the last page of this one.
  await page.keyboard.press('.');
  await expect(canvas(page).getByRole('heading', { level: 1 })).not.toHaveText(second);
  await outlineRow(page, /Hut|Entry/).click();
  await page.getByRole('tab', { name: 'Visitors' }).click();
  await page.getByRole('button', { name: 'Let visitors filter by' }).click();
  await picker(page).getByRole('button', { name: /State/ }).first().click();
  // Where they choose comes along, and says how many each choice leaves.
  await expect(canvas(page).locator('search.filters')).toContainText(/Open\s*\d+/);
  await page.getByRole('checkbox', { name: 'Title' }).check();
  await expect(canvas(page).locator('search.filters input[type=search]')).toBeVisible();
  await saved(page);
  const { pathname } = new URL(page.url());
  await released(request);
  const html = await (await request.get('/region/upper-vale/?state=open')).text();
  expect(html).toMatch(/<input type="checkbox" name="state" value="open" checked>/);
  await request.delete(`/api/v1/templates/${pathname.split('/').at(-1)}`, { headers: ANY });
  await released(request);
});

test('an item made a part is drawn by every loop that places it, and follows at once', async ({ page, request }) => {
  const id = await newTemplate(request, { name: 'Shared', typeId: 'warden' });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await place(page, 'loop');
  await page.getByRole('tab', { name: 'Repeats' }).click();
  await page.getByRole('combobox', { name: 'Source' }).selectOption('query');
  await place(page, 'heading');
  await page.getByRole('button', { name: 'Bind text' }).click();
  await picker(page).getByRole('button', { name: /Title/ }).first().click();
  await expect(canvas(page).getByRole('heading').first()).not.toHaveText('');
  await page.getByRole('button', { name: 'Make it a part, for other loops and templates too' }).click();
  await expect(outlineRow(page, /Title|Heading/)).toBeVisible();
  await saved(page);
  const { items: templates } = (await (await request.get('/api/v1/templates?per_page=200')).json()) as {
    items: { id: string; purpose: string; name: string }[];
  };
  const part = templates.at(-1)!;
  expect(part.purpose).toBe('part');
  await page.getByRole('link', { name: 'Open this part' }).click();
  // The part has a record strip of its own.
  await expect(
    page.getByRole('navigation', { name: 'Record strip' }).getByRole('button', { name: 'Grey Crag Hut' }),
  ).toBeVisible();
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
  await request.delete(`/api/v1/templates/${part.id}`, { headers: ANY });
});

test('pages that would grow without end are stopped on the canvas, with a mark', async ({ page, request }) => {
  const loop = (id: string, child: string) => ({
    id,
    kind: 'loop',
    props: { source: { from: 'query', typeIds: ['trail'] }, arrange: 'list' },
    children: [child],
  });
  const elements = {
    a: loop('a', 'b'),
    b: loop('b', 'c'),
    c: loop('c', 'text'),
    text: { id: 'text', kind: 'text', slots: { text: { bound: { path: { from: 'loop:c', steps: ['@title'] } } } } },
  };
  const made = await request.post('/api/v1/templates', {
    data: { name: 'Endless', purpose: 'part', tree: { root: 'a', elements } },
  });
  const { id } = (await made.json()) as { id: string };
  await openWorkbench(page, id);
  await expect(
    canvas(page)
      .getByText(/Stopped here, \d+ short/)
      .first(),
  ).toBeVisible();
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

test('an archive of many pages names those near the one on the canvas, and goes to any of them', async ({
  page,
  request,
}) => {
  const tree = {
    root: 'r',
    elements: {
      r: { id: 'r', kind: 'box', children: ['huts'] },
      huts: { id: 'huts', kind: 'loop', props: { source: { from: 'archive' }, perPage: 1 }, children: ['name'] },
      name: {
        id: 'name',
        kind: 'heading',
        slots: { text: { bound: { path: { from: 'loop:huts', steps: ['@title'] } } } },
      },
    },
  };
  const data = { name: 'One by one', purpose: 'archive', typeId: 'hut', tree };
  const { id } = (await (await request.post('/api/v1/templates', { data })).json()) as { id: string };
  await openWorkbench(page, id);
  const named = page.getByRole('button', { name: /^Page \d+$/ });
  const pages = Number(await named.last().textContent());
  expect(pages).toBeGreaterThan(9);
  const at = async (n: number) => {
    await expect(page.getByRole('button', { name: `Page ${n}`, exact: true })).toHaveAttribute('aria-current', 'true');
    const near = [1, n - 2, n - 1, n, n + 1, n + 2, pages].filter((one) => one >= 1 && one <= pages);
    await expect(named).toHaveText([...new Set(near)].map(String));
    await expect(canvas(page).locator('nav.pages [aria-current]')).toHaveText(String(n));
  };
  await at(1);
  await page.getByLabel('Go to page').fill('6');
  await page.keyboard.press('Enter');
  await at(6);
  await page.getByLabel('Go to page').fill('4000');
  await page.keyboard.press('Enter');
  await at(pages);
  await page.getByRole('button', { name: 'Page 1', exact: true }).click();
  await at(1);
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});
