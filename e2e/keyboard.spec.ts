import { expect } from '@playwright/test';
import { test } from './live';
import { ANY, canvas, saved } from './support';

interface Kept {
  id: string;
  tree: { root: string; elements: Record<string, { children: string[]; kind: string }> };
}

test('by keyboard alone: place, move, duplicate, remove, and take all of it back', async ({ page, request }) => {
  const wanted = { name: 'By key', purpose: 'record', typeId: 'warden' };
  const blank = (await (await request.post('/api/v1/templates', { data: wanted })).json()) as Kept;
  const now = async () => ((await (await request.get(`/api/v1/templates/${blank.id}`)).json()) as Kept).tree;
  await page.goto(`/studio/workbench/${blank.id}`);
  await page.waitForLoadState('networkidle');

  // From the shelf: each Enter puts the value on the page, below what is selected.
  await page.locator('[data-shelf-key="record|@title"]').focus();
  await page.keyboard.press('Enter');
  await expect(canvas(page).locator('h1')).toHaveText('Maren Tolliver');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(canvas(page).locator('img')).toHaveCount(1);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(canvas(page)).toContainText('1 May 2009');

  // In the outline: up past the picture, a second one of it, and one away.
  await page.locator('[role=treeitem][aria-selected=true]').focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(page.getByRole('treeitem').nth(2)).toContainText('Since');
  await page.keyboard.press('Control+d');
  await expect(canvas(page).getByText('1 May 2009')).toHaveCount(2);
  await page.keyboard.press('Delete');
  await expect(canvas(page).getByText('1 May 2009')).toHaveCount(1);
  await saved(page);
  const kinds = async () => {
    const { root, elements } = await now();
    return elements[root]!.children.map((id) => elements[id]!.kind);
  };
  expect(await kinds()).toEqual(['heading', 'text', 'picture']);

  // Flipped by key, the page follows; an empty value leaves its element out.
  for (let i = 0; i < 3; i++) await page.keyboard.press('.');
  await expect(canvas(page).locator('h1')).toHaveText('Theo Brackwater');
  await expect(canvas(page).locator('img')).toHaveCount(0);
  await expect(page.getByRole('treeitem').filter({ hasText: 'Portrait' })).toContainText('empty here');
  await page.keyboard.press(',');
  await expect(canvas(page).locator('h1')).toHaveText('Signe Aldercott');

  const made = await now();
  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+z');
  await expect(page.getByRole('treeitem')).toHaveCount(1);
  await saved(page);
  expect(await now()).toEqual(blank.tree);
  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+Shift+z');
  await expect(page.getByRole('treeitem')).toHaveCount(4);
  await saved(page);
  expect(await now()).toEqual(made);
  await request.delete(`/api/v1/templates/${blank.id}`, { headers: ANY });
});

test('what is opened by key has the keys at once, however long a frame takes', async ({ page, request }) => {
  const blank = (await (
    await request.post('/api/v1/templates', { data: { name: 'At once', purpose: 'record', typeId: 'warden' } })
  ).json()) as Kept;
  await page.goto(`/studio/workbench/${blank.id}`);
  await page.waitForLoadState('networkidle');
  await page.locator('[data-shelf-key="record|@title"]').focus();
  await page.keyboard.press('Enter');
  const heading = page.getByRole('treeitem', { selected: true });
  await expect(heading).toContainText('Title');
  await saved(page);

  const held = () =>
    page.evaluate(() => {
      const frames = window.requestAnimationFrame;
      window.requestAnimationFrame = () => 0;
      (window as unknown as { frames: () => void }).frames = () => (window.requestAnimationFrame = frames);
    });
  /** Opens something by key while no frame comes, types at once, and says where the keys went. */
  const opened = async (key: string) => {
    await held();
    await page.keyboard.press(key);
    await page.keyboard.press('n');
    const focused = page.locator('[role=dialog]:focus, [role=dialog] :focus, [data-popover-content] :focus');
    await expect(focused, `opened by ${key}`).toHaveCount(1);
    await page.evaluate(() => (window as unknown as { frames: () => void }).frames());
    return focused;
  };
  const shut = async () => {
    await page.keyboard.press('Escape');
    await expect(page.locator('[role=dialog], [data-popover-content]')).toHaveCount(0);
    // None of the keys was taken for a shortcut of the workbench.
    await expect(heading).toContainText('Title');
  };

  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: true }).first();
  await page.getByRole('tab', { name: 'Values' }).click();
  for (const name of [/^Bind /, 'Format', 'What was done', 'Shortcuts', /^(Serves|The page of)/]) {
    await button(name).focus();
    await opened('Enter');
    await shut();
  }
  await page.getByRole('tab', { name: 'Appears' }).click();
  for (const [key, at] of [['Enter', button('Add a test')] as const, ['+', heading] as const]) {
    await at.focus();
    await expect(await opened(key)).toHaveValue('n');
    await shut();
  }
  // Along the outline each press goes on from where the one before led.
  await heading.focus();
  await page.keyboard.press('Control+d');
  await page.keyboard.press('Control+d');
  await expect(page.getByRole('treeitem')).toHaveCount(4);
  await page.getByRole('treeitem').nth(0).focus();
  await held();
  for (let n = 0; n < 3; n++) await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('treeitem').nth(3)).toBeFocused();
  await request.delete(`/api/v1/templates/${blank.id}`, { headers: ANY });
});

test('the shelf is searched, folded and unfolded by key', async ({ page }) => {
  await page.goto('/studio/workbench/hut-page');
  await page.waitForLoadState('networkidle');
  await page.getByLabel('Find a field or a value').fill('zzz');
  await expect(page.getByText('No field and no value here has “zzz” in it.')).toBeVisible();
  await page.getByLabel('Find a field or a value').fill('');
  await page.locator('[data-shelf-key="record|hut_warden"]').focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('[data-shelf-key="record|hut_warden/warden_since"]')).toContainText('15 June 2016');
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('[data-shelf-key="record|hut_warden/warden_since"]')).toHaveCount(0);
  await page.locator('[data-shelf-group=site]').press('Enter');
  await expect(page.locator('[data-shelf-key="site|@name"]')).toContainText('Larkfell Huts');
});
