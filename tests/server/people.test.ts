import { TOTP, Secret } from 'otpauth';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { ROLES, atLeast, type Role } from '../../src/lib/core/people/roles';
import { answerApi } from '../../src/lib/server/api/answer';
import { openApi } from '../../src/lib/server/api/openapi';
import type { AnyOperation } from '../../src/lib/server/api/operation';
import type { Principal } from '../../src/lib/server/people/principal';
import { operations } from '../../src/lib/server/api/operations';
import { run, select } from '../../src/lib/server/database/connect';
import { table } from '../../src/lib/server/database/tables';
import {
  accountNumbered,
  changeAccount,
  createAccount,
  deleteAccount,
  setPassword,
} from '../../src/lib/server/people/accounts';
import { noteActivity, readActivity } from '../../src/lib/server/people/activity';
import { givePass, lookAtPass, usePass } from '../../src/lib/server/people/passes';
import { passwordFits, passwordHash } from '../../src/lib/server/people/passwords';
import { roleBy } from '../../src/lib/server/people/provider';
import { beginCodes, codeFits, finishCodes, stepOf } from '../../src/lib/server/people/second-factor';
import { hashOf } from '../../src/lib/server/people/secrets';
import { withCode, withPassword } from '../../src/lib/server/people/sign-in';
import { beginSession, endSessions, sessionsOf, sessionWith } from '../../src/lib/server/people/sessions';
import { FREE_TRIES, MOST_TRIES, throttle } from '../../src/lib/server/people/throttle';
import { createToken, tokenWith } from '../../src/lib/server/people/tokens';
import { addBytes } from '../../src/lib/server/services/media';
import { isMediaPublished } from '../../src/lib/server/queries/own';
import { createRecord } from '../../src/lib/server/services/records';
import { deleteExpired } from '../../src/lib/server/queries/people';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';

const all = operations('');
const origin = 'https://a.example';
const FROM = { address: '192.0.2.7', browser: 'A browser' };
const PASSWORD = 'seven soups at noon';
let drop: () => Promise<void>;
const ids = {} as Record<Role, number>;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  for (const role of ROLES)
    ids[role] = (
      await createAccount(
        { name: `The ${role}`, email: `${role}@huts.example`, role, mayPublish: false },
        { password: PASSWORD },
      )
    ).id;
});
afterAll(() => drop());

const asker = (role: Role, more: Partial<Principal> = {}): Principal => ({
  id: ids[role],
  name: `The ${role}`,
  role,
  mayPublish: false,
  session: 's_own',
  fresh: true,
  ...more,
});

