import { execFileSync } from 'node:child_process';
import { request } from 'node:http';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fromOwnPages } from '../../src/lib/server/access/access';
import { answerApi } from '../../src/lib/server/api/answer';
import { readBytes } from '../../src/lib/server/api/http';
import { mostBytes } from '../../src/lib/server/api/operation';
import { type Principal } from '../../src/lib/server/people/principal';
import { operations } from '../../src/lib/server/api/operations';
import { refusalAnswer } from '../../src/lib/server/api/problem';
import { createAccount } from '../../src/lib/server/people/accounts';
import { hashing } from '../../src/lib/server/people/passwords';
import { noteCreator } from '../../src/lib/server/queries/own';
import { addBytes, readMedia } from '../../src/lib/server/services/media';
import { createRecord } from '../../src/lib/server/services/records';
import { startApp, type App } from '../support/app';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';

const all = operations('');
let drop: () => Promise<void>;
let app: App;
const media = mkdtempSync(join(tmpdir(), 'plum-thread-modes-'));

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await createAccount(
    { name: 'O', email: 'o@huts.example', role: 'owner', mayPublish: false },
    { password: 'seven soups at noon' },
  );
  app = await startApp({ PLUM_MEDIA: media });
});
afterAll(async () => {
  app.child.kill('SIGKILL');
  await drop();
  rmSync(media, { recursive: true, force: true });
});

/** A request whose body never ends; `sent` counts what was taken of it. */
function endless() {
  const sent = { bytes: 0 };
  const piece = new Uint8Array(16_384);
  const body = new ReadableStream<Uint8Array>(
    {
      pull(controller) {
        sent.bytes += piece.length;
        controller.enqueue(piece);
      },
    },
    { highWaterMark: 0 },
  );
  const headers = { 'content-type': 'application/json' };
  return { sent, request: new Request('http://x', { method: 'POST', body, headers, duplex: 'half' } as RequestInit) };
}

describe('a body', () => {
  it('is refused as soon as it is too large, and before it is read where it says so', async () => {
    const { sent, request } = endless();
    expect((await refused(readBytes(request, 64_000))).status).toBe(413);
    expect(sent.bytes).toBeLessThan(64_000 + 3 * 16_384);
    const declared = endless();
    const says = new Request(declared.request, {
      headers: { 'content-length': '200000000' },
      duplex: 'half',
    } as RequestInit);
    expect((await refused(readBytes(says, 64_000))).status).toBe(413);
    expect(declared.sent.bytes).toBeLessThanOrEqual(16_384);
  });

  it('of each operation has a bound, which is asked before it is held', async () => {
    const who: Principal = { id: 1, name: 'O', role: 'owner', mayPublish: true, session: 's', fresh: true };
    for (const one of all) {
      if (!one.body || one.body === 'file') continue;
      const { sent, request } = endless();
      const path = one.path.replace(/\{\w+\}/g, '1');
      const declared = new Request(request, { method: one.method, duplex: 'half' } as RequestInit);
      const { status } = await answerApi(declared, new URL(`http://x/api/v1${path}`), path, all, who);
      expect([one.id, status]).toEqual([one.id, 413]);
      expect([one.id, sent.bytes <= mostBytes(one) + 5 * 16_384]).toEqual([one.id, true]);
      if (one.touches === 'people') expect([one.id, mostBytes(one)]).toEqual([one.id, 64_000]);
    }
  });

  it('is not read of whoever is not signed in: sign-in, passkey and every other form of the studio', async () => {
    /** Sends a body of this size for as long as it is taken; what is answered. */
    const send = (path: string, type: string, bytes: number) =>
      new Promise<number>((done) => {
        const { port } = new URL(app.origin);
        const client = request({
          host: '127.0.0.1',
          port,
          path,
          method: 'POST',
          headers: { 'content-type': type, origin: app.origin },
        });
        client.once('response', (answer) => {
          done(answer.resume().statusCode ?? 0);
          client.destroy();
        });
        client.on('error', () => undefined);
        client.write(Buffer.alloc(bytes, 'a='));
        // It never ends by itself.
      });
    const form = 'application/x-www-form-urlencoded';
    for (const [path, type] of [
      ['/studio/sign-in?/password', form],
      ['/studio/sign-in?/forgotten', form],
      ['/studio/sign-in?/code', `multipart/form-data; boundary=a`],
      [`/studio/link/${'x'.repeat(43)}?/password`, form],
      ['/', form],
    ] as const)
      expect([path, await send(path, type, 200_000)]).toEqual([path, 413]);
    // Refused before anything is read: without an account, or by its size.
    expect([401, 413]).toContain(await send('/api/v1/records', 'application/json', 200_000));
    const memory = () =>
      Number(/VmHWM:\s+(\d+)/.exec(execFileSync('cat', [`/proc/${app.child.pid}/status`]).toString())?.[1]);
    const before = memory();
    await Promise.all(
      Array.from({ length: 4 }, () =>
        fetch(`${app.origin}/studio/sign-in?/password`, {
          method: 'POST',
          headers: { 'content-type': form, origin: app.origin },
          body: Buffer.alloc(60_000_000, 'a'),
        }).catch(() => undefined),
      ),
    );
    // Four such bodies held 1.5 GB once.
    expect(memory() - before).toBeLessThan(150_000);
  });
});

