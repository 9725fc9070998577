import { expect, type Page } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, drag, newTemplate, outlineRow, picker, place, released, saved } from './support';

test('alternatives from a choice in one step, and a rule that can never hold is told with what contradicts', async ({
  page,
  request,
}) => {
  const id = await newTemplate(request, { name: 'Branches', typeId: 'hut' });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await place(page, 'alternatives');
  await page.getByRole('tab', { name: 'Branches' }).click();
  await page.getByRole('button', { name: 'Make a branch for each answer of' }).click();
  await picker(page)
    .getByRole('button', { name: /Page layout/ })
    .first()
    .click();
  for (const name of ['Wide picture', 'Side by side', 'Plain', 'Otherwise'])
    await expect(outlineRow(page, name)).toBeVisible();
  await expect(page.getByText('Page layout is Side by side')).toBeVisible();
  await outlineRow(page, 'Side by side').click();
  await place(page, 'heading');
  await page
    .getByRole('textbox', { name: /fixed words|Text/ })
    .first()
    .fill('Two columns');
  await page.locator('nav button', { hasText: 'Windle Pass Hut' }).click();
  await expect(canvas(page).getByText('Two columns')).toBeVisible();
  await page.locator('nav button', { hasText: 'Grey Crag Hut' }).click();
  await expect(canvas(page).getByText('Two columns')).toHaveCount(0);
  await saved(page);
  // A second test on the same choice can never hold together with the first.
  await outlineRow(page, 'Side by side').click();
  await page.getByRole('tab', { name: /Appears/ }).click();
  await page.getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /Page layout/ })
    .first()
    .click();
  await page.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption('choice.is');
  await page.getByRole('combobox', { name: 'Choice' }).last().selectOption({ label: 'Plain' });
  await expect(
    page
      .getByRole('tabpanel')
      .getByText(
        'This can never hold: “Page layout is Side by side” and “Page layout is Plain” contradict each other.',
      ),
  ).toBeVisible();
  await saved(page);
  await page.goto('/studio');
  await expect(page.getByText(/This can never hold: “Page layout is Side by side”/)).toBeVisible();
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

/** Adds a test on a value to the rule that is open, and chooses how it is asked. */
async function addTest(page: Page, value: RegExp, operator?: string): Promise<void> {
  await page.getByRole('button', { name: 'Add a test' }).last().click();
  await picker(page).getByRole('button', { name: value }).first().click();
  if (operator) await page.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption(operator);
}

test('a section for long titles: the count in the studio is that of the published pages', async ({ page, request }) => {
  const list = await request.get('/api/v1/records?type=hut&per_page=200');
  const { items } = (await list.json()) as { items: { id: number; title: string; slug: string; status: string }[] };
  const huts = items.filter(({ status }) => status === 'published');
  const serves = [{ on: 'records', typeId: 'hut', ids: huts.map(({ id }) => id) }];
  const created = await request.post('/api/v1/templates', { data: { name: 'Long titles', purpose: 'record', serves } });
  const { id } = (await created.json()) as { id: string };
  try {
    await page.goto(`/studio/workbench/${id}`);
    await page.waitForLoadState('networkidle');
    await place(page, 'text');
    await page
      .getByRole('textbox', { name: /fixed words|Text/ })
      .first()
      .fill('A long name');
    await page.getByRole('tab', { name: /Appears/ }).click();
    await addTest(page, /^Title/, 'text.longer');
    await page.getByRole('spinbutton', { name: 'Characters' }).fill('15');
    await expect(page.getByText('Appears when Title is longer than 15 characters.')).toBeVisible();
    const long = huts.filter(({ title }) => [...title.normalize('NFC')].length > 15);
    expect(long.length).toBeGreaterThan(0);
    expect(long.length).toBeLessThan(huts.length);
    await expect(page.locator('[data-total]')).toHaveText(new RegExp(`Appears for ${long.length} of`));
    await saved(page);
    await released(request);
    for (const { slug, title } of huts) {
      const html = await (await request.get(`/huts/${encodeURIComponent(slug)}`)).text();
      expect([title, html.includes('A long name')]).toEqual([title, [...title.normalize('NFC')].length > 15]);
    }
  } finally {
    await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
    await released(request);
  }
});

