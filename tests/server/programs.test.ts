import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fromOwnPages } from '../../src/lib/server/access/access';
import { answerApi } from '../../src/lib/server/api/answer';
import { answerPreflight, corsHeaders } from '../../src/lib/server/access/cors';
import { deleteOldKeys } from '../../src/lib/server/api/idempotency';
import type { Principal } from '../../src/lib/server/people/principal';
import { operations } from '../../src/lib/server/api/operations';
import { run, select } from '../../src/lib/server/database/connect';
import { createAccount } from '../../src/lib/server/people/accounts';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { configurationFrom } from '../../src/lib/server/base/configuration';
import { useServer } from '../support/server';

const all = operations('');
let drop: () => Promise<void>;
let who: Principal;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  const { id } = await createAccount({ name: 'O', email: 'o@huts.example', role: 'owner', mayPublish: true });
  who = { id, name: 'O', role: 'owner', mayPublish: true, session: 's', fresh: true };
});
afterAll(() => drop());

async function ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}, by = who) {
  const url = new URL(`http://x/api/v1${path}`);
  const content = body === undefined ? {} : { body: JSON.stringify(body) };
  const request = new Request(url, {
    method,
    headers: { 'if-match': '*', 'content-type': 'application/json', ...headers },
    ...content,
  });
  const answer = await answerApi(request, url, url.pathname.slice('/api/v1'.length), all, by);
  const text = await answer.text();
  const json = (text ? JSON.parse(text) : {}) as Record<string, unknown> & { problems?: { at: string }[] };
  return { status: answer.status, body: json, replayed: answer.headers.get('idempotency-replayed') };
}
const count = async () => Number((await select<{ n: number }>('SELECT COUNT(*) AS n FROM records'))[0]!.n);

describe('a request with an Idempotency-Key', () => {
  const house = { typeId: 'house', title: 'Once', values: {} };
  const keyed = (key: string, body: unknown = house, by = who) =>
    ask('POST', '/records', body, { 'idempotency-key': key }, by);

  it('is done once, however often and however close together it comes, and answered alike', async () => {
    const key = randomUUID();
    const before = await count();
    const together = await Promise.all(Array.from({ length: 12 }, () => keyed(key)));
    expect(await count()).toBe(before + 1);
    const done = together.filter(({ status }) => status === 201);
    expect(done.length).toBeGreaterThan(0);
    expect(together.filter(({ status }) => status !== 201).every(({ status }) => status === 409)).toBe(true);
    const again = await keyed(key);
    expect([again.status, again.body, again.replayed]).toEqual([201, done[0]!.body, 'true']);
    expect(await count()).toBe(before + 1);
    // It is known by every process, since it stands in the database; and belongs to the account.
    const { id } = await createAccount({ name: 'E', email: 'e@huts.example', role: 'editor', mayPublish: true });
    expect((await keyed(key, house, { ...who, id, role: 'editor' })).body.id).not.toBe(again.body.id);
  });

  it('is refused with another request, and asked anew after a refusal or a day', async () => {
    const key = randomUUID();
    expect((await keyed(key, { typeId: 'nowhere', title: 'x' })).status).toBeGreaterThanOrEqual(400);
    expect((await keyed(key)).status).toBe(201);
    const other = await keyed(key, { ...house, title: 'Other' });
    expect([other.status, other.body.problems?.[0]?.at]).toEqual([422, 'Idempotency-Key']);
    await run('UPDATE idempotency_keys SET created = ?', [new Date(Date.now() - 25 * 3_600_000)]);
    await deleteOldKeys();
    expect((await keyed(key, { ...house, title: 'Other' })).status).toBe(201);
    for (const bad of ['é', 'x'.repeat(300), 'a b']) expect([bad, (await keyed(bad)).status].at(1)).toBe(400);
    // One whose process died is done in the end.
    const lost = randomUUID();
    await keyed(lost);
    await run('UPDATE idempotency_keys SET status = NULL, created = ?', [new Date(Date.now() - 11 * 60_000)]);
    expect((await keyed(lost)).replayed).toBeNull();
  });

  it('is stored nowhere where it answers with what lets somebody in', async () => {
    const token = { name: 't', scopes: ['Records'] };
    const headers = { 'idempotency-key': randomUUID() };
    const { status, body } = await ask('POST', '/account/tokens', token, headers);
    expect(status).toBe(201);
    expect(JSON.stringify(await select('SELECT * FROM idempotency_keys'))).not.toContain(body.token);
    expect((await ask('POST', '/account/tokens', token, headers)).status).toBe(409);
    expect((await select('SELECT id FROM api_tokens')).length).toBe(1);
  });
});

describe('what nobody knows by its name', () => {
  it('is refused in every question, and says what there is', async () => {
    for (const one of all) {
      if (one.method !== 'GET') continue;
      const { status, body } = await ask('GET', `${one.path.replace(/\{\w+\}/g, '1')}?serach=x`);
      expect([one.id, status, body.problems?.[0]?.at]).toEqual([one.id, 422, 'serach']);
    }
  });

  it('is refused in bodies', async () => {
    const { status, body } = await ask('POST', '/records', {
      typeId: 'house',
      title: 'x',
      values: {},
      statsu: 'published',
    });
    expect([status, body.problems?.map(({ at }) => at)]).toEqual([422, ['statsu']]);
    expect(
      (await ask('POST', '/imports/view', { file: 'x', typeId: 'house', format: 'csv', encodng: 'utf-8' })).body
        .problems?.[0]?.at,
    ).toBe('encodng');
  });
});

describe('pages of others', () => {
  const origin = 'https://app.huts.example';
  const requestWith = (method: string, headers: Record<string, string>) =>
    new Request('https://huts.example/api/v1/records', { method, headers });
  const url = new URL('https://huts.example/api/v1/records');

  it('ask the API by a token where a setting says so, and never as whoever is signed in', async () => {
    const token = { origin, authorization: 'Bearer plumthread_x', 'sec-fetch-site': 'cross-site' };
    const preflight = { origin, 'access-control-request-method': 'PATCH' };
    expect(corsHeaders(requestWith('GET', token))).toEqual([]);
    expect(fromOwnPages(requestWith('GET', token), url)).toBe(false);
    expect(answerPreflight(requestWith('OPTIONS', preflight))).toBeUndefined();
    const leave = useServer(configurationFrom({ PLUM_CORS: 'https://other.example, https://app.huts.example/' }));
    const said = Object.fromEntries(corsHeaders(requestWith('GET', token)));
    expect(said).toMatchObject({ vary: 'Origin', 'access-control-allow-origin': origin });
    expect(said).not.toHaveProperty('access-control-allow-credentials');
    expect(fromOwnPages(requestWith('PATCH', token), url)).toBe(true);
    expect(
      fromOwnPages(requestWith('PATCH', { origin, 'sec-fetch-site': 'cross-site', cookie: 'plum_session=x' }), url),
    ).toBe(false);
    const answer = answerPreflight(requestWith('OPTIONS', preflight))!;
    expect([answer.status, answer.headers.get('access-control-allow-methods')]).toEqual([
      204,
      expect.stringContaining('PATCH'),
    ]);
    const evil = { ...token, origin: 'https://evil.example' };
    expect(Object.fromEntries(corsHeaders(requestWith('GET', evil)))).toEqual({ vary: 'Origin' });
    expect([
      fromOwnPages(requestWith('GET', evil), url),
      answerPreflight(requestWith('OPTIONS', { ...preflight, origin: 'https://evil.example' })),
    ]).toEqual([false, undefined]);
    await leave();
  });
});
