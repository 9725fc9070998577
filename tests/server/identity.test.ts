import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { answerApi } from '../../src/lib/server/api/answer';
import type { Principal } from '../../src/lib/server/people/principal';
import { operations } from '../../src/lib/server/api/operations';
import { run, select } from '../../src/lib/server/database/connect';
import {
  accountNumbered,
  changeAccount,
  createAccount,
  joinAccount,
  setPassword,
} from '../../src/lib/server/people/accounts';
import { accountRow } from '../../src/lib/server/queries/accounts';
import { knowDevice } from '../../src/lib/server/people/devices';
import { sendForgotten, takeAddress } from '../../src/lib/server/people/links';
import { givePass, lookAtPass } from '../../src/lib/server/people/passes';
import { askProvider, providerAnswered, saveProviderRules } from '../../src/lib/server/people/provider';
import { beginSession, sessionWith } from '../../src/lib/server/people/sessions';
import { afterFirstFactor, withPassword } from '../../src/lib/server/people/sign-in';
import { FREE_TRIES, waitAfter } from '../../src/lib/server/people/throttle';
import { createToken, tokenWith } from '../../src/lib/server/people/tokens';
import { deleteExpired } from '../../src/lib/server/queries/people';
import { startMailServer } from '../../standins/mail-server.mjs';
import { freshDatabase } from '../support/database';
import { FOREIGN, startLyingProvider, type Said } from '../support/lying-provider';
import { refused } from '../support/refused';
import { configurationFrom } from '../../src/lib/server/base/configuration';
import { useServer } from '../support/server';

const PASSWORD = 'seven soups at noon';
const ORIGIN = 'https://a.example';
const FROM = { address: '192.0.2.7', browser: 'A browser' };
const all = operations('');
let drop: () => Promise<void>;
let leave: () => Promise<void>;
let provider: Awaited<ReturnType<typeof startLyingProvider>>;
let mails: Awaited<ReturnType<typeof startMailServer>>;

beforeAll(async () => {
  drop = await freshDatabase();
  provider = await startLyingProvider();
  mails = await startMailServer();
  const { provider: own } = configurationFrom({ PLUM_PROVIDER: provider.issuer, PLUM_PROVIDER_SECRET: 'a-secret' });
  leave = useServer({ provider: own, mail: mails.url });
  await saveProviderRules({
    rules: [
      { by: 'group', is: 'board', role: 'owner' },
      { by: 'group', is: 'web', role: 'designer' },
    ],
  });
});
afterAll(async () => {
  await leave();
  await provider.stop();
  await mails.stop();
  await drop();
});

let n = 0;
/** An account of its own for each test. */
async function person(role: 'owner' | 'reader' | 'editor' = 'reader', more = {}) {
  const email = `p${++n}@huts.example`;
  const { id } = await createAccount(
    { name: `P ${n}`, email, role, mayPublish: false },
    { password: PASSWORD, ...more },
  );
  const session = await beginSession(id, '192.0.2.1', 'A');
  const { token } = await createToken(id, { name: 't', scopes: ['Records'], readOnly: false, days: 9 }, ['Records']);
  const who: Principal = {
    id,
    name: `P ${n}`,
    role,
    mayPublish: false,
    session: (await sessionWith(session))!.session,
    fresh: true,
  };
  const lives = async () => [
    (await sessionWith(session)) !== undefined,
    (await tokenWith(`Bearer ${token}`)) !== undefined,
  ];
  return { id, email, session, token, who, lives };
}

async function ask(who: Principal, method: string, path: string, body?: unknown) {
  const url = new URL(`${ORIGIN}/api/v1${path}`);
  const headers = { 'if-match': '*', 'content-type': 'application/json' };
  const request = new Request(url, { method, headers, body: body === undefined ? undefined : JSON.stringify(body) });
  const answer = await answerApi(request, url, path, all, who);
  const text = await answer.text();
  return { status: answer.status, body: (text ? JSON.parse(text) : {}) as Record<string, unknown> };
}

