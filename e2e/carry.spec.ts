import { expect, type Locator, type Page } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, drag, newTemplate, outlineRow, place, saved, shelfRow } from './support';

/** A point of an element: at `part` of its height, from the top, and `across` its width. */
const within =
  (target: Locator, part: number, across = 0.5) =>
  async (): Promise<{ x: number; y: number }> => {
    const box = (await target.boundingBox())!;
    return { x: box.x + box.width * across, y: box.y + box.height * part };
  };

/** What the items of a list say, but for their number, in the order in which they stand. */
const order = (list: Locator) =>
  list.locator('> li').evaluateAll((items) => items.map((item) => item.textContent?.trim().replace(/^\d+ /, '')));

/** What a list is after its item at one place was moved to another. */
const movedTo = <T>(items: T[], from: number, to: number): T[] => {
  const rest = items.filter((_, i) => i !== from);
  rest.splice(to, 0, items[from] as T);
  return rest;
};

/** Every list of a form that can be put into order, by its place in the studio. */
const LISTS: { what: string; open(page: Page): Promise<Locator> }[] = [
  {
    what: 'rows',
    async open(page) {
      await page.goto('/studio/content/hut');
      await page.getByRole('link', { name: 'Grey Crag Hut' }).first().click();
      await page.getByRole('tab', { name: 'Staying' }).click();
      await page.getByRole('group', { name: 'Rooms' }).getByRole('button', { name: 'Fold all' }).last().click();
      return page.getByRole('group', { name: 'Rooms' }).locator('> ol');
    },
  },
  {
    what: 'links to records',
    async open(page) {
      await page.goto('/studio/content/hut');
      await page.getByRole('link', { name: 'Grey Crag Hut' }).first().click();
      return page.getByRole('list', { name: /^Trails/ });
    },
  },
  {
    what: 'pictures',
    async open(page) {
      await page.goto('/studio/content/hut');
      await page.getByRole('link', { name: 'Grey Crag Hut' }).first().click();
      await page.getByRole('tab', { name: 'Pictures' }).click();
      return page.getByRole('group', { name: 'Gallery' }).locator('> ol');
    },
  },
  {
    what: 'fields',
    async open(page) {
      await page.goto('/studio/content/hut/fields');
      return page.locator('ol:has(> [data-field])').first();
    },
  },
];

for (const { what, open } of LISTS)
  test(`${what} are put into order by the pointer and by key, and a drag given up changes nothing`, async ({
    page,
  }) => {
    const list = await open(page);
    const items = list.locator('> li');
    await expect(items.nth(1)).toBeVisible();
    // Titles of records come after their numbers.
    await expect.poll(async () => (await order(list)).filter((one) => /^Record \d/.test(one))).toEqual([]);
    const before = await order(list);
    expect(before.length).toBeGreaterThan(1);
    const grips = items.getByRole('button', { name: /^Move / });
    const across = (await items.nth(0).boundingBox())!.y === (await items.nth(1).boundingBox())!.y;
    // Past the middle of the second one.
    const behind = across ? within(items.nth(1), 0.5, 0.9) : within(items.nth(1), 0.9);
    await drag(page, grips.nth(0), behind);
    await expect.poll(() => order(list)).toEqual(movedTo(before, 0, 1));
    await grips.nth(1).focus();
    await page.keyboard.press('Alt+ArrowUp');
    await expect.poll(() => order(list)).toEqual(before);
    await expect(grips.nth(0)).toBeFocused();
    // Taken up, moved, put down.
    for (const key of ['Enter', 'ArrowDown', 'Enter']) await page.keyboard.press(key);
    await expect.poll(() => order(list)).toEqual(movedTo(before, 0, 1));
    await page.keyboard.press('Alt+ArrowUp');
    await expect.poll(() => order(list)).toEqual(before);
    // Given up.
    await drag(page, grips.nth(0), behind, 'Escape');
    await expect(page.locator('[data-gap="before"], [data-gap="after"]')).toHaveCount(0);
    expect(await order(list)).toEqual(before);
  });