describe('hashes of passwords', () => {
  it('are made two at a time, and whoever comes when very many wait is told to come back', async () => {
    let now = 0;
    let most = 0;
    let release = () => {};
    const gate = new Promise<void>((go) => (release = go));
    const work = async () => {
      most = Math.max(most, ++now);
      await gate;
      now--;
    };
    const waiting = Array.from({ length: 100 }, () => hashing(work));
    expect(await refused(hashing(work))).toMatchObject({ status: 503, more: { retryAfter: 5 } });
    release();
    await Promise.all(waiting);
    expect(most).toBe(2);
  });
});

describe('an author who may not publish', () => {
  const ask = async (who: Principal, method: string, path: string, body: unknown) => {
    const headers = { 'if-match': '*', 'content-type': 'application/json' };
    const request = new Request(`http://x/api/v1${path}`, { method, headers, body: JSON.stringify(body) });
    return (await answerApi(request, new URL(request.url), path, all, who)).status;
  };
  const person = async (name: string): Promise<Principal> => {
    const { id } = await createAccount({ name, email: `${name}@huts.example`, role: 'author', mayPublish: false });
    return { id, name, role: 'author', mayPublish: false, session: 's', fresh: true };
  };

  it('changes nothing of a picture that visitors see, nor takes it away', async () => {
    const who = await person('pia');
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="7" height="9"><rect width="7" height="9"/></svg>';
    const { id } = await addBytes('7.svg', Buffer.from(svg), 'Before');
    await noteCreator('media', [id], who.id);
    expect(await ask(who, 'PATCH', `/media/${id}`, { alt: 'A draft’s' })).toBe(200);
    await createRecord('house', { title: 'Seen', status: 'published', values: { photo: id } });
    expect(await ask(who, 'PATCH', `/media/${id}`, { alt: 'Seen at once' })).toBe(403);
    expect(await ask(who, 'DELETE', `/media/${id}`, {})).toBe(403);
    expect((await readMedia(id)).alt).toBe('A draft’s');
    expect(await ask({ ...who, mayPublish: true }, 'PATCH', `/media/${id}`, { alt: 'By one who may' })).toBe(200);
  });

  it('shares on no record of others', async () => {
    const [maker, other, third] = [await person('ann'), await person('ben'), await person('cy')];
    const { id } = await createRecord('house', { title: 'Of Ann', values: {} });
    await noteCreator('records', [id], maker.id);
    expect(await ask(maker, 'PUT', `/records/${id}/people`, { accounts: [other.id] })).toBe(200);
    expect(await ask(other, 'PATCH', `/records/${id}`, { title: 'With Ben' })).toBe(200);
    expect(await ask(other, 'PUT', `/records/${id}/people`, { accounts: [other.id, third.id] })).toBe(403);
    expect(await ask(third, 'PATCH', `/records/${id}`, { title: 'With Cy' })).toBe(403);
  });
});

