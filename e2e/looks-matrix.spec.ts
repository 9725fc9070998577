import { execFileSync } from 'node:child_process';
import { expect, type APIRequestContext, type Page } from '@playwright/test';
import { test } from './live';
import { SCREENS, WIDTHS, type Case, type Cases, type Width } from './looks-case';
import { ANY, released, treeOf } from './support';

/**
 * Every property of every box of every kind, set at each of the three widths through the edits that the panel makes, and
 * read from computed styles on the published page in Chromium: in a template, and once more in a part that stands in a loop
 * in columns. See looks-cases.ts for what is set, and what it comes to.
 */
const madeTemplates: string[] = [];
async function create(request: APIRequestContext, data: object): Promise<string> {
  const answer = await request.post('/api/v1/templates', { data });
  expect([answer.status(), answer.status() === 201 ? '' : await answer.text()]).toEqual([201, '']);
  const { id } = (await answer.json()) as { id: string };
  madeTemplates.unshift(id);
  return id;
}
test.afterEach(async ({ request }) => {
  for (const id of madeTemplates.splice(0)) await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
  await released(request);
});

/** What is wrong with the page as it is: cases by name, with what was found. */
const wrongOn = (page: Page, made: Case[], screen: Width): Promise<string[]> =>
  page.evaluate(
    ({ made, screen }) => {
      const probe = document.createElement('p');
      document.querySelector('main')!.append(probe);
      const wrong: string[] = [];
      const resolved = new Map<string, string>();
      const resolve = (reads: string, value: string, px: string): string => {
        const key = `${reads} ${value} ${px}`;
        let known = resolved.get(key);
        if (known === undefined) {
          probe.style.cssText = `font-size:${px};border-style:solid;${reads}:${value}`;
          resolved.set(key, (known = getComputedStyle(probe).getPropertyValue(reads)));
        }
        return known;
      };
      /** A line height as a share of the text, which is what is inherited; everything else as it is. */
      const seenOf = (node: Element, reads: string): string => {
        const style = getComputedStyle(node);
        return reads === 'line-height'
          ? (parseFloat(style.lineHeight) / parseFloat(style.fontSize)).toFixed(3)
          : style.getPropertyValue(reads);
      };
      const rootOf = (name: string) => document.querySelector<HTMLElement>(`body [class*="${name}-"]`);
      for (const { name, kind, box, property, reads, wanted, at, inherits } of made) {
        const tell = (what: string) => wrong.push(`${kind}${box && `.${box}`} ${property} at ${screen}: ${what}`);
        const root = rootOf(name);
        if (!root) {
          tell('it is not on the page');
          continue;
        }
        const [selector = '', pseudo] = at.split('::');
        const targets =
          selector === ':scope'
            ? [root]
            : selector.split(', ').flatMap((one) => [...root.querySelectorAll<HTMLElement>(one)]);
        if (!targets.length) {
          tell(`there is no ${at}`);
          continue;
        }
        const bare = rootOf(`${name.slice(0, name.length - property.length)}bare`);
        for (const target of targets) {
          const style = getComputedStyle(target, pseudo && `::${pseudo}`);
          const expected =
            reads === 'display' ? 'none' : resolve(reads, wanted[screen], getComputedStyle(target).fontSize);
          // One duration for each thing that changes, and all the same.
          const found = style.getPropertyValue(reads).replace(/^(\d[\d.]*s), .*/, '$1');
          if (found !== expected) tell(`${found} on ${target.localName}, not ${expected}`);
          // What is inherited is seen by some words in it, whatever these are in.
          if (inherits && !pseudo && target.textContent?.trim()) {
            const texts = document.createTreeWalker(target, NodeFilter.SHOW_TEXT);
            let seen = false;
            while (!seen && texts.nextNode()) {
              const around = texts.currentNode.parentElement!;
              if (texts.currentNode.textContent?.trim()) seen = seenOf(around, reads) === seenOf(target, reads);
            }
            if (!seen) tell(`none of its words has ${found}`);
          }
        }
        // Nothing else in the element is otherwise than in one without looks.
        if (!bare || pseudo || reads === 'display') continue;
        const [all, same] = [root, bare].map((one) => [one, ...one.querySelectorAll<HTMLElement>('*')]) as [
          HTMLElement[],
          HTMLElement[],
        ];
        if (all.length !== same.length) continue;
        for (const [i, node] of all.entries()) {
          if (targets.includes(node) || (inherits && targets.some((one) => one.contains(node)))) continue;
          if (targets.some((one) => one.contains(node)) && /color/.test(reads)) continue;
          const [is, was] = [node, same[i]!].map((one) => getComputedStyle(one).getPropertyValue(reads));
          if (is !== was) {
            tell(`${node.localName}.${node.className} has ${is}, and ${was} without it`);
            break;
          }
        }
      }
      probe.remove();
      return wrong;
    },
    { made, screen },
  );

