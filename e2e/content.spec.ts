import { expect, type Page } from '@playwright/test';
import { test } from './live';
import { ANY, seriousFaults } from './support';

/** A screen that is ready to be worked with. */
async function visit(page: Page, path: string): Promise<void> {
  await page.goto(path);
  await page.waitForLoadState('networkidle');
}

/** The form of the record with this title. */
async function openRecord(page: Page, type: string, title: string): Promise<string> {
  await visit(page, `/studio/content/${type}?search=${encodeURIComponent(title)}`);
  await page.getByRole('link', { name: title }).click();
  await page.waitForURL(/\/\d+$/);
  // Ready once the editor of rich text stands where there is one.
  await page.waitForLoadState('networkidle');
  return /(\d+)$/.exec(page.url())![1]!;
}
const recordOf = async (page: Page, id: string) =>
  (await (await page.request.get(`/api/v1/records/${id}`)).json()) as {
    title: string;
    status: string;
    terms: string[];
    values: Record<string, unknown>;
  };
const save = (page: Page) => page.getByRole('button', { name: 'Save', exact: true });
const status = (page: Page) => page.locator('form [role=status]');
const png = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
);

test('rows within rows are written, moved by key, and stand on the record', async ({ page }) => {
  const id = await openRecord(page, 'hut', 'Grey Crag Hut');
  await page.getByRole('tab', { name: 'Staying' }).click();
  const rooms = page.getByRole('group', { name: 'Rooms' });
  const first = rooms.locator('> ol > li').first();
  await first.getByLabel('Room (required)').fill('Stone hall');
  await first.getByRole('group', { name: 'Berths' }).getByRole('button', { name: /^Add/ }).click();
  const berth = first.getByRole('group', { name: 'Berths' }).locator('> ol > li').last();
  await berth.getByLabel('Kind').selectOption('double');
  await berth.getByLabel('Number').fill('2');
  await berth.getByLabel('Bedding included').selectOption('true');
  // The first room goes behind the second: taken up, moved, put down, all by key.
  await first.getByLabel('Move Rooms 1').focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  const kept = (await recordOf(page, id)).values.hut_rooms as { room_name: string; room_berths: object[] }[];
  expect(kept.map((room) => room.room_name)).toEqual(['Larch room', 'Stone hall', 'Under the roof']);
  expect(kept[1]?.room_berths.at(-1)).toEqual({ berth_kind: 'double', berth_number: 2, berth_bedding: true });
  // What is wrong in a row is said beside the field, with the row's number.
  await rooms.locator('> ol > li').nth(1).getByLabel('Room (required)').fill('');
  await save(page).click();
  await expect(page.getByText('Row 2: “Room” is required in each row.')).toBeVisible();
});

test('the second of two people is shown the difference, and nothing is overwritten', async ({ page }) => {
  const id = await openRecord(page, 'trail', 'Garden Path');
  await page.request.patch(`/api/v1/records/${id}`, {
    headers: ANY,
    data: { values: { trail_hours: 0.5, trail_ascent: 20 } },
  });
  await page.getByLabel('Length').fill('1.3');
  await page.getByLabel('Ascent').fill('25');
  await save(page).click();
  const conflict = page.getByRole('region', { name: 'Changed by somebody else' });
  await expect(conflict).toBeVisible();
  await expect(page.getByLabel('Length')).toHaveValue('1.3');
  await expect(conflict.getByRole('row', { name: /Ascent both changed it/ })).toContainText('15 m');
  expect((await recordOf(page, id)).values).toMatchObject({ trail_hours: 0.5, trail_length: 1.2, trail_ascent: 20 });
  await conflict
    .getByRole('row', { name: /Ascent/ })
    .getByText('20 m')
    .click();
  await conflict.getByRole('button', { name: 'Save what is chosen' }).click();
  await expect(status(page)).toHaveText('Saved');
  expect((await recordOf(page, id)).values).toMatchObject({ trail_hours: 0.5, trail_length: 1.3, trail_ascent: 20 });
});

