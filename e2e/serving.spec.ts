import { expect, type APIRequestContext } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, newTemplate, openWorkbench, outlineRow, place, released, saved, seriousFaults } from './support';

test('why this template and not mine: an address, its contest, the tie, and what a change would do', async ({
  page,
  request,
}) => {
  await page.goto('/studio/serves');
  await page.waitForLoadState('networkidle');
  await page.getByLabel('Address', { exact: true }).fill('http://somewhere.example/huts/screeside-shelter?x=1');
  await page.getByRole('button', { name: 'Which template?' }).click();
  const contest = page.getByRole('region', { name: 'The contest' });
  await expect(contest.getByText('Screeside Shelter')).toBeVisible();
  await expect(contest.locator('[data-purpose=record]')).toContainText(
    'Hut that is closed answers. Serves huts for which State is Closed.',
  );
  await expect(contest.locator('[data-purpose=record]')).toContainText(
    'Hut page stands behind. Serves all huts, which is less near.',
  );
  // Another hut: the rule does not hold, and what it saw is told.
  await page.getByLabel('Address', { exact: true }).fill('/huts/grey-crag-hut');
  await page.keyboard.press('Enter');
  await expect(contest.getByText('Only the order of the templates decides this.')).toBeVisible();
  await contest.getByText(/templates that could not answer/).click();
  await expect(contest.getByText('State is Closed, saw Open')).toBeVisible();

  // Before it is kept, a change says which pages are answered differently.
  await page.getByRole('button', { name: 'Change what Hut page, first try serves' }).click();
  await page.getByRole('button', { name: 'Take away: All' }).click();
  await page.getByLabel('Choose what').selectOption('term');
  await page.getByLabel('Term', { exact: true }).selectOption('long-moor');
  await page.getByLabel('Of which type').selectOption('hut');
  const comes = page.getByRole('region', { name: 'What this comes to' });
  await expect(comes).toContainText('Serves huts filed under Long Moor or below.');
  await expect(comes).toContainText(/\d+\s+pages are answered differently than now/);
  await expect(comes).toContainText('Hut page → Hut page, first try');
  await page.getByLabel('Leave out').selectOption('rule');
  const rule = page.getByRole('region', { name: 'Leaves out' });
  await expect(rule.getByRole('button', { name: /Add a test/ })).toBeVisible();
  await rule.getByRole('button', { name: /^Take away/ }).click();
  await page.getByRole('button', { name: 'Keep it so' }).click();
  await expect(page.locator('[data-template=hut-page-old]')).toContainText(
    'Serves huts filed under Long Moor or below.',
  );
  // Nothing is tied any more.
  await expect(page.getByRole('button', { name: '0 decided by order alone' })).toBeVisible();
  const old = (await (await request.get('/api/v1/templates/hut-page-old')).json()) as { version: number };
  await request.put('/api/v1/templates/hut-page-old/serves', {
    headers: ANY,
    data: { serves: [{ on: 'type', typeId: 'hut' }], except: [], version: old.version },
  });
  await page.reload();
  await page.getByRole('button', { name: /decided by order alone/ }).click();
  await expect(page.getByText('≋ tied').first()).toBeVisible();
  // The order is the designer's.
  await page.getByRole('button', { name: 'Put Hut page, first try earlier in the order' }).click();
  await expect(page.locator('[data-template=hut-page]')).toContainText('0 pages');
  await page.getByRole('button', { name: 'Put Hut page, first try later in the order' }).click();
  await expect(page.locator('[data-template=hut-page-old]')).toContainText('0 pages');
  expect(await seriousFaults(page)).toEqual([]);
});

