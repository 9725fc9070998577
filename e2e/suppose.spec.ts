import { expect, type APIRequestContext } from '@playwright/test';
import { test } from './live';
import { canvas, openWorkbench, outlineRow, picker, seriousFaults, shelfRow } from './support';

test('a value is supposed: the page and rules follow, a band says so, nothing is stored, one key lets go', async ({
  page,
  request,
}) => {
  await openWorkbench(page, 'hut-page');
  await page.waitForLoadState('networkidle');
  await page.getByRole('navigation', { name: 'Record strip' }).getByRole('button', { name: 'Grey Crag Hut' }).click();
  const band = page.getByRole('status', { name: 'Supposed values' });
  await expect(band).toHaveCount(0);
  const row = shelfRow(page, 'Title');
  await row.hover();
  await page.getByRole('button', { name: 'Change Title' }).click();
  const sheet = page.getByRole('dialog', { name: 'Change a value' });
  // What its field would refuse changes nothing, and says why.
  await sheet.getByLabel('Title').fill('');
  await sheet.getByRole('button', { name: 'Suppose it' }).click();
  await expect(sheet.getByRole('alert')).toHaveText('A record has a title.');
  await expect(canvas(page).getByRole('heading', { level: 1 })).toHaveText('Grey Crag Hut');
  await sheet.getByLabel('Title').fill('Slate Crag Hut');
  await sheet.getByRole('button', { name: 'Suppose it' }).click();
  await expect(canvas(page).getByRole('heading', { level: 1 })).toHaveText('Slate Crag Hut');
  await expect(band).toContainText('Title: Slate Crag Hut');
  expect(await seriousFaults(page)).toEqual([]);
  expect(await (await request.get('/huts/grey-crag-hut')).text()).not.toContain('Slate Crag');
  await page
    .locator('h1')
    .first()
    .evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('l');
  await expect(band).toHaveCount(0);
  await expect(canvas(page).getByRole('heading', { level: 1 })).toHaveText('Grey Crag Hut');
  await expect(page.locator('[data-save]')).toHaveText('Saved');
});

const rule = (...rules: unknown[]) => ({ group: 'all', rules });
const is = (operand: string) => ({ test: 'choice.is', path: { from: 'record', steps: ['hut_state'] }, operand });
const high = { test: 'order.gt', path: { from: 'record', steps: ['hut_altitude'] }, operand: 5500 };
const words = (id: string, text: string, more: object = {}) => ({
  id,
  kind: 'text',
  props: {},
  slots: { text: { fixed: text } },
  children: [],
  ...more,
});
const box = (id: string, children: string[], more: object = {}) => ({
  id,
  kind: 'box',
  props: {},
  slots: {},
  children,
  ...more,
});

/** A part about a hut, made of these; the first is its top. */
async function makePart(request: APIRequestContext, name: string, elements: { id: string }[]): Promise<string> {
  const headers = { 'if-match': '*' };
  const data = { name, purpose: 'part', serves: [{ on: 'type', typeId: 'hut' }] };
  const made = (await (await request.post('/api/v1/templates', { data })).json()) as { id: string };
  const tree = { root: elements[0]!.id, elements: Object.fromEntries(elements.map((one) => [one.id, one])) };
  const saved = await request.put(`/api/v1/templates/${made.id}`, { headers, data: { ...made, tree } });
  expect([saved.status(), await saved.text()]).toEqual([200, expect.any(String)]);
  return made.id;
}

test('what no record reaches is shown with one that is near, or told to be impossible', async ({ page, request }) => {
  const id = await makePart(request, 'Never seen', [
    box('e_top', ['e_high', 'e_both', 'e_some']),
    words('e_high', 'Very high up', { name: 'Very high', rule: rule(high, is('closed')) }),
    words('e_both', 'Both', { name: 'Both at once', rule: rule(is('closed'), is('open')) }),
    words('e_some', 'Open', { name: 'Open ones', rule: rule(is('open')) }),
  ]);
  await openWorkbench(page, id);
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Coverage', exact: true }).click();
  const sides = page.getByRole('complementary', { name: 'What it comes to' });
  const offers = sides.getByRole('button', { name: 'show one' });
  await expect(offers).toHaveCount(2);
  await offers.nth(1).click();
  await expect(page.getByRole('alert')).toContainText(
    'There can be none: “State is Closed” and “State is Open” contradict each other.',
  );
  await offers.nth(0).click();
  await expect(page.getByRole('alert')).toContainText(/^No record is like that\. The nearest is /);
  await expect(canvas(page).getByText('Very high up')).toBeVisible();
  const band = page.getByRole('status', { name: 'Supposed values' });
  await expect(band).toContainText('Altitude: ');
  await band.getByRole('button', { name: 'Let go of Altitude' }).click();
  await expect(canvas(page).getByText('Very high up')).toHaveCount(0);
  // From the rule itself too.
  await outlineRow(page, 'Very high').click();
  await page.getByRole('tab', { name: /Appears/ }).click();
  await page.getByRole('button', { name: 'Show one' }).click();
  await expect(canvas(page).getByText('Very high up')).toBeVisible();
  await request.delete(`/api/v1/templates/${id}`, { headers: { 'if-match': '*' } });
});