test('what is typed survives a reload and a server that is gone for a while', async ({ page }) => {
  const id = await openRecord(page, 'weekend', 'Paint the shutters');
  await page.getByLabel('Places left').fill('2');
  await page.reload();
  await expect(page.getByText(/did not save is back/)).toBeVisible();
  await expect(page.getByLabel('Places left')).toHaveValue('2');
  await page.route('**/api/v1/records/**', (route) => route.abort());
  await save(page).click();
  await expect(status(page)).toContainText('The server cannot be reached. What you typed is still here.');
  await page.unroute('**/api/v1/records/**');
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  expect((await recordOf(page, id)).values.weekend_places).toBe(2);
  await page.reload();
  await expect(page.getByText(/did not save is back/)).toHaveCount(0);
});

test('rich text is written with its styling and reads the same on the site', async ({ page }) => {
  await openRecord(page, 'page', 'Contact');
  const body = page.getByRole('textbox', { name: 'Body' });
  await body.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Smaller heading' }).click();
  await page.keyboard.type('By post');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Strong' }).click();
  await page.keyboard.type('Not on Sundays');
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  const html = await (await page.request.get('/contact')).text();
  expect(html).toContain('<h3>By post</h3><p><strong>Not on Sundays</strong></p>');
});

test('a player stands in running text, is reduced to what its host is given, and is told why where it may not', async ({
  page,
}) => {
  const id = await openRecord(page, 'page', 'Contact');
  const toolbar = page.getByRole('toolbar', { name: 'Styling of Body' });
  const body = page.getByRole('textbox', { name: 'Body' });
  await body.click();
  await page.keyboard.press('Control+End');
  const put = async (address: string, title: string) => {
    await toolbar.getByRole('button', { name: 'Player' }).click();
    await toolbar.getByLabel('Address of the player').fill(address);
    await toolbar.getByLabel('Title of the player').fill(title);
    await toolbar.getByRole('button', { name: 'Put in' }).click();
  };
  await put('https://elsewhere.example/1', '');
  await expect(page.getByRole('alert')).toContainText('No player may come from “https://elsewhere.example/1”.');
  await toolbar.getByRole('button', { name: 'Player' }).click();
  await put('<iframe src="/player/bents" allow="camera" allowfullscreen></iframe>', 'The bents');
  await expect(page.getByRole('alert')).toContainText('as its host is not given it: “camera”.');
  await expect(body.getByText('▸ The bents')).toBeVisible();
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  expect((await recordOf(page, id)).values.page_body).toContain(
    '<iframe src="/player/bents" title="The bents" allow="fullscreen"></iframe>',
  );
  expect(await (await page.request.get('/contact')).text()).toContain(
    '<iframe class="player player-wide" src="/player/bents" title="The bents" sandbox="allow-scripts" allow="fullscreen"',
  );
  // Its code pasted as text becomes one too; it is taken away as it is chosen.
  await page.reload({ waitUntil: 'networkidle' });
  await body.getByText('▸ The bents').click();
  await toolbar.getByRole('button', { name: 'Player' }).click();
  await expect(toolbar.getByLabel('Address of the player')).toHaveValue('/player/bents');
  await toolbar.getByLabel('Address of the player').fill('');
  await toolbar.getByRole('button', { name: 'Take away' }).click();
  await expect(body.getByText('▸ The bents')).toHaveCount(0);
  await body.evaluate((element) => {
    const data = new DataTransfer();
    data.setData('text/plain', '<iframe src="/player/ridge"></iframe>');
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(body.getByText('/player/ridge')).toBeVisible();
});

test('what players of a host are given is set with the field', async ({ page }) => {
  await visit(page, '/studio/content/entry/fields');
  await page.getByRole('button', { name: 'Film Embed' }).click();
  const hosts = page.getByRole('group', { name: 'Players may come from' });
  await hosts.getByText('What its players are given').click();
  await hosts.getByLabel('begin by itself').setChecked(true);
  await hosts.getByLabel('Width of players').fill('4');
  await hosts.getByLabel('Height of players').fill('');
  await save(page).click();
  await expect(page.getByText('The shape of players is told by width and height together')).toBeVisible();
  await hosts.getByLabel('Height of players').fill('3');
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  const type = (await (await page.request.get('/api/v1/types/entry')).json()) as { fields: object[] };
  expect(type.fields).toContainEqual(
    expect.objectContaining({
      id: 'entry_film',
      settings: {
        hosts: [
          expect.objectContaining({
            host: 'films.larkfell.example',
            width: 4,
            height: 3,
            allow: ['fullscreen', 'picture-in-picture', 'autoplay'],
          }),
        ],
      },
    }),
  );
});

test('a relation is chosen by title, and stands on the other side too', async ({ page }) => {
  const id = await openRecord(page, 'trail', 'Lost Surveyor');
  await page.getByLabel('Huts', { exact: true }).last().fill('bentgr');
  await page.getByRole('option', { name: 'Bentgrass Hut' }).click();
  // The next is typed without leaving the field.
  await page.getByLabel('Huts', { exact: true }).last().fill('screes');
  await page.getByRole('option', { name: 'Screeside Shelter' }).click();
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  const [hut, ...more] = (await recordOf(page, id)).values.trail_huts as number[];
  expect(more).toHaveLength(1);
  expect((await recordOf(page, String(hut))).values.hut_trails).toContain(Number(id));
});

test('pictures are dropped on a field, several at once; what is none is refused by its content', async ({ page }) => {
  const id = await openRecord(page, 'hut', 'Northern Cairn Box');
  await page.getByRole('tab', { name: 'Pictures' }).click();
  const gallery = page.getByRole('group', { name: 'Gallery' });
  await gallery.locator('input[type=file]').setInputFiles([
    { name: 'not-a-picture.png', mimeType: 'image/png', buffer: Buffer.from('<html><script>x()</script>') },
    { name: 'dot.txt', mimeType: 'text/plain', buffer: png },
  ]);
  await expect(gallery.getByText('“not-a-picture.png” is of no type that is known')).toBeVisible();
  await expect(gallery.locator('li')).toHaveCount(1);
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  expect((await recordOf(page, id)).values.hut_gallery).toHaveLength(1);
  await gallery.getByRole('button', { name: 'Take dot.txt away' }).click();
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
});

test('an icon is found by meaning, a player by its code', async ({ page }) => {
  const id = await openRecord(page, 'hut', 'Bentgrass Hut');
  await page.getByRole('tab', { name: 'Pictures' }).click();
  await page.getByLabel('Icon', { exact: true }).click();
  await page.getByLabel('Find an icon').fill('winter peak');
  await page.getByRole('button', { name: 'mountain snow' }).click();
  await page
    .getByLabel('Film', { exact: true })
    .fill('<iframe src="/player/bents" title="The bents" width="400" height="300"></iframe>');
  await page.getByLabel('Film', { exact: true }).press('Tab');
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  expect((await recordOf(page, id)).values).toMatchObject({
    hut_icon: 'mountain-snow',
    hut_film: { src: '/player/bents', title: 'The bents', width: 400, height: 300 },
  });
  await page.getByLabel('Film', { exact: true }).fill('https://elsewhere.example/film');
  await page.getByLabel('Film', { exact: true }).press('Tab');
  await save(page).click();
  await expect(page.getByText('No player may come from there.')).toBeVisible();
});

test('the table is sorted, filtered, and changed in bulk with a way back', async ({ page }) => {
  await visit(page, '/studio/content/trail');
  await page.getByRole('link', { name: 'Length' }).click();
  // Clicked before the first has arrived, it would lead to the same once more.
  await expect(page.getByRole('link', { name: 'Length' })).toHaveAttribute('href', /sort=-trail_length/);
  await page.getByRole('link', { name: 'Length' }).click();
  await expect(page.locator('tbody tr').first()).toContainText('Old Drove');
  await page.getByRole('button', { name: 'Filter' }).click();
  await page.getByRole('button', { name: 'Add a test' }).click();
  await page.getByLabel('Field').selectOption({ label: 'Grade' });
  await page.getByLabel('Test', { exact: true }).selectOption({ label: 'is' });
  await page.getByLabel('Choice').selectOption({ label: 'Alpine' });
  await page.getByRole('button', { name: 'Show these' }).click();
  await expect(page.locator('[data-total]')).toHaveText('3 found');
  await page.getByLabel('Choose all on this page').check();
  await page.getByRole('button', { name: 'Make drafts' }).click();
  await expect(page.locator('tbody').getByText('Draft')).toHaveCount(3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('tbody').getByText('Published')).toHaveCount(3);
  await page.getByLabel('Choose Windle Traverse').check();
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page.locator('[data-total]')).toHaveText('2 found');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('[data-total]')).toHaveText('3 found');
  expect((await page.request.get('/trails/windle-traverse')).status()).toBe(200);
});