/** Comes in by the provider, which says this. */
async function comeBy(claims: Record<string, unknown>, how?: (said: Said) => void, signedIn?: number, joins?: number) {
  const { address, pass } = await askProvider(`${ORIGIN}/back`, '/studio', joins);
  const query = new URL(address).searchParams;
  provider.say({ nonce: query.get('nonce'), ...claims }, how);
  return providerAnswered(pass, new URL(`${ORIGIN}/back?code=x&state=${query.get('state')}`), signedIn);
}
const secretIn = (text: string) => /\/studio\/link\/([\w-]{43})/.exec(text)?.[1] ?? '';
const lettersTo = async (to: string) =>
  ((await (await fetch(`${mails.outbox}/letters`)).json()) as { to: string; text: string }[]).filter(
    (one) => one.to === to,
  );

describe('another address', () => {
  it('counts only once the link that was sent to it was opened; a reader becomes nobody by it', async () => {
    const reader = await person();
    const target = `chair${n}@huts.example`;
    const { status, body } = await ask(reader.who, 'PATCH', '/account', { email: target, name: 'Re Ader' });
    expect([status, body.email, body.pendingEmail, body.name]).toEqual([200, reader.email, target, 'Re Ader']);
    expect((await accountNumbered(reader.id)).email).toBe(reader.email);
    // The colleague whose address that is comes by the provider for the first time, and gets an account of their own.
    const come = await comeBy({ sub: `s${n}`, email: target, email_verified: true, groups: ['board'] });
    expect(come).toMatchObject({ account: { role: 'owner', email: target } });
    expect((come as { account: { id: number } }).account.id).not.toBe(reader.id);
    expect(await accountNumbered(reader.id)).toMatchObject({ role: 'reader', subject: null });
    await expect.poll(() => lettersTo(target)).not.toEqual([]);
    // By then the address is another's.
    expect((await refused(takeAddress(reader.id, target))).status).toBe(409);
  });

  it('is taken by its link, and ends every session', async () => {
    const one = await person();
    const target = `new${n}@huts.example`;
    await ask(one.who, 'PATCH', '/account', { email: target });
    await expect.poll(() => lettersTo(target)).not.toEqual([]);
    const pass = await lookAtPass(secretIn((await lettersTo(target))[0]!.text));
    expect(pass).toMatchObject({ purpose: 'address', accountId: one.id, data: { email: target } });
    await takeAddress(one.id, target);
    expect(await accountNumbered(one.id)).toMatchObject({ email: target, emailProved: true });
    expect((await one.lives())[0]).toBe(false);
    // Set by an owner it is not proved.
    await changeAccount(one.id, { email: `again${n}@huts.example` });
    expect(await accountNumbered(one.id)).toMatchObject({ emailProved: false });
  });

  it('is refused where no letter can be sent, or where it is somebody’s', async () => {
    const [one, two] = [await person(), await person()];
    expect(await ask(one.who, 'PATCH', '/account', { email: two.email })).toMatchObject({ status: 409 });
    const leaveThis = useServer({ mail: undefined });
    const no = await ask(one.who, 'PATCH', '/account', { email: 'free@huts.example' });
    await leaveThis();
    expect([no.status, (no.body.problems as { fix: string }[])[0]?.fix]).toEqual([409, 'Ask an owner to change it.']);
  });
});

