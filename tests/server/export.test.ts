import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { mkdir, readFile, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import Parser from 'rss-parser';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { zipFiles } from '../../src/lib/server/exchange/sources';
import { addBytes } from '../../src/lib/server/services/media';
import { recordTable } from '../../src/lib/server/services/lists';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { changeRecord, createRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { createTemplate } from '../../src/lib/server/services/templates';
import { exportSite, siteAddress, type Exported } from '../../src/lib/server/site/export/export';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { saveMenu } from '../support/services';

let drop: () => Promise<void>;
let folder: string;
const progress = () => {
  const abort = new AbortController();
  const seen: [number, number | undefined][] = [];
  return { abort, seen, signal: abort.signal, report: (done: number, total?: number) => void seen.push([done, total]) };
};
const base = "@font-face{font-family:'F';src:url(/_app/f.woff2)}body{margin:0}";
const wanted = (name: string, site?: string) => ({
  path: join(folder, name),
  base,
  site,
  other: (path: string) => Promise.resolve(path.endsWith('.woff2') ? { bytes: Buffer.from('x') } : undefined),
});

beforeAll(async () => {
  drop = await freshDatabase();
  folder = mkdtempSync(join(tmpdir(), 'plum-export-'));
  await saveModel();
  const picture = await sharp({ create: { width: 1000, height: 600, channels: 3, background: '#456' } })
    .png()
    .toBuffer();
  const { id } = await addBytes('a.png', picture, 'A picture');
  for (let i = 1; i <= 23; i++)
    await createRecord('house', {
      title: i === 5 ? '霧の小屋' : `House ${i}`,
      status: 'published',
      terms: [i % 2 ? 'peak' : 'south'],
      published: `2026-0${(i % 3) + 1}-05T00:00:00Z`,
      values: { photo: i % 2 ? id : null, story: 'See "/houses/" & <b>. href="/houses/house-1"' },
    });
  await createRecord('house', { title: 'A draft' });
  const menu = await saveMenu({
    name: 'Main',
    entries: [
      { id: 'a', leads: { to: 'front' }, below: [] },
      { id: 'b', leads: { to: 'type', typeId: 'house' }, below: [] },
      { id: 'c', leads: { to: 'search' }, below: [] },
    ],
  });
  await createTemplate({
    id: 'frame',
    name: 'Frame',
    purpose: 'frame',
    tree: treeFrom({
      kind: 'box',
      children: [{ kind: 'menu', props: { menu: menu.id } }, { kind: 'search' }, { kind: 'slot' }],
    }),
  });
  await createTemplate({
    id: 'house',
    name: 'House',
    purpose: 'record',
    typeId: 'house',
    tree: treeFrom({
      kind: 'box',
      children: [
        { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } },
        { kind: 'picture', slots: { source: boundTo('record', ['photo']) } },
        { kind: 'text', slots: { text: boundTo('record', ['story']) } },
        {
          kind: 'loop',
          id: 'more',
          name: 'More',
          props: {
            source: { from: 'query', typeIds: ['house'] },
            order: [{ steps: ['@title'], down: false }],
            perPage: 10,
          },
          children: [
            {
              kind: 'link',
              slots: { label: boundTo('loop:more', ['@title']), link: boundTo('loop:more', ['@address']) },
            },
          ],
        },
      ],
    }),
  });
  await release();
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await drop();
});

async function unpack(zip: string, into: string): Promise<string[]> {
  const names: string[] = [];
  for await (const { name, bytes } of zipFiles(zip, { each: 1e9, all: 1e9, wanted: () => true })) {
    const pieces: Uint8Array[] = [];
    for await (const piece of bytes) pieces.push(piece);
    const path = join(into, name);
    await mkdir(dirname(path), { recursive: true });
    await writeFile(path, Buffer.concat(pieces));
    names.push(name);
  }
  return names.sort();
}

/** A plain web server: files as they lie, and index.html for folders. */
async function serve(root: string): Promise<{ at: string; server: Server }> {
  const server = createServer((request, response) => {
    void (async () => {
      const path = decodeURIComponent(new URL(request.url ?? '/', 'http://x').pathname);
      const file = join(root, path.endsWith('/') ? `${path}index.html` : path);
      const known = await stat(file).catch(() => undefined);
      if (!known?.isFile()) return void response.writeHead(404).end();
      response.end(await readFile(file));
    })();
  });
  await new Promise<void>((go) => server.listen(0, '127.0.0.1', go));
  return { at: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, server };
}

/** Every link, picture and sheet that can be reached from a page, followed as a browser would. */
async function crawl(start: string): Promise<{ pages: string[]; broken: string[] }> {
  const seen = new Set<string>();
  const pages: string[] = [];
  const broken: string[] = [];
  const open: [string, string][] = [[start, '']];
  for (let next = open.pop(); next; next = open.pop()) {
    const [url, from] = next;
    const bare = url.replace(/#.*$/, '');
    if (seen.has(bare) || !bare.startsWith(new URL(start).origin)) continue;
    seen.add(bare);
    const answer = await fetch(bare);
    if (!answer.ok) {
      broken.push(`${bare} (from ${from})`);
      continue;
    }
    const text = await answer.text();
    if (bare.endsWith('/')) {
      pages.push(bare);
      for (const [, value = ''] of text.matchAll(/<[a-z][^<>]*?\s(?:href|src)="([^"]+)"/g)) {
        // What is written about an address is no address; attributes stand in tags.
        open.push([new URL(value.replaceAll('&amp;', '&'), bare).href, bare]);
      }
      for (const [, value = ''] of text.matchAll(/\ssrcset="([^"]+)"/g))
        for (const one of value.split(', ')) open.push([new URL(one.split(' ')[0] ?? '', bare).href, bare]);
    } else if (bare.endsWith('.css'))
      for (const [, value = ''] of text.matchAll(/url\(["']?([^"')]+)/g)) open.push([new URL(value, bare).href, bare]);
  }
  return { pages, broken };
}

describe('the site as a zip of files', () => {
  it('is whole under a sub-path of any plain server', async () => {
    const steps = progress();
    const made = (await exportSite(wanted('a.zip'), steps)) as Exported;
    expect(made.left).toEqual([
      'Without the address of where it will be there are no sitemap, no robots.txt and no canonical addresses.',
      'Filters and the search need a server that answers; they are left out of the files.',
    ]);
    expect(steps.seen.at(-1)).toEqual([made.pages, made.pages]);
    const names = await unpack(join(folder, 'a.zip'), join(folder, 'site/deep/er'));
    expect(names).toHaveLength(made.files);
    expect(names).toEqual(
      expect.arrayContaining([
        'index.html',
        '404.html',
        'houses/index.html',
        'houses/page/2/index.html',
        'houses/霧の小屋/index.html',
        'houses/feed.atom',
        'area/peak/index.html',
        'houses/2026/02/index.html',
        'media/1/640.webp',
        '_app/f.woff2',
      ]),
    );
    expect(names.some((name) => name.includes('draft') || name.startsWith('search'))).toBe(false);
    const { at, server } = await serve(join(folder, 'site'));
    try {
      const { pages, broken } = await crawl(`${at}/deep/er/`);
      expect(broken).toEqual([]);
      // Every page of the export is found by following links from the front page.
      expect(pages.length).toBeGreaterThan(23 + 10);
      const house = await (await fetch(`${at}/deep/er/houses/house-1/`)).text();
      expect(house).toContain('<a href="../../">Home</a>');
      expect(house).toContain('href=&quot;/houses/house-1');
      expect(house).not.toContain('<form');
      expect(house).not.toContain('rel="canonical"');
      expect(house).not.toMatch(/files\.invalid|property="og:/);
    } finally {
      server.close();
    }
  });

  it('knows where it will be, and says so in canonical addresses, feeds and the sitemap', async () => {
    const site = siteAddress('https://a.example/sub');
    expect(site).toBe('https://a.example/sub/');
    await exportSite(wanted('b.zip', site), progress());
    const into = join(folder, 'whole');
    await unpack(join(folder, 'b.zip'), into);
    const text = (name: string) => readFile(join(into, name), 'utf8');
    const page = await text('houses/house-1/index.html');
    expect(page).toContain('<link rel="canonical" href="https://a.example/sub/houses/house-1/">');
    expect(page).toContain(
      '<meta property="og:image" content="https://a.example/sub/media/1/1280.webp">'.replace(
        '1280',
        /og:image" content="[^"]*\/(\d+)\.webp/.exec(page)?.[1] ?? '1280',
      ),
    );
    const sitemap = new XMLParser({ isArray: (name) => name === 'url' }).parse(await text('sitemap.xml')) as {
      urlset: { url: { loc: string }[] };
    };
    const urls = sitemap.urlset.url.map(({ loc }) => loc);
    expect(urls).toContain('https://a.example/sub/');
    // Each is a file of the export, and none is there twice (sitemaps.org).
    expect(new Set(urls).size).toBe(urls.length);
    for (const url of urls)
      expect(
        (await stat(join(into, decodeURIComponent(url.slice('https://a.example/sub/'.length)), 'index.html'))).isFile(),
      ).toBe(true);
    expect(await text('robots.txt')).toContain('Sitemap: https://a.example/sub/sitemap.xml');
    const feed = await new Parser().parseString(await text('houses/feed.atom'));
    expect(feed.items.length).toBe(20);
    for (const { link } of feed.items) expect(link).toMatch(/^https:\/\/a\.example\/sub\/houses\/[^/]+\/$/);
    const json = JSON.parse(await text('houses/feed.json')) as {
      feed_url: string;
      items: { url: string; id: string }[];
    };
    expect(json.feed_url).toBe('https://a.example/sub/houses/feed.json');
    expect(json.items[0]?.id).toMatch(/^tag:a\.example,/);
    expect(await text('404.html')).toContain('href="https://a.example/sub/"');
  });

  it('refuses what is no address of a site', async () => {
    for (const given of ['nowhere', 'ftp://a.example/', 'https://a.example/?x=1', 'javascript:alert(1)'])
      expect((await refused(Promise.resolve().then(() => siteAddress(given)))).problems[0]?.at).toBe('origin');
    expect(siteAddress('  ')).toBeUndefined();
  });

  it('writes only what has changed the second time, and comes to the same over the first', async () => {
    const site = 'https://a.example/deep/';
    const [kept, whole] = [join(folder, 'kept'), join(folder, 'whole')];
    const first = (await exportSite(wanted('first.zip', site), progress()))!;
    await unpack(join(folder, 'first.zip'), kept);
    const [one, two] = (await recordTable('house')).records.filter(({ status }) => status === 'published');
    const slugs = [one!.slug, two!.slug];
    const changedOnly = async (name: string, before: Exported) => {
      const made = (await exportSite({ ...wanted(name, site), before: before.manifest }, progress()))!;
      return { made, names: await unpack(join(folder, name), kept) };
    };
    // Nothing was written: nothing is in it.
    const nothing = await changedOnly('none.zip', first);
    expect([nothing.names, nothing.made.written, nothing.made.files]).toEqual([[], 0, first.files]);
    await changeRecord(one!.id, { values: { story: '<p>Told anew.</p>' } });
    const second = await changedOnly('second.zip', first);
    // The page itself and lists that have its first words, but no page of another one.
    const pages = second.names.filter((name) => name.endsWith('index.html'));
    expect(pages).toContain(`houses/${slugs[0]}/index.html`);
    expect(pages.filter((name) => /^houses\/house-\d+\/index/.test(name))).toEqual([`houses/${slugs[0]}/index.html`]);
    await deleteRecords([two!.id]);
    const third = await changedOnly('third.zip', second.made);
    expect(readFileSync(join(kept, 'no-longer-there.txt'), 'utf8').split('\n')).toContain(
      `houses/${slugs[1]}/index.html`,
    );
    expect(third.made.left.join(' ')).toMatch(
      /files? of the export before (is|are) no longer of the site; no-longer-there\.txt names/,
    );
    for (const name of [
      ...readFileSync(join(kept, 'no-longer-there.txt'), 'utf8').split('\n').filter(Boolean),
      'no-longer-there.txt',
    ])
      rmSync(join(kept, name));
    await exportSite(wanted('all.zip', site), progress());
    const names = await unpack(join(folder, 'all.zip'), whole);
    const all = readdirSync(kept, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name).slice(kept.length + 1))
      .sort();
    expect(all).toEqual(names);
    for (const name of names)
      expect([name, readFileSync(join(kept, name)).equals(readFileSync(join(whole, name)))]).toEqual([name, true]);
  });

  it('leaves nothing behind when it is stopped, or when the disk is full', async () => {
    const steps = progress();
    const report = steps.report;
    steps.report = (done, total) => {
      report(done, total);
      if (done > 5) steps.abort.abort();
    };
    expect(await exportSite(wanted('c.zip'), steps)).toBeUndefined();
    expect(readdirSync(folder)).not.toContain('c.zip');
    // Linux answers every write to this with “no space left on device” (full(4)).
    const full = await refused(exportSite({ ...wanted('d.zip'), path: '/dev/full' }, progress()));
    expect([full.status, full.title]).toEqual([507, expect.stringContaining('no room left on the disk')]);
  });
});
