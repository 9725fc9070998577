import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { run, select } from '../../src/lib/server/database/connect';
import { changeAccount, createAccount } from '../../src/lib/server/people/accounts';
import { accountRow } from '../../src/lib/server/queries/accounts';
import { firstLink } from '../../src/lib/server/people/first-link';
import { FREE_TRIES } from '../../src/lib/server/people/throttle';
import { startApp, type App } from '../support/app';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';

/** Two processes of the application over one database, asked as browsers ask. */
const PASSWORD = 'seven soups at noon';
const apps: App[] = [];
const sites: string[] = [];
let drop: () => Promise<void>;
let owner: string;

async function start(more: Record<string, string> = {}): Promise<string> {
  const app = await startApp(more);
  apps.push(app);
  return app.origin;
}

interface Asked {
  cookie?: string;
  form?: Record<string, string>;
  method?: string;
  headers?: Record<string, string>;
}
async function ask(address: string, { cookie, form, method, headers }: Asked = {}) {
  const answer = await fetch(address, {
    method: method ?? (form ? 'POST' : 'GET'),
    headers: { accept: 'text/html', ...(cookie && { cookie }), ...headers },
    ...(form && { body: new URLSearchParams(form) }),
    redirect: 'manual',
  });
  const cookies = answer.headers.getSetCookie();
  const own = cookies.map((one) => /^((?:__Host-)?plum_session=[^;]+)/.exec(one)?.[1]).find(Boolean);
  return {
    status: answer.status,
    to: answer.headers.get('location') ?? '',
    cookies,
    cookie: own,
    text: await answer.text(),
    headers: answer.headers,
  };
}
const signIn = (site: string, email: string, more: Asked = {}) =>
  ask(`${site}/studio/sign-in?/password`, { form: { email, password: PASSWORD }, ...more });
const person = async (name: string, role: 'reader' | 'designer' | 'owner' = 'designer') =>
  (await createAccount({ name, email: `${name}@huts.example`, role, mayPublish: false }, { password: PASSWORD })).id;
/** What a cookie gets: the status of a screen, and of the API. */
const gets = async (site: string, cookie?: string) => [
  (await ask(`${site}/studio/rules`, { cookie })).status,
  (await ask(`${site}/api/v1/types`, { cookie })).status,
];

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  sites.push(await start(), await start());
});
afterAll(async () => {
  for (const { child } of apps) child.kill('SIGKILL');
  await drop();
});

describe('the first start', () => {
  it('lets nobody do anything until the printed link has made the owner, once', async () => {
    const [site, other] = sites as [string, string];
    for (const path of ['/studio', '/studio/sign-in', '/studio/people', '/api/v1/types', '/api/v1/openapi.json']) {
      const { status, text } = await ask(site + path);
      expect([path, status, text]).toEqual([path, 403, expect.stringContaining('Nobody has an account here yet')]);
    }
    expect((await ask(`${site}/studio/link/${'x'.repeat(43)}`)).status).toBe(410);
    const links = [await firstLink(site), await firstLink(other)] as string[];
    const form = { name: 'Ada', email: 'Ada@Huts.example', password: PASSWORD };
    expect((await ask(links[0]!)).text).toContain('The first account');
    // What is wrong is told, and the link still holds.
    const short = await ask(`${links[0]!}?/owner`, {
      form: { ...form, password: 'short' },
    });
    expect([short.status, short.text]).toEqual([422, expect.stringContaining('It has 5 characters.')]);
    const made = await ask(`${links[0]!}?/owner`, { form });
    expect([made.status, made.to]).toEqual([303, '/studio']);
    owner = made.cookie!;
    expect(await gets(site, owner)).toEqual([200, 200]);
    expect((await ask(links[0]!)).status).toBe(410);
    const second = await ask(`${links[1]!}?/owner`, {
      form: { ...form, email: 'eve@huts.example' },
    });
    expect(second.status).not.toBe(303);
    expect(await accountRow({ email: 'eve@huts.example' })).toBeUndefined();
    expect(await firstLink(site)).toBeUndefined();
    // Nothing of a demo is there.
    expect((await ask(`${site}/studio/sign-in?/demo`, { form: { account: '1' } })).status).toBe(404);
    expect((await ask(`${site}/studio/sign-in`)).text).not.toContain('This is a demo');
  });
});