describe('an account is joined to somebody of the provider', () => {
  it('by no address alone: a link to it is sent, and nothing is changed before it is opened', async () => {
    const one = await person('reader', { emailProved: true });
    const claims = { sub: `j${n}`, email: one.email, email_verified: true, groups: ['board'] };
    expect(await comeBy(claims)).toEqual({ joining: one.email });
    expect(await accountNumbered(one.id)).toMatchObject({ subject: null, role: 'reader' });
    expect(await one.lives()).toEqual([true, true]);
    await expect.poll(() => lettersTo(one.email)).not.toEqual([]);
    const pass = await lookAtPass(secretIn((await lettersTo(one.email))[0]!.text));
    expect(pass).toMatchObject({ purpose: 'join', accountId: one.id, data: { subject: `${provider.issuer} j${n}` } });
    await joinAccount(one.id, `${provider.issuer} j${n}`, { emailProved: true });
    // From then on it is the same account, with the role that the group has; raising it ends its sessions.
    expect(await comeBy(claims)).toMatchObject({ account: { id: one.id, role: 'owner', roleByRule: true } });
    expect((await one.lives())[0]).toBe(false);
  });

  it('while signed in, once', async () => {
    const [one, two] = [await person(), await person()];
    const claims = { sub: `w${n}`, email: 'elsewhere@b.example', email_verified: true };
    expect((await refused(comeBy(claims, undefined, two.id, one.id))).status).toBe(409);
    expect(await comeBy(claims, undefined, one.id, one.id)).toMatchObject({ account: { id: one.id } });
    expect((await one.lives())[0]).toBe(false);
    expect((await refused(comeBy(claims, undefined, two.id, two.id))).status).toBe(409);
    expect((await refused(joinAccount(one.id, 'x y', {}))).status).toBe(409);
  });

  it('never where the address was not proved there, nor where another was joined', async () => {
    const one = await person();
    expect((await refused(comeBy({ sub: 'u', email: one.email, email_verified: false, groups: ['web'] }))).status).toBe(
      403,
    );
    await joinAccount(one.id, `${provider.issuer} first`, {});
    expect(
      (await refused(comeBy({ sub: 'second', email: one.email, email_verified: true, groups: ['web'] }))).status,
    ).toBe(403);
    expect(await lettersTo(one.email)).toEqual([]);
  });

  it('and forgotten gives it no password', async () => {
    const one = await person('reader', { subject: 'i s9' });
    await sendForgotten(one.id, ORIGIN);
    expect((await lettersTo(one.email)).map(({ text }) => secretIn(text))).toEqual(['']);
    expect(await select('SELECT 1 FROM passes WHERE account_id = ?', [one.id])).toEqual([]);
  });
});

describe('a role that a group gave', () => {
  it('goes with the group: to the one before it, or to none', async () => {
    const one = await person('editor', { subject: `${provider.issuer} g1` });
    const by = (groups: string[]) => comeBy({ sub: 'g1', email: 'x@b.example', email_verified: true, groups });
    expect(await by(['web'])).toMatchObject({ account: { role: 'designer', roleBefore: 'editor', roleByRule: true } });
    const session = await beginSession(one.id, '192.0.2.1', 'A');
    expect(await by([])).toMatchObject({ account: { role: 'editor', roleByRule: false } });
    expect(await sessionWith(session)).toBeUndefined();
    // Made by the rule alone.
    const signInAs = (sub: string, groups: string[]) =>
      comeBy({ sub, email: `${sub}@b.example`, email_verified: true, groups });
    expect(await signInAs('g2', ['web'])).toMatchObject({
      account: { role: 'designer', roleByRule: true, emailProved: true },
    });
    expect((await refused(signInAs('g2', []))).title).toContain('no rule any more');
    expect(await accountRow({ subject: `${provider.issuer} g2` })).toMatchObject({ role: 'reader' });
    expect(await signInAs('g2', ['web'])).toMatchObject({ account: { role: 'designer' } });
    // The last owner stays one, and comes in, whatever the provider says.
    const owners = await select<{ id: number }>("SELECT id FROM accounts WHERE role = 'owner'");
    await signInAs('g3', ['board']);
    for (const { id } of owners) await run("UPDATE accounts SET role = 'reader' WHERE id = ?", [id]);
    expect(await signInAs('g3', [])).toMatchObject({ account: { role: 'owner' } });
    for (const { id } of owners) await run("UPDATE accounts SET role = 'owner' WHERE id = ?", [id]);
    // What an owner sets by hand is not the rule's.
    const { id } = (await accountRow({ subject: `${provider.issuer} g2` }))!;
    await changeAccount(id, { role: 'editor' });
    expect(await signInAs('g2', [])).toMatchObject({ account: { role: 'editor' } });
  });
});

