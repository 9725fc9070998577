import { expect } from '@playwright/test';
import { test } from './live';
import { HtmlValidate } from 'html-validate';
import type { APIRequestContext, Page } from '@playwright/test';
import { outlineFaults } from '../tests/support/outline';
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

/** Every page that the sitemap names, a search and what is not found. */
async function everyPage(request: APIRequestContext): Promise<string[]> {
  const map = await (await request.get('/sitemap.xml')).text();
  const paths = [...map.matchAll(/<loc>([^<]+)/g)].map(([, address]) => new URL(address!).pathname);
  expect(paths.length).toBeGreaterThan(100);
  return [...paths, '/search/?q=hut', '/nowhere/at/all'];
}

test('every page of the demo is parted as the standard asks, and valid', async ({ request }) => {
  test.setTimeout(180_000);
  for (const path of new Set([...(await everyPage(request)), ...PAGES])) {
    const html = await (await request.get(path)).text();
    const report = await validator.validateString(html);
    expect([path, outlineFaults(html), report.results.flatMap((r) => r.messages.map((m) => m.message))]).toEqual([
      path,
      [],
      [],
    ]);
  }
});

/** How far things moved while the page came about: the sum of its layout shifts (W3C, Layout Instability). */
const shiftOf = (page: Page): Promise<number> =>
  page.evaluate(async () => {
    let sum = 0;
    const observer = new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) sum += (entry as unknown as { value: number }).value;
    });
    observer.observe({ type: 'layout-shift', buffered: true });
    await document.fonts.ready;
    await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
    return sum;
  });

/** Pictures whose `sizes` say another width than that in which they are drawn. */
const misfits = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const ruler = document.body.appendChild(document.createElement('div'));
    const said = (sizes: string): number => {
      const parts = sizes.split(', ').map((part) => /^(?:(\(.*\)) )?(.+)$/.exec(part) ?? []);
      ruler.style.width = parts.find(([, when]) => !when || matchMedia(when).matches)?.[2] ?? '100vw';
      return ruler.getBoundingClientRect().width;
    };
    const wrong = [...document.querySelectorAll<HTMLImageElement>('img[srcset]')].flatMap((image) => {
      const room = image.getBoundingClientRect().width;
      const told = said(image.sizes);
      if (!room) return [];
      // Beside words a small picture gives way to them.
      const fits = Math.abs(told - room) < 2 || (room < 200 && told > room && told < room * 1.4);
      return fits ? [] : [`${image.src} is ${Math.round(room)} wide, said ${Math.round(told)}: ${image.sizes}`];
    });
    ruler.remove();
    return wrong;
  });

for (const width of [1280, 390])
  test(`nothing moves while a page comes about, and pictures fit their place, ${width} px wide`, async ({
    page,
    request,
  }) => {
    test.setTimeout(300_000);
    const shifted: [string, number][] = [];
    const unfit: [string, string[]][] = [];
    const shared: string[] = [];
    await page.setViewportSize({ width, height: 800 });
    for (const path of await everyPage(request)) {
      await page.goto(path);
      const shift = await shiftOf(page);
      if (shift >= 0.02) shifted.push([path, shift]);
      const wrong = await misfits(page);
      if (wrong.length) unfit.push([path, wrong]);
      const meta = (name: string) => page.locator(`meta[name="${name}"], meta[property="${name}"]`).count();
      if ((await page.locator('main img').count()) && !(await meta('og:image'))) shared.push(`${path}: no picture`);
      if ((await page.locator('main').innerText()).length > 200 && !(await meta('description')))
        shared.push(`${path}: no description`);
      // What stands in one row with the first picture of an archive comes with it.
      if (width > 1000 && path.endsWith('/'))
        shared.push(
          ...(await page.evaluate((path) => {
            const [first, ...others] = document.querySelectorAll<HTMLImageElement>('main img');
            const until = first?.getBoundingClientRect().bottom ?? 0;
            return others
              .filter((image) => image.loading === 'lazy' && image.getBoundingClientRect().top < Math.min(until, 800))
              .map((image) => `${path}: ${image.src} is late`);
          }, path)),
        );
    }
    expect(shared).toEqual([]);
    expect(shifted).toEqual([]);
    expect(unfit).toEqual([]);
  });

for (const width of [1280, 390])
  // A word may go to another line all the same; up to 0.1 is good (web.dev, Cumulative Layout Shift).
  test(`typefaces that come late move next to nothing, ${width} px wide`, async ({ page }) => {
    await page.setViewportSize({ width, height: 800 });
    const shifted: [string, number][] = [];
    for (const path of PAGES) {
      let painted = () => {};
      const first = new Promise<void>((done) => (painted = done));
      await page.route('**/*.woff2', async (route) => {
        await first;
        await route.continue();
      });
      await page.goto(path, { waitUntil: 'domcontentloaded' });
      // What stands in for them has been seen before any of them comes.
      await page.evaluate(
        () =>
          new Promise<void>((done) => {
            const seen = () => requestAnimationFrame(() => requestAnimationFrame(() => done()));
            if (performance.getEntriesByName('first-paint').length) seen();
            else new PerformanceObserver(seen).observe({ type: 'paint', buffered: true });
          }),
      );
      painted();
      const shift = await shiftOf(page);
      if (shift > 0.1) shifted.push([path, shift]);
      await page.unroute('**/*.woff2');
    }
    expect(shifted).toEqual([]);
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