test('every combination that can occur stands on the proof sheet, made up where no record is like that', async ({
  page,
}) => {
  await openWorkbench(page, 'trail-page');
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Proof sheet' }).click();
  const sheet = page.getByRole('region', { name: 'Proof sheet' });
  await sheet.getByLabel('What stands on the sheet').selectOption('combinations');
  await expect(sheet.getByText('Looking on')).toHaveCount(0, { timeout: 30_000 });
  const tiles = sheet.getByRole('list', { name: 'Combinations' }).getByRole('listitem');
  const said = sheet.locator('[aria-live] strong').first();
  await expect(said).toHaveText(/^\d+/);
  await expect.poll(async () => `${await tiles.count()}`).toBe(/^\d+/.exec((await said.textContent()) ?? '')![0]);
  await expect.poll(() => tiles.count()).toBeGreaterThan(1);
  expect(await seriousFaults(page)).toEqual([]);
  const supposed = tiles.filter({ hasText: /Supposed of|Made up/ });
  expect(await supposed.count()).toBeGreaterThan(0);
  await supposed.first().getByRole('button').first().click();
  await expect(page.getByRole('status', { name: 'Supposed values' })).toBeVisible();
  await expect(outlineRow(page, /./)).toBeVisible();
});

test('loose ends are listed where they are, lead there, and are mended at a press', async ({ page, request }) => {
  const id = await makePart(request, 'Frayed', [
    box('e_top', ['e_faint', 'e_ways']),
    words('e_faint', 'Hardly there', { name: 'Faint', style: { wide: { colour: 'tint' } } }),
    { id: 'e_ways', kind: 'alternatives', props: {}, slots: {}, children: ['e_open', 'e_closed', 'e_rest'] },
    box('e_open', ['e_open_words'], { name: 'Open', rule: rule(is('open')) }),
    words('e_open_words', 'It is open'),
    box('e_closed', ['e_closed_words'], { name: 'Closed', rule: rule(is('closed')) }),
    words('e_closed_words', 'It is closed'),
    box('e_rest', [], { name: 'Rest' }),
  ]);
  await openWorkbench(page, id);
  await page.waitForLoadState('networkidle');
  const ends = page.getByRole('button', { name: /loose ends?$/ });
  // Two of the tree, and one that only the canvas knows.
  await expect(ends).toHaveText('3 loose ends');
  await ends.click();
  const list = picker(page);
  await expect(list.getByText(/^Its text has a contrast of 1\.\d to its ground; 4\.5 is the least/)).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  // It leads to the element, at the tab where that is decided.
  await list.getByRole('button', { name: /^Faint looks/ }).click();
  await expect(page.getByRole('tab', { name: 'Looks' })).toHaveAttribute('data-state', 'active');
  await expect(outlineRow(page, 'Faint')).toHaveAttribute('aria-selected', 'true');
  await ends.click();
  await list.getByRole('button', { name: /^Take .* for it$/ }).click();
  await expect(ends).toHaveText('2 loose ends');
  await list.getByRole('button', { name: 'Add the branch', exact: true }).click();
  await expect(outlineRow(page, 'Closing soon')).toBeVisible();
  await page.keyboard.press('Escape');
  // The desk names element and field, and leads to the same place.
  await expect(page.locator('[data-save]')).toHaveText('Saved');
  await page.goto('/studio');
  await page.getByRole('link', { name: 'Rest' }).click();
  await expect(page).toHaveURL(new RegExp(`/studio/workbench/${id}\\?element=e_rest&open=rule$`));
  await expect(page.getByRole('tab', { name: /Appears/ })).toHaveAttribute('data-state', 'active');
  await request.delete(`/api/v1/templates/${id}`, { headers: { 'if-match': '*' } });
});
