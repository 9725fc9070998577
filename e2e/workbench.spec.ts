import { readFileSync } from 'node:fs';
import { expect, type APIRequestContext, type Locator, type Page } from '@playwright/test';
import { test } from './live';
import {
  ANY,
  canvas,
  drag,
  openWorkbench,
  outlineRow,
  picker,
  place,
  saved,
  seriousFaults,
  shelfRow,
  released,
  choose,
  newTemplate,
  slide,
} from './support';

interface Kept {
  id: string;
  version: number;
  tree: { root: string; elements: Record<string, { id: string; kind: string; children: string[]; style?: unknown }> };
}
const made: string[] = [];
async function blank(request: APIRequestContext, name: string, typeId: string | undefined, purpose = 'record') {
  const kept = (await (await request.post('/api/v1/templates', { data: { name, purpose, typeId } })).json()) as Kept;
  made.unshift(kept.id);
  return kept;
}
test.afterEach(async ({ request }) => {
  for (const id of made.splice(0)) await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});
const treeOf = async (request: APIRequestContext, id: string) =>
  ((await (await request.get(`/api/v1/templates/${id}`)).json()) as Kept).tree;

const tab = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();

/** A control in the settings, by the words of its label. */
const control = (page: Page, label: string) =>
  page
    .getByRole('tabpanel')
    .locator('label')
    .filter({ has: page.getByText(label, { exact: true }) })
    .locator('select, input')
    .first();

/** Goes on with the Tab key until something is reached, as somebody does who has no mouse. */
async function tabTo(page: Page, to: Locator, key: 'Tab' | 'Shift+Tab' = 'Tab') {
  for (let n = 0; n < 250; n++) {
    if (await to.evaluate((node) => node === document.activeElement || node.contains(document.activeElement))) return;
    await page.keyboard.press(key);
  }
  throw new Error('The Tab key does not lead there.');
}

test('a record page from blank: overlapping badge, facts in columns, portrait, button, pictures and a film', async ({
  page,
  request,
}) => {
  const { id } = await blank(request, 'From blank', 'hut');
  await openBlank(page, id);
  const outline = page.locator('[data-outline-scroll]');
  await drag(page, shelfRow(page, 'Title'), { x: 900, y: 250 });
  await place(page, 'box');
  await tab(page, 'Looks');
  await choose(page, 'Arrange', 'One over the other');
  await drag(page, shelfRow(page, 'Lead picture'), outlineRow(page, 'Box'));
  await drag(page, shelfRow(page, 'State'), outlineRow(page, 'Box'));
  await choose(page, 'Tone', 'Badge');
  await choose(page, 'Lies over its box', 'Top, end');
  await outlineRow(page, 'Page').click();
  await place(page, 'columns');
  await tab(page, 'Looks');
  await choose(page, 'Widths', 'Two, filled row by row');
  // With Shift a value comes with its label.
  await page.keyboard.down('Shift');
  for (const label of ['Altitude', 'Bunks', 'Warning'])
    await drag(page, shelfRow(page, label), outlineRow(page, 'Columns'));
  await page.keyboard.up('Shift');
  await page.getByRole('button', { name: 'Unfold Warden' }).click();
  await drag(page, page.locator('[data-shelf-key="record|hut_warden/warden_portrait"]'), outline);
  await choose(page, 'Shape', 'Round');
  await drag(page, shelfRow(page, 'Booking link'), outline);
  await drag(page, shelfRow(page, 'Gallery'), outline);
  await choose(page, 'Arrange', 'Side by side');
  await drag(page, shelfRow(page, 'Film'), outline);
  await saved(page);

  // The badge lies in the corner of the picture.
  const picture = (await canvas(page).locator('.overlay img').boundingBox())!;
  const badge = (await canvas(page).locator('.tone-badge').boundingBox())!;
  expect(Math.abs(badge.x + badge.width - picture.x - picture.width)).toBeLessThan(2);
  expect(Math.abs(badge.y - picture.y)).toBeLessThan(2);
  // Labelled facts side by side on wide screens, below each other on narrow ones; an empty one has no label either.
  const facts = canvas(page).locator('.share-facts > *');
  await expect(facts).toHaveText(['Altitude: 2,140\u00a0m', 'Bunks: 38']);
  const tops = async () => facts.evaluateAll((all) => all.map((one) => Math.round(one.getBoundingClientRect().top)));
  expect(new Set(await tops()).size).toBe(1);
  await page.getByLabel('Width of the page on the canvas').selectOption('390');
  await expect.poll(async () => new Set(await tops()).size).toBe(2);
  await expect(canvas(page).locator('.shape-round img')).toHaveCSS('border-radius', '50%');
  await expect(canvas(page).getByRole('link', { name: 'Booking link' })).toHaveAttribute('href', /^https:/);
  const pictures = canvas(page).locator('.side-by-side a');
  await expect(pictures).toHaveCount(3);
  await expect(pictures.first()).toHaveAttribute('href', /\/media\/\d+\/original$/);
  await expect(outlineRow(page, 'Film')).toContainText('empty here');
  await page.keyboard.press('.');
  await expect(canvas(page).locator('iframe')).toHaveAttribute('title', /A day at Windle Pass Hut/);
  await expect(canvas(page).locator('.share-facts > *').last()).toContainText('Warning: The bridge');
});

