import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readQuestion } from '../../src/lib/core/loops/visitors';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { isOwnName } from '../../src/lib/server/base/origins';
import { answerApi } from '../../src/lib/server/api/answer';
import { operations } from '../../src/lib/server/api/operations';
import { createRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { createTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { sitePolicy } from '../../src/lib/server/site/policy';
import { locationOf, ownPath, pathWithin } from '../../src/lib/server/site/send';
import { freshDatabase } from '../support/database';
import { OWNER } from '../support/people';
import { saveModel } from '../support/fill';
import { addRedirects } from '../support/services';
import { configurationFrom } from '../../src/lib/server/base/configuration';
import { useServer } from '../support/server';

let drop: () => Promise<void>;
const origin = 'http://127.0.0.1:4000';
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await createRecord('house', { title: 'A house', status: 'published' });
  await createTemplate({
    id: 'list',
    name: 'List',
    purpose: 'archive',
    serves: [{ on: 'type', typeId: 'house' }],
    tree: treeFrom({
      kind: 'box',
      children: [
        {
          kind: 'loop',
          id: 'all',
          name: 'All',
          props: { source: { from: 'query', typeIds: ['house'] }, perPage: 1 },
          children: [{ kind: 'heading', props: { level: 2 }, slots: { text: boundTo('loop:all', ['@title']) } }],
        },
        { kind: 'search' },
      ],
    }),
  });
  await release();
});
afterAll(() => drop());

const all = operations('');
const ask = (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) => {
  const [bare = '', question = ''] = path.split('?');
  const url = new URL(`${origin}/api/v1${bare}${question && `?${question}`}`);
  const text = typeof body === 'string' ? body : body === undefined ? undefined : JSON.stringify(body);
  const request = new Request(url, {
    method,
    body: text,
    headers: { ...(text === undefined ? {} : { 'content-type': 'application/json' }), 'if-match': '*', ...headers },
  });
  return answerApi(request, url, bare, all, OWNER);
};

/** Names that every object has of its own, and those that change what it is. */
const NAMES = [...Object.getOwnPropertyNames(Object.prototype), 'prototype', 'then', 'length'];

describe('names that objects have', () => {
  it.each(NAMES)('may be asked of any address: ?%s=1', async (name) => {
    const asked = readQuestion(new URLSearchParams(`${name}=1&${name}=2&page=x`));
    expect(Object.keys(asked)).toContain(name);
    for (const path of ['/', '/houses/', '/houses/a-house', '/search/', '/nowhere'])
      expect([200, 301, 404]).toContain((await answer(path, { base: '', origin }, asked)).status);
  });

  it.each(NAMES.filter((name) => name in Object.prototype))('are no ids: %s', async (id) => {
    const type = { id, key: 'odd', name: 'Odd', plural: 'Odds', base: 'odds', fields: [], taxonomyIds: [] };
    const made = await ask('PUT', `/types/${encodeURIComponent(id)}`, JSON.stringify({ ...type, id }));
    expect([400, 404, 422]).toContain(made.status);
    const field = { id, key: 'odd', label: 'Odd', kind: 'text', settings: {} };
    const other = await ask('POST', '/types', { ...type, id: 'odd', fields: [field] });
    expect([404, 422]).toContain(other.status);
    const body = `{"title":"x","values":{"${id}":1}}`;
    expect([404, 409, 422]).toContain((await ask('POST', '/types/house/records', body)).status);
  });
});

describe('what is no text, or has no end', () => {
  const deep = (n: number) => `${'['.repeat(n)}${']'.repeat(n)}`;
  it.each([
    ['a NUL', JSON.stringify({ title: 'a\u0000b' })],
    ['half a sign', '{"title":"a\\ud800b"}'],
    ['a name with half a sign', '{"title":"a","values":{"\\udc00":1}}'],
    ['nesting without end', `{"title":"a","values":{"story":${deep(5000)}}}`],
    ['a name that changes what an object is', '{"title":"a","values":{"__proto__":{"x":1}}}'],
    ['no JSON', '{"title":'],
    ['a list where an object belongs', '[]'],
    ['nothing', 'null'],
  ])('%s is refused with words, whatever it is sent to', async (_, body) => {
    const writers = all.filter((one) => one.body && one.body !== 'file');
    expect(writers.length).toBeGreaterThan(25);
    for (const one of writers) {
      const path = one.path.replace(/\{\w+\}/g, '1');
      const response = await ask(one.method, path, body);
      expect([one.method, path, response.status < 500]).toEqual([one.method, path, true]);
      if (response.status >= 400) expect(response.headers.get('content-type')).toBe('application/problem+json');
    }
  });

  it('a form, or nothing said of what is sent, is told which content type is meant', async () => {
    for (const type of ['application/x-www-form-urlencoded', 'text/plain', '']) {
      const response = await ask('POST', '/records', 'title=x', { 'content-type': type });
      const { problems, status } = (await response.json()) as { status: number; problems?: { fix: string }[] };
      if (status === 415) expect(problems?.[0]?.fix).toContain('application/json');
      expect([404, 415]).toContain(status);
    }
  });

  it('a file within a form is refused, and told how files are sent', async () => {
    const takers = all.filter((one) => one.body === 'file');
    expect(takers.length).toBeGreaterThan(2);
    for (const one of takers)
      for (const type of ['application/x-www-form-urlencoded', 'multipart/form-data; boundary=x']) {
        const response = await ask(one.method, `${one.path}?name=a.txt`, 'words', { 'content-type': type });
        const { problems } = (await response.json()) as { problems: { fix: string }[] };
        expect([one.path, response.status, problems[0]?.fix]).toEqual([
          one.path,
          415,
          expect.stringContaining('application/octet-stream'),
        ]);
      }
  });

  it('an author with an address part of other signs is refused', async () => {
    for (const slug of ['??', 'a b', '../x', 'a/b', '\u0000'])
      expect((await ask('POST', '/authors', { name: 'A', slug })).status).toBe(422);
  });

  it('redirects may lead to addresses in any script', async () => {
    await addRedirects([{ path: '/old-fog', target: '/霧/ä?q=ø' }]);
    const { to } = await answer('/old-fog', { base: '', origin });
    expect(() => new Headers({ location: locationOf(to!) })).not.toThrow();
    expect(decodeURI(locationOf(to!))).toBe('/霧/ä?q=ø');
  });
});