test('what a template serves is changed from the workbench too', async ({ page, request }) => {
  const id = await newTemplate(request, { name: 'On the way', typeId: 'trail' });
  await openWorkbench(page, id).catch(() => undefined);
  await page.getByRole('button', { name: 'Serves all trails' }).click();
  await page.getByRole('button', { name: 'Take away: All' }).click();
  await page.getByLabel('Choose what').selectOption('records');
  await page.getByLabel('Content type', { exact: true }).selectOption('trail');
  await expect(page.getByText('No record is chosen.')).toBeVisible();
  await page.getByRole('button', { name: 'Keep it so' }).click();
  // What cannot be is said, and what was chosen stays.
  await expect(page.getByText(/The template cannot serve this/)).toBeVisible();
  await page.getByRole('button', { name: /^Take away/ }).click();
  await page.getByLabel('Choose what').selectOption('everything');
  await page.getByRole('button', { name: 'Keep it so' }).click();
  await expect(page.getByRole('button', { name: 'Serves every record' })).toBeVisible();
  // Work goes on from there.
  await place(page, 'divider');
  await saved(page);
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

test('records are given a template in bulk', async ({ page, request }) => {
  const id = await newTemplate(request, { name: 'Special warden', typeId: 'warden' });
  await request.put(`/api/v1/templates/${id}/serves`, {
    headers: ANY,
    data: {
      serves: [
        {
          on: 'rule',
          typeId: 'warden',
          rule: { group: 'any', rules: [{ test: 'filled', path: { from: 'record', steps: ['warden_since'] } }] },
        },
      ],
      version: 1,
    },
  });
  await page.goto('/studio/content/warden');
  await page.getByLabel('Choose Maren Tolliver').check();
  await page.getByLabel('Choose Ivo Castellan').check();
  await page.getByLabel('Show with').selectOption(id);
  await expect(page.getByText('2 wardens shown with “Special warden” once it is released.')).toBeVisible();
  await page.goto(`/studio/serves?address=/wardens/ivo-castellan`);
  await expect(page.locator('[data-purpose=record]')).toContainText('Special warden answers. Serves 2 chosen wardens.');
  await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
});

const text = async (request: APIRequestContext, path: string) => (await request.get(path)).text();

test('what is designed is a draft until it is released; then it can be gone back to', async ({
  page,
  request,
  browser,
}) => {
  test.slow();
  await released(request);
  await openWorkbench(page, 'warden-page');
  await outlineRow(page, 'Page').click();
  await place(page, 'heading');
  const words = page.locator('[data-slot-editor]').first();
  await words.getByRole('textbox').first().fill('A word from the fell');
  await expect(canvas(page).getByText('A word from the fell')).toBeVisible();
  await saved(page);
  expect(await text(request, '/wardens/ivo-castellan')).not.toContain('A word from the fell');

  // A link shows it to somebody without an account, until it is taken back.
  await page.goto('/studio/release');
  await page.waitForLoadState('networkidle');
  await page.getByLabel('For whom').fill('Signe');
  await page.getByRole('button', { name: 'Make a link' }).click();
  const link = await page.getByRole('textbox', { name: 'The link' }).inputValue();
  const visitor = await browser.newContext({ storageState: { cookies: [], origins: [] } });
  const other = await visitor.newPage();
  await other.goto(link.replace(/^https?:\/\/[^/]+/, new URL(page.url()).origin) + '?to=/wardens/ivo-castellan');
  await expect(other.getByRole('heading', { name: 'A word from the fell' })).toBeVisible();
  await expect(other.getByText('This is a draft.')).toBeVisible();
  expect((await other.request.get('/wardens/')).headers()['cache-control']).toBe('private, no-store');
  await page.getByRole('button', { name: 'End the link for Signe' }).click();
  await expect(page.getByRole('button', { name: 'End the link for Signe' })).toHaveCount(0);
  await other.reload();
  await expect(other.getByText('This is a draft.')).toHaveCount(0);
  await visitor.close();

  // The list of what changes, the pages counted, and pictures of them before and after.
  await expect(page.getByRole('list', { name: 'Changes' })).toContainText(/Template, changed\s*Warden page/);
  await expect(page.getByRole('list', { name: 'Changes' })).toContainText('Added: “A word from the fell”');
  await expect(page.locator('[data-affected-count]')).toContainText(/^\s*9\s+of \d+\s+pages change/);
  const pair = page.locator('[data-affected]').first();
  await expect(pair.frameLocator('iframe').nth(1).getByText('A word from the fell')).toBeVisible();
  await expect(pair.frameLocator('iframe').first().getByRole('heading', { level: 1 })).toBeVisible();
  await expect(pair.frameLocator('iframe').first().getByText('A word from the fell')).toHaveCount(0);
  expect(await seriousFaults(page)).toEqual([]);
  await page.getByLabel('A note, for whoever looks back').fill('Wardens say a word');
  await page.getByRole('button', { name: 'Release 1 change' }).click();
  await expect(page.getByText(/^Released\. Visitors see release \d+\./)).toBeVisible();
  await expect(page.getByText('Nothing has changed since')).toBeVisible();
  expect(await text(request, '/wardens/ivo-castellan')).toContain('A word from the fell');

  // Back to the one before, and on again.
  const [now, before] = [page.locator('[data-release]').nth(0), page.locator('[data-release]').nth(1)];
  await expect(now).toContainText('Wardens say a word');
  await expect(now).toContainText('9 pages changed');
  await before.getByRole('button', { name: 'Go back to it' }).click();
  await expect(before.getByText('seen by visitors')).toBeVisible();
  expect(await text(request, '/wardens/ivo-castellan')).not.toContain('A word from the fell');
  await before.getByRole('button', { name: 'Take it up in the draft' }).click();
  await expect(page.getByText(/^The draft is now as in release/)).toBeVisible();
  await expect(page.getByText('Nothing has changed since')).toBeVisible();
});

test('a record is published when its moment has come', async ({ page, request }) => {
  await page.goto('/studio/content/page');
  await page.getByRole('link', { name: 'New page' }).click();
  // The table that it leads from is searched by titles.
  await expect(page.getByRole('heading', { name: 'New page' })).toBeVisible();
  await page.getByLabel('Title').fill('Opening night');
  await page.getByLabel('Status').selectOption('scheduled');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('A scheduled record needs the moment')).toBeVisible();
  const soon = new Date(Date.now() - new Date().getTimezoneOffset() * 60_000 + 4000).toISOString().slice(0, 19);
  await page.getByLabel('Published at').fill(soon);
  await page.getByLabel('Published at').press('Tab');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page).toHaveURL(/\/studio\/content\/page\/\d+/);
  await expect.poll(async () => (await request.get('/opening-night')).status(), { timeout: 20_000 }).toBe(200);
  const { items: records } = (await (await request.get('/api/v1/records?type=page&search=opening')).json()) as {
    items: { id: number }[];
  };
  await request.delete(`/api/v1/records/${records[0]?.id}`, { headers: ANY });
});

