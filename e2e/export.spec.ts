import { createReadStream, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { mkdir, stat, writeFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, extname, join } from 'node:path';
import { expect } from '@playwright/test';
import { test } from './live';
import { HtmlValidate } from 'html-validate';
import { openPromise } from 'yauzl';
import { released, seriousFaults } from './support';

const TYPES: Record<string, string> = {
  '.html': 'text/html; charset=utf-8',
  '.css': 'text/css',
  '.webp': 'image/webp',
  '.svg': 'image/svg+xml',
  '.jpg': 'image/jpeg',
  '.woff2': 'font/woff2',
};

const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: { 'long-title': 'off', 'void-style': 'off', 'tel-non-breaking': 'off' },
});

test('the exported site is sound: every page valid and accessible, every link and picture there, in a folder of any server', async ({
  page,
  request,
}) => {
  test.setTimeout(500_000);
  await released(request);
  await page.goto('/studio/release');
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(page.getByRole('link', { name: 'Take the zip home' })).toBeVisible({ timeout: 240_000 });
  await expect(page.getByText('Filters and the search need a server that answers')).toBeVisible();
  await expect(page.getByText('Something leads to')).toHaveCount(0);
  // The next one may leave out what is as it was; nothing was written since.
  await page.getByLabel(/^Only files that changed since/).check();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  const told = page.getByText(/:\s+none of \d+ files differs/);
  await expect(told).toBeVisible({ timeout: 240_000 });
  const files = Number(/none of (\d+) files/.exec((await told.textContent()) ?? '')?.[1]);
  await page.getByLabel(/^Only files that changed since/).uncheck();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(page.getByText(/:\s+\d+ pages, /)).toBeVisible({ timeout: 240_000 });
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Take the zip home' }).click(),
  ]);
  const folder = mkdtempSync(join(tmpdir(), 'plum-site-'));
  const names: string[] = [];
  const zip = await openPromise(await download.path(), { lazyEntries: true });
  for await (const entry of zip.eachEntry()) {
    const path = join(folder, 'sub/path', entry.fileName);
    await mkdir(dirname(path), { recursive: true });
    const pieces: Buffer[] = [];
    for await (const piece of await zip.openReadStreamPromise(entry)) pieces.push(piece as Buffer);
    await writeFile(path, Buffer.concat(pieces));
    names.push(entry.fileName);
  }
  // As many as the screen said there are.
  expect(names.length).toBe(files);
  // A plain server: files as they lie, and index.html for folders.
  const server = createServer((asked, answer) => {
    const path = decodeURIComponent(new URL(asked.url ?? '/', 'http://x').pathname);
    const file = join(folder, path.endsWith('/') ? `${path}index.html` : path);
    void stat(file).then(
      (known) => {
        if (!known.isFile()) return void answer.writeHead(404).end();
        answer.setHeader('content-type', TYPES[extname(file)] ?? 'application/octet-stream');
        createReadStream(file).pipe(answer);
      },
      () => void answer.writeHead(404).end(),
    );
  });
  await new Promise<void>((go) => server.listen(0, '127.0.0.1', go));
  const at = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  try {
    const pages = names.filter((name) => name.endsWith('index.html')).sort();
    expect(pages.length).toBeGreaterThan(130);
    const faults: string[] = [];
    const linked = new Set<string>();
    for (const name of pages) {
      const html = readFileSync(join(folder, 'sub/path', name), 'utf8');
      const report = await validator.validateString(html);
      for (const { messages } of report.results)
        for (const one of messages) faults.push(`${name}: ${one.ruleId}: ${one.message}`);
      const url = `${at}/sub/path/${name
        .replace(/index\.html$/, '')
        .split('/')
        .map(encodeURIComponent)
        .join('/')}`;
      for (const [, value = ''] of html.matchAll(/<[a-z][^<>]*?\s(?:href|src)="([^"]+)"/g))
        linked.add(new URL(value.replaceAll('&amp;', '&'), url).href.replace(/#.*$/, ''));
      for (const [, value = ''] of html.matchAll(/\ssrcset="([^"]+)"/g))
        for (const one of value.split(', ')) linked.add(new URL(one.split(' ')[0] ?? '', url).href);
    }
    expect(faults).toEqual([]);
    const broken: string[] = [];
    for (const url of linked) if (url.startsWith(at) && !(await fetch(url, { method: 'HEAD' })).ok) broken.push(url);
    expect(broken).toEqual([]);
    // Every page but those of dates, which nothing need lead to, is found by following links.
    const found = new Set([...linked].map((url) => decodeURIComponent(url.slice(`${at}/sub/path/`.length))));
    const unfound = pages
      .map((name) => name.replace(/index\.html$/, ''))
      .filter((name) => !found.has(name) && !/\/\d{4}\//.test(name));
    expect(unfound.filter((name) => !/^(pages|facility|by)\//.test(name))).toEqual([]);

    const inaccessible: string[] = [];
    const left = [...pages];
    const look = async (own: typeof page) => {
      for (let name = left.pop(); name !== undefined; name = left.pop()) {
        await own.goto(
          `${at}/sub/path/${name
            .replace(/index\.html$/, '')
            .split('/')
            .map(encodeURIComponent)
            .join('/')}`,
        );
        for (const fault of await seriousFaults(own)) inaccessible.push(`${name}: ${fault}`);
      }
    };
    await Promise.all([look(page), page.context().newPage().then(look)]);
    expect(inaccessible).toEqual([]);
  } finally {
    server.close();
    rmSync(folder, { recursive: true, force: true });
  }
});
