import { expect, test } from '@playwright/test';
import { HtmlValidate } from 'html-validate';
import { seriousFaults } from './support';

const PAGES = [
  '/',
  '/huts/',
  '/huts/page/2/',
  '/huts/windle-pass-hut',
  '/huts/northern-cairn-box',
  '/huts/%E9%9C%A7%E3%81%AE%E5%B0%8F%E5%B1%8B',
  '/trails/',
  '/trails/lost-surveyor-s-way',
  '/region/upper-vale/',
  '/search/?q=fell',
  '/journal/2026/05/',
  '/wardens/',
  '/wardens/theo-brackwater',
  '/nowhere/at/all',
  '/journal/2026/the-ptarmigan-census',
  '/about-the-society',
  '/work-weekends/wood-for-the-winter',
  '/facility/drying-room/',
];

const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: { 'long-title': 'off', 'void-style': 'off', 'tel-non-breaking': 'off' },
});

test('pages are valid HTML', async ({ request }) => {
  for (const path of PAGES) {
    const report = await validator.validateString(await (await request.get(path)).text());
    expect([path, report.results.flatMap((r) => r.messages.map((m) => `${m.ruleId}: ${m.message}`))]).toEqual([
      path,
      [],
    ]);
  }
});

test('axe finds nothing serious on them, wide or narrow', async ({ page }) => {
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    for (const path of PAGES) {
      await page.goto(path);
      expect([path, await seriousFaults(page)]).toEqual([path, []]);
      expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
    }
  }
});

test('pages allow no script, and load nothing from elsewhere', async ({ page }) => {
  const refused: string[] = [];
  page.on('console', (message) => message.type() === 'error' && refused.push(message.text()));
  const response = await page.goto('/huts/windle-pass-hut');
  const policy = response!.headers()['content-security-policy']!;
  expect(policy).toContain("default-src 'none'");
  expect(policy).not.toContain('script-src');
  expect(policy).not.toContain('unsafe');
  expect(await page.locator('script:not([type="application/ld+json"])').count()).toBe(0);
  expect(refused).toEqual([]);
});

test('addresses are settled, and what does not exist is not found', async ({ request }) => {
  const at = async (path: string) => {
    const response = await request.get(path, { maxRedirects: 0 });
    return [response.status(), response.headers().location];
  };
  expect(await at('/huts')).toEqual([301, '/huts/']);
  expect(await at('/huts/page/1/')).toEqual([301, '/huts/']);
  expect(await at('/huts/grey-crag-hut/')).toEqual([301, '/huts/grey-crag-hut']);
  for (const path of ['/huts/no-such-hut', '/huts/page/99/', '/nothing/', '/huts/a/b/c', '/huts/whinstone-hut'])
    expect([path, (await at(path))[0]]).toEqual([path, 404]);
  expect((await at('/huts/%E0%A4%A'))[0]).toBe(400);
});

test('a draft that others link to stays out of every page', async ({ request }) => {
  for (const path of [
    '/huts/',
    '/huts/page/2/',
    '/huts/page/3/',
    '/trails/scree-line',
    '/trails/whinstone-approach',
    '/wardens/rafe-underhay',
  ])
    expect(await (await request.get(path)).text()).not.toContain('Whinstone Hut');
});