describe('players', () => {
  it('come from the hosts that fields allow, and from no other', async () => {
    const embed = (id: string, hosts: string[]) => ({ id, key: id, label: id, kind: 'embed', settings: { hosts } });
    const told = { id: 'told', key: 'told', label: 'T', kind: 'richtext', settings: { hosts: ['c.films.example'] } };
    const rows = {
      id: 'in',
      key: 'in',
      label: 'In',
      kind: 'rows',
      settings: { fields: [embed('deep', ['b.films.example'])] },
    };
    const made = await ask('POST', '/types', {
      id: 'film',
      key: 'film',
      name: 'Film',
      plural: 'Films',
      base: 'films',
      taxonomyIds: [],
      fields: [embed('own', ['A.films.example', 'b.films.example']), told, rows],
    });
    expect(made.status).toBe(201);
    await release();
    const { css, players } = await answer('/', { base: '', origin });
    expect(players).toEqual(['a.films.example', 'b.films.example', 'c.films.example']);
    const policy = sitePolicy(css, players);
    expect(/frame-src ([^;]*)/.exec(policy)?.[1]).toBe(
      "'self' https://a.films.example https://b.films.example https://c.films.example",
    );
    expect(policy).not.toMatch(/https:(?!\/\/)/);
  });
});

describe('addresses', () => {
  it('lead away from the site by no trick', () => {
    for (const path of ['//evil.example/', '///evil.example', '/\\evil.example', '\\\\evil.example/'])
      expect(new URL(ownPath(path), origin).origin).toBe(origin);
    const tricks = [
      '//evil.example', '/\t/evil.example', '/\n/evil.example', '/\\evil.example', 'https://evil.example',
      'javascript:alert(1)', '/\r\nset-cookie: x=1', 'http://127.0.0.1:4000.evil.example/', '\u0000', '/%0a/x', null,
    ]; // prettier-ignore
    for (const asked of tricks) {
      const path = pathWithin(asked, origin);
      expect([asked, new URL(path, origin).origin]).toEqual([asked, origin]);
      expect(path).toMatch(/^\/(?![/\\])[\x21-\x7e]*$/);
    }
    expect(pathWithin('/houses/?page=2', origin)).toBe('/houses/?page=2');
  });

  it('are answered under the names of this site alone', async () => {
    const own = [
      '127.0.0.1:4000',
      'localhost',
      'LOCALHOST:80',
      '[::1]:4000',
      'huts.example',
      'huts.example:443',
      '127.9.9.9',
    ];
    for (const host of own) expect([host, isOwnName(host, 'https://huts.example')]).toEqual([host, true]);
    const foreign = [
      null,
      '',
      'evil.example',
      'huts.example.evil.example',
      'localhost.evil.example',
      '127.0.0.1.evil.example',
      '10.0.0.1',
      'evil.example:4000',
      'huts.example@evil.example',
    ];
    for (const host of foreign) expect([host, isOwnName(host, 'https://huts.example')]).toEqual([host, false]);
    const leave = useServer(configurationFrom({ PLUM_NAMES: 'www.huts.example, other.example' }));
    expect(isOwnName('Other.Example:8080', 'https://huts.example')).toBe(true);
    await leave();
  });
});

describe('the code of a player in running text', () => {
  it.each([
    ['as markup', '<p>See</p><iframe src="https://films.example/1"></iframe>'],
    ['as text that was pasted', '<p>&lt;iframe src="https://films.example/1"&gt;&lt;/iframe&gt;</p>'],
  ])('is refused with the reason, %s, and never published as text', async (_, prose) => {
    const answer = await ask('POST', '/records', { typeId: 'house', title: 'With a player', values: { prose } });
    const { problems } = (await answer.json()) as { problems: { at: string; what: string }[] };
    expect([answer.status, problems[0]]).toEqual([
      422,
      { at: 'values.prose', what: expect.stringContaining('from elsewhere than /player/…') as string },
    ]);
  });

  it('becomes a player where its host is allowed, with what that is given', async () => {
    const told =
      '<p>See</p><iframe src="https://c.films.example/1" onload="x()" allow="camera; fullscreen">no <b>frames</b></iframe>';
    const made = await ask('POST', '/records', { typeId: 'film', title: 'Told', values: { told } });
    expect(made.status).toBe(201);
    const { values } = (await made.json()) as { values: { told: string } };
    expect(values.told).toBe('<p>See</p><iframe src="https://c.films.example/1" allow="fullscreen"></iframe>');
  });
});