test('records are made up to judge by, and go in one stroke', async ({ page }) => {
  await visit(page, '/studio/content/warden');
  await page.getByRole('button', { name: 'Make some up' }).click();
  await page.getByLabel('How many').fill('30');
  await page.getByRole('button', { name: 'Make them' }).click();
  await expect(page.getByText('39 wardens')).toBeVisible();
  await expect(page.getByText('made up', { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Make some up' }).click();
  await page.getByRole('button', { name: 'Remove them all' }).click();
  await expect(page.getByText('9 wardens')).toBeVisible();
});

test('a field is shown where it is used before it goes, stays for visitors, and comes back everywhere', async ({
  page,
  context,
}) => {
  // In another tab somebody designs with it.
  const design = await context.newPage();
  await visit(design, '/studio/workbench/hut-page');
  const ends = design.getByRole('button', { name: /loose end/ });
  await expect(ends).toHaveCount(0);
  await visit(page, '/studio/content/hut/fields');
  await page.getByRole('button', { name: 'Take Warning away' }).click();
  await expect(page.getByRole('dialog')).toContainText('Template “Hut page”');
  await expect(page.getByRole('dialog')).toContainText('Visitors see it until the next release.');
  await page.getByRole('button', { name: 'Take it away' }).click();
  await expect(page.getByRole('button', { name: 'Take Warning away' })).toHaveCount(0);
  await expect(page.getByText('Waits for a release: Fields taken away: “Warning”.')).toBeVisible();
  await expect(ends).toBeVisible();
  expect(await (await page.request.get('/huts/screeside-shelter')).text()).toContain('Falling stones.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Take Warning away' })).toBeVisible();
  await expect(ends).toHaveCount(0);
  await expect(page.getByText('Waits for a release')).toHaveCount(0);
  await design.close();
  expect(await (await page.request.get('/huts/screeside-shelter')).text()).toContain('Falling stones.');
});

test('a kind is changed with its losses seen beforehand', async ({ page, request }) => {
  await request.post('/api/v1/types', {
    data: {
      id: 'tool',
      key: 'tool',
      name: 'Tool',
      plural: 'Tools',
      base: 'tools',
      taxonomyIds: [],
      fields: [{ id: 'tool_weight', key: 'weight', label: 'Weight', kind: 'text', settings: {} }],
    },
  });
  for (const weight of ['3', 'heavy'])
    await request.post('/api/v1/records', { data: { typeId: 'tool', title: weight, values: { tool_weight: weight } } });
  await visit(page, '/studio/content/tool/fields');
  await page.getByRole('button', { name: 'Weight Text' }).click();
  await page.getByLabel('Kind of Weight').selectOption('number');
  await expect(page.getByRole('dialog')).toContainText('1 kept, 1 lost');
  await page.getByRole('button', { name: 'Change it and lose 1' }).click();
  await save(page).click();
  await expect(status(page)).toHaveText('Saved');
  const { items: records } = (await (await request.get('/api/v1/records?type=tool')).json()) as {
    items: { values: object }[];
  };
  expect(records.map((record) => record.values)).toEqual([{ tool_weight: 3 }, {}]);
});

test('both sides of a relation and rows are set up in one form', async ({ page, request }) => {
  await visit(page, '/studio/content/new');
  await page.getByLabel('One is called').fill('Lantern');
  await page.getByRole('button', { name: 'Add a field' }).click();
  await page.getByLabel('Label of field 1').fill('Lit by');
  await page.getByLabel('Kind of Lit by').selectOption('relation');
  await page.getByRole('group', { name: 'Leads to' }).getByLabel('Wardens').check();
  await page.getByRole('group', { name: 'Leads to' }).getByLabel('Huts').uncheck();
  await page.getByLabel('Name of Lit by on the other side').fill('Lanterns');
  await page.getByRole('button', { name: 'Add a field' }).click();
  await page.getByLabel('Label of field 2').fill('Parts');
  await page.getByLabel('Kind of Parts').selectOption('rows');
  await page.getByRole('button', { name: 'Add a sub-field' }).click();
  await page.locator('[data-field] [data-field]').getByLabel('Label of field 1').fill('Part');
  await save(page).click();
  await page.waitForURL(/content\/t_\w+\/fields/);
  const { items: types } = (await (await request.get('/api/v1/types')).json()) as {
    items: {
      id: string;
      name: string;
      fields: { label: string; kind: string; settings: { fields?: { key: string }[] } }[];
    }[];
  };
  expect(types.find((type) => type.id === 'warden')?.fields.at(-1)).toMatchObject({
    label: 'Lanterns',
    kind: 'relation',
  });
  const lantern = types.find((type) => type.name === 'Lantern')!;
  expect(lantern.fields[1]?.settings.fields?.[0]?.key).toBe('part');
  await page.getByRole('button', { name: 'Delete this content type' }).click();
  await expect(page.getByRole('dialog')).toContainText('“Lanterns” of Warden leads to it');
  await page.getByRole('button', { name: 'Delete all of it' }).click();
  await expect(page.getByRole('link', { name: 'Lanterns' })).toHaveCount(0);
});

test('terms are added, moved, merged and brought back', async ({ page, request }) => {
  await visit(page, '/studio/terms/facility');
  await page.getByLabel('Name of a new term').fill('Sauna');
  await page.getByRole('button', { name: 'Add' }).click();
  const row = page.getByRole('treeitem').filter({ hasText: 'Sauna' });
  await expect(row).toBeVisible();
  await row.focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(page.getByRole('treeitem').nth(-2)).toContainText('Sauna');
  await page.getByLabel('Description').fill('Hot.');
  await page.getByRole('complementary').getByRole('button', { name: 'Save' }).click();
  await expect(row).toContainText('Hot.');
  await page.getByLabel('Merge into').selectOption({ label: 'Hot shower' });
  await page.getByRole('button', { name: 'Merge' }).click();
  await expect(row).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row).toBeVisible();
  const { items: terms } = (await (await request.get('/api/v1/terms?per_page=500')).json()) as {
    items: { id: string; name: string }[];
  };
  const id = terms.find((term) => term.name === 'Sauna')!.id;
  expect((await request.delete(`/api/v1/terms/${id}`, { headers: ANY })).status()).toBe(200);
});

