import { expect } from '@playwright/test';
import { test } from './live';

test('archives, turns and frames have a proof sheet, and their counts are those of the published pages', async ({
  page,
  request,
}) => {
  // What visitors get: each archive that the template answers, page by page.
  // The state of a hut that is not open stands on its card as a badge, by a rule of the part.
  const mark = /class="text tone-badge"/g;
  let pages = 0;
  let shown = 0;
  const titles: string[] = [];
  const years = new Set<string>();
  const records = (await (await request.get('/api/v1/records?type=hut&per_page=100')).json()) as {
    items: { status: string; published: string }[];
  };
  for (const { status, published } of records.items)
    if (status === 'published') {
      years.add(`/huts/${published.slice(0, 4)}/`);
      years.add(`/huts/${published.slice(0, 7).replace('-', '/')}/`);
    }
  for (const first of ['/huts/', ...years])
    for (let at: string | undefined = first; at;) {
      const html: string = await (await request.get(at)).text();
      pages++;
      shown += html.match(mark)?.length ?? 0;
      titles.push(/<title>([^<]*?) · /.exec(html)?.[1] ?? '');
      at = /<link rel="next" href="([^"]+)">/.exec(html)?.[1];
    }
  expect(shown).toBeGreaterThan(0);

  await page.goto('/studio/workbench/hut-list');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Proof sheet' }).click();
  const sheet = page.getByRole('region', { name: 'Proof sheet' });
  const tiles = sheet.getByRole('button', { name: /^Design with/ });
  await expect(tiles).toHaveCount(pages);
  await expect(sheet.frameLocator('iframe').first().getByRole('heading', { name: 'Huts', exact: true })).toBeVisible();
  await expect
    .poll(async () => (await tiles.evaluateAll((all) => all.map((one) => one.getAttribute('aria-label')))).sort())
    .toEqual(titles.map((title) => `Design with ${title}`).sort());

  // Where the section of the card appears, over all turns of all pages.
  await page.getByRole('button', { name: 'Coverage', exact: true }).click();
  const table = page.getByRole('region', { name: 'Where each section appears' });
  await expect(table.getByText(`${pages} pages of ${1 + years.size} archives`)).toBeVisible();
  await expect(table.getByText(new RegExp(`^${shown} of \\d+ turns$`))).toBeVisible();
  // The same, turn by turn: each is one, and as many show it.
  await table.getByLabel('What is counted').selectOption({ label: 'Turns of Hut' });
  await expect(table.getByRole('img', { name: new RegExp(`appears for ${shown} of \\d+$`) })).toBeVisible();

  await page.getByRole('button', { name: 'Proof sheet' }).click();
  await sheet.getByLabel('What stands on the sheet').selectOption({ label: 'Each turn of Hut' });
  await sheet.getByLabel('where').selectOption({ index: 1 });
  await expect(tiles).toHaveCount(shown);
  await tiles.first().click();
  await expect(page.getByRole('navigation', { name: 'Pages of the archive' })).toBeVisible();

  // A frame stands around each page that it surrounds.
  await page.goto('/studio/workbench/site-frame');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Proof sheet' }).click();
  await expect(sheet.frameLocator('iframe').first().getByRole('heading', { name: 'Front page' })).toBeVisible();

  // It surrounds as many as visitors find with it: first pages of archives, and records.
  const known = (await (await request.get('/api/v1/templates/journal-frame')).json()) as {
    tree: { elements: Record<string, { style?: object }> };
  };
  const marks = Object.entries(known.tree.elements).flatMap(([id, { style }]) => (style ? [id.slice(-5)] : []));
  expect(marks.length).toBeGreaterThan(0);
  const addresses = new Set(
    [...(await (await request.get('/sitemap.xml')).text()).matchAll(/<loc>https?:\/\/[^/]+([^<]*)<\/loc>/g)].map(
      ([, path = '']) => path,
    ),
  );
  const entries = (await (await request.get('/api/v1/records?type=entry&per_page=100')).json()) as typeof records;
  for (const { status, published } of entries.items)
    if (status === 'published') {
      addresses.add(`/journal/${published.slice(0, 4)}/`);
      addresses.add(`/journal/${published.slice(0, 7).replace('-', '/')}/`);
    }
  let within = 0;
  for (const path of addresses) {
    const html = await (await request.get(path)).text();
    within += Number(marks.some((mark) => new RegExp(`class="[^"]*-${mark}[ "]`).test(html)));
  }
  expect(within).toBeGreaterThan(10);
  await page.goto('/studio/workbench/journal-frame');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Proof sheet' }).click();
  await expect(tiles).toHaveCount(within);
});

test('a part has a proof sheet of the places it stands in, as many as the published pages have', async ({
  page,
  request,
}) => {
  const found: Record<string, number> = {};
  for (const [title, path] of [
    ['Upper Vale', '/region/upper-vale/'],
    ['Ridge of Larks', '/trails/ridge-of-larks'],
    ['Screeside Shelter', '/huts/screeside-shelter'],
  ] as const)
    // Each card is headed by a link to its hut.
    found[title] =
      (await (await request.get(path)).text()).match(/<h[23] class="size-s"><a href="\/huts\//g)?.length ?? 0;
  expect(Object.values(found).every((n) => n > 1)).toBe(true);
  await page.goto('/studio/workbench/hut-card');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Proof sheet' }).click();
  const sheet = page.getByRole('region', { name: 'Proof sheet' });
  await sheet.getByLabel('What stands on the sheet').selectOption('places');
  for (const [title, n] of Object.entries(found))
    await expect(sheet.getByRole('button', { name: new RegExp(`^Design with ${title} › `) })).toHaveCount(n);
  // The same places are counted.
  const all = await sheet.getByRole('button', { name: /^Design with/ }).count();
  await page.getByRole('button', { name: 'Coverage', exact: true }).click();
  const table = page.getByRole('region', { name: 'Where each section appears' });
  await table.getByLabel('What is counted').selectOption('places');
  await expect(table.getByText(`${all} places`)).toBeVisible();
});
