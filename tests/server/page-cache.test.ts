import fc from 'fast-check';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import { createServer, request, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { DRAFT_COOKIE } from '../../src/lib/server/services/shares';
import { versionMoved } from '../../src/lib/server/database/last-version';
import {
  contentVersion,
  freshVersion,
  letItBeSeen,
  versionKnown,
  versionSource,
} from '../../src/lib/server/database/version';
import { inTransaction } from '../../src/lib/server/database/connect';
import { touchRecords } from '../../src/lib/server/database/touched';
import { followed } from '../../src/lib/server/queries/following';
import { Reads } from '../../src/lib/server/queries/reads';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { changeRecord, createRecord } from '../../src/lib/server/services/records';
import { clearResults } from '../../src/lib/server/queries/read-cache';
import { createTemplate } from '../../src/lib/server/services/templates';
import { readQuestion } from '../../src/lib/core/loops/visitors';
import { answerFromCache, clearPages, cachePage } from '../../src/lib/server/site/page-cache';
import { answer } from '../../src/lib/server/site/respond';
import { etagOf } from '../../src/lib/server/site/send';
import { answerVisitor } from '../../src/lib/server/site/visitors';
import { startApp, type App } from '../support/app';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { ownerCookie } from '../support/owner';
import { changeRecords } from '../support/services';
import { useServer } from '../support/server';

/** Asks as a browser does that unpacks nothing by itself. */
const get = (address: string, headers: Record<string, string> = {}, method = 'GET') =>
  new Promise<{ status: number; headers: IncomingMessage['headers']; body: Buffer }>((done, fail) => {
    request(address, { headers, method }, (response) => {
      const pieces: Buffer[] = [];
      response.on('data', (piece: Buffer) => pieces.push(piece));
      response.on('end', () =>
        done({ status: response.statusCode ?? 0, headers: response.headers, body: Buffer.concat(pieces) }),
      );
    })
      .on('error', fail)
      .end();
  });

/** Where visitors find the site, whichever process answers. */
const SITE = 'http://huts.example';

describe('pages that are kept', () => {
  const apps: App[] = [];
  let drop: () => Promise<void>;
  let cookie: string;
  const ask = async (app: number, method: string, path: string, body?: unknown) => {
    const answered = await fetch(`${apps[app]!.origin}/api/v1${path}`, {
      method,
      headers: { cookie, 'if-match': '*', ...(body !== undefined && { 'content-type': 'application/json' }) },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const text = await answered.text();
    return { status: answered.status, body: (text ? JSON.parse(text) : {}) as Record<string, unknown> };
  };
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
    cookie = await ownerCookie();
    await createTemplate({
      id: 'house',
      name: 'House',
      purpose: 'record',
      typeId: 'house',
      tree: treeFrom({
        kind: 'box',
        children: [
          { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } },
          { kind: 'text', slots: { text: boundTo('record', ['height'], { before: 'Height ' }) } },
          {
            kind: 'loop',
            id: 'ways',
            props: { source: { from: 'values', path: { from: 'record', steps: ['ways'] } } },
            children: [{ kind: 'text', slots: { text: boundTo('loop:ways', ['@title']) } }],
          },
          {
            kind: 'loop',
            id: 'others',
            name: 'Others',
            props: {
              source: { from: 'query', typeIds: ['house'] },
              order: [{ steps: ['height'], down: true }],
              limit: 5,
              perPage: 2,
            },
            children: [{ kind: 'text', slots: { text: boundTo('loop:others', ['@title']) } }],
          },
        ],
      }),
    });
    apps.push(...(await Promise.all([0, 1].map(() => startApp({ PLUM_HTTP_ORIGIN: SITE })))));
    expect((await ask(0, 'POST', '/releases', { note: 'The first' })).status).toBe(201);
  });
  afterAll(async () => {
    for (const { child } of apps) child.kill('SIGKILL');
    await drop();
  });

  /** What some pages listen to and others do not, and what none does. */
  const QUESTIONS = ['', '', '?from=letter', '?others-page=2', '?from=letter&others-page=2', '?more-page=2&x=1'];
  /** A page as it is drawn where nothing is kept; style sheet and typefaces are of the built application. */
  const plain = (html: string) =>
    html.replace(/\/styles\/r(\d+)-[0-9a-f]{10}/g, '/styles/r$1').replace(/<link rel="preload"[^\n]*\n/g, '');
  async function drawnAnew(address: string) {
    clearResults();
    versionMoved();
    const [path = '', question = ''] = address.split('?');
    const asked = readQuestion(new URLSearchParams(question));
    const { status, html, to } = await answer(decodeURI(path), { base: '', origin: SITE }, asked);
    return [status, to ?? plain(html)];
  }
  async function asVisitor(app: number, path: string) {
    const answered = await fetch(apps[app]!.origin + path, { redirect: 'manual' });
    return [answered.status, answered.headers.get('location') ?? plain(await answered.text())];
  }

  it('are never stale, whatever is written, by either of two processes', async () => {
    const houses: number[] = [];
    const ways: number[] = [];
    const releases = [1];
    const said: string[] = [];
    const writing = fc.record({
      what: fc.constantFrom(
        ...['new house', 'new way', 'change', 'change', 'rename', 'unpublish', 'link', 'delete', 'way'],
        ...['site', 'redirect', 'template', 'release', 'go back', 'nothing'],
      ),
      by: fc.nat(1),
      n: fc.nat(1000),
      looks: fc.array(fc.tuple(fc.nat(1), fc.nat(1000)), { minLength: 3, maxLength: 5 }),
    });
    const one = (list: number[], n: number) => list[n % list.length];
    const write = async ({ what, by, n }: { what: string; by: number; n: number }) => {
      const house = one(houses, n);
      const way = one(ways, n);
      const record = (id: number, change: object) => ask(by, 'PATCH', `/records/${id}`, change);
      switch (what) {
        case 'new house':
        case 'new way': {
          const typeId = what.slice(4);
          const { body } = await ask(by, 'POST', '/records', {
            typeId,
            title: `${typeId} ${n}`,
            status: 'published',
            values: typeId === 'house' ? { height: n } : { km: n },
          });
          (typeId === 'house' ? houses : ways).push(body.id as number);
          return 201;
        }
        case 'change':
          return house && (await record(house, { values: { height: n } })).status;
        case 'rename':
          return house && (await record(house, { title: `House ${n}`, slug: `house-${n}` })).status;
        case 'unpublish':
          return house && (await record(house, { status: n % 2 ? 'draft' : 'published' })).status;
        case 'link':
          return house && way && (await record(house, { values: { ways: [way] } })).status;
        case 'way':
          return way && (await record(way, { title: `Way ${n}` })).status;
        case 'delete':
          return house && n % 3 === 0 ? (await ask(by, 'DELETE', `/records/${house}`)).status : 0;
        case 'site':
          return (await ask(by, 'PUT', '/site', { ...(await ask(by, 'GET', '/site')).body, name: `Site ${n}` })).status;
        case 'redirect':
          return (await ask(by, 'POST', '/redirects', [{ path: `/old/${n % 5}`, target: '/houses/' }])).status;
        case 'template': {
          const { body } = await ask(by, 'GET', '/templates/house');
          const tree = structuredClone(body.tree) as {
            elements: Record<string, { name?: string; slots: Record<string, object> }>;
          };
          // By another name the list listens to another question.
          tree.elements.others!.name = n % 2 ? 'More' : 'Others';
          const [text] = Object.values(tree.elements)
            .filter(({ slots }) => 'text' in slots)
            .slice(1);
          text!.slots.text = boundTo('record', ['height'], { before: `Height ${n}: ` });
          return (await ask(by, 'PUT', '/templates/house', { ...body, tree })).status;
        }
        case 'release': {
          const { status, body } = await ask(by, 'POST', '/releases', { note: `After ${n}` });
          if (status === 201) releases.push(body.id as number);
          return status;
        }
        case 'go back':
          return (await ask(by, 'POST', `/releases/${one(releases, n)!}/show`)).status;
        default:
          return 0;
      }
    };
    for (const step of fc.sample(writing, { numRuns: 140, seed: 20261128 })) {
      said.push(`${step.what} ${(await write(step)) ?? 0}`);
      const paths = ['/houses/', '/', '/old/3', '/ways/'];
      for (const [base, ids] of [
        ['houses', houses],
        ['ways', ways],
      ] as const)
        for (const id of ids.slice(-4)) {
          const { body } = await ask(0, 'GET', `/records/${id}`);
          paths.push(`/${base}/${(body.slug as string | undefined) ?? 'gone'}`);
        }
      const looks = step.looks.map(
        ([app, n]) => [app, paths[n % paths.length]! + QUESTIONS[n % QUESTIONS.length]!] as const,
      );
      // Pages of another design may listen to something else.
      if (step.what === 'release' || step.what === 'go back')
        looks.push(...QUESTIONS.map((question) => [step.by, paths.at(houses.length ? 4 : 0)! + question] as const));
      for (const [app, path] of looks) {
        const seen = await asVisitor(app, path);
        expect([said.at(-1), path, seen]).toEqual([said.at(-1), path, await drawnAnew(path)]);
      }
    }
    // Nothing holds for want of cases.
    const did = (what: string) => said.filter((line) => line.startsWith(what) && / 20[01]$/.test(line)).length;
    expect(
      [
        'new house',
        'change',
        'rename',
        'unpublish',
        'link',
        'way',
        'site',
        'redirect',
        'template',
        'release',
        'go back',
      ].filter((what) => !did(what)),
    ).toEqual([]);
  });

  it('are drawn before the router is asked as the router has them drawn, whatever is asked', async () => {
    const created = await ask(0, 'POST', '/records', { typeId: 'house', title: 'Før & after', status: 'published' });
    const own = `/houses/${encodeURIComponent(created.body.slug as string)}`;
    const escaped = (path: string) => path.replace(/[a-z]/g, (sign) => `%${sign.charCodeAt(0).toString(16)}`);
    const addresses = [
      own,
      `${own}/`,
      own.toUpperCase(),
      escaped(own),
      `${own}?n=1&n=2`,
      `${own}?q=%zz`,
      `${own}?a=`,
      `${own}?a=&b=1`,
      '/',
      '/?q=',
      '/houses',
      '/houses/',
      '/houses/page/2',
      '/houses/feed.json',
      '/search/?q=after',
      '/nothing/here',
      `/${own}`,
      `${own}//`,
      '/houses/../ways',
      '/houses/%2e%2e/ways',
      '/houses/.%2E/ways',
      '/%zz',
      '/houses/%ff',
      '/%00',
      '/studio',
      '/%73tudio',
      '/studio%2Fx',
      '/api/v1/records',
      '/healthz',
      '/styles/none',
      '/typefaces/none',
      '/by/x/',
      '/robots.txt',
      '/sitemap.xml',
      '/_app/none',
      '/favicon.svg',
      `/houses/${'x'.repeat(700)}`,
      '/houses/a%20b',
      '/houses/a;b=c',
    ];
    /** What both say; the router sends in pieces what is drawn. */
    const told = async (path: string, method: string, headers: Record<string, string>) => {
      const { status, headers: said, body } = await get(apps[1]!.origin + path, headers, method);
      // What is another each time: numbers of requests and nonces, and what is made from them.
      const text = JSON.stringify([body.toString(), said]).replace(/[\da-f]{8}-[\da-f-]{27}|nonce[-=][^ >']*/g, '');
      const [plainBody, plainSaid] = JSON.parse(text) as [string, Record<string, string>];
      for (const name of ['date', 'content-length', 'transfer-encoding']) delete plainSaid[name];
      if (said['content-security-policy']?.includes('nonce-')) delete plainSaid.etag;
      return { status, body: plainBody, ...plainSaid };
    };
    // A cookie that names a share which does not hold leaves a request to the router, and shows what everybody sees.
    const byRouter = { cookie: `${DRAFT_COOKIE}=none` };
    let drawnHere = 0;
    for (const [n, path] of addresses.entries()) {
      const headers: Record<string, string>[] = [{}, { 'if-none-match': '*' }, { host: 'evil.example' }];
      for (const more of headers)
        for (const method of ['GET', 'HEAD', 'OPTIONS']) {
          const [here, router] = [await told(path, method, more), await told(path, method, { ...more, ...byRouter })];
          expect([path, method, more, here]).toEqual([path, method, more, router]);
        }
      if ((await get(`${apps[1]!.origin}${path}${path.includes('?') ? '&' : '?'}n=${n}`)).headers['content-length'])
        drawnHere++;
    }
    await expect.poll(() => apps[1]!.said()).toContain(`"method":"HEAD","path":"${own}","status":200`);
    // The router names no length of what it has drawn.
    expect(drawnHere).toBeGreaterThan(12);
    // Whoever asks for the same page while it is drawn, or waits for its turn behind many, is answered once.
    const many = Array.from({ length: 400 }, (_, n) => `${apps[1]!.origin}${own}?many=${n % 4 ? n % 40 : n}`);
    const all = await Promise.all(many.map((address) => get(address)));
    expect(new Set(all.map(({ status, body }) => `${status} ${body.length}`)).size).toBe(1);
    expect((await get(`${apps[1]!.origin}/healthz`)).status).toBe(200);
    expect(apps[1]!.said()).not.toMatch(/ERR_HTTP_HEADERS_SENT|"level":"(error|fatal)"/);
  });

  it('say what was written to the very next who asks any process, while others ask all the time', async () => {
    const { body } = await ask(0, 'POST', '/records', { typeId: 'house', title: 'Busy', status: 'published' });
    const path = `/houses/${body.slug as string}`;
    let over = false;
    const visitors = apps.flatMap(({ origin }) =>
      Array.from({ length: 3 }, async () => {
        while (!over) await get(origin + path);
      }),
    );
    const late: string[] = [];
    for (let n = 0; n < 60; n++) {
      await ask(n % 2, 'PATCH', `/records/${body.id as number}`, { values: { height: 5000 + n } });
      const seen = await Promise.all(apps.map(async ({ origin }) => (await get(origin + path)).body.toString()));
      for (const [app, html] of seen.entries())
        if (!html.includes(new Intl.NumberFormat('en-GB').format(5000 + n))) late.push(`${n} by ${app}`);
    }
    over = true;
    await Promise.all(visitors);
    expect(late).toEqual([]);
  });

  it('may be kept by a cache that visitors share, which asks each time whether they are still so', async () => {
    const { body } = await ask(0, 'POST', '/records', { typeId: 'house', title: 'Shared', status: 'published' });
    const path = `/houses/${body.slug as string}`;
    // A cache as RFC 9111 has it, in front of both processes in turn: kept with its tag, and asked for with it (4.3.1).
    const cached = new Map<string, { etag: string; html: string }>();
    const from = { cache: 0, site: 0 };
    let turn = 0;
    const throughCache = async (): Promise<string> => {
      const known = cached.get(path);
      const { origin } = apps[turn++ % 2]!;
      const answered = await get(origin + path, {
        host: 'huts.example',
        ...(known && { 'if-none-match': known.etag }),
      });
      if (answered.status === 304 && known) {
        from.cache++;
        return known.html;
      }
      expect(answered.headers['cache-control']).toBe('public, no-cache');
      from.site++;
      const html = answered.body.toString();
      cached.set(path, { etag: answered.headers.etag!, html });
      return html;
    };
    for (let n = 0; n < 5; n++) {
      await ask(n % 2, 'PATCH', `/records/${body.id as number}`, { values: { height: 7000 + n } });
      for (let i = 0; i < 4; i++) expect(await throughCache()).toContain(`7,00${n}`);
    }
    expect(from).toEqual({ cache: 15, site: 5 });
  });

  it('are forgotten by a cache that answers without asking, as soon as it is told what has changed', async () => {
    // A small cache that visitors share: s-maxage (RFC 9111, 5.2.2.10), and answers by their keys until it is told of one.
    const cached = new Map<string, { keys: string[]; html: string }>();
    const from = { cache: 0, site: 0 };
    let told = 0;
    let behind = '';
    const cache = createServer((asked, response) => {
      if (asked.method === 'PURGE') {
        told++;
        const gone = new Set(String(asked.headers['surrogate-key']).split(' '));
        for (const [path, { keys }] of cached) if (keys.some((key) => gone.has(key))) cached.delete(path);
        response.writeHead(204).end();
        return;
      }
      const path = asked.url!;
      const known = cached.get(path);
      if (known) {
        from.cache++;
        response.end(known.html);
        return;
      }
      from.site++;
      void get(behind + path, { host: 'huts.example' }).then(({ headers, body }) => {
        expect(headers['cache-control']).toBe('public, max-age=0, s-maxage=600, stale-while-revalidate=60');
        cached.set(path, { keys: String(headers['surrogate-key']).split(' '), html: body.toString() });
        response.end(body);
      });
    }).listen(0, '127.0.0.1');
    await new Promise((done) => cache.once('listening', done));
    const address = `http://127.0.0.1:${(cache.address() as AddressInfo).port}`;
    const settings = { PLUM_HTTP_ORIGIN: SITE, PLUM_SHARED_SECONDS: '600', PLUM_SHARED_CACHES: address };
    const pair = await Promise.all([0, 1].map(() => startApp(settings)));
    apps.push(...pair);
    try {
      behind = pair[0]!.origin;
      const create = async (typeId: string, title: string) => {
        const { body } = await ask(2, 'POST', '/records', { typeId, title, status: 'published' });
        return { id: body.id as number, path: `/${typeId}s/${body.slug as string}` };
      };
      const [one, quiet, way] = [
        await create('house', 'Told'),
        await create('way', 'Quiet'),
        await create('way', 'Way'),
      ];
      const seen = async (path: string) => (await get(address + path)).body.toString();
      // A process that has just begun does not know what was told before: its first write takes everything.
      await ask(3, 'PATCH', `/records/${one.id}`, { title: 'Told first' });
      for (const { path } of [one, quiet, way]) await seen(path);
      Object.assign(from, { cache: 0, site: 0 });
      for (let n = 0; n < 6; n++) {
        // By either process: the one that visitors' pages come from, and the other one.
        await ask(2 + (n % 2), 'PATCH', `/records/${one.id}`, { values: { height: 8000 + n } });
        for (let i = 0; i < 3; i++) expect(await seen(one.path)).toContain(`8,00${n}`);
        expect(await seen(quiet.path)).toContain('Quiet');
      }
      // What was not written is answered from the cache all along; feeds go with any record.
      expect(from).toEqual({ cache: 18, site: 6 });
      await seen('/houses/feed.json');
      await ask(2, 'PATCH', `/records/${one.id}`, { title: 'Told anew' });
      expect(await seen('/houses/feed.json')).toContain('Told anew');
      await ask(3, 'PUT', '/site', { ...(await ask(2, 'GET', '/site')).body, name: 'Another name' });
      for (const { path } of [quiet, way]) expect(await seen(path)).toContain('Another name');
      // A cache that is away stops nobody.
      const before = told;
      cache.close();
      cache.closeAllConnections();
      expect((await ask(2, 'PATCH', `/records/${one.id}`, { title: 'Told again' })).status).toBe(200);
      expect(before).toBeGreaterThan(7);
    } finally {
      cache.close();
    }
  });

  it('are answered without being drawn, packed as is asked, and known by their tags', async () => {
    const page = `${apps[0]!.origin}/houses/`;
    const first = await get(page);
    await get(page);
    // Packed behind, once it has been asked for again.
    await vi.waitFor(async () =>
      expect((await get(page, { 'accept-encoding': 'br' })).headers['content-encoding']).toBe('br'),
    );
    const br = await get(page, { 'accept-encoding': 'gzip, br;q=0.9' });
    const zip = await get(page, { 'accept-encoding': 'gzip, br;q=0' });
    const none = await get(page, { 'accept-encoding': 'identity' });
    expect([br, zip, none].map(({ headers }) => headers['content-encoding'])).toEqual(['br', 'gzip', undefined]);
    expect(brotliDecompressSync(br.body).equals(first.body)).toBe(true);
    expect(gunzipSync(zip.body).equals(first.body)).toBe(true);
    expect(none.body.equals(first.body)).toBe(true);
    const tags = [br, zip, none].map(({ headers }) => headers.etag!);
    expect(new Set(tags).size).toBe(3);
    for (const tag of tags) {
      const known = await get(page, { 'if-none-match': `"x", W/${tag}`, 'accept-encoding': 'br' });
      expect([known.status, known.body.length]).toEqual([304, 0]);
    }
    const head = await get(page, { 'accept-encoding': 'br' }, 'HEAD');
    expect([head.status, head.body.length, head.headers['content-length']]).toEqual([200, 0, String(br.body.length)]);
    for (const name of ['content-security-policy', 'x-content-type-options', 'referrer-policy', 'content-type'])
      expect([name, br.headers[name]]).toEqual([name, (await get(`${page}?other=1`)).headers[name]]);
    expect(br.headers.vary).toBe('accept-encoding');
  });
});

describe('what state the content is in', () => {
  afterEach(() => {
    vi.useRealTimers();
    versionSource().read = contentVersion;
    versionMoved();
  });

  it('is gone by no longer than whoever writes waits, however long the database takes to answer', async () => {
    vi.useFakeTimers({ toFake: ['performance', 'setTimeout'] });
    let state = 1;
    let asked = 0;
    let slow = 0;
    // The answer is that of the moment in which it was asked, the worst there can be.
    versionSource().read = () => {
      asked++;
      const then = String(state);
      return slow ? new Promise((done) => setTimeout(() => done(then), slow)) : Promise.resolve(then);
    };
    versionMoved();
    expect(await freshVersion()).toBe('1');
    await vi.advanceTimersByTimeAsync(4);
    expect([versionKnown(), asked]).toEqual(['1', 1]);
    // Another process writes, and says so once it has waited.
    state = 2;
    slow = 300;
    await vi.advanceTimersByTimeAsync(2);
    expect([versionKnown(), asked]).toEqual(['1', 2]);
    state = 3;
    const waited = letItBeSeen();
    await vi.advanceTimersByTimeAsync(11);
    await waited;
    expect(versionKnown()).toBeUndefined();
    // The question that is on its way was put before that; its answer is not taken.
    const after = freshVersion();
    await vi.advanceTimersByTimeAsync(700);
    expect(await after).toBe('3');
    // What is written here is known here at once.
    slow = 0;
    await freshVersion();
    state = 4;
    versionMoved();
    expect(await freshVersion()).toBe('4');
  });
});

describe('a page that is kept', () => {
  let server: Server | undefined;
  let drop: () => Promise<void>;
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
  });
  afterAll(async () => {
    vi.useRealTimers();
    await drop();
  });
  afterEach(() => {
    server?.close();
    clearPages();
    vi.useRealTimers();
    versionSource().read = contentVersion;
    versionMoved();
  });
  const serve = async (): Promise<string> => {
    server = createServer((asked, response) => {
      void Promise.resolve(answerFromCache(asked, response)).then((done) => done || response.writeHead(204).end());
    }).listen(0, '127.0.0.1');
    await new Promise((done) => server!.once('listening', done));
    return `127.0.0.1:${(server.address() as AddressInfo).port}`;
  };
  const readsOf = (...made: (number | string)[]): Reads => {
    const reads = new Reads();
    for (const one of made)
      if (typeof one === 'number') reads.record(one);
      else reads.type(one);
    return reads;
  };
  const keep = async (
    host: string,
    html: string,
    more: { path?: string; version?: string; of?: Reads; hears?: string[] } = {},
  ) =>
    cachePage(
      { address: more.path ?? '/a', header: (name) => (name === 'host' ? host : undefined) },
      {
        html,
        etag: etagOf(html),
        version: more.version ?? (await followed()),
        headers: { 'content-type': 'text/html' },
        reads: more.of ?? new Reads(),
        timeZone: 'Europe/London',
        hears: new Set(more.hears),
      },
    );
  const make = (typeId: string, title: string) => createRecord(typeId, { title, status: 'published', values: {} });

  it('goes with what it was made from, and with nothing else', async () => {
    const host = await serve();
    const [house, other, way] = [await make('house', 'One'), await make('house', 'Other'), await make('way', 'Way')];
    const pages: Record<string, Reads> = {
      '/house': readsOf(house.id),
      '/house-and-way': readsOf(house.id, way.id),
      '/houses': readsOf('house'),
      '/ways': readsOf('way'),
      '/all': readsOf('house', 'way'),
      '/none': readsOf(),
    };
    const there = async () => {
      const out: string[] = [];
      for (const path of Object.keys(pages)) if ((await get(`http://${host}${path}`)).status === 200) out.push(path);
      return out;
    };
    const after = async (write: () => Promise<unknown>) => {
      for (const [path, of] of Object.entries(pages)) await keep(host, 'a page', { path, of });
      const begun = await followed();
      await write();
      const left = await there();
      // What was begun before is kept where nothing of it was written, and else is not.
      clearPages();
      for (const [path, of] of Object.entries(pages)) await keep(host, 'a page', { path, of, version: begun });
      expect(await there()).toEqual(left);
      return left;
    };
    const change = (id: number, what: object) => changeRecord(id, what);
    expect(await after(() => change(other.id, { title: 'Another' }))).toEqual([
      '/house',
      '/house-and-way',
      '/ways',
      '/none',
    ]);
    expect(await after(() => change(house.id, { title: 'First' }))).toEqual(['/ways', '/none']);
    expect(await after(() => change(way.id, { title: 'Path' }))).toEqual(['/house', '/houses', '/none']);
    expect(await after(() => make('way', 'New'))).toEqual(['/house', '/house-and-way', '/houses', '/none']);
    // A link is a fact of both ends.
    expect(await after(() => change(house.id, { values: { ways: [way.id] } }))).toEqual(['/none']);
    expect(await after(() => changeRecords({ ids: [other.id], status: 'draft' }))).toEqual([
      '/house',
      '/house-and-way',
      '/ways',
      '/none',
    ]);
    // Drafts and accounts are no part of the site; who it is, and what is taken away, may be part of every page.
    expect(await after(() => inTransaction(async () => undefined, { writes: 'nothing' }))).toEqual(Object.keys(pages));
    expect(await after(() => deleteRecords([other.id]))).toEqual([]);
    expect(await after(() => inTransaction(async () => undefined))).toEqual([]);
    expect(await after(async () => undefined)).toEqual(Object.keys(pages));
  });

  it('is one page for all addresses that ask for the same of it, and another for what it listens to', async () => {
    const host = await serve();
    const path = '/hütten/ä b';
    const at = async (question: string, from = encodeURI(path)) => {
      const { status, body } = await get(`http://${host}${from}${question}`);
      return status === 200 ? body.toString() : status;
    };
    await keep(host, 'plain', { path: `${encodeURI(path)}?from=a`, hears: ['page', 'kind'] });
    await keep(host, 'two', { path: `${encodeURI(path)}?x=1&page=2&kind=a&kind=b`, hears: ['page', 'kind'] });
    for (const question of [
      '',
      '?',
      '?from=b',
      '?a=1&b=2&Page=2',
      '?__proto__=1&constructor=2',
      `?x=${'y'.repeat(500)}`,
    ])
      expect([question, await at(question)]).toEqual([question, 'plain']);
    for (const question of ['?page=2&kind=a&kind=b', '?page=2&x=9&kind=a&from=c&kind=b'])
      expect([question, await at(question)]).toEqual([question, 'two']);
    // What it listens to, and what the form leaves open, is asked of the page itself.
    for (const question of ['?page=1', '?page=2&kind=b&kind=a', '?page=2', '?from=', '?kind=a&x=', '?page=%32%00'])
      expect([question, await at(question)]).toEqual([question, 204]);
    expect(await at('?from=b', '/elsewhere')).toBe(204);
    // After a release the page may listen to more, which is known with the next one that is kept.
    await inTransaction(async () => undefined);
    await followed();
    expect([await at('?from=b'), await at('')]).toEqual([204, 204]);
    await keep(host, 'anew', { path: encodeURI(path), hears: ['from'] });
    expect([await at('?from=b'), await at('?page=2')]).toEqual([204, 'anew']);
  });

  it('goes where so much was written that nobody says what', async () => {
    const host = await serve();
    await keep(host, 'a page');
    await inTransaction(
      async (transaction) =>
        touchRecords(
          Array.from({ length: 5001 }, (_, i) => i + 1),
          transaction,
        ),
      { writes: 'records' },
    );
    expect((await get(`http://${host}/a`)).status).toBe(204);
    // A record of which only the note is left was taken away by somebody.
    await keep(host, 'a page');
    await inTransaction(async (transaction) => touchRecords([1_000_000], transaction), { writes: 'records' });
    expect((await get(`http://${host}/a`)).status).toBe(204);
  });

  it('holds for one day where the site is, and not when the clock jumps back', async () => {
    const host = await serve();
    const status = async () => (await get(`http://${host}/a`)).status;
    const at = (time: string) => vi.useFakeTimers({ now: new Date(time), toFake: ['Date'] });
    // Clocks go forward in the night of 29 March 2026: 00:30 UTC is half past midnight, 23:30 UTC of the day is the next one.
    at('2026-03-29T00:30:00Z');
    await keep(host, 'a page');
    expect(await status()).toBe(200);
    at('2026-03-29T22:59:59Z');
    expect(await status()).toBe(200);
    at('2026-03-29T23:00:00Z');
    expect(await status()).toBe(204);
    await keep(host, 'a page');
    at('2026-03-28T23:59:59Z');
    expect(await status()).toBe(204);
  });

  it('is sent once to each who asks while it is drawn, however long the database takes to say what state it is in', async () => {
    const leave = useServer({ origin: 'http://huts.example' });
    versionSource().read = async () => {
      // Longer than an answer holds, so that it is asked again before each page.
      await new Promise((done) => setTimeout(done, 15));
      return contentVersion();
    };
    versionMoved();
    const failed: unknown[] = [];
    const sending = createServer((asked, response) => {
      Promise.resolve(answerVisitor(asked, response))
        .then((done) => void (done || response.writeHead(204).end()))
        .catch((error: unknown) => failed.push(error));
    }).listen(0, '127.0.0.1');
    await new Promise((done) => sending.once('listening', done));
    const at = `http://127.0.0.1:${(sending.address() as AddressInfo).port}/`;
    // One after the other within moments, so that some are on their way when the first is kept.
    const asking: ReturnType<typeof get>[] = [];
    for (let n = 0; n < 80; n++) {
      asking.push(get(at));
      await new Promise((done) => setTimeout(done, 1));
    }
    const all = await Promise.all(asking);
    expect(new Set(all.map(({ status, body }) => `${status} ${body.toString()}`)).size).toBe(1);
    expect([all[0]!.status, failed]).toEqual([200, []]);
    sending.close();
    await leave();
  });

  it('is another one under another name, not for who sees the draft, and left alone while the database is away', async () => {
    const host = await serve();
    await keep(host, 'a page');
    const of = async (headers: Record<string, string> = {}) => (await get(`http://${host}/a`, headers)).status;
    expect([await of(), await of({ host: 'other.example' }), await of({ cookie: 'plum_draft=x' })]).toEqual([
      200, 204, 204,
    ]);
    versionSource().read = () => Promise.reject(new Error('away'));
    versionMoved();
    expect(await of()).toBe(204);
    versionSource().read = contentVersion;
    versionMoved();
    expect(await of()).toBe(200);
    // Another server is another site.
    const leave = useServer({});
    expect(await of()).toBe(204);
    await leave();
    expect(await of()).toBe(200);
  });

  it('is given up for others when room is short, the one that nobody asked for first', async () => {
    const leave = useServer({ pageCacheBytes: 50_000 });
    const host = await serve();
    for (let i = 0; i < 4; i++) await keep(host, 'x'.repeat(10_000), { path: `/${i}` });
    expect((await get(`http://${host}/0`)).status).toBe(200);
    await keep(host, 'x'.repeat(10_000), { path: '/5' });
    const seen = await Promise.all([0, 1, 2, 3, 5].map(async (i) => (await get(`http://${host}/${i}`)).status));
    expect(seen).toEqual([200, 204, 200, 200, 200]);
    await leave();
  });
});