/** Asks the API as somebody. */
async function ask(
  who: Principal | undefined,
  method: string,
  path: string,
  body?: unknown,
  list: readonly AnyOperation[] = all,
) {
  const url = new URL(`${origin}/api/v1${path}`);
  const request = new Request(url, {
    method,
    headers: { 'if-match': '*', ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  const answer = await answerApi(request, url, url.pathname.slice('/api/v1'.length), list, who);
  const text = await answer.text();
  return {
    status: answer.status,
    body: (text ? JSON.parse(text) : {}) as Record<string, unknown> & { title?: string },
    headers: answer.headers,
  };
}

describe('every operation', () => {
  /** The same operations, that do nothing: what is asked here is only who gets through. */
  const looked: string[] = [];
  const idle = all.map((one): AnyOperation => ({
    ...one,
    body: undefined,
    query: undefined,
    activity: undefined,
    response: undefined,
    current: one.current && (() => Promise.resolve(looked.push(one.id))),
    run: () => Promise.resolve({}),
    status: 200,
    lists: undefined,
  }));
  const paths = idle.map((one) => ({ one, path: one.path.replace(/\{\w+\}/g, '4711') }));

  it('is for some roles, refuses the others without looking, and nobody gets anywhere', async () => {
    const wrong: unknown[] = [];
    for (const { one, path } of paths) {
      const nobody = await ask(undefined, one.method, path, undefined, idle);
      if (nobody.status !== 401 || nobody.headers.get('www-authenticate') !== 'Bearer') wrong.push(['nobody', one.id]);
      for (const role of ROLES) {
        looked.length = 0;
        const { status } = await ask(asker(role), one.method, path, undefined, idle);
        const own = one.over !== undefined && !atLeast(role, 'editor');
        const expected = atLeast(role, one.requiredRole) && !own ? 200 : 403;
        if (status !== expected) wrong.push([role, one.id, status, expected]);
        if (expected === 403 && looked.length) wrong.push([role, one.id, 'was looked at']);
      }
    }
    expect(wrong).toEqual([]);
    // What does not exist is refused in the same words.
    const [there, nowhere] = [await ask(undefined, 'GET', '/people'), await ask(undefined, 'GET', '/nothing')];
    expect([there.status, there.body.title]).toEqual([nowhere.status, nowhere.body.title]);
  });

  it('of a token is one of its groups, reads where it may only read, and never makes accounts or tokens', async () => {
    const wrong: unknown[] = [];
    for (const { one, path } of paths)
      for (const readOnly of [true, false])
        for (const tags of [[one.tag], ['Something else']]) {
          const who = asker('owner', { session: undefined, fresh: undefined, token: 'tk', scopes: { tags, readOnly } });
          const { status } = await ask(who, one.method, path, undefined, idle);
          const reads = one.method === 'GET' || one.readsOnly;
          const lets = !one.person && tags[0] === one.tag && (reads || !readOnly) && !one.fresh ? 200 : 403;
          if (status !== lets) wrong.push([one.id, tags, readOnly, status]);
        }
    expect(wrong).toEqual([]);
    // A question that is too long for an address changes nothing, and is told of nowhere.
    const asking = paths.flatMap(({ one }) => (one.readsOnly ? [[one.id, one.method, one.touches, one.activity]] : []));
    expect(asking).toEqual([
      ['listsOfCanvas', 'POST', undefined, undefined],
      ['previewServing', 'POST', undefined, undefined],
    ]);
  });

  it('that lets people in wants it proved anew who asks', async () => {
    const guarded = paths.filter(({ one }) => one.fresh);
    expect(guarded.map(({ one }) => one.id)).toEqual(
      expect.arrayContaining([
        'createToken',
        'createPasskey',
        'startCodes',
        'endCodes',
        'changePerson',
        'invitePerson',
      ]),
    );
    for (const { one, path } of guarded) {
      const { status, body } = await ask(asker('owner', { fresh: false }), one.method, path, undefined, idle);
      expect([one.id, status, body.confirm]).toEqual([one.id, 403, true]);
    }
  });

  it('says in the document how programs and browsers are let in', () => {
    const document = openApi(all, origin) as {
      security: unknown;
      components: { securitySchemes: Record<string, { type: string }> };
      paths: Record<string, Record<string, { security?: unknown; responses: Record<string, unknown> }>>;
    };
    expect(Object.keys(document.components.securitySchemes)).toEqual(['token', 'session']);
    expect(document.security).toEqual([{ token: [] }, { session: [] }]);
    expect(document.paths['/account/tokens']?.post?.security).toEqual([{ session: [] }]);
    for (const path of Object.values(document.paths))
      for (const one of Object.values(path))
        expect(Object.keys(one.responses)).toEqual(expect.arrayContaining(['401', '403']));
  });
});

describe('an author', () => {
  it('writes what is their own or was shared, proposes, and publishes only where they may', async () => {
    const who = asker('author');
    const made = await ask(who, 'POST', '/records', { typeId: 'house', title: 'Own one', values: {} });
    expect(made.status).toBe(201);
    const id = made.body.id as number;
    const foreign = (await createRecord('house', { title: 'Of others', values: {} })).id;
    const title = { title: 'Renamed' };
    expect((await ask(who, 'PATCH', `/records/${id}`, title)).status).toBe(200);
    expect((await ask(who, 'PATCH', `/records/${foreign}`, title)).status).toBe(403);
    // What does not exist is refused alike.
    expect((await ask(who, 'PATCH', '/records/999999', title)).status).toBe(403);
    expect((await ask(who, 'DELETE', `/records/${foreign}`)).status).toBe(403);
    await ask(asker('editor'), 'PUT', `/records/${foreign}/people`, { accounts: [ids.author] });
    expect((await ask(who, 'PATCH', `/records/${foreign}`, title)).status).toBe(200);

    for (const status of ['published', 'scheduled']) {
      const published = '2030-01-01T00:00:00Z';
      expect((await ask(who, 'PATCH', `/records/${id}`, { status, published })).body.title).toContain(
        'An editor publishes',
      );
      expect((await ask(who, 'POST', '/records', { typeId: 'house', title: 'X', status, published })).status).toBe(403);
    }
    const proposed = await ask(who, 'PUT', `/records/${id}/proposal`, { proposed: true });
    expect(proposed.body.proposed).toEqual(expect.any(String));
    const waiting = (await ask(asker('editor'), 'GET', '/proposals')).body as unknown as { id: number; who: string }[];
    expect(waiting).toMatchObject([{ id, who: 'The author' }]);
    expect((await ask(asker('editor'), 'PATCH', `/records/${id}`, { status: 'published' })).status).toBe(200);
    // Published, it waits no more, and the author may not change what visitors see.
    expect((await ask(asker('editor'), 'GET', '/proposals')).body).toEqual([]);
    expect((await ask(who, 'PATCH', `/records/${id}`, title)).status).toBe(403);
    expect((await ask(who, 'DELETE', `/records/${id}`)).status).toBe(403);
    const trusted = asker('author', { mayPublish: true });
    expect((await ask(trusted, 'PATCH', `/records/${id}`, title)).status).toBe(200);
  });

  it('brings back what they deleted themselves, and it is theirs again', async () => {
    const who = asker('author');
    const { body } = await ask(who, 'POST', '/records', { typeId: 'house', title: 'To and fro', values: {} });
    const gone = await ask(who, 'DELETE', `/records/${body.id as number}`);
    expect(gone.status).toBe(200);
    const undo = `/removals/${gone.body.removal as string}/undo`;
    expect((await ask(asker('author', { id: ids.reader }), 'POST', undo)).status).toBe(403);
    expect((await ask(who, 'POST', undo)).status).toBe(200);
    expect((await ask(who, 'PATCH', `/records/${body.id as number}`, { title: 'Back' })).status).toBe(200);
  });
});

describe('media', () => {
  it('is for visitors where a published record, a term or an author has it', async () => {
    const svg = (n: number) =>
      Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" width="${n}" height="9"><rect width="${n}" height="9"/></svg>`,
      );
    const [published, draft, unused] = await Promise.all([1, 2, 3].map((n) => addBytes(`${n}.svg`, svg(n + 5))));
    await createRecord('house', { title: 'P', status: 'published', values: { name: 'a', photo: published!.id } });
    await createRecord('house', { title: 'D', values: { photo: draft!.id } });
    const lets = await Promise.all([published, draft, unused].map((one) => isMediaPublished(one!.id, ['house'])));
    expect(lets).toEqual([true, false, false]);
  });
});

describe('passwords', () => {
  it('are kept by Argon2id, as a PHC string that holds none of it', async () => {
    const kept = await passwordHash(PASSWORD);
    expect(kept).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$[\w+/]+\$[\w+/]+$/);
    expect(await passwordFits(kept, PASSWORD)).toBe(true);
    expect(await passwordFits(kept, `${PASSWORD} `)).toBe(false);
    expect(await passwordFits(null, 'nobody has this one')).toBe(false);
  });

  it('fit in the form in which they were taken, whatever the keyboard makes of it', async () => {
    // 72 characters with an accent each, which some keyboards send as two: 144.
    const composed = 'àéîõüñ'.repeat(12);
    const decomposed = composed.normalize('NFD');
    await setPassword(ids.reader, decomposed);
    const hash = await passwordHash(decomposed);
    expect([[...composed].length, [...decomposed].length]).toEqual([72, 144]);
    expect(await Promise.all([composed, decomposed].map((one) => passwordFits(hash, one)))).toEqual([true, true]);
    expect(await passwordFits(hash, composed.repeat(2))).toBe(false);
  });

  it('that are tried first are refused from a shipped list', async () => {
    for (const word of ['password', '12345678', 'Baseball', 'qwertyuiop', 'trustno1', 'iloveyou'])
      await expect(setPassword(ids.reader, word)).rejects.toMatchObject({ status: 422 });
    await expect(setPassword(ids.reader, 'reader@huts.example')).rejects.toMatchObject({ status: 422 });
  });

  it('that do not fit, accounts that are closed and those that are not there answer alike', async () => {
    const closed = await createAccount(
      { name: 'Gone', email: 'gone@huts.example', role: 'owner', mayPublish: false },
      { password: PASSWORD },
    );
    await changeAccount(closed.id, { closed: true });
    const said = [];
    for (const email of ['owner@huts.example', 'gone@huts.example', 'nobody@huts.example'])
      said.push(await withPassword(email, email.startsWith('gone') ? PASSWORD : 'wrong', FROM).catch((e: Error) => e));
    expect(said.map((one) => (one as { title?: string }).title)).toEqual(
      Array(3).fill('Address and password do not fit together.'),
    );
  });
});

describe('sessions', () => {
  it('are new at each sign-in, kept as a hash, and end by idling and by their age', async () => {
    const [one, two] = [
      await beginSession(ids.editor, '192.0.2.1', 'A'),
      await beginSession(ids.editor, '192.0.2.1', 'B'),
    ];
    expect(one).not.toBe(two);
    const rows = await select<{ token_hash: string }>('SELECT token_hash FROM sessions');
    expect(JSON.stringify(rows)).not.toContain(one);
    expect(rows.map((row) => row.token_hash)).toContain(hashOf(one));
    expect(await sessionWith(one)).toMatchObject({ id: ids.editor, role: 'editor', fresh: true });
    await run('UPDATE sessions SET seen = ? WHERE token_hash = ?', [new Date(Date.now() - 9 * 3_600_000), hashOf(one)]);
    expect(await sessionWith(one)).toBeUndefined();
    await run('UPDATE sessions SET ends = ? WHERE token_hash = ?', [new Date(Date.now() - 1), hashOf(two)]);
    expect(await sessionWith(two)).toBeUndefined();
    expect(await sessionsOf(ids.editor, '')).toEqual([]);
    await deleteExpired(new Date());
    expect(await sessionWith('x'.repeat(43))).toBeUndefined();
    expect(await sessionWith("' OR 1=1 --")).toBeUndefined();
  });

  it('lose what their account loses at once: a role, the account, the password', async () => {
    const { id } = await createAccount(
      { name: 'T', email: 't@huts.example', role: 'designer', mayPublish: false },
      { password: PASSWORD },
    );
    const secret = await beginSession(id, '192.0.2.1', 'A');
    await changeAccount(id, { role: 'reader' });
    expect((await sessionWith(secret))?.role).toBe('reader');
    const other = await beginSession(id, '192.0.2.1', 'B');
    const own = (await sessionWith(other))!.session;
    await setPassword(id, 'another long one', { but: own });
    expect([await sessionWith(secret), (await sessionWith(other))?.id]).toEqual([undefined, id]);
    await changeAccount(id, { closed: true });
    expect(await sessionWith(other)).toBeUndefined();
    await changeAccount(id, { closed: false });
    expect(await sessionWith(other)).toBeUndefined();
    const last = await beginSession(id, '192.0.2.1', 'C');
    await deleteAccount(id);
    expect(await sessionWith(last)).toBeUndefined();
  });

  it('end everywhere', async () => {
    const secrets = await Promise.all([1, 2, 3].map((n) => beginSession(ids.reader, '192.0.2.1', String(n))));
    await endSessions(ids.reader);
    expect(await Promise.all(secrets.map(sessionWith))).toEqual([undefined, undefined, undefined]);
  });

  it('are not proved for long', async () => {
    const secret = await beginSession(ids.owner, '192.0.2.1', 'A');
    await run('UPDATE sessions SET confirmed = ?', [new Date(Date.now() - 16 * 60_000)]);
    const session = await sessionWith(secret);
    expect(session?.fresh).toBe(false);
    const who = asker('owner', { session: session!.session, fresh: false });
    expect((await ask(who, 'POST', '/account/confirm', { password: 'not this one' })).status).toBe(422);
    expect((await ask(who, 'POST', '/account/confirm', { password: PASSWORD })).status).toBe(204);
    expect((await sessionWith(secret))?.fresh).toBe(true);
  });
});

describe('tries', () => {
  it('are counted for an account and for an address, and forgiven after one that ends well', async () => {
    for (let i = 0; i < FREE_TRIES - 1; i++)
      await expect(withPassword('designer@huts.example', 'wrong', FROM)).rejects.toMatchObject({ status: 403 });
    expect(await withPassword('designer@huts.example', PASSWORD, FROM)).toHaveProperty('session');
    for (let i = 0; i < FREE_TRIES; i++)
      await expect(withPassword('designer@huts.example', 'wrong', FROM)).rejects.toMatchObject({ status: 403 });
    const refused = await withPassword('Designer@huts.example ', PASSWORD, FROM).catch((e: unknown) => e);
    expect(refused).toMatchObject({ status: 429, more: { retryAfter: expect.any(Number) as number } });
    // Others are not held up by it.
    expect(await withPassword('editor@huts.example', PASSWORD, FROM)).toHaveProperty('session');
    // When the time is over, tries are counted anew.
    await run('UPDATE throttles SET ends = ?', [new Date(Date.now() - 1)]);
    expect(await withPassword('designer@huts.example', PASSWORD, FROM)).toHaveProperty('session');
  });

  it('that come at once are all counted', async () => {
    const tries = await Promise.allSettled(Array.from({ length: 30 }, () => throttle('account', 'many at once')));
    expect(tries.filter(({ status }) => status === 'fulfilled').length).toBe(MOST_TRIES.account);
  });
});

describe('passes', () => {
  it('are good once, for one thing, and for a while', async () => {
    const pass = await givePass('reset', { accountId: ids.author });
    expect(await lookAtPass(pass)).toMatchObject({ purpose: 'reset', accountId: ids.author });
    // Whatever it is tried for, it is used up.
    const used = await Promise.all([1, 2, 3, 4].map(() => usePass(pass, 'reset')));
    expect(used.filter(Boolean)).toHaveLength(1);
    const other = await givePass('invitation', { accountId: ids.author });
    expect(await usePass(other, 'reset')).toBeUndefined();
    await run('UPDATE passes SET ends = ?', [new Date(Date.now() - 1)]);
    expect([await lookAtPass(other), await usePass(other, 'invitation')]).toEqual([undefined, undefined]);
    const rows = await select('SELECT * FROM passes');
    expect(JSON.stringify(rows)).not.toContain(other);
  });
});

describe('codes', () => {
  /** RFC 6238, appendix B, SHA-1: seconds and the last six of the eight digits. From memory. */
  const VECTORS: [number, string][] = [
    [59, '287082'],
    [1111111109, '081804'],
    [1111111111, '050471'],
    [1234567890, '005924'],
    [2000000000, '279037'],
    [20000000000, '353130'],
  ];
  const secret = Secret.fromLatin1('12345678901234567890').base32;

  it.each(VECTORS)('at %i s are %s (RFC 6238, appendix B)', (seconds, code) => {
    expect(stepOf(code, secret, seconds * 1000)).toBe(Math.floor(seconds / 30));
    // One step before and after are taken, two are not.
    expect(stepOf(code, secret, (seconds + 30) * 1000)).toBe(Math.floor(seconds / 30));
    expect(stepOf(code, secret, (seconds + 90) * 1000)).toBeUndefined();
  });

  it('are the second step, each is good once, and recovery codes stand in', async () => {
    const { id, email } = await createAccount(
      { name: 'C', email: 'codes@huts.example', role: 'editor', mayPublish: false },
      { password: PASSWORD },
    );
    const begun = await beginCodes(id);
    expect(begun.address).toMatch(/^otpauth:\/\/totp\/Plum%20Thread:codes%40huts.example\?/);
    const codeAt = (ago: number) =>
      new TOTP({ secret: Secret.fromBase32(begun.secret) }).generate({ timestamp: Date.now() + ago * 30_000 });
    await expect(finishCodes(id, begun.pass, '000000')).rejects.toMatchObject({ status: 422 });
    const again = await beginCodes(id);
    const { recovery } = await finishCodes(
      id,
      again.pass,
      new TOTP({ secret: Secret.fromBase32(again.secret) }).generate(),
    );
    expect(recovery).toHaveLength(10);
    begun.secret = again.secret;

    const first = await withPassword(email, PASSWORD, FROM);
    expect(first).toHaveProperty('second');
    const { second } = first as { second: string };
    // A session is not what a first step gives.
    expect(await sessionWith(second)).toBeUndefined();
    await expect(withCode(second, codeAt(0), FROM)).rejects.toMatchObject({ status: 403 });
    expect(await sessionWith(await withCode(second, codeAt(1), FROM))).toMatchObject({ id });
    await expect(withCode(second, recovery[0]!, FROM)).rejects.toMatchObject({ status: 409 });
    expect(await codeFits(id, codeAt(1))).toBe(false);
    expect(await codeFits(id, ` ${recovery[1]!.toUpperCase().replace('-', ' ')} `)).toBe(true);
    expect(await codeFits(id, recovery[1]!)).toBe(false);
    const kept = JSON.stringify(await table('recoveryCodes').findAll({ raw: true }));
    expect(kept).not.toContain(recovery[2]!.replace('-', ''));
  });
});

describe('tokens', () => {
  it('let a program ask as somebody until they end', async () => {
    const groups = ['Records', 'Types'];
    const asked = { name: 'A script', scopes: ['Records'], readOnly: true, days: 3 };
    await expect(createToken(ids.editor, { ...asked, scopes: ['Nothing'] }, groups)).rejects.toMatchObject({
      status: 422,
    });
    const { token, id } = await createToken(ids.editor, asked, groups);
    expect(await tokenWith(`Bearer ${token}`)).toMatchObject({ id: ids.editor, role: 'editor', token: id });
    for (const wrong of [token, `Basic ${token}`, `Bearer ${token}x`, `Bearer ${token.slice(0, -1)}`, 'Bearer', null])
      expect([wrong, await tokenWith(wrong)]).toEqual([wrong, undefined]);
    expect(JSON.stringify(await select('SELECT * FROM api_tokens'))).not.toContain(token.slice(12));
    await run('UPDATE api_tokens SET ends = ?', [new Date(Date.now() - 1)]);
    expect(await tokenWith(`Bearer ${token}`)).toBeUndefined();
  });
});

describe('accounts', () => {
  it('always have an owner who may sign in', async () => {
    for (const change of [{ role: 'editor' as const }, { closed: true }])
      await expect(changeAccount(ids.owner, change)).rejects.toMatchObject({ status: 409 });
    await expect(deleteAccount(ids.owner)).rejects.toMatchObject({ status: 409 });
    const second = await createAccount({ name: 'Two', email: 'two@huts.example', role: 'owner', mayPublish: false });
    // Two who leave at once: one stays.
    const left = await Promise.allSettled([
      changeAccount(second.id, { role: 'reader' }),
      changeAccount(ids.owner, { role: 'reader' }),
    ]);
    expect(left.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    await changeAccount(ids.owner, { role: 'owner' });
  });

  it('have an address each, whatever its case', async () => {
    const twice = ask(asker('owner'), 'POST', '/people', { name: 'X', email: 'OWNER@huts.example', role: 'reader' });
    expect((await twice).status).toBe(409);
    const wrong = await ask(asker('owner'), 'POST', '/people', { name: '', email: 'nowhere', role: 'king' });
    expect([wrong.status, (wrong.body.problems as { at: string }[]).map(({ at }) => at)]).toEqual([
      422,
      ['name', 'email', 'role'],
    ]);
  });

  it('are invited by a link, which is told where no letter goes', async () => {
    const { status, body } = await ask(asker('owner'), 'POST', '/people', {
      name: 'New',
      email: 'new@huts.example',
      role: 'reader',
    });
    expect([status, body.mailed]).toEqual([201, false]);
    const secret = (body.link as string).split('/').at(-1)!;
    expect(await lookAtPass(secret)).toMatchObject({ purpose: 'invitation', accountId: body.id });
    // Another one ends the first.
    await ask(asker('owner'), 'POST', `/people/${body.id as number}/link`);
    expect(await lookAtPass(secret)).toBeUndefined();
  });
});

describe('the identity provider', () => {
  const rules = {
    rules: [
      { by: 'group' as const, is: 'keepers', role: 'editor' as const },
      { by: 'group' as const, is: 'web', role: 'designer' as const },
      { by: 'domain' as const, is: 'huts.example', role: 'reader' as const },
    ],
  };
  it('gives the highest role that fits, and none by an address that was not looked at', () => {
    const at = (claims: Parameters<typeof roleBy>[1]) => roleBy(rules, claims);
    expect(at({ groups: ['Keepers'] })).toBe('editor');
    expect(at({ groups: ['keepers', 'web'], email: 'a@huts.example', email_verified: true })).toBe('designer');
    expect(at({ email: 'a@HUTS.example', email_verified: true })).toBe('reader');
    expect(at({ email: 'a@huts.example' })).toBeUndefined();
    expect(at({ email: 'a@huts.example.evil.example', email_verified: true })).toBeUndefined();
    expect(at({ email: 'huts.example@evil.example', email_verified: true })).toBeUndefined();
  });
});

describe('the activity', () => {
  it('tells who did what to what and from where, in words without values, and keeps names', async () => {
    const { id } = await createAccount({ name: 'Lea', email: 'lea@huts.example', role: 'editor', mayPublish: false });
    const who: Principal = { id, name: 'Lea', role: 'editor', mayPublish: false };
    const made = await ask(who, 'POST', '/records', {
      typeId: 'house',
      title: 'Told of',
      values: { story: 'a secret' },
    });
    const record = made.body.id as number;
    await ask({ ...who, token: 'tk', scopes: { tags: ['Records'], readOnly: false } }, 'DELETE', `/records/${record}`);
    const { items } = await readActivity({ subject: `record ${record}` });
    expect(items).toMatchObject([
      { who: 'Lea', via: 'API', operation: 'deleteRecord', what: 'Deleted “Told of”' },
      { who: 'Lea', via: 'screen', operation: 'createRecord', what: 'Wrote “Told of”', accountId: id },
    ]);
    expect(JSON.stringify(await select('SELECT * FROM activities'))).not.toContain('a secret');
    await deleteAccount(id);
    expect((await readActivity({ subject: `record ${record}` })).items[0]).toMatchObject({
      who: 'Lea',
      accountId: null,
    });
    expect((await readActivity({ search: 'told of' })).total).toBe(2);
    expect((await readActivity({ search: '%' })).total).toBe(0);
    expect((await readActivity({ from: '2999-01-01' })).total).toBe(0);
  });

  it('has an entry for every operation that touches something', () => {
    const quiet = all.filter((one) => one.touches && !one.activity).map(({ id }) => id);
    // Only steps of something that is told when it is done.
    expect(quiet.sort()).toEqual(['beginCodes', 'beginPasskey', 'confirmMe', 'endSession']);
  });

  it('has one entry for work that goes on', async () => {
    const by = { id: ids.designer, name: 'The designer' };
    const about = { by, via: 'screen' as const, operation: 'editTemplate', what: 'Worked on it', goesOn: 10 };
    for (let i = 0; i < 5; i++) await noteActivity({ ...about, subject: 'template x' });
    // And where the second time is within the same thousandth of a second, so that its row would stay as it is.
    vi.useFakeTimers({ toFake: ['Date'], now: Date.now() });
    for (let i = 0; i < 5; i++) await noteActivity({ ...about, subject: 'template y' });
    vi.useRealTimers();
    for (const subject of ['template x', 'template y'])
      expect([subject, (await readActivity({ subject })).total]).toEqual([subject, 1]);
  });
});

describe('what is told of an account', () => {
  it('is nothing that lets anybody in', async () => {
    const seen = JSON.stringify([
      (await ask(asker('owner'), 'GET', '/people')).body,
      (await ask(asker('owner'), 'GET', '/account')).body,
    ]);
    const { password, handle } = await accountNumbered(ids.owner);
    expect(seen).not.toContain(password);
    expect(seen).not.toContain(handle);
  });
});
