import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import { ANY, released } from './support';

/**
 * What looks come to on the page that visitors get, read from computed styles in Chromium: templates are made as the panel
 * makes them, released, and measured at the three widths.
 */
interface Made {
  id: string;
  kind: string;
  name?: string;
  props?: object;
  slots?: object;
  style?: object;
  children?: Made[];
}
const WIDTHS = { wide: 1280, medium: 768, narrow: 390 } as const;
const text = (id: string, words: string, style?: object): Made => ({
  ...{ id, kind: 'text', name: id, slots: { text: { fixed: words } } },
  ...(style && { style }),
});
const bound = (...steps: string[]) => ({ bound: { path: { from: 'record', steps }, formats: [] } });

function treeOf(root: Made): { root: string; elements: Record<string, unknown> } {
  const elements: Record<string, unknown> = {};
  const put = ({ id, kind, name, props = {}, slots = {}, style, children = [] }: Made): string => {
    elements[id] = {
      ...{ id, kind, props, slots, children: children.map(put) },
      ...(style && { style }),
      ...(name && { name }),
    };
    return id;
  };
  put(root);
  return { root: root.id, elements };
}

let made = '';
/** Releases a template for one hut, and opens its page. */
async function publish(page: Page, request: APIRequestContext, root: Made): Promise<string> {
  const { items } = (await (await request.get('/api/v1/records?type=hut&search=Screeside&per_page=5')).json()) as {
    items: { id: number; slug: string }[];
  };
  const [hut] = items;
  const answer = await request.post('/api/v1/templates', {
    data: {
      ...{ name: 'Looks', purpose: 'record', tree: treeOf(root) },
      serves: [{ on: 'records', typeId: 'hut', ids: [hut!.id] }],
    },
  });
  expect(answer.status()).toBe(201);
  made = ((await answer.json()) as { id: string }).id;
  await released(request);
  await page.goto(`/huts/${hut!.slug}`);
  return made;
}
test.afterEach(async ({ request }) => {
  if (made) await request.delete(`/api/v1/templates/${made}`, { headers: ANY });
  made = '';
  await released(request);
});

/** Computed values of the element of that name, or of something in it. */
const styleOf = (page: Page, name: string, property: string, within = '') =>
  page
    .locator(`main [class*="${name}-"]${within && ` ${within}`}`)
    .first()
    .evaluate((node, of) => getComputedStyle(node).getPropertyValue(of), property);
const boxOf = async (page: Page, name: string) =>
  (await page.locator(`main [class*="${name}-"]`).first().boundingBox())!;

/** What of a kind is seen where: on the element itself, or on something in it. */
const KINDS: { kind: string; at: string; slots: object; props?: object; surface: string }[] = [
  { kind: 'text', at: '', slots: { text: { fixed: 'Words' } }, surface: '' },
  { kind: 'heading', at: '', slots: { text: { fixed: 'Words' } }, surface: '' },
  { kind: 'box', at: '', slots: {}, surface: '' },
  { kind: 'button', at: 'a', slots: { label: { fixed: 'Go' }, link: { fixed: '/huts/' } }, surface: 'a' },
  { kind: 'link', at: 'a', slots: { label: { fixed: 'Go' }, link: { fixed: '/huts/' } }, surface: 'a' },
  { kind: 'picture', at: '', slots: { source: bound('hut_picture') }, surface: 'img' },
];
const SURFACE = [
  { name: 'ground', values: ['tint', 'notice'], property: 'background-color' },
  { name: 'border', values: ['4px', '8px'], property: 'border-top-width' },
  { name: 'radius', values: ['8px', '14px'], property: 'border-top-left-radius' },
] as const;