test('terms are carried before, behind and into each other, and never into what lies below them', async ({
  page,
  request,
}) => {
  const taxonomy = { id: 'tax_carried', key: 'carried', name: 'Carried', tree: true };
  await request.post('/api/v1/taxonomies', { data: taxonomy });
  const made: Record<string, string> = {};
  for (const name of ['Ash', 'Birch', 'Cedar']) {
    const answer = await request.post('/api/v1/terms', { data: { taxonomyId: taxonomy.id, name } });
    made[name] = ((await answer.json()) as { id: string }).id;
  }
  await page.goto(`/studio/terms/${taxonomy.id}`);
  const term = (name: string) => page.locator(`[data-term="${made[name]}"]`);
  const tree = async () =>
    page
      .locator('[data-term]')
      .evaluateAll((all) =>
        all.map((one) => `${one.getAttribute('aria-level')} ${one.querySelector('span')?.textContent}`),
      );
  await expect.poll(tree).toEqual(['1 Ash', '1 Birch', '1 Cedar']);
  await drag(page, term('Cedar'), within(term('Ash'), 0.1));
  await expect.poll(tree).toEqual(['1 Cedar', '1 Ash', '1 Birch']);
  await drag(page, term('Cedar'), within(term('Birch'), 0.9));
  await expect.poll(tree).toEqual(['1 Ash', '1 Birch', '1 Cedar']);
  await drag(page, term('Birch'), within(term('Ash'), 0.5));
  await expect.poll(tree).toEqual(['1 Ash', '2 Birch', '1 Cedar']);
  await drag(page, term('Ash'), within(term('Birch'), 0.5));
  await expect.poll(tree).toEqual(['1 Ash', '2 Birch', '1 Cedar']);
});

test('one way of carrying goes from shelf, list of elements, outline and canvas to outline and canvas', async ({
  page,
  request,
}) => {
  const id = await newTemplate(request, { name: 'Carried about', typeId: 'hut' });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  const kinds = () => page.getByRole('treeitem').evaluateAll((all) => all.length - 1);
  const area = (await page.locator('[data-canvas]').boundingBox())!;
  const onCanvas = { x: area.x + area.width / 2, y: area.y + 120 };
  let n = 0;
  for (const where of ['canvas', 'outline'] as const) {
    const to = where === 'canvas' ? onCanvas : page.locator('[data-outline-scroll]');
    await drag(page, shelfRow(page, 'Title'), to);
    await expect.poll(kinds).toBe(++n);
    await page.getByRole('button', { name: 'Place an element' }).click();
    await drag(page, page.locator('[data-kind="text"]'), to);
    await expect.poll(kinds).toBe(++n);
    await expect(page.locator('[data-kind="text"]')).toHaveCount(0);
  }
  // Words beside the pointer say what would become of it; given up, nothing does.
  await drag(page, shelfRow(page, 'Altitude'), onCanvas, 'Escape');
  await expect(page.locator('[data-drag]')).toHaveCount(0);
  await expect.poll(kinds).toBe(n);
  // From outline to outline, and on the canvas itself.
  await outlineRow(page, 'Page').click();
  await place(page, 'box');
  const box = outlineRow(page, 'Box');
  await drag(page, outlineRow(page, 'Title'), box);
  await expect(box).toHaveAttribute('aria-expanded', 'true');
  await expect(page.getByRole('treeitem', { level: 3 })).toHaveCount(1);
  const shown = canvas(page).locator('h1, h2').first();
  const rows = () => page.getByRole('treeitem').evaluateAll((all) => all.map((one) => one.textContent?.trim()));
  const before = await rows();
  await drag(page, shown, { x: onCanvas.x, y: area.y + 22 });
  await expect.poll(rows).not.toEqual(before);
  await page.keyboard.press('Control+z');
  await expect.poll(rows).toEqual(before);
  await saved(page);
  // It would contend with the templates of other tests.
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});