test('menus are put together, stand in the frame, and mark where the visitor is', async ({ page, request }) => {
  await page.goto('/studio/menus');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Add an entry' }).click();
  const entries = page.getByRole('list', { name: 'Entries' }).getByRole('listitem');
  const last = entries.last();
  await last.getByLabel('Leads to').selectOption('term corrie-head');
  await last.getByLabel('Words').fill('The ring of crags');
  await last.getByLabel('Words').press('Tab');
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  await last.getByLabel('Words').press('Alt+ArrowUp');
  await expect(entries.nth(-2).getByLabel('Words')).toHaveValue('The ring of crags');
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  // What cannot be kept is said, and nothing that was typed is lost.
  await page.getByRole('button', { name: 'Add an entry' }).click();
  await last.getByLabel('Leads to').selectOption('link');
  await expect(page.locator('[data-save]')).toContainText('Not saved');
  await page
    .getByRole('button', { name: /^Take out/ })
    .last()
    .click();
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  expect(await seriousFaults(page)).toEqual([]);
  await released(request);
  const html = await text(request, '/region/corrie-head/');
  expect(html).toContain('<a href="/region/corrie-head/" aria-current="page">The ring of crags</a>');
  expect(html).toContain('<a href="/region/upper-vale/" aria-current="true">Valleys</a>');
  expect(await text(request, '/journal/')).toContain('<a href="/journal/" aria-current="page">Journal</a>');
  await page.getByRole('button', { name: 'Take out: The ring of crags' }).click();
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  await page.getByRole('button', { name: 'Delete this menu' }).click();
  await expect(page.getByRole('alert')).toContainText('stands in “Frame”');
  await released(request);
});