test('every property of every box of every kind is seen where it shows, at each width, in a template and in a part in a loop in columns', async ({
  page,
  request,
}) => {
  test.setTimeout(300_000);
  const { items } = (await (await request.get('/api/v1/records?type=hut&search=jubilee&per_page=5')).json()) as {
    items: { id: number; slug: string }[];
  };
  const [hut] = items;
  const menus = (await (await request.get('/api/v1/menus')).json()) as { items?: { id: string }[] } | { id: string }[];
  const menu = (Array.isArray(menus) ? menus : menus.items!)[0]!.id;
  const small = await create(request, {
    name: 'Small part',
    purpose: 'part',
    serves: [],
    tree: treeOf({
      id: 'e_small',
      kind: 'box',
      children: [{ id: 'e_within', kind: 'text', slots: { text: { fixed: 'Within' } } }],
    }),
  });
  const holder = { name: 'Looks in a part', purpose: 'part', serves: [{ on: 'type', typeId: 'hut' }] };
  const part = await create(request, { ...holder, tree: treeOf({ id: 'e_part', kind: 'box' }) });
  const { made, slot, ...trees } = JSON.parse(
    execFileSync(process.execPath, ['--import', 'tsx', 'e2e/looks-cases.ts', menu, small, part], {
      maxBuffer: 64_000_000,
    }).toString(),
  ) as Cases;
  const kept = (await (await request.get(`/api/v1/templates/${part}`)).json()) as object;
  const put = await request.put(`/api/v1/templates/${part}`, { headers: ANY, data: { ...kept, tree: trees.part } });
  expect([put.status(), put.ok() ? '' : await put.text()]).toEqual([200, '']);
  await create(request, {
    name: 'Looks of everything',
    purpose: 'record',
    tree: trees.page,
    serves: [{ on: 'records', typeId: 'hut', ids: [hut!.id] }],
  });
  await released(request);
  await page.goto(`/huts/${hut!.slug}`);
  expect(made.length).toBeGreaterThan(1000);
  const wrong: string[] = [];
  for (const screen of SCREENS) {
    await page.setViewportSize({ width: WIDTHS[screen], height: 800 });
    wrong.push(...(await wrongOn(page, made, screen)));
  }
  expect(wrong).toEqual([]);

  // The page's place is in the frame alone.
  type Framed = { tree: { root: string; elements: Record<string, { kind: string }> } };
  const { tree: frame } = (await (await request.get('/api/v1/templates/site-frame')).json()) as Framed;
  for (const { style, made: ofSlot } of slot) {
    expect(ofSlot.length).toBeGreaterThan(0);
    const placed = Object.values(frame.elements).map((one) =>
      one.kind === ofSlot[0]!.kind ? { ...one, name: ofSlot[0]!.name, style } : one,
    );
    await create(request, {
      name: 'Frame of one hut',
      purpose: 'frame',
      serves: [{ on: 'records', typeId: 'hut', ids: [hut!.id] }],
      tree: { ...frame, elements: Object.fromEntries(placed.map((one) => [(one as { id?: string }).id!, one])) },
    });
    await released(request);
    await page.goto(`/huts/${hut!.slug}`);
    for (const screen of SCREENS) {
      await page.setViewportSize({ width: WIDTHS[screen], height: 800 });
      wrong.push(...(await wrongOn(page, ofSlot, screen)));
    }
    const [id] = madeTemplates.splice(0, 1);
    await request.delete(`/api/v1/templates/${id}`, { headers: ANY });
  }
  expect(wrong).toEqual([]);
});
