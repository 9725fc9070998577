import AxeBuilder from '@axe-core/playwright';
import { expect, type APIRequestContext, type Page } from '@playwright/test';
import { test } from './live';
import { ANY, released, treeOf, type Made } from './support';

/**
 * What looks come to on the page that visitors get, read from computed styles in Chromium: templates are made as the panel
 * makes them, released, and measured at the three widths.
 */
const WIDTHS = { wide: 1280, medium: 768, narrow: 390 } as const;
const text = (id: string, words: string, style?: object): Made => ({
  id,
  kind: 'text',
  name: id,
  slots: { text: { fixed: words } },
  ...(style && { style }),
});
const bound = (...steps: string[]) => ({ bound: { path: { from: 'record', steps }, formats: [] } });

let made = '';
/** Releases a template for one hut, and opens its page. */
async function publish(page: Page, request: APIRequestContext, root: Made, hutNamed = 'Screeside'): Promise<string> {
  const { items } = (await (await request.get(`/api/v1/records?type=hut&search=${hutNamed}&per_page=5`)).json()) as {
    items: { id: number; slug: string }[];
  };
  const [hut] = items;
  const answer = await request.post('/api/v1/templates', {
    data: {
      name: 'Looks',
      purpose: 'record',
      tree: treeOf(root),
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
      id: `e_${set ? 'set' : 'bare'}${kind}`.slice(0, 40),
      kind,
      name: `${set ? 'set' : 'bare'} ${kind}`,
      slots,
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
    id,
    kind: 'box',
    name: id.slice(2),
    props: { flow: 'row', gap: 'm' },
    children,
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

/** Boxes of elements by name, as the page is now. */
const boxesOf = (page: Page, ...names: string[]) =>
  page.evaluate(
    (all) =>
      Object.fromEntries(
        all.map((name) => {
          const node = document.querySelector<HTMLElement>(`main [class*="${name}-"]`);
          if (!node) throw new Error(`${name} is not on the page`);
          const { left, right, top, bottom, width, height } = node.getBoundingClientRect();
          return [name, { left, right, top, bottom, width, height }];
        }),
      ) as Record<string, Record<'left' | 'right' | 'top' | 'bottom' | 'width' | 'height', number>>,
    names,
  );

test('a record page in three columns: shares with their gap, a portrait at 17 % with its border, tops in line', async ({
  page,
  request,
}) => {
  await publish(page, request, {
    id: 'e_root',
    kind: 'box',
    children: [
      {
        id: 'e_columns',
        kind: 'columns',
        name: 'three',
        props: { share: 'own', shares: [1, 2, 1], gap: 'l' },
        style: { wide: { layer: 0 } },
        children: [
          text('e_first', 'First', { wide: { size: 'huge' } }),
          {
            id: 'e_middle',
            kind: 'box',
            name: 'middle',
            style: { wide: { layer: 0 } },
            children: [
              {
                id: 'e_portrait',
                kind: 'picture',
                name: 'portrait',
                props: { shape: 'round' },
                slots: { source: bound('hut_picture') },
                style: {
                  wide: { width: '17%', border: '8px', borderColour: 'accent', shadow: '2px 2px 11px 2px #1f262240' },
                },
              },
              {
                id: 'e_line',
                kind: 'box',
                name: 'line',
                props: { flow: 'row', gap: 's' },
                style: { wide: { layer: 0 } },
                children: [
                  text('e_small', 'Small', { wide: { size: 's' } }),
                  text('e_large', 'Large', { wide: { size: 'huge' } }),
                ],
              },
            ],
          },
          text('e_third', 'Third', { wide: { layer: 0 } }),
        ],
      },
    ],
  });
  const at = await boxesOf(page, 'three', 'first', 'middle', 'third', 'portrait', 'small', 'large');
  const room = at.three!.width - 2 * 32;
  expect([at.middle!.width / room, (at.third!.right - at.third!.left) / room].map((n) => n.toFixed(2))).toEqual([
    '0.50',
    '0.25',
  ]);
  expect(at.middle!.left - at.three!.left).toBeCloseTo(room / 4 + 32, 0);
  expect(Math.abs(at.third!.right - at.three!.right)).toBeLessThan(1);
  expect(at.portrait!.width / at.middle!.width).toBeCloseTo(0.17, 2);
  expect(await styleOf(page, 'portrait', 'border-top-width', 'img')).toBe('8px');
  expect(await styleOf(page, 'portrait', 'border-top-left-radius', 'img')).toBe('50%');
  expect(await styleOf(page, 'portrait', 'box-shadow', 'img')).toBe('rgba(31, 38, 34, 0.25) 2px 2px 11px 2px');
  expect(at.small!.top).toBe(at.large!.top);
  // On narrow screens they stand below each other.
  await page.setViewportSize({ width: 390, height: 800 });
  const narrow = await boxesOf(page, 'first', 'middle', 'third');
  expect(narrow.middle!.top).toBeGreaterThan(narrow.first!.bottom);
  expect(narrow.third!.top).toBeGreaterThan(narrow.middle!.bottom);
});

test('what lies over a corner, text around a picture, an overlay without its picture, and a map in the middle', async ({
  page,
  request,
}) => {
  const long = 'Words enough to fill several lines beside a picture that stands at one side of them. '.repeat(8);
  await publish(page, request, {
    id: 'e_root',
    kind: 'box',
    props: { gap: 'l' },
    children: [
      {
        id: 'e_card',
        kind: 'box',
        name: 'card',
        props: { flow: 'overlay' },
        style: { wide: { radius: 'l', above: '5rem' } },
        children: [
          { id: 'e_back', kind: 'picture', slots: { source: bound('hut_picture') } },
          {
            id: 'e_badge',
            kind: 'icon',
            name: 'badge',
            slots: { icon: { fixed: 'tent' } },
            style: { wide: { place: 'top-start', shiftX: '50px', shiftY: '-60px', size: '60px' } },
          },
        ],
      },
      {
        id: 'e_story',
        kind: 'box',
        name: 'story',
        props: { gap: 'm' },
        style: { wide: { layer: 0 } },
        children: [
          {
            id: 'e_beside',
            kind: 'picture',
            name: 'beside',
            slots: { source: bound('hut_picture') },
            style: { wide: { width: '40%', around: 'start' } },
          },
          text('e_flow', long, { wide: { layer: 0 } }),
        ],
      },
      {
        id: 'e_empty',
        kind: 'box',
        name: 'empty',
        props: { flow: 'overlay' },
        style: { wide: { ground: 'deep' } },
        children: [text('e_over', 'Over it', { wide: { place: 'bottom-start' } })],
      },
      {
        id: 'e_map',
        kind: 'map',
        name: 'chart of it',
        slots: { place: bound('hut_place') },
        style: { wide: { across: 'center' } },
      },
    ],
  });
  const at = await boxesOf(page, 'card', 'badge', 'story', 'beside', 'flow', 'empty', 'chart-of-it');
  expect(Math.round(at.badge!.left - at.card!.left)).toBe(50);
  expect(Math.round(at.card!.top - at.badge!.top)).toBe(60);
  // It is seen above the edge, though the corners of the card are round.
  expect(
    await page.evaluate(
      ([x, y]) => document.elementFromPoint(x!, y!)?.closest('[class*="badge-"]') !== null,
      [at.badge!.left + 20, at.badge!.top + 10],
    ),
  ).toBe(true);
  // Lines of the text begin beside the picture, and it ends within its box.
  const first = await page.evaluate(() => {
    const range = document.createRange();
    range.selectNodeContents(document.querySelector('main [class*="flow-"]')!);
    return range.getClientRects()[0]!.left;
  });
  expect(first).toBeGreaterThanOrEqual(at.beside!.right + 15);
  expect(at.story!.bottom).toBeGreaterThanOrEqual(at.beside!.bottom);
  expect(at.empty!.height).toBeGreaterThan(150);
  expect(at['chart-of-it']!.width).toBeGreaterThan(400);
  await page.setViewportSize({ width: 390, height: 800 });
  const narrow = await boxesOf(page, 'beside', 'flow');
  expect(narrow.flow!.top).toBeGreaterThanOrEqual(narrow.beside!.bottom);
});

test('sections 1000 px wide stand in the middle, and one in what is narrower keeps to it', async ({
  page,
  request,
}) => {
  await publish(page, request, {
    id: 'e_root',
    kind: 'box',
    children: [
      {
        id: 'e_whole',
        kind: 'section',
        name: 'whole',
        style: { wide: { ground: 'tint' } },
        children: [text('e_a', 'As wide as the screen')],
      },
      {
        id: 'e_kept',
        kind: 'section',
        name: 'kept',
        style: { wide: { maxWidth: '1000px', ground: 'deep' } },
        children: [text('e_b', 'A thousand')],
      },
      {
        id: 'e_narrow',
        kind: 'box',
        name: 'narrowed',
        style: { wide: { maxWidth: '30rem' } },
        children: [
          {
            id: 'e_within',
            kind: 'section',
            name: 'within',
            style: { wide: { ground: 'notice' } },
            children: [text('e_c', 'In less')],
          },
        ],
      },
    ],
  });
  const at = await boxesOf(page, 'whole', 'kept', 'narrowed', 'within');
  expect(at.whole!.width).toBeGreaterThan(1250);
  expect([at.kept!.width, Math.round((at.kept!.left + at.kept!.right) / 2)]).toEqual([1000, 640]);
  expect([at.within!.left, at.within!.width]).toEqual([at.narrowed!.left, at.narrowed!.width]);
});

test('a dark page with light boxes reads by itself: tables, captions, labels and links too', async ({
  page,
  request,
}) => {
  const all = (prefix: string): Made[] => [
    { ...text(`${prefix}words`, 'Plain words'), props: { tone: 'quiet' } },
    { id: `${prefix}link`, kind: 'link', slots: { label: { fixed: 'A link' }, link: { fixed: '/huts/' } } },
    { id: `${prefix}button`, kind: 'button', slots: { label: { fixed: 'A button' }, link: { fixed: '/huts/' } } },
    {
      id: `${prefix}outline`,
      kind: 'button',
      props: { look: 'outline' },
      slots: { label: { fixed: 'Outlined' }, link: { fixed: '/huts/' } },
    },
    {
      id: `${prefix}table`,
      kind: 'table',
      slots: { rows: bound('hut_seasons'), caption: { fixed: 'The seasons' } },
    },
    { id: `${prefix}terms`, kind: 'terms', slots: { terms: bound('@terms:region'), label: { fixed: 'Where' } } },
    { id: `${prefix}author`, kind: 'author', slots: { name: bound('@title'), date: { fixed: 'A day' } } },
    { id: `${prefix}quote`, kind: 'quote', slots: { words: { fixed: 'Said.' }, source: { fixed: 'Somebody' } } },
    { id: `${prefix}search`, kind: 'search', props: { shown: true } },
    { id: `${prefix}crumbs`, kind: 'breadcrumbs' },
    {
      id: `${prefix}picture`,
      kind: 'picture',
      slots: { source: bound('hut_picture'), caption: { fixed: 'A caption' } },
    },
  ];
  const grounds = ['ground', 'tint', 'deep', 'notice', 'accent', 'line', 'ink', 'quiet'];
  await publish(
    page,
    request,
    {
      id: 'e_root',
      kind: 'box',
      style: { wide: { ground: 'deep' } },
      children: [
        { id: 'e_head', kind: 'heading', props: { level: 1 }, slots: { text: bound('@title') } },
        ...all('e_page'),
        ...grounds.map((ground) => ({
          id: `e_on${ground}`,
          kind: 'box',
          name: `on ${ground}`,
          style: { wide: { ground } },
          children: all(`e_${ground}`),
        })),
      ],
    },
    'jubilee',
  );
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    const { violations, passes } = await new AxeBuilder({ page }).withRules(['color-contrast']).analyze();
    expect(violations.flatMap(({ nodes }) => nodes.map(({ html }) => html))).toEqual([]);
    // It looked at something: every box has words of every sort.
    expect(passes.flatMap(({ nodes }) => nodes).length).toBeGreaterThan(100);
  }
});

test('looks of what is pointed at are seen then, and nothing moves for those who want less of that', async ({
  page,
  request,
}) => {
  await publish(page, request, {
    id: 'e_root',
    kind: 'box',
    children: [
      {
        id: 'e_go',
        kind: 'button',
        name: 'go',
        slots: { label: { fixed: 'Go' }, link: { fixed: '/huts/' } },
        style: { wide: { ground: 'tint', 'ground@hover': 'accent', 'borderColour@focus': 'deep', change: 'calm' } },
      },
    ],
  });
  const ground = () => styleOf(page, 'go', 'background-color', 'a');
  const [rest, colours] = [await ground(), await tokens(page, 'tint', 'accent', 'deep')];
  expect(rest).toBe(colours.tint);
  expect(await styleOf(page, 'go', 'transition-duration', 'a')).toContain('0.3s');
  await page.getByRole('link', { name: 'Go', exact: true }).hover();
  await expect.poll(ground).toBe(colours.accent);
  await page.mouse.move(0, 0);
  await expect.poll(ground).toBe(colours.tint);
  await page.emulateMedia({ reducedMotion: 'reduce' });
  expect(await styleOf(page, 'go', 'transition-duration', 'a')).toBe('0s');
  await page.getByRole('link', { name: 'Go', exact: true }).focus();
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Tab');
  expect(await styleOf(page, 'go', 'border-top-color', 'a')).toBe(colours.deep);
});

/** Colours of the theme as the page computes them. */
const tokens = (page: Page, ...keys: string[]) =>
  page.evaluate((all) => {
    const probe = document.createElement('i');
    document.body.append(probe);
    const found = Object.fromEntries(
      all.map((key) => {
        probe.style.color = `var(--colour-${key})`;
        return [key, getComputedStyle(probe).color];
      }),
    );
    probe.remove();
    return found;
  }, keys);

test('the typefaces of a page are asked for before its sheet has come, and each is used', async ({ page, request }) => {
  const told: string[] = [];
  page.on('console', (message) => told.push(message.text()));
  for (const address of ['/', '/huts/']) {
    await page.goto(address);
    const files = await page
      .locator('head link[rel=preload]')
      .evaluateAll((links) => links.map((link) => link.getAttribute('href')!));
    expect(files).toHaveLength(2);
    for (const file of files) {
      const answer = await request.get(file);
      expect([answer.status(), answer.headers()['content-type']]).toEqual([200, 'font/woff2']);
      // A WOFF2 file begins so (WOFF File Format 2.0, 4.1).
      expect((await answer.body()).subarray(0, 4).toString()).toBe('wOF2');
    }
    const used = await page.evaluate(async () => {
      await document.fonts.ready;
      return [...document.fonts]
        .filter(({ status }) => status === 'loaded')
        .map(({ family }) => family.replace(/"/g, ''));
    });
    expect(used).toEqual(expect.arrayContaining(['Hanken Grotesk Variable', 'Fraunces Variable']));
  }
  expect(told.filter((words) => /preload/i.test(words))).toEqual([]);
});

test('a first letter is as many lines high as is said, at the width it is said for', async ({ page, request }) => {
  await publish(page, request, {
    id: 'e_root',
    kind: 'box',
    children: [text('e_story', 'Once the fog had gone. '.repeat(20), { wide: { dropCap: 3 }, narrow: { dropCap: 1 } })],
  });
  const first = () =>
    page.evaluate(() => {
      const words = document.querySelector('main [class*="story-"]')!;
      const { float, fontSize } = getComputedStyle(words, '::first-letter');
      return { float, times: parseFloat(fontSize) / parseFloat(getComputedStyle(words).fontSize) };
    });
  const { float, times } = await first();
  expect([float, times > 3]).toEqual(['inline-start', true]);
  await page.setViewportSize({ width: 390, height: 800 });
  expect(await first()).toEqual({ float: 'none', times: 1 });
});