test('from blank: a badge where ticked, a notice for a category, rows asked one by one, kept and copied', async ({
  page,
  request,
}) => {
  const id = await newTemplate(request, { name: 'By rule', typeId: 'hut' });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  const strip = page.getByRole('navigation', { name: 'Record strip' });
  const show = (title: string) => strip.locator(`button[title="${title}"]`).click();
  const words = (text: string) =>
    page
      .getByRole('textbox', { name: /fixed words|Text/ })
      .first()
      .fill(text);
  const appears = () => page.getByRole('tab', { name: /Appears/ }).click();

  // Common practice: a badge only where it is ticked.
  await place(page, 'text');
  await words('Winter room');
  await appears();
  await addTest(page, /^Winter room/, 'yesno.yes');
  await expect(page.getByText('Appears when Winter room is yes.')).toBeVisible();
  await expect(page.locator('[data-total]')).toHaveText(/Appears for \d+ of\s+1[4-9]\s+huts, drafts too/);
  await show('Larchwell Cottage');
  await expect(canvas(page).getByText('Winter room')).toHaveCount(0);
  await expect(page.locator('[data-why]').getByText('It is hidden: its rule does not hold.')).toBeVisible();
  await expect(page.locator('[data-why]').getByText(/“Winter room is yes” would have to hold/)).toBeVisible();

  // It can be worked on all the same.
  await page.getByRole('button', { name: 'Hold it open to work on it' }).click();
  await expect(canvas(page).getByText('Winter room')).toBeVisible();
  await page.getByRole('button', { name: 'Let go of it' }).click();
  await expect(canvas(page).getByText('Winter room')).toHaveCount(0);

  // The value that decides is changed where it is told of.
  await page.locator('[data-why]').getByRole('button', { name: 'Change the value' }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('Escape');

  // A notice for a category and what lies below it; then a group made by dragging one test onto the other.
  await outlineRow(page, 'Page').click();
  await place(page, 'text');
  await words('In the high country');
  await appears();
  await addTest(page, /^Region/, 'terms.below');
  await page.getByRole('combobox', { name: 'Add one' }).selectOption({ index: 1 });
  await addTest(page, /^Altitude/, 'order.ge');
  await page.getByRole('spinbutton', { name: 'Value' }).fill('2500');
  await expect(page.locator('[data-rule-root] > [data-rule-group] > [data-rule-at]')).toHaveCount(2);
  const grips = page.locator('[data-rule-grip]');
  const target = page.locator('[data-rule-at="0"]');
  await drag(page, grips.nth(1), target);
  await expect(page.locator('[data-rule-at="0.1"]')).toBeVisible();
  await expect(page.getByText(/Appears when Region is, or lies below, any of .+ or Altitude ≥ 2,?500/)).toBeVisible();
  // By key it goes out again.
  await page.locator('[data-rule-grip="0.1"]').focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page.locator('[data-rule-at="1"]')).toBeVisible();

  // Rows asked one by one, within rows too.
  await outlineRow(page, 'Page').click();
  await place(page, 'text');
  await words('Bring a sleeping bag');
  await appears();
  await addTest(page, /^Rooms/, 'rows.some');
  const within = (place: string) => page.locator(`[data-rule-group="${place}"]`);
  await within('0.0').getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /^Berths/ })
    .first()
    .click();
  await page.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption('rows.every');
  await within('0.0.0.0').getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /Bedding included/ })
    .first()
    .click();
  await page.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption('yesno.no');
  await expect(
    page.getByText('Appears when Rooms has some for which Berths has only those for which Bedding included is no.'),
  ).toBeVisible();

  // Kept under a name, put on another element, and told where it is used.
  await page.getByRole('button', { name: 'Keep it under a name' }).click();
  await page.getByRole('dialog').getByRole('textbox', { name: /^Name/ }).fill('Needs a sleeping bag');
  await page.getByRole('button', { name: 'Keep it', exact: true }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByText('Appears when “Needs a sleeping bag” holds.')).toBeVisible();
  await page.getByRole('button', { name: 'Copy the rule' }).click();
  await outlineRow(page, 'In the high country').click();
  await page.getByRole('button', { name: 'Put the copied rule here' }).click();
  await expect(page.getByText('Appears when “Needs a sleeping bag” holds.')).toBeVisible();
  await outlineRow(page, 'Winter room').click();
  await page.getByRole('combobox', { name: 'Add a rule by its name' }).selectOption({ label: 'Needs a sleeping bag' });
  await expect(page.getByText('Appears when Winter room is yes and “Needs a sleeping bag” holds.')).toBeVisible();
  await saved(page);
  await page.goto('/studio/rules');
  const row = page.getByRole('row', { name: /Needs a sleeping bag/ });
  await expect(row).toContainText('“By rule”, 3 elements');
  await row.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByRole('alert')).toContainText('is used by “By rule”');
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
  await row.getByRole('button', { name: 'Delete' }).click();
  await expect(row).toHaveCount(0);
});