test('the library takes files by drop, tells what uses them, and moves the focal point', async ({ page }) => {
  await visit(page, '/studio/library');
  await page.locator('input[type=file]').setInputFiles([
    {
      name: 'plan.svg',
      mimeType: 'image/svg+xml',
      buffer: Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" width="60" height="40" onload="x()"><rect width="60" height="40" fill="#4c6b3c"/></svg>',
      ),
    },
    {
      name: 'tool.exe',
      mimeType: 'application/octet-stream',
      buffer: Buffer.concat([Buffer.from('MZ'), Buffer.alloc(300, 1)]),
    },
  ]);
  await expect(page.getByText('kept', { exact: true })).toBeVisible();
  await expect(page.getByText('“tool.exe” is')).toBeVisible();
  await page.getByRole('button', { name: 'Look at plan.svg' }).click();
  await page.getByLabel('Alternative text').fill('A plan');
  await page.getByLabel('Alternative text').press('Tab');
  await expect(page.getByRole('complementary').getByText('Saved')).toBeVisible();
  await page.getByRole('slider').focus();
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('slider')).toHaveAttribute('aria-valuenow', '45');
  await expect(page.getByText('Nothing uses it.')).toBeVisible();
  const id = /media\/(\d+)/.exec((await page.getByRole('slider').locator('img').getAttribute('src'))!)![1];
  expect(await (await page.request.get(`/media/${id}/original`)).text()).not.toContain('onload');
  await page.getByRole('button', { name: 'Delete it' }).click();
  await expect(page.getByRole('button', { name: 'Look at plan.svg' })).toHaveCount(0);
});

