import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BROWSER } from './lib/browser.mjs';
import { startDatabase, takeFolder } from './lib/mariadb.mjs';
import { answered, freePort } from './lib/ports.mjs';
import { comeIn } from './lib/come-in.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root, runTypeScript } from './lib/setup.mjs';

ensureDebian('database', 'browser');
ensurePackages();
await ensureBuild();
const { chromium } = await import('@playwright/test');

/** @typedef {import('@playwright/test').Page} Page */
/** @param {Page} page @param {string} words */
const row = (page, words) => page.getByRole('treeitem').filter({ hasText: words }).first();

/** Waits until every frame in sight has drawn its page. @param {import('@playwright/test').Page} page */
async function framesDrawn(page) {
  await page.locator('iframe').first().waitFor();
  await page.waitForFunction(() =>
    [...document.querySelectorAll('iframe')]
      .filter((frame) => frame.getBoundingClientRect().top < innerHeight)
      .every(
        (frame) => frame.contentDocument?.readyState === 'complete' && frame.contentDocument.body?.innerText.trim(),
      ),
  );
}

const ALPINE = {
  group: 'any',
  rules: ['alpine', 'hard'].map((operand) => ({
    test: 'choice.is',
    path: { from: 'loop:table', steps: ['trail_grade'] },
    operand,
  })),
};
/** One picture of each main view. @type {{ name: string, path: string, width?: number, height?: number, before?: (page: Page) => Promise<unknown>, nobody?: boolean }[]} */
const VIEWS = [
  { name: 'desk', path: '/studio' },
  { name: 'people', path: '/studio/people' },
  {
    name: 'records',
    path: `/studio/content/trail?sort=-trail_length&filter=${encodeURIComponent(JSON.stringify(ALPINE))}`,
    before: async (page) => {
      await page.getByRole('button', { name: 'Filter' }).click();
      await page.getByLabel('Choose all on this page').check();
    },
  },
  { name: 'fields', path: '/studio/content/hut/fields' },
  { name: 'workbench', path: '/studio/workbench/hut-page', before: (page) => row(page, 'Telephone').click() },
  {
    name: 'workbench-looks',
    path: '/studio/workbench/hut-page',
    before: async (page) => {
      await row(page, 'Book a bunk').click();
      await page.getByRole('tab', { name: 'Looks' }).click();
      await page.getByLabel('Width of the page on the canvas').selectOption('390');
    },
  },
  {
    name: 'proof-sheet',
    path: '/studio/workbench/hut-page',
    before: async (page) => {
      await page.getByRole('button', { name: 'Proof sheet' }).click();
      await framesDrawn(page);
    },
  },
  {
    name: 'coverage',
    path: '/studio/workbench/hut-page',
    before: async (page) => {
      await page.getByRole('button', { name: 'Coverage', exact: true }).click();
      await page.locator('[data-section]', { hasText: 'Warning' }).click();
      await page.locator('[data-total]').waitFor();
    },
  },
  {
    name: 'why',
    path: '/studio/site/huts/windle-pass-hut',
    before: async (page) => {
      await page
        .getByRole('complementary', { name: 'Why' })
        .getByRole('button', { name: 'Seen from the door' })
        .click();
    },
  },
  { name: 'serves', path: '/studio/serves?address=/huts/windle-pass-hut' },
  { name: 'menus', path: '/studio/menus' },
  { name: 'theme', path: '/studio/theme' },
  {
    name: 'workbench-rule',
    path: '/studio/workbench/hut-page',
    before: async (page) => {
      await row(page, 'Bring your own bedding').click();
      await page.getByRole('tab', { name: 'Appears' }).click();
      await page.locator('[data-total]').waitFor();
    },
  },
  {
    name: 'workbench-archive',
    path: '/studio/workbench/hut-list',
    before: async (page) => {
      await page
        .getByRole('treeitem')
        .filter({ has: page.locator('[title="Repeats"]') })
        .first()
        .click();
      await page.getByRole('tab', { name: 'Repeats' }).click();
    },
  },
  { name: 'site-front', path: '/' },
  { name: 'sign-in', path: '/studio/sign-in', nobody: true },
  { name: 'site-record', path: '/huts/windle-pass-hut' },
  { name: 'site-narrow', path: '/huts/windle-pass-hut', width: 390 },
  {
    // Last, as it changes something.
    name: 'release',
    path: '/studio/release',
    before: async (page) => {
      const address = new URL('/api/v1/templates/warden-page', page.url()).href;
      const template = await (await page.request.get(address)).json();
      const { root, elements } = template.tree;
      elements.note = {
        id: 'note',
        kind: 'text',
        props: { size: 'l', tone: 'strong' },
        slots: { text: { fixed: 'Ask at the hut: every warden knows tomorrow’s weather.' } },
        children: [],
      };
      elements[root].children.splice(1, 0, 'note');
      await page.request.put(address, { data: template, headers: { 'if-match': '*' } });
      await page.reload();
      await page.locator('[data-affected]').first().waitFor();
      await framesDrawn(page);
    },
  },
];

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-pictures-'));
const wanted = process.argv.slice(2);
await takeFolder(folder);
const db = await startDatabase(folder, { quick: true });
const port = String(await freePort());
const env = {
  PLUM_DATABASE: db.url,
  PLUM_MEDIA: join(folder, 'media'),
  PLUM_HTTP_HOST: '127.0.0.1',
  PLUM_HTTP_PORT: port,
  PLUM_HTTP_ORIGIN: `http://localhost:${port}`,
  PLUM_DEMO: '1',
};
try {
  await runTypeScript('demo/seed.ts', ['--demo'], env);
  const app = spawn(process.execPath, [join(root, 'scripts', 'lib', 'serve.mjs')], {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  await answered(env.PLUM_HTTP_ORIGIN, app);
  const browser = await chromium.launch(BROWSER);
  const context = await browser.newContext({ reducedMotion: 'reduce' });
  const session = await comeIn(env.PLUM_HTTP_ORIGIN, 'orla@larkfell.example', 'soup at seven');
  await context.addCookies([{ ...session, url: env.PLUM_HTTP_ORIGIN }]);
  const out = join(root, 'docs', 'screenshots');
  mkdirSync(out, { recursive: true });
  for (const { name, path, width = 1280, height = 800, before, nobody } of VIEWS) {
    if (wanted.length && !wanted.includes(name)) continue;
    const page = await (nobody ? await browser.newContext({ reducedMotion: 'reduce' }) : context).newPage();
    await page.setViewportSize({ width, height });
    await page.goto(env.PLUM_HTTP_ORIGIN + path, { waitUntil: 'networkidle' });
    await before?.(page);
    await page.mouse.move(1279, 799);
    await page.evaluate(() => Promise.all(document.getAnimations().map((one) => one.finished.catch(() => {}))));
    await page.waitForLoadState('networkidle');
    await page.screenshot({ path: join(out, `${name}.png`) });
    await page.close();
    console.log(`docs/screenshots/${name}.png`);
  }
  await browser.close();
  app.kill('SIGTERM');
} finally {
  await db.stop();
  rmSync(folder, { recursive: true, force: true });
}