describe('after the provider', () => {
  it('the code is asked for too, unless the provider saw a second factor', async () => {
    const one = await person('reader', { subject: `${provider.issuer} c1` });
    await run('UPDATE accounts SET code_secret = ? WHERE id = ?', ['JBSWY3DPEHPK3PXP', one.id]);
    for (const [amr, seen] of [
      [['pwd'], false],
      [undefined, false],
      [['pwd', 'otp'], true],
      [['mfa'], true],
    ] as const) {
      const come = await comeBy({ sub: 'c1', amr });
      expect([amr, (come as { secondFactor: boolean }).secondFactor]).toEqual([amr, seen]);
    }
    expect(await afterFirstFactor(await accountNumbered(one.id), 'the identity provider', FROM)).toHaveProperty(
      'second',
    );
  });
});

describe('what a provider says is believed only where each field of it is right (OpenID Connect Core 1.0, 3.1.3.7)', () => {
  const now = () => Math.floor(Date.now() / 1000);
  const lies: [string, (said: Said) => void][] = [
    ['another issuer', (said) => (said.claims.iss = 'http://127.0.0.1:1')],
    ['no issuer', (said) => delete said.claims.iss],
    ['another audience', (said) => (said.claims.aud = 'somebody-else')],
    [
      'several audiences, for another party',
      (said) => Object.assign(said.claims, { aud: ['plum-thread', 'b'], azp: 'b' }),
    ],
    ['no audience', (said) => delete said.claims.aud],
    ['another nonce', (said) => (said.claims.nonce = 'x')],
    ['no nonce', (said) => delete said.claims.nonce],
    ['no subject', (said) => delete said.claims.sub],
    ['an empty subject', (said) => (said.claims.sub = '')],
    ['a subject that is a number', (said) => (said.claims.sub = 7)],
    ['it has ended', (said) => (said.claims.exp = now() - 60)],
    ['it never ends', (said) => delete said.claims.exp],
    ['said an hour ago', (said) => (said.claims.iat = now() - 3600)],
    ['said tomorrow', (said) => (said.claims.iat = now() + 86_400)],
    ['said at no time', (said) => delete said.claims.iat],
    ['said at a time that is a word', (said) => (said.claims.iat = 'now')],
    ['not before tomorrow', (said) => (said.claims.nbf = now() + 86_400)],
    ['signed by a key that is not the provider’s', (said) => (said.key = FOREIGN)],
    ['a key that is not published', (said) => (said.header.kid = 'two')],
    ['not signed', (said) => (said.header.alg = 'none')],
    ['signed with the secret', (said) => (said.header.alg = 'HS256')],
    ['another algorithm', (said) => (said.header.alg = 'PS256')],
    ['groups that are a word', (said) => (said.claims.groups = 'board')],
    ['an address of a million signs', (said) => (said.claims.email = `${'a'.repeat(1e6)}@b.example`)],
    ['a name of a million signs', (said) => (said.claims.name = 'a'.repeat(1e6))],
    ['no token at all', (said) => (said.token = '')],
    ['a token of two parts', (said) => (said.token = 'a.b')],
  ];
  const claims = { sub: 'true', email: 'true@b.example', email_verified: true, groups: ['web'] };
  it('and so it is where all of it is', async () => {
    expect(await comeBy(claims)).toMatchObject({ account: { role: 'designer' } });
  });
  it.each(lies)('%s', async (_, lie) => {
    expect((await refused(comeBy(claims, lie))).status).toBe(403);
  });
});