describe('a session', () => {
  it('is a new one at each sign-in: what was set before lets nobody in, and what was there before ends', async () => {
    const [site] = sites as [string];
    await person('fixed');
    const planted = `plum_session=${'a'.repeat(43)}`;
    const first = await signIn(site, 'fixed@huts.example', { cookie: planted });
    expect(first.status).toBe(303);
    expect(first.cookie).not.toBe(planted);
    expect(await gets(site, planted)).toEqual([303, 401]);
    const second = await signIn(site, 'fixed@huts.example', { cookie: first.cookie });
    expect(await gets(site, first.cookie)).toEqual([303, 401]);
    expect(await gets(site, second.cookie)).toEqual([200, 200]);
  });

  it('is no more after signing out, however often its cookie comes again, in any process', async () => {
    const [site, other] = sites as [string, string];
    await person('leaves');
    const { cookie } = await signIn(site, 'leaves@huts.example');
    expect(await gets(other, cookie)).toEqual([200, 200]);
    const out = await ask(`${site}/studio/sign-out`, { method: 'POST', cookie });
    expect([out.status, out.to, out.cookies[0]]).toEqual([303, '/studio/sign-in', expect.stringMatching(/Max-Age=0/)]);
    expect([await gets(site, cookie), await gets(other, cookie)]).toEqual([
      [303, 401],
      [303, 401],
    ]);
  });

  it('ends by idling and by its age', async () => {
    const [site] = sites as [string];
    const id = await person('idle');
    for (const [column, ago] of [
      ['seen', 9 * 3_600_000],
      ['ends', 1],
    ] as const) {
      const { cookie } = await signIn(site, 'idle@huts.example');
      expect(await gets(site, cookie)).toEqual([200, 200]);
      await run(`UPDATE sessions SET ${column} = ? WHERE account_id = ?`, [new Date(Date.now() - ago), id]);
      expect([column, await gets(site, cookie)]).toEqual([column, [303, 401]]);
    }
  });

  it('ends everywhere at once, and a role taken away is gone at the next request', async () => {
    const [site, other] = sites as [string, string];
    const id = await person('many');
    const [here, there] = [await signIn(site, 'many@huts.example'), await signIn(other, 'many@huts.example')];
    const type = { headers: { 'content-type': 'application/json' }, method: 'PUT' };
    expect((await ask(`${other}/api/v1/types/order`, { ...type, cookie: there.cookie })).status).toBe(400);
    await changeAccount(id, { role: 'reader' });
    expect((await ask(`${other}/api/v1/types/order`, { ...type, cookie: there.cookie })).status).toBe(403);
    expect((await ask(`${other}/studio/content/new`, { cookie: there.cookie })).status).toBe(403);
    const ended = await ask(`${site}/api/v1/account/sessions`, { method: 'DELETE', cookie: here.cookie });
    expect(ended.status).toBe(204);
    expect([await gets(other, here.cookie), await gets(other, there.cookie)]).toEqual([
      [200, 200],
      [303, 401],
    ]);
    const sessions = JSON.parse(
      (await ask(`${site}/api/v1/account/sessions`, { cookie: here.cookie })).text,
    ) as object[];
    expect(sessions).toMatchObject([{ own: true, address: '127.0.0.1' }]);
  });

  it('is kept where no page reads it, and behind TLS under a name that no other host sets', async () => {
    const [site] = sites as [string];
    await person('kept');
    const plain = await signIn(site, 'kept@huts.example');
    const own = plain.cookies.find((one) => one.startsWith('plum_session='))!;
    expect(own).toMatch(/; Path=\/; HttpOnly; SameSite=Lax$/);
    const safe = await start({ PLUM_HTTP_ORIGIN: 'https://huts.example' });
    const behind = await signIn(safe, 'kept@huts.example');
    expect(behind.cookies.find((one) => one.startsWith('__Host-plum_session='))).toMatch(
      /; Path=\/; HttpOnly; Secure; SameSite=Lax$/,
    );
    expect((await ask(`${safe}/studio/rules`, { cookie: behind.cookie })).headers.get('cache-control')).toBe(
      'private, no-store',
    );
  });

  it('serves the API from our own pages only', async () => {
    const [site] = sites as [string];
    await person('crossed', 'owner');
    const { cookie } = await signIn(site, 'crossed@huts.example');
    for (const method of ['GET', 'POST', 'PUT', 'DELETE'])
      for (const from of ['cross-site', 'same-site']) {
        const headers = { 'sec-fetch-site': from };
        expect([method, from, (await ask(`${site}/api/v1/types`, { method, cookie, headers })).status]).toEqual([
          method,
          from,
          403,
        ]);
      }
    const headers = { origin: 'https://evil.example' };
    expect((await ask(`${site}/studio/sign-out`, { method: 'POST', cookie, headers })).status).toBe(403);
    expect((await signIn(site, 'crossed@huts.example', { headers })).status).toBe(403);
    expect(await gets(site, cookie)).toEqual([200, 200]);
  });
});