async function openBlank(page: Page, id: string) {
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
}

test('by keyboard alone, from the desk to a page with a label, a format, looks and a rule', async ({
  page,
  request,
}) => {
  test.slow();
  await page.goto('/studio');
  await tabTo(page, page.getByRole('button', { name: 'New template' }));
  await page.keyboard.press('Enter');
  await tabTo(page, page.locator('input[name=target]:checked'));
  const wanted = page.getByRole('radio', { name: /The page of every work weekend/ });
  for (let i = 0; i < 40 && !(await wanted.isChecked()); i++) await page.keyboard.press('ArrowDown');
  await expect(wanted).toBeChecked();
  await tabTo(page, page.getByLabel('with what its fields call for'));
  await page.keyboard.press('ArrowRight');
  await expect(page.getByLabel('blank')).toBeChecked();
  await tabTo(page, page.getByRole('button', { name: 'Make it' }));
  await page.keyboard.press('Enter');
  await page.waitForURL(/workbench/);
  const id = page.url().split('/').at(-1) as string;
  made.push(id);

  await tabTo(page, page.locator('[data-shelf-key="record|@title"]'));
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+Enter');
  await expect(canvas(page).locator('.text')).toHaveText(/^Starts: \d/);
  // A format, by its result.
  await tabTo(page, page.getByRole('button', { name: 'Format', exact: true }));
  await page.keyboard.press('Enter');
  await expect(picker(page).getByRole('button', { name: 'Full' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(canvas(page).locator('.text')).toHaveText(/^Starts: \w+,? \d+ \w+ \d{4}$/);
  // Looks: bold.
  await tabTo(page, page.getByRole('tab', { name: 'Values' }));
  await page.keyboard.press('ArrowRight');
  await page.getByRole('searchbox', { name: 'Find a look' }).focus();
  await page.keyboard.type('weight');
  await tabTo(page, page.getByRole('radio', { name: 'Light', exact: true }));
  for (let n = 0; n < 3; n++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(canvas(page).locator('.text')).toHaveCSS('font-weight', '650');
  // A rule: places are left.
  await tabTo(page, page.getByRole('tab', { name: 'Looks' }), 'Shift+Tab');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await tabTo(page, page.getByRole('button', { name: 'Add a test' }));
  await page.keyboard.press('Enter');
  await page.keyboard.type('places left');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await tabTo(page, page.getByLabel('Test', { exact: true }));
  await page.keyboard.type('is more than');
  await expect(page.getByText(/Appears when Places left/)).toBeVisible();
  // An element from the palette, into a box of its own, copied, and taken away again.
  await tabTo(page, page.getByRole('tree'), 'Shift+Tab');
  await page.keyboard.press('+');
  await page.keyboard.type('divider');
  await page.keyboard.press('Enter');
  await expect(canvas(page).locator('hr')).toHaveCount(1);
  await page.locator('[role=treeitem][aria-selected=true]').focus();
  await page.keyboard.press('Control+g');
  await expect(page.getByRole('region', { name: 'Settings of Box' })).toBeVisible();
  await page.keyboard.press('Control+d');
  await expect(canvas(page).locator('hr')).toHaveCount(2);
  await page.keyboard.press('Control+Shift+g');
  await page.keyboard.press('Delete');
  await expect(canvas(page).locator('hr')).toHaveCount(1);
  // The elements beside the selected one, and what holds it.
  await page.keyboard.press('p');
  await page.keyboard.press('n');
  await page.keyboard.press('Escape');
  await saved(page);
  const kinds = Object.values((await treeOf(request, id)).elements).map((one) => one.kind);
  expect(kinds.sort()).toEqual(['box', 'box', 'divider', 'heading', 'text']);
  // It stands behind the template that answers already; put before it and released, visitors see it.
  await request.put('/api/v1/templates/order', { headers: ANY, data: { ids: [id] } });
  await released(request);
  const html = await (await request.get('/work-weekends/shingles-at-screeside')).text();
  expect(html).toMatch(/<h1>Shingles at Screeside<\/h1>/);
});

test('a picture set dropped on a picture offers the first, or all of them in its place', async ({ page, request }) => {
  const { id } = await blank(request, 'Sets', 'hut');
  await openBlank(page, id);
  await place(page, 'picture');
  await page.getByLabel('Name of the element').fill('Lead');
  await page.keyboard.press('Tab');
  await drag(page, shelfRow(page, 'Gallery'), outlineRow(page, 'Lead'));
  const menu = page.getByRole('menu');
  await expect(menu.getByRole('menuitem')).toHaveText(['The first', 'The last', /^Repeat over them, as a picture set/]);
  await menu.getByRole('menuitem', { name: 'The first' }).click();
  await expect(canvas(page).locator('figure.picture img')).toHaveAttribute('alt', 'Grey Crag Hut, view 1');
  await drag(page, shelfRow(page, 'Gallery'), outlineRow(page, 'Lead'));
  await menu.getByRole('menuitem', { name: /Repeat/ }).click();
  await expect(canvas(page).locator('.pictures img')).toHaveCount(3);
  // It keeps the name it had.
  await expect(outlineRow(page, 'Lead')).toBeVisible();
  // By picking, the same is offered, with what each comes to; what does not fit says why.
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Bind picture', exact: true }).click();
  await expect(picker(page).getByText('Altitude is number; this takes a picture.')).toBeVisible();
  await picker(page)
    .getByRole('button', { name: /Gallery/ })
    .first()
    .click();
  await expect(picker(page).getByRole('button', { name: /The last/ })).toContainText('view 3');
  await picker(page)
    .getByRole('button', { name: /The last/ })
    .click();
  await expect(canvas(page).locator('figure.picture img')).toHaveAttribute('alt', 'Grey Crag Hut, view 3');
  await saved(page);
});

test('values stand within a sentence, which goes where all of them are empty', async ({ page, request }) => {
  const { id } = await blank(request, 'Sentence', 'hut');
  await openBlank(page, id);
  await place(page, 'text');
  await page.getByLabel('Text', { exact: true }).fill('Kept by ');
  await page.getByRole('button', { name: 'Sentence' }).click();
  await page.locator('[data-slot-editor] [contenteditable=true]').click();
  await page.keyboard.press('End');
  await page.getByRole('button', { name: 'Put a value into the sentence' }).click();
  await page.getByPlaceholder('Find a field or a value').last().fill('warden title');
  await page.getByPlaceholder('Find a field or a value').last().fill('castellan');
  await picker(page)
    .getByRole('button', { name: /Warden → Title/ })
    .first()
    .click();
  await page.locator('[data-slot-editor] [contenteditable=true]').press('End');
  await page.keyboard.type(', always');
  await expect(canvas(page).locator('p')).toHaveText('Kept by Ivo Castellan, always');
  await saved(page);
  // A hut without a warden has no such sentence.
  await page.locator('nav button', { hasText: 'Tarn End Bivouac' }).click();
  await expect(canvas(page).locator('p')).toHaveCount(0);
});

test('looks follow the width, and own CSS stays within its element', async ({ page, request }) => {
  const { id } = await blank(request, 'Looks', 'hut');
  await openBlank(page, id);
  await drag(page, shelfRow(page, 'Altitude'), page.locator('[data-outline-scroll]'));
  await drag(page, shelfRow(page, 'Bunks'), page.locator('[data-outline-scroll]'));
  await outlineRow(page, 'Altitude').click();
  await tab(page, 'Looks');
  await choose(page, 'Weight', 'Heavy');
  await slide(page, 'Corners', 2);
  const [first, second] = [canvas(page).locator('p').nth(0), canvas(page).locator('p').nth(1)];
  await expect(first).toHaveCSS('font-weight', '800');
  const widths = page.getByLabel('Widths that looks are set for');
  await widths.getByRole('tab', { name: /Up to 599 px/ }).click();
  await expect(page.locator('[data-inherited=weight]')).toHaveText('from every width');
  await choose(page, 'Weight', 'Light');
  await expect(first).toHaveCSS('font-weight', '300');
  // Back at every width it is said that a narrower one says otherwise, as long as the canvas is one.
  await widths.getByRole('tab', { name: 'Every width' }).click();
  await expect(first).toHaveCSS('font-weight', '300');
  await expect(page.locator('[data-otherwise=weight]')).toContainText('Light, set for up to 599 px');
  await page.locator('[data-otherwise=weight]').getByRole('button').click();
  await page.getByRole('button', { name: 'Take weight away here' }).click();
  await expect(first).toHaveCSS('font-weight', '800');
  await widths.getByRole('tab', { name: 'Every width' }).click();

  await tab(page, 'Own CSS');
  await page.locator('.cm-content').click();
  await page.keyboard.insertText(
    '& { letter-spacing: 3px; }\nbody { color: red; }\np { color: red; }\n& ~ p { color: red; }\n& { position: fixed; }\n* { color: red; }\n@import "x.css";\n:is(&, body) p { color: red; }',
  );
  await expect(first).toHaveCSS('letter-spacing', '3px');
  // Nothing but the element and what it holds is touched: not its neighbour, not the page.
  await expect(second).toHaveCSS('letter-spacing', 'normal');
  await expect(second).toHaveCSS('color', 'rgb(31, 38, 34)');
  await expect(first).toHaveCSS('position', 'static');
  expect(await canvas(page).evaluate((main) => getComputedStyle(main.ownerDocument.body).color)).toBe(
    'rgb(31, 38, 34)',
  );
  await expect(page.locator('.cm-lint-marker-error')).toHaveCount(5);
  await saved(page);
});

test('widths are chosen beside the panel alone: whatever the canvas is as wide as, looks hold at every width', async ({
  page,
  request,
}) => {
  const tree = {
    root: 'e_root',
    elements: {
      e_root: { id: 'e_root', kind: 'box', props: {}, slots: {}, children: ['e_words'] },
      e_words: { id: 'e_words', kind: 'text', props: {}, slots: { text: { fixed: 'Words' } }, children: [] },
    },
  };
  // A part is seen as wide as there is room, which is less than a wide screen.
  const part = await request.post('/api/v1/templates', { data: { purpose: 'part', name: 'Narrowly seen', tree } });
  const { id } = (await part.json()) as { id: string };
  made.push(id);
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  const styleOf = async () => (await treeOf(request, id)).elements.e_words!.style;
  await outlineRow(page, 'Words').click();
  await tab(page, 'Looks');
  await choose(page, 'Weight', 'Heavy');
  await saved(page);
  expect(await styleOf()).toEqual({ wide: { weight: '800' } });
  for (const width of ['390', '768', '1280']) {
    await page.getByLabel('Width of the page on the canvas').selectOption(width);
    await expect(page.getByLabel('Widths that looks are set for').getByRole('tab', { selected: true })).toHaveText(
      /Every width/,
    );
  }
  await page.getByLabel('Width of the page on the canvas').selectOption('390');
  await slide(page, 'Corners', 2);
  await saved(page);
  expect(await styleOf()).toEqual({ wide: { weight: '800', radius: 'm' } });
});

test('looks are kept under a name, put on others, changed for all at once, and taken apart', async ({
  page,
  request,
}) => {
  const button = (id: string) => ({
    id,
    kind: 'button',
    name: id,
    props: {},
    children: [],
    slots: { label: { fixed: `Go ${id}` }, link: { fixed: '/huts/' } },
  });
  const tree = {
    root: 'e_root',
    elements: {
      e_root: { id: 'e_root', kind: 'box', props: {}, slots: {}, children: ['one', 'two'] },
      one: button('one'),
      two: button('two'),
    },
  };
  const id = await newTemplate(request, { name: 'With a named look', typeId: 'hut', tree });
  made.push(id);
  await openWorkbench(page, id);
  const link = (name: string) => canvas(page).getByRole('link', { name: `Go ${name}` });
  const before = await link('two').evaluate((node) => getComputedStyle(node).backgroundColor);
  await outlineRow(page, 'one').click();
  await tab(page, 'Looks');
  await choose(page, 'Ground', 'Deep');
  await slide(page, 'Corners', 4);
  await page.getByRole('button', { name: 'Keep these looks under a name' }).click();
  await page.getByLabel('Name of the look').fill('Pill');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Named look')).toHaveValue('pill');
  await expect(link('one')).toHaveCSS('border-top-left-radius', '999px');
  await outlineRow(page, 'two').click();
  await page.getByLabel('Named look').selectOption('Pill');
  await expect(link('two')).toHaveCSS('border-top-left-radius', '999px');
  await expect(page.locator('[data-named-look]')).toContainText('on 2 elements here');
  // What an element says itself is otherwise than its look, and can be given up again.
  await choose(page, 'Ground', 'Notice');
  await expect(page.locator('[data-named-look]')).toContainText('one thing is otherwise');
  await expect(page.locator('[data-differs=ground]')).toHaveText('Its named look has Deep.');
  await page.getByRole('button', { name: 'As the look has it' }).click();
  // Changed once, it is changed on both, with no reload.
  await page.getByRole('button', { name: 'Change Pill everywhere' }).click();
  await choose(page, 'Ground', 'Tint');
  const [one, two] = await Promise.all(
    ['one', 'two'].map((name) => link(name).evaluate((node) => getComputedStyle(node).backgroundColor)),
  );
  expect([one === two, one === before]).toEqual([true, false]);
  // Taken back like any change.
  await choose(page, 'Ground', 'Notice');
  await expect(link('one')).not.toHaveCSS('background-color', one!);
  await page.keyboard.press('Control+z');
  for (const name of ['one', 'two']) await expect(link(name)).toHaveCSS('background-color', one!);
  await saved(page);
  await expect
    .poll(async () => {
      const { theme } = (await (await request.get('/api/v1/theme')).json()) as {
        theme: { looks: { key: string; style: object }[] };
      };
      return theme.looks.find(({ key }) => key === 'pill')?.style;
    })
    .toEqual({ wide: { ground: 'tint', radius: 'round' } });
  // The theme says what it is and where.
  await page.goto('/studio/theme');
  const row = page.locator('[data-look-row=pill]');
  await expect(row).toContainText('Ground: Tint; Corners: Round');
  await expect(row).toContainText('On With a named look (2 elements)');
  await openWorkbench(page, id);
  await outlineRow(page, 'two').click();
  await tab(page, 'Looks');
  await page.getByRole('button', { name: 'Take apart' }).click();
  await saved(page);
  const { two: apart } = (await treeOf(request, id)).elements;
  expect(apart).not.toHaveProperty('look');
  expect(apart!.style).toEqual({ wide: { ground: 'tint', radius: 'round' } });
  await page.goto('/studio/theme');
  await page.getByRole('button', { name: 'Take the look Pill away' }).click();
  await expect(page.getByRole('alert')).toContainText('“Pill” was on With a named look (1 element).');
  await expect(page.locator('[data-save]')).toHaveText('Saved');
});

test('copied elements go into other templates, and what is none is refused with nothing changed', async ({
  page,
  request,
}) => {
  const { id, tree } = await blank(request, 'Pasted', 'hut');
  await openWorkbench(page, 'hut-page');
  await outlineRow(page, 'Facts in two columns').click();
  const text = await copied(page);
  expect(JSON.parse(text)).toMatchObject({ plumThread: 'elements', version: 1 });
  await openBlank(page, id);
  await pasted(page, text);
  await expect(canvas(page).locator('.share-facts')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  for (const hostile of [
    'only words',
    '{"plumThread":"elements","version":1,"pieces":[{"top":"a","elements":{"a":{"id":"a","kind":"script"}}}]}',
    '{"plumThread":"elements","version":1,"pieces":[{"top":"a","elements":{"a":{"id":"a","kind":"box","children":["a"]}}}]}',
    text
      .replace(/"kind":"text"/g, '"kind":"text","onclick":"alert(1)"')
      .replace(/"kind": "text"/g, '"kind":"text","onclick":"alert(1)"'),
    text.replace('"columns"', '"slot"'),
  ]) {
    await pasted(page, hostile);
    await expect(page.getByRole('alert')).toBeVisible();
    await page.getByRole('alert').getByRole('button', { name: 'Close' }).click();
    await expect(page.getByRole('treeitem')).toHaveCount(1);
  }
  await saved(page);
  expect(await treeOf(request, id)).toEqual(tree);
});

/** What a copy puts on the clipboard; browsers without a screen have none of their own. */
const copied = (page: Page) =>
  page.evaluate(() => {
    const data = new DataTransfer();
    document.body.dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }));
    return data.getData('text/plain');
  });
const pasted = (page: Page, text: string) =>
  page.evaluate((given) => {
    const data = new DataTransfer();
    data.setData('text/plain', given);
    document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);

test('every kind of edit is named, and undone to the identical tree', async ({ page, request }) => {
  const before = await treeOf(request, 'warden-page');
  await openWorkbench(page, 'warden-page');
  await outlineRow(page, 'Name').click();
  await page.keyboard.press('Control+d');
  await page.keyboard.press('Control+g');
  await tab(page, 'Looks');
  await choose(page, 'Ground', 'Tint');
  await choose(page, 'Shadow', 'Raised');
  await outlineRow(page, 'Languages').click();
  await page.keyboard.press('Delete');
  await drag(page, shelfRow(page, 'Since'), outlineRow(page, 'Keeps'));
  await tab(page, 'Values');
  await page.getByLabel('After', { exact: true }).fill(' or so');
  await drag(page, outlineRow(page, 'Keeps'), outlineRow(page, 'Portrait and name'));
  await page.getByRole('button', { name: 'What was done' }).click();
  const steps = picker(page).getByRole('button');
  await expect(steps.filter({ hasText: 'Removed Languages' })).toHaveCount(1);
  await expect(steps.filter({ hasText: 'Moved Keeps' })).toHaveCount(1);
  await steps.filter({ hasText: 'As it was when opened' }).click();
  await page.keyboard.press('Escape');
  await saved(page);
  expect(await treeOf(request, 'warden-page')).toEqual(before);
  await page.keyboard.press('Control+Shift+z');
  await expect(canvas(page).locator('h1')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('versions are compared side by side and gone back to; two tabs never overwrite each other', async ({
  page,
  context,
  request,
}) => {
  const { id } = await blank(request, 'Versions', 'hut');
  await openBlank(page, id);
  await drag(page, shelfRow(page, 'Title'), { x: 900, y: 250 });
  await saved(page);

  const other = await context.newPage();
  await openBlank(other, id);
  await drag(other, shelfRow(other, 'Bunks'), other.locator('[data-outline-scroll]'));
  await saved(other);
  await drag(page, shelfRow(page, 'Altitude'), page.locator('[data-outline-scroll]'));
  // What is done to different elements stands side by side, in both tabs.
  await saved(page);
  await expect(canvas(page)).toContainText('38');
  await drag(other, shelfRow(other, 'State'), other.locator('[data-outline-scroll]'));
  await saved(other);
  await expect(canvas(other)).toContainText('2,140');
  // What is done to one and the same place does not.
  await page.getByLabel('Name of the template').fill('By the one');
  await page.getByLabel('Name of the template').press('Tab');
  await saved(page);
  await other.getByLabel('Name of the template').fill('By the other');
  await other.getByLabel('Name of the template').press('Tab');
  await expect(other.locator('[data-save]')).toContainText('changed elsewhere');
  await other.getByRole('button', { name: 'Keep this' }).click();
  await saved(other);
  // The first is told as well, and takes what was saved; its own state comes back by undo.
  await other.locator('[data-outline-scroll]').getByRole('treeitem').filter({ hasText: 'Title' }).first().click();
  await other.keyboard.press('Delete');
  await saved(other);
  await page.locator('[data-outline-scroll]').getByRole('treeitem').filter({ hasText: 'Title' }).first().click();
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.locator('[data-save]')).toContainText('changed elsewhere');
  await page.getByRole('button', { name: 'Take what was saved' }).click();
  await expect(page.getByLabel('Name of the template')).toHaveValue('By the other');
  await expect(canvas(page)).not.toContainText('Grey Crag Hut');
  await page.keyboard.press('Control+z');
  await expect(canvas(page)).toContainText('Grey Crag Hut');
  await page.keyboard.press('Control+Shift+z');
  await saved(page);
  await other.close();

  await page.reload();
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'What was done' }).click();
  await page.getByRole('button', { name: 'Earlier versions' }).click();
  const sheet = page.getByRole('dialog', { name: 'Versions' });
  const versions = sheet.getByRole('list').getByRole('button');
  await expect(versions.first()).toBeVisible();
  await versions.filter({ hasText: 'Put Bunks' }).first().click();
  await expect(sheet.frameLocator('iframe[title="The version chosen"]').locator('main')).toContainText('38');
  await expect(sheet.frameLocator('iframe[title="Compared with"]').locator('main')).toContainText('2,140');
  await sheet.getByRole('button', { name: 'Go back to this version' }).click();
  await expect(canvas(page)).toContainText('38');
  await expect(canvas(page)).not.toContainText('2,140');
  await page.keyboard.press('Control+z');
  await expect(canvas(page)).toContainText('2,140');
  await saved(page);
});

test('a part is changed once for every template it stands in, and never stands in itself', async ({
  page,
  request,
}) => {
  const part = await blank(request, 'Height line', 'hut', 'part');
  const one = await blank(request, 'With a part', 'hut');
  await openBlank(page, part.id);
  await drag(page, shelfRow(page, 'Altitude'), { x: 900, y: 200 });
  await place(page, 'part');
  await tab(page, 'Looks');
  await expect(control(page, 'Part').locator('option', { hasText: 'Height line' })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await saved(page);
  await openBlank(page, one.id);
  await place(page, 'part');
  await tab(page, 'Looks');
  await control(page, 'Part').selectOption({ label: 'Height line' });
  await expect(canvas(page).locator('.part')).toHaveText('2,140\u00a0m');
  await saved(page);
  // By the API neither.
  const kept = (await (await request.get(`/api/v1/templates/${part.id}`)).json()) as Kept;
  const root = kept.tree.elements[kept.tree.root]!;
  const circle = {
    ...kept,
    tree: {
      ...kept.tree,
      elements: {
        ...kept.tree.elements,
        [root.id]: { ...root, children: [...root.children, 'again'] },
        again: { id: 'again', kind: 'part', props: { part: part.id } },
      },
    },
  };
  const refused = await request.put(`/api/v1/templates/${part.id}`, { headers: ANY, data: circle });
  expect(refused.status()).toBe(422);
  expect(await refused.text()).toContain('A part cannot stand in itself: Height line → Height line.');
  // A part that is used cannot go unseen.
  const gone = await request.delete(`/api/v1/templates/${part.id}`, { headers: ANY });
  expect(gone.status()).toBe(409);
  expect(await gone.text()).toContain('With a part');
});

test('the theme: every use of a token follows, and tokens go out and come in', async ({ page, request }) => {
  await page.goto('/studio/theme');
  await page.waitForLoadState('networkidle');
  const specimen = page.frameLocator('iframe[title="Specimen of the theme"]');
  await expect(specimen.getByRole('heading', { level: 1 })).toBeVisible();
  await page.getByLabel('Accent', { exact: true }).fill('#0b5d5a');
  await page.getByLabel('Accent', { exact: true }).press('Tab');
  await expect(specimen.getByRole('link', { name: 'Book a bunk' })).toHaveCSS('background-color', 'rgb(11, 93, 90)');
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  await released(request);
  const style = (await (await request.get('/huts/')).text()).match(/\/styles\/r\d+-[0-9a-f]+\.css/)![0];
  expect(await (await request.get(style)).text()).toContain('--colour-accent:#0b5d5a');

  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Design tokens' }).click(),
  ]);
  const tokens = JSON.parse(readFileSync(await file.path(), 'utf8')) as {
    colour: { accent: { $value: { hex: string; components: number[] } } };
  };
  expect(tokens.colour.accent.$value.hex).toBe('#0b5d5a');
  tokens.colour.accent.$value.components = [0.25, 0.125, 0.5];
  tokens.colour.accent.$value.hex = '#402080';
  const upload = (name: string, text: string) =>
    page
      .locator('input[type=file]')
      .first()
      .setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  await upload('theme.tokens.json', JSON.stringify(tokens));
  await expect(page.getByLabel('Accent', { exact: true })).toHaveValue('#402080');
  await upload('broken.json', '{"a": {"$type": "color", "$value": "{b}"}}');
  await expect(page.getByRole('alert')).toContainText('leads to no token');
  await expect(page.getByLabel('Accent', { exact: true })).toHaveValue('#402080');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Accent', { exact: true })).toHaveValue('#7a3b1d');
  await expect(page.locator('[data-save]')).toHaveText('Saved');
});

test('a typeface is brought with its licence, text is set in it on the site, and what is none is refused', async ({
  page,
  request,
}) => {
  const folder = 'node_modules/@fontsource-variable/jetbrains-mono/files';
  await page.goto('/studio/theme');
  const chosen = page.locator('[data-typefaces] input[type=file]');
  await chosen.setInputFiles(['package.json']);
  await expect(page.getByRole('alert')).toContainText('It is not in the format WOFF2.');
  await chosen.setInputFiles([`${folder}/jetbrains-mono-latin-wght-normal.woff2`]);
  const row = page.locator('[data-typeface="JetBrains Mono"]');
  await expect(row).toContainText('100 to 800');
  await row.locator('summary').click();
  await expect(row.getByLabel('Licence of JetBrains Mono')).toHaveValue(/scripts\.sil\.org\/OFL/);
  await page.getByLabel('Display, the first').selectOption('JetBrains Mono');
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  await released(request);
  await page.goto('/huts/');
  expect(
    await page.evaluate(async () => {
      await document.fonts.ready;
      return [...document.fonts].filter((face) => face.status === 'loaded').map(({ family }) => family);
    }),
  ).toContain('JetBrains Mono');
  expect(await page.locator('link[rel="preload"][href^="/typefaces/"]').count()).toBe(1);
  await page.goto('/studio/theme');
  await page.getByLabel('Display, the first').selectOption('Fraunces Variable');
  await row.getByRole('button', { name: 'Take the typeface' }).click();
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  await released(request);
});

test('a broken thread says what happened, and mends', async ({ page }) => {
  await openWorkbench(page, 'hut-page-old');
  await outlineRow(page, 'Price a night').click();
  const broken = page.locator('[data-broken]').first();
  await expect(broken).toContainText('has been deleted');
  await broken.getByRole('button', { name: 'Unbind' }).click();
  await expect(page.locator('[data-broken]')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('[data-broken]').first()).toBeVisible();
  await saved(page);
});

test('axe finds nothing serious on the workbench and the theme, whatever is open', async ({ page }) => {
  await openWorkbench(page, 'hut-page');
  await outlineRow(page, 'Book a bunk').click();
  for (const name of ['Values', 'Looks', 'Own CSS', 'Appears by rule']) {
    await tab(page, name);
    expect([name, await seriousFaults(page)]).toEqual([name, []]);
  }
  await page.getByRole('button', { name: 'Place an element' }).click();
  await expect(page.getByLabel('Find an element')).toBeFocused();
  expect(await seriousFaults(page)).toEqual([]);
  await page.keyboard.press('Escape');
  await tab(page, 'Values');
  await page.getByRole('button', { name: 'Bind words' }).click();
  expect(await seriousFaults(page)).toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'What was done' }).click();
  await page.getByRole('button', { name: 'Earlier versions' }).click();
  expect(await seriousFaults(page)).toEqual([]);
  await openWorkbench(page, 'warden-line');
  await outlineRow(page, 'Kept by').click();
  await tab(page, 'Values');
  expect(await seriousFaults(page)).toEqual([]);
  await page.goto('/studio/theme');
  await page.waitForLoadState('networkidle');
  expect(await seriousFaults(page)).toEqual([]);
});