test('what is set of a surface is seen on the box that shows, at the widths it is set for, and nowhere else', async ({
  page,
  request,
}) => {
  const own = (set: boolean): Made[] =>
    KINDS.map(({ kind, slots, props }) => ({
      ...{ id: `e_${set ? 'set' : 'bare'}${kind}`.slice(0, 40), kind, name: `${set ? 'set' : 'bare'} ${kind}`, slots },
      ...(props && { props }),
      ...(kind === 'box' && { children: [text(`e_in${set ? 's' : 'b'}`, 'Inside')] }),
      style: set
        ? {
            wide: Object.fromEntries(SURFACE.map((one) => [one.name, one.values[0]])),
            narrow: Object.fromEntries(SURFACE.map((one) => [one.name, one.values[1]])),
          }
        : // A class of its own, and nothing that could be seen on a surface.
          { wide: { layer: 1 } },
    }));
  await publish(page, request, { id: 'e_root', kind: 'box', children: [...own(true), ...own(false)] });
  const colours = await page.evaluate(() => {
    const probe = document.createElement('i');
    document.body.append(probe);
    const of = (token: string) => {
      probe.style.color = `var(--colour-${token})`;
      return getComputedStyle(probe).color;
    };
    const found = { tint: of('tint'), notice: of('notice') };
    probe.remove();
    return found;
  });
  const wanted = (value: string) => (value in colours ? colours[value as keyof typeof colours] : value);
  const wrong: string[] = [];
  for (const [screen, width] of Object.entries(WIDTHS)) {
    await page.setViewportSize({ width, height: 800 });
    for (const { kind, surface } of KINDS)
      for (const { name, values, property } of SURFACE) {
        const value = wanted(values[screen === 'narrow' ? 1 : 0]);
        const there = await styleOf(page, `set-${kind}`, property, surface);
        if (there !== value) wrong.push(`${kind} ${name} at ${screen}: ${there}, not ${value}`);
        // The same of one without looks is as the theme has it, and the element around a face has nothing of it.
        if ((await styleOf(page, `bare-${kind}`, property, surface)) === value)
          wrong.push(`${kind} without looks has ${name} at ${screen}`);
        if (surface && (await styleOf(page, `set-${kind}`, property)) === value)
          wrong.push(`${kind}: ${name} is around its ${surface}, too, at ${screen}`);
      }
  }
  expect(wrong).toEqual([]);
});

test('shares fit with their gaps, a fifth is a fifth, and what is centred keeps its greatest width', async ({
  page,
  request,
}) => {
  const share = (width: string, n: number): Made[] =>
    Array.from({ length: n }, (_, i) => text(`e_${width}${i}`, `${i}`, { wide: { width } }));
  const row = (id: string, children: Made[], style?: object): Made => ({
    ...{ id, kind: 'box', name: id.slice(2), props: { flow: 'row', gap: 'm' }, children },
    style: style ?? { wide: { layer: 1 } },
  });
  await publish(page, request, {
    id: 'e_root',
    kind: 'box',
    style: { wide: { ground: 'tint' } },
    children: [
      row('e_fifths', share('fifth', 5)),
      row('e_sixths', share('sixth', 6), { wide: { gap: '10px' } }),
      row('e_parts', [...share('quarter', 2), ...share('half', 1)]),
      text('e_centred', 'Short', { wide: { across: 'center', maxWidth: '20rem' } }),
      { ...row('e_lone', []), props: { flow: 'stack' }, children: share('third', 1) },
    ],
  });
  const measured = await page.evaluate(() => {
    const of = (name: string) => {
      const node = document.querySelector<HTMLElement>(`main [class*="${name}-"]`)!;
      const box = node.getBoundingClientRect();
      const inner = [...node.children].map((child) => child.getBoundingClientRect());
      return {
        width: box.width,
        lines: new Set(inner.map(({ top }) => Math.round(top))).size,
        used: inner.length ? inner.at(-1)!.right - inner[0]!.left : 0,
        first: inner[0]?.width ?? 0,
        middle: box.left + box.width / 2,
      };
    };
    return { fifths: of('fifths'), sixths: of('sixths'), parts: of('parts'), centred: of('centred'), lone: of('lone') };
  });
  for (const name of ['fifths', 'sixths', 'parts'] as const) {
    expect([name, measured[name].lines]).toEqual([name, 1]);
    expect(Math.abs(measured[name].used - measured[name].width)).toBeLessThan(1);
  }
  // Of the room without its four gaps.
  expect(measured.fifths.first).toBeCloseTo((measured.fifths.width - 4 * 16) / 5, 0);
  expect(measured.lone.first).toBeCloseTo(measured.lone.width / 3, 0);
  expect(measured.centred.width).toBe(320);
  expect(measured.centred.middle).toBeCloseTo(640, 0);
  // The ground of the page is that of all of it.
  const ground = await styleOf(page, 'fifths', 'color');
  expect(ground).not.toBe('');
  const [body, root] = await page.evaluate(() => [
    getComputedStyle(document.body).backgroundColor,
    getComputedStyle(document.querySelector('main > *')!).backgroundColor,
  ]);
  expect(body).toBe(root);
  expect((await boxOf(page, 'centred')).width).toBe(320);
});