test('several pictures are picked one after the other, while one searches for them', async ({ page }) => {
  await openRecord(page, 'hut', 'Grey Crag Hut');
  await page.getByRole('tab', { name: 'Pictures' }).click();
  await page.getByText('Choose pictures', { exact: true }).first().click();
  const sheet = page.getByRole('dialog');
  const first = sheet.locator('button[aria-pressed]').first();
  await first.click();
  await expect(first).toHaveAttribute('aria-pressed', 'true');
  const name = (await first.innerText()).trim();
  await sheet.getByLabel('Find in the library').fill(name);
  await expect(sheet.getByText(/\d+ found$/)).toBeVisible();
  await expect(sheet.locator('button[aria-pressed]').filter({ hasText: name }).first()).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await sheet.getByLabel('Find in the library').fill('nothing is called so');
  await expect(sheet.getByText('Nothing has “nothing is called so” in its name or description.')).toBeVisible();
});

test('a table is tried, brought in and taken out', async ({ page, request }) => {
  await visit(page, '/studio/content/page/files');
  const csv = 'Name,Text,Colour\nRules of the boat,Sit down.,#2e4a78\nLost and found,Ask Wilf.,reddish\n';
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'pages.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await page.getByLabel('Where Text goes').selectOption({ label: 'Body' });
  await page.getByRole('button', { name: 'Try it without keeping anything' }).click();
  const result = page.locator('[data-import-result]');
  await expect(result).toContainText('2 rows, 1 would be new, 1 with problems');
  await expect(result.getByRole('row', { name: /line 3 Colour/ })).toContainText('This is a colour as CSS writes one');
  await page.getByLabel('all rows or none').uncheck();
  await page.getByRole('button', { name: 'Bring in 1 page' }).click();
  await expect(result).toContainText('Done: 2 rows, 1 new, 1 with problems');
  const out = await (await request.get('/api/v1/types/page/export?format=csv')).text();
  expect(out).toContain('Rules of the boat,rules-of-the-boat,draft');
  const { items: records } = (await (await request.get('/api/v1/records?type=page&search=boat')).json()) as {
    items: { id: number }[];
  };
  await request.delete(`/api/v1/records/${records[0]!.id}`, { headers: ANY });
});

