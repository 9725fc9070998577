import { expect, test } from '@playwright/test';

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
  await expect(table.getByText(`${pages} pages of archives`)).toBeVisible();
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
});
