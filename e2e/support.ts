import AxeBuilder from '@axe-core/playwright';
import { expect, type APIRequestContext, type Locator, type Page } from '@playwright/test';

/** Drags with the mouse, in steps, as a hand does; with a key pressed at the end, before it is let go. */
export async function drag(
  page: Page,
  from: Locator,
  to: Locator | { x: number; y: number } | (() => Promise<{ x: number; y: number }>),
  key?: string,
): Promise<void> {
  await from.scrollIntoViewIfNeeded();
  if (typeof to === 'function') to = await to();
  const start = (await from.boundingBox())!;
  await page.mouse.move(start.x + start.width / 2, start.y + start.height / 2);
  await page.mouse.down();
  // A hand begins slowly: a press that jumps far at once is taken for no drag.
  await page.mouse.move(start.x + start.width / 2 + 6, start.y + start.height / 2 + 3, { steps: 3 });
  const box = 'x' in to ? undefined : (await to.boundingBox())!;
  const end = 'x' in to ? to : { x: box!.x + box!.width / 2, y: box!.y + box!.height / 2 };
  await page.mouse.move(end.x, end.y, { steps: 8 });
  // A hand sees where it is before it lets go.
  await page.evaluate(() => new Promise((seen) => requestAnimationFrame(() => requestAnimationFrame(seen))));
  if (key) await page.keyboard.press(key);
  await page.mouse.up();
}

export const shelfRow = (page: Page, label: string): Locator =>
  page
    .locator('[data-shelf-key]')
    .filter({ has: page.getByText(label, { exact: true }) })
    .first();
export const outlineRow = (page: Page, words: string | RegExp): Locator =>
  page.getByRole('treeitem').filter({ hasText: words }).first();
export const canvas = (page: Page) =>
  page.frameLocator('iframe[title="The page as visitors will see it"]').locator('#main');
/** The list of values that is open for picking. */
export const picker = (page: Page): Locator => page.locator('[data-popover-content]');
/** Takes back all that can be undone. */
export async function undoAll(page: Page): Promise<void> {
  const undo = page.getByRole('button', { name: 'Undo' });
  while ((await undo.getAttribute('aria-disabled')) === 'false') await undo.click();
}
export const saved = (page: Page) => expect(page.locator('[data-save]')).toHaveText('Saved');

/** Chooses something about looks by what it is drawn as. */
export const choose = (page: Page, look: string, option: string): Promise<void> =>
  page.getByRole('group', { name: look, exact: true }).getByRole('radio', { name: option, exact: true }).click();

/** Goes along a scale to a step of the theme. */
export async function slide(page: Page, look: string, step: number): Promise<void> {
  await page.getByRole('slider', { name: look, exact: true }).fill(String(step));
}

/** Places an element by its name. */
export async function place(page: Page, kind: string): Promise<void> {
  await page.getByRole('button', { name: 'Place an element' }).click();
  await page.getByLabel('Find an element').fill(kind);
  await page.keyboard.press('Enter');
}

/** Opens a template and waits until it can be worked with. */
export async function openWorkbench(page: Page, id: string): Promise<void> {
  await page.goto(`/studio/workbench/${id}`);
  await expect(canvas(page).locator('[data-element]').first()).toBeVisible();
}

/** Waits until nothing moves any more. */
const still = (page: Page) =>
  page.evaluate(() => Promise.all(document.getAnimations().map((one) => one.finished.catch(() => {}))));

/** What axe finds serious on a page; nothing is asked for. */
export async function seriousFaults(page: Page): Promise<string[]> {
  await still(page);
  const { violations } = await new AxeBuilder({ page })
    // What is right need not be told of.
    .options({ resultTypes: ['violations'] })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    // The canvas is a page of its own, looked at among the pages of the site.
    .exclude('iframe')
    .setLegacyMode()
    .analyze();
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`);
}

/** A record template to work on, blank or with a tree, by its id. */
export async function newTemplate(
  request: APIRequestContext,
  wanted: { name: string; typeId: string; tree?: unknown },
): Promise<string> {
  const made = await request.post('/api/v1/templates', { data: { purpose: 'record', ...wanted } });
  return ((await made.json()) as { id: string }).id;
}

/** Releases whatever was designed; nothing where nothing has changed. */
export async function released(request: APIRequestContext): Promise<void> {
  const answer = await request.post('/api/v1/releases', { data: {} });
  expect([201, 409]).toContain(answer.status());
}

/** Means whatever state stands, for changes that prepare a test. */
export const ANY = { 'if-match': '*' };

/** An element as it is written in a test, with those it holds. */
export interface Made {
  id: string;
  kind: string;
  name?: string;
  props?: object;
  slots?: object;
  style?: object;
  children?: Made[];
}

/** A tree of such elements, as templates have it. */
export function treeOf(root: Made): { root: string; elements: Record<string, unknown> } {
  const elements: Record<string, unknown> = {};
  const put = ({ id, kind, name, props = {}, slots = {}, style, children = [] }: Made): string => {
    elements[id] = {
      id,
      kind,
      props,
      slots,
      children: children.map(put),
      ...(style && { style }),
      ...(name && { name }),
    };
    return id;
  };
  put(root);
  return { root: root.id, elements };
}