describe('whoever is not signed in', () => {
  it('is sent to the sign-in page, and from there to where they wanted to go, in the studio alone', async () => {
    const [site] = sites as [string];
    await person('goes');
    expect((await ask(`${site}/studio/rules?a=1`)).to).toBe('/studio/sign-in?to=%2Fstudio%2Frules%3Fa%3D1');
    for (const [to, leads] of [
      ['/studio/rules', '/studio/rules'],
      ['//evil.example/studio', '/studio'],
      ['https://evil.example/studio', '/studio'],
      ['/\\evil.example', '/studio'],
      ['/huts/', '/studio'],
      ['/studio/../huts', '/studio'],
    ]) {
      const address = `${site}/studio/sign-in?to=${encodeURIComponent(to!)}&/password`;
      const form = { email: 'goes@huts.example', password: PASSWORD };
      expect([to, (await ask(address, { form })).to]).toEqual([to, leads]);
    }
  });

  it('gets nowhere by writing an address another way', async () => {
    const [site] = sites as [string];
    await person('looks', 'reader');
    const { cookie } = await signIn(site, 'looks@huts.example');
    const ways = [
      '/studio/people',
      '/%73tudio/people',
      '/studio/%70eople',
      '/%73%74udio/people',
      '/studio/people/__data.json',
      '/%73tudio/people/__data.json',
    ];
    for (const path of ways) {
      const nobody = await ask(site + path);
      expect([path, [303, 200].includes(nobody.status), /owner|huts\.example/.test(nobody.text)]).toEqual([
        path,
        true,
        false,
      ]);
      const reader = await ask(site + path, { cookie });
      expect([path, reader.status, reader.text.includes('@huts.example')]).toEqual([path, 403, false]);
    }
    // What is not well formed is told so, and ends nothing.
    for (const path of ['/studio/%E0%A4%A', '/%73tudio/%', '/huts/%E0%A4%A'])
      expect([path, (await ask(site + path)).status]).toEqual([path, 400]);
    for (const path of ['/%61pi/v1/types', '/api/%761/types', '/%61%70%69/v1/openapi.json'])
      expect([path, [401, 404].includes((await ask(site + path)).status)]).toEqual([path, true]);
  });
});

describe('tries', () => {
  it('are counted by both processes together', async () => {
    const [site, other] = sites as [string, string];
    await person('guessed');
    const guess = (at: string, password: string) =>
      ask(`${at}/studio/sign-in?/password`, {
        form: { email: 'guessed@huts.example', password },
      });
    const statuses: number[] = [];
    for (let i = 0; i < FREE_TRIES; i++) statuses.push((await guess(i % 2 ? site : other, `wrong ${i}`)).status);
    expect(statuses).toEqual(Array(FREE_TRIES).fill(403));
    // So many that the wait is longer than this test.
    await run('UPDATE throttles SET n = 20', []);
    for (const at of [site, other]) {
      const { status, text } = await guess(at, PASSWORD);
      expect([status, text]).toEqual([429, expect.stringContaining('There were too many tries')]);
    }
    await run('DELETE FROM throttles', []);
    expect((await guess(site, PASSWORD)).status).toBe(303);
  });
});

describe('the logs', () => {
  it('hold no secret: no cookie, no password, no link', async () => {
    const said = apps.map((app) => app.said()).join('\n');
    expect(said).toContain('"path":"/studio/link/…"');
    // Whoever was sent away stands in it too.
    expect(said).toMatch(/"path":"\/studio\/people","status":403/);
    expect(said).toMatch(/"path":"\/studio\/people","status":303/);
    expect(said).not.toContain(PASSWORD);
    expect(said).not.toContain(owner.split('=')[1]);
    expect(said).not.toMatch(/\/studio\/link\/[\w-]{43}/);
    expect((await select('SELECT id FROM sessions')).length).toBeGreaterThan(0);
  });
});