test('addresses are made by a pattern, and those that were lead on', async ({ page, request }) => {
  await page.goto('/studio/content/trail/fields');
  await page.waitForLoadState('networkidle');
  await page.getByText('Pages of its records').click();
  const address = page.getByLabel('Address of each record');
  await address.fill('/ways/{colour}/{slug}');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('There is no part “{colour}” in the addresses of trails.')).toBeVisible();
  await address.fill('/huts/{slug}');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/could be trail or hut/)).toBeVisible();
  await address.fill('/trails/in/{region}/{slug}');
  // What its records are to programs.
  await page.getByPlaceholder(/Find a type of schema\.org/).fill('tourist attraction');
  await page.getByRole('button', { name: /^TouristAttraction/ }).click();
  await page.getByRole('button', { name: 'Add a property' }).click();
  await page.getByLabel('Value', { exact: true }).selectOption('@excerpt');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  // Until the release nothing has moved.
  expect((await request.get('/trails/larch-walk')).status()).toBe(200);
  await released(request);
  const moved = await request.get('/trails/larch-walk', { maxRedirects: 0 });
  expect([moved.status(), moved.headers().location]).toEqual([301, '/trails/in/larch-slopes/larch-walk']);
  const html = await text(request, '/trails/in/larch-slopes/larch-walk');
  expect(html).toContain('"@type":"TouristAttraction"');
  expect(html).toContain('<link rel="canonical" href="');
  await page.goto('/studio/content/trail/fields');
  await page.waitForLoadState('networkidle');
  await page.getByText('Pages of its records').click();
  await address.fill('');
  await page.getByRole('button', { name: 'Say nothing' }).click();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  await released(request);
  const back = await request.get('/trails/in/larch-slopes/larch-walk', { maxRedirects: 0 });
  expect([back.status(), back.headers().location]).toEqual([301, '/trails/larch-walk']);
});

test('redirects are written down many at once, and circles are refused', async ({ page, request }) => {
  await page.goto('/studio/serves');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Redirects' }).click();
  const box = page.getByPlaceholder('/old/page /huts/grey-crag');
  await box.fill('/round /about-round\n/about-round /round');
  await page.getByRole('button', { name: 'Keep these 2' }).click();
  await expect(page.getByText('Line 1: This leads in a circle: /round → /about-round → /round.')).toBeVisible();
  await expect(box).toHaveValue(/about-round/);
  await box.fill('/old-home → /huts/\n/older-home, /old-home');
  await page.getByRole('button', { name: 'Keep these 2' }).click();
  await expect(page.getByText('2 kept.')).toBeVisible();
  const answer = await request.get('/older-home', { maxRedirects: 0 });
  expect([answer.status(), answer.headers().location]).toEqual([301, '/huts/']);
  for (const path of ['/old-home', '/older-home'])
    await page.getByRole('button', { name: `Delete the redirect from ${path}` }).click();
  await expect(page.getByText('0 kept')).toBeVisible();
});