test('branches are held open, and a rule on what is gone hides its element and says so', async ({ page, request }) => {
  await page.goto('/studio/workbench/entry-page');
  await page.waitForLoadState('networkidle');
  await outlineRow(page, 'Film, or more to read').click();
  await page.getByRole('tab', { name: 'Branches' }).click();
  const dock = page.getByRole('region', { name: /Settings of Film/ });
  await dock.getByRole('button', { name: 'Hold open' }).nth(1).click();
  await expect(canvas(page).getByText('The film of this story is still being cut.')).toBeVisible();
  await dock.getByRole('button', { name: 'Held open' }).click();
  await expect(canvas(page).getByText('The film of this story is still being cut.')).toHaveCount(0);
  await expect(dock.getByText(/may hold together with A film is promised/)).toBeVisible();

  const gone = { group: 'all', rules: [{ test: 'filled', path: { from: 'record', steps: ['no_such_field'] } }] };
  const id = await newTemplate(request, {
    name: 'Gone',

    typeId: 'warden',
    tree: {
      root: 'r',
      elements: {
        r: { id: 'r', kind: 'box', props: {}, slots: {}, children: ['t'] },
        t: {
          id: 't',
          kind: 'text',
          props: {},
          slots: { text: { fixed: 'Never by accident' } },
          rule: gone,
          children: [],
        },
      },
    },
  });
  await page.goto(`/studio/workbench/${id}?element=t`);
  await expect(page.locator('[data-why]').getByText('It is hidden: its rule cannot be read.')).toBeVisible();
  await expect(
    page.getByText('The field this was bound to has been deleted.').filter({ visible: true }).first(),
  ).toBeVisible();
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

test('two captions by content type, in a loop over both', async ({ page, request }) => {
  const tree = {
    root: 'r',
    elements: {
      r: { id: 'r', kind: 'box', props: {}, slots: {}, children: ['both'] },
      both: {
        id: 'both',
        kind: 'loop',
        name: 'Both',
        props: { source: { from: 'query', typeIds: ['hut', 'trail'] }, limit: 40 },
        slots: {},
        children: ['either'],
      },
      either: { id: 'either', kind: 'alternatives', props: {}, slots: {}, children: [] },
    },
  };
  const id = await newTemplate(request, { name: 'Captions', typeId: 'warden', tree });
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await outlineRow(page, 'Alternatives').click();
  await page.getByRole('tab', { name: 'Branches' }).click();
  await page.getByRole('button', { name: 'Make a branch for each answer of' }).click();
  await picker(page)
    .getByRole('button', { name: /^Content type/ })
    .first()
    .click();
  // Only the two that can stand there, and one for all else.
  for (const [branch, words] of [
    ['Hut', 'A roof'],
    ['Trail', 'A way'],
  ] as const) {
    await page.getByRole('treeitem', { name: new RegExp(`^${branch}`) }).click();
    await place(page, 'text');
    await page
      .getByRole('textbox', { name: /fixed words|Text/ })
      .first()
      .fill(words);
  }
  const both = async () => [
    await canvas(page).getByText('A roof').count(),
    await canvas(page).getByText('A way').count(),
  ];
  await expect.poll(async () => (await both()).every((count) => count > 10)).toBe(true);
  await expect(outlineRow(page, 'Warden')).toHaveCount(0);
  await saved(page);
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});