describe('what an account is signed in by elsewhere', () => {
  it('ends with its password, and tokens do unless they are to stay', async () => {
    const [one, two] = [await person(), await person()];
    await setPassword(one.id, 'another long one');
    expect(await one.lives()).toEqual([false, false]);
    const change = { current: PASSWORD, password: 'another long one', keepTokens: true };
    expect((await ask(two.who, 'PUT', '/account/password', change)).status).toBe(204);
    expect(await two.lives()).toEqual([true, true]);
    const ends = { current: 'another long one', password: 'yet another long one' };
    expect((await ask(two.who, 'PUT', '/account/password', ends)).status).toBe(204);
    expect(await two.lives()).toEqual([true, false]);
  });

  it('is not awake again with an account that is opened again', async () => {
    const one = await person();
    await changeAccount(one.id, { closed: true });
    await changeAccount(one.id, { closed: false });
    expect(await one.lives()).toEqual([false, false]);
  });

  it('ends with each change of a factor', async () => {
    const one = await person();
    const other = await beginSession(one.id, '192.0.2.1', 'B');
    expect((await ask(one.who, 'DELETE', '/account/codes')).status).toBe(204);
    expect([await sessionWith(other), (await one.lives())[0]]).toEqual([undefined, true]);
  });
});

describe('tries of a password', () => {
  it('wait longer and longer for one account from one address', async () => {
    expect([0, FREE_TRIES - 1, FREE_TRIES, FREE_TRIES + 3, 60].map(waitAfter)).toEqual([0, 0, 1000, 8000, 900_000]);
    const one = await person();
    for (let i = 0; i < FREE_TRIES; i++)
      expect((await refused(withPassword(one.email, 'wrong', FROM))).status).toBe(403);
    expect(await refused(withPassword(one.email, PASSWORD, FROM))).toMatchObject({
      status: 429,
      more: { retryAfter: 1 },
    });
    // Nobody else waits: neither the same account from elsewhere, nor another one from here.
    expect(await withPassword(one.email, PASSWORD, { ...FROM, address: '192.0.2.8' })).toHaveProperty('session');
    expect(await withPassword((await person()).email, PASSWORD, FROM)).toHaveProperty('session');
  });

  it('by any number of strangers keep nobody out who comes from a device that is known', async () => {
    const one = await person();
    const device = (await knowDevice(one.id, undefined))!;
    expect(await knowDevice(one.id, device)).toBeUndefined();
    const stranger = (i: number) => ({ address: `198.51.100.${i}`, browser: 'S' });
    for (let i = 0; i < 101; i++) await refused(withPassword(one.email, 'wrong', stranger(i)));
    expect((await refused(withPassword(one.email, PASSWORD, stranger(200)))).status).toBe(429);
    expect(await withPassword(one.email, PASSWORD, { ...FROM, device })).toHaveProperty('session');
    // The device of somebody else is none of this account's.
    const foreign = (await knowDevice((await person()).id, undefined))!;
    for (let i = 0; i < 101; i++) await refused(withPassword(one.email, 'wrong', stranger(i)));
    expect((await refused(withPassword(one.email, PASSWORD, { ...stranger(201), device: foreign }))).status).toBe(429);
  });
});

describe('what has ended', () => {
  it('is cleared by time, however much there is', async () => {
    for (let i = 0; i < 25; i++)
      await run(
        `INSERT INTO passes (token_hash, purpose, data, ends) VALUES ${Array.from({ length: 100 }, (_, k) => `('${String(i * 100 + k).padStart(64, 'e')}', 'provider', '{}', '2020-01-01')`).join(',')}`,
        [],
      );
    const lives = await givePass('provider');
    await deleteExpired(new Date());
    expect(await select('SELECT COUNT(*) AS n FROM passes WHERE ends < NOW()')).toEqual([{ n: 0 }]);
    expect(await lookAtPass(lives)).toBeDefined();
  });
});