test('content types are put in order', async ({ page }) => {
  await visit(page, '/studio/content');
  await page.getByRole('button', { name: 'Move Pages forward' }).click();
  await expect(page.getByRole('heading', { level: 2 }).nth(4)).toHaveText('Pages');
  await page.getByRole('button', { name: 'Move Pages back' }).click();
  await expect(page.getByRole('heading', { level: 2 }).nth(5)).toHaveText('Pages');
});

test('options are reworded and moved without touching records, and ask before they go', async ({ page, request }) => {
  const field = (id: string, kind: string, settings: object) => ({
    id,
    key: id,
    label: id === 'shed_state' ? 'State' : 'Note',
    kind,
    settings,
    help: '',
    required: false,
    unique: false,
    tab: '',
  });
  const options = ['Good', 'Fair', 'Poor'].map((label) => ({ key: label.toLowerCase(), label }));
  const type = { id: 'shed', key: 'shed', name: 'Shed', plural: 'Sheds', base: 'sheds', taxonomyIds: [] };
  const made = await request.post('/api/v1/types', {
    data: { ...type, fields: [field('shed_state', 'choice', { options })] },
  });
  expect(made.status()).toBe(201);
  for (const [title, state] of [
    ['Low shed', 'poor'],
    ['High shed', 'good'],
  ])
    await request.post('/api/v1/records', { data: { typeId: 'shed', title, values: { shed_state: state } } });

  await page.goto('/studio/content/shed/fields');
  await page.waitForLoadState('networkidle');
  await page
    .getByRole('button', { name: /^(Unfold )?State/ })
    .first()
    .click();
  const words = page.getByLabel('Words of option 3 of State');
  await words.fill('In need of work');
  await words.blur();
  await page.getByLabel('More options of State').fill('Gone\nNew');
  await page.getByLabel('More options of State').blur();
  await expect(page.getByLabel('Words of option 5 of State')).toHaveValue('New');
  expect(await seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: /^Save/ }).click();
  await expect(page.getByText('Saved').first()).toBeVisible();

  await page.getByRole('button', { name: 'Take In need of work away' }).click();
  await page.getByRole('button', { name: /^Save/ }).click();
  const sheet = page.getByRole('dialog', { name: '“In need of work” is taken away' });
  await expect(sheet.getByText('1 record has it, Low shed.')).toBeVisible();
  const save = sheet.getByRole('button', { name: 'Save the content type' });
  await expect(save).toBeDisabled();
  expect(await seriousFaults(page)).toEqual([]);
  await sheet
    .getByLabel('What becomes of In need of work')
    .selectOption({ label: 'In need of work as before, no longer offered' });
  await save.click();
  await expect(sheet).toHaveCount(0);
  await expect(page.getByText('No longer offered, though records may have it: In need of work.')).toBeVisible();
  const { items } = (await (await request.get('/api/v1/records?type=shed')).json()) as {
    items: { id: number; title: string }[];
  };
  await page.goto(`/studio/content/shed/${items.find(({ title }) => title === 'Low shed')!.id}`);
  await expect(page.getByLabel('State').locator('option:checked')).toHaveText('In need of work (no longer an option)');
  await request.delete('/api/v1/types/shed', { headers: ANY });
});