describe('what is decided by a path', () => {
  it('is decided by the path that is answered, however it is written', () => {
    const foreign = (path: string) =>
      fromOwnPages(
        new Request(`http://a.example${path}`, { headers: { 'sec-fetch-site': 'cross-site' } }),
        new URL(`http://a.example${path}`),
      );
    for (const path of ['/api/v1/types', '/%61pi/v1/types', '/ap%69/v1/types', '/%61%70%69/v1/types'])
      expect([path, foreign(path)]).toEqual([path, false]);
    expect(foreign('/studio')).toBe(true);
  });

  it('and an address with an escape that says nothing is refused', async () => {
    const who: Principal = { id: 1, name: 'O', role: 'owner', mayPublish: true };
    for (const path of [
      '/pages?address=/%25ZZ',
      '/pages?address=/a%25',
      '/serving?address=/%25ZZ',
      '/pages?address=/%25E0%25A4%25A',
    ]) {
      const url = new URL(`http://x/api/v1${path}`);
      expect([path, (await answerApi(new Request(url), url, url.pathname.slice(7), all, who)).status]).toEqual([
        path,
        422,
      ]);
    }
  });
});

describe('a full disk', () => {
  it.each([
    ['the system', Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' })],
    ['a quota', Object.assign(new Error('EDQUOT'), { code: 'EDQUOT' })],
    ['the database', Object.assign(new Error('x'), { original: { code: 'ER_RECORD_FILE_FULL', errno: 1114 } })],
    [
      'its log',
      Object.assign(new Error('x'), {
        original: { errno: 1026, sqlMessage: 'Error writing file \'./x\' (errno: 28 "No space left on device")' },
      }),
    ],
  ])('is said as such: %s', async (_, error) => {
    const answer = refusalAnswer(error);
    expect([answer.status, ((await answer.json()) as { title: string }).title]).toEqual([
      507,
      expect.stringContaining('The disk is full.'),
    ]);
  });
});

describe('every answer', () => {
  it('keeps pages of others away, and files are for those alone who run this', async () => {
    const said = async (path: string) => {
      const { headers } = await fetch(app.origin + path);
      return ['cross-origin-opener-policy', 'cross-origin-resource-policy'].map((name) => headers.get(name));
    };
    for (const path of ['/', '/studio/sign-in', '/api/v1/types', '/nowhere', '/healthz'])
      expect([path, ...(await said(path))]).toEqual([path, 'same-origin', 'same-origin']);
    expect((await said('/media/1/original'))[1]).toBe('cross-origin');
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="3" height="9"><rect width="3" height="9"/></svg>';
    const signedIn = await fetch(`${app.origin}/studio/sign-in?/password`, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: app.origin },
      body: new URLSearchParams({ email: 'o@huts.example', password: 'seven soups at noon' }),
    });
    const cookie = signedIn.headers
      .getSetCookie()
      .map((one) => one.split(';')[0])
      .join('; ');
    expect(cookie).toMatch(/plum_session=.*plum_device=/);
    const added = await fetch(`${app.origin}/api/v1/media?name=a.svg`, {
      method: 'POST',
      headers: { cookie, origin: app.origin, 'content-type': 'application/octet-stream' },
      body: svg,
    });
    expect(added.status).toBe(201);
    const modes = execFileSync('find', [media, '-mindepth', '1', '-printf', '%y %m\n']).toString().trim().split('\n');
    expect(new Set(modes)).toEqual(new Set(['f 640', 'd 750']));
    expect(statSync(media).isDirectory()).toBe(true);
  });
});