test('the theme goes out as a file and comes in beside what stands', async ({ page, request }) => {
  await page.goto('/studio/theme');
  await page.waitForLoadState('networkidle');
  const file = await (await request.get('/api/v1/theme-file')).body();
  const count = async () => ((await (await request.get('/api/v1/templates')).json()) as { total: number }).total;
  const before = await count();
  const bring = (name: string, content: Buffer) =>
    page.getByLabel('A theme’s file').setInputFiles({ name, mimeType: 'application/json', buffer: content });
  await bring('other.json', Buffer.from(JSON.stringify({ ...(JSON.parse(file.toString()) as object), version: 2 })));
  await expect(page.getByText('This theme has version 2; up to 1 is understood.')).toBeVisible();
  await bring('theme.json', file);
  await expect(page.getByText('Nothing that stands is overwritten unless you choose it.')).toBeVisible();
  await expect(page.getByLabel('Hut is', { exact: true })).toHaveValue('as hut');
  expect(await seriousFaults(page)).toEqual([]);
  for (const select of await page.getByRole('region', { name: 'Design' }).getByRole('combobox').all())
    await select.selectOption('leave');
  await page.getByLabel('Hut card comes in').selectOption('new');
  await page.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByText('Taken in: 1 template. Visitors see it with the next release.')).toBeVisible();
  expect(await count()).toBe(before + 1);
  const { items: all } = (await (await request.get('/api/v1/templates?per_page=200')).json()) as {
    items: { id: string; name: string }[];
  };
  await request.delete(`/api/v1/templates/${all.filter(({ name }) => name === 'Hut card').at(-1)?.id}`, {
    headers: ANY,
  });
});

test('the API describes itself, and a change needs to know what it changes', async ({ request }) => {
  const document = (await (await request.get('/api/v1/openapi.json')).json()) as { openapi: string; paths: object };
  expect(document.openapi).toBe('3.1.1');
  expect(Object.keys(document.paths)).toContain('/records/{recordId}');
  const list = await request.get('/api/v1/records?type=warden&per_page=3');
  expect(list.headers().link).toContain('rel="next"');
  const { items } = (await list.json()) as { items: { id: number; title: string }[] };
  expect(items).toHaveLength(3);
  const address = `/api/v1/records/${items[0]?.id}`;
  expect((await request.patch(address, { data: { title: 'X' } })).status()).toBe(428);
  const wrong = await request.patch(address, { data: { title: 'X' }, headers: { 'if-match': '"old"' } });
  expect([wrong.status(), wrong.headers()['content-type']]).toEqual([412, 'application/problem+json']);
  const { etag = '' } = (await request.get(address)).headers();
  const same = await request.patch(address, { data: { title: items[0]?.title }, headers: { 'if-match': etag } });
  expect(same.status()).toBe(200);
});

test('Serves and Published say whether they speak of the draft or of what visitors see', async ({ page, request }) => {
  const headers = { 'if-match': '*' };
  const data = { name: 'Only drafted', purpose: 'archive', serves: [{ on: 'type', typeId: 'warden' }] };
  const made = (await (await request.post('/api/v1/templates', { data })).json()) as { id: string };
  await page.goto('/studio/serves');
  const which = page.getByRole('navigation', { name: 'Of which site' });
  await expect(which.locator('[aria-current]')).toHaveText('As the draft has it');
  const templates = page.getByRole('complementary', { name: 'Templates' });
  await expect(templates.getByText('Only drafted')).toBeVisible();
  await which.getByRole('link', { name: 'As visitors see it' }).click();
  await expect(which.locator('[aria-current]')).toHaveText('As visitors see it');
  await expect(templates.getByText('Only drafted')).toHaveCount(0);
  await expect(templates.getByRole('button', { name: /^Change what/ })).toHaveCount(0);
  expect(await seriousFaults(page)).toEqual([]);

  await page.goto('/studio/site/wardens/');
  await expect(page.getByText('Published at')).toBeVisible();
  await expect(page.getByRole('complementary', { name: 'Why' }).getByText('Only drafted')).toHaveCount(0);
  await page.getByRole('link', { name: 'As the draft has it' }).click();
  await expect(page.getByText('In the draft at')).toBeVisible();
  await expect(page).toHaveURL(/\/studio\/site\/wardens\/\?studio=draft$/);
  expect(await seriousFaults(page)).toEqual([]);
  await request.delete(`/api/v1/templates/${made.id}`, { headers });
});
