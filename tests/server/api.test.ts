import SwaggerParser from '@apidevtools/swagger-parser';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { blankTree, treeFrom } from '../../src/lib/core/templates/build';
import type { TreeOperation } from '../../src/lib/core/templates/edits';
import { sawOf, type SentOperation, type TemplateEdits } from '../../src/lib/core/templates/merging';
import type { Tree } from '../../src/lib/core/schema/element';
import type { Template } from '../../src/lib/core/schema/template';
import { answerApi } from '../../src/lib/server/api/answer';
import { openApi } from '../../src/lib/server/api/openapi';
import { operations } from '../../src/lib/server/api/operations';
import { freshDatabase } from '../support/database';
import { OWNER } from '../support/people';
import { field } from '../support/world';
import { saveTaxonomy } from '../support/services';

const all = operations('');
const origin = 'https://a.example';
let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveTaxonomy({ id: 'area', key: 'area', name: 'Area', tree: true });
});
afterAll(() => drop());

interface Answered {
  status: number;
  body: Record<string, unknown> & {
    title?: string;
    problems?: { at: string; what: string }[];
    items?: Record<string, unknown>[];
  };
  etag: string;
  headers: Headers;
}
async function ask(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Answered> {
  const url = new URL(`/api/v1${path}`, origin);
  const sent = body instanceof Uint8Array ? body : body === undefined ? undefined : JSON.stringify(body);
  const request = new Request(url, {
    method,
    headers: {
      ...(sent && { 'content-type': body instanceof Uint8Array ? 'application/octet-stream' : 'application/json' }),
      ...headers,
    },
    ...(sent && { body: sent as BodyInit }),
  });
  const answer = await answerApi(request, url, url.pathname.slice('/api/v1'.length), all, OWNER);
  const text = await answer.text();
  return {
    status: answer.status,
    body: (text ? JSON.parse(text) : {}) as Answered['body'],
    etag: answer.headers.get('etag') ?? '',
    headers: answer.headers,
  };
}

describe('the document of the API', () => {
  it('is OpenAPI 3.1 as a validator of it reads it, with an id for each operation', async () => {
    const document = openApi(all, origin);
    // @apidevtools/swagger-parser: the schema of OpenAPI 3.1, and every reference in it.
    const api = await SwaggerParser.validate(structuredClone(document) as never);
    expect(api.info.title).toBe('Plum Thread');
    expect((document as { openapi: string }).openapi).toBe('3.1.1');
    const ids = all.map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
    const answered = (await ask('GET', '/openapi.json')).body as unknown as typeof document;
    expect(answered.paths).toEqual(JSON.parse(JSON.stringify(document)).paths);
  });

  it('has schemas that are JSON Schema 2020-12, and hold for what is answered', async () => {
    const document = JSON.parse(JSON.stringify(openApi(all, origin))) as {
      components: { schemas: Record<string, object> };
    };
    const ajv = new Ajv2020({ strict: false, allErrors: true });
    addFormats.default(ajv);
    ajv.addSchema({ $id: 'https://a.example/api', ...document });
    const holds = (name: string, value: unknown) => {
      const valid = ajv.compile({ $ref: `https://a.example/api#/components/schemas/${name}` });
      return [valid(value), valid.errors];
    };
    for (const name of Object.keys(document.components.schemas))
      ajv.compile({ $ref: `https://a.example/api#/components/schemas/${name}` });
    await ask('POST', '/types', {
      id: 'hut',
      key: 'hut',
      name: 'Hut',
      plural: 'Huts',
      base: 'huts',
      taxonomyIds: ['area'],
      fields: [field('height', 'number', { unit: 'm' }, 'Height'), field('note', 'text', {}, 'Note')],
    });
    const record = await ask('POST', '/records', {
      typeId: 'hut',
      title: 'Ash',
      status: 'published',
      values: { height: 3 },
    });
    expect(record.status).toBe(201);
    expect(holds('Record', record.body)).toEqual([true, null]);
    // With the content types there are, each has a schema of its values, by the ids of its fields.
    const { body } = await ask('GET', '/openapi.json');
    const { components } = body as unknown as typeof document;
    const values = ajv.compile(components.schemas.ValuesOf_hut ?? false);
    const stored = record.body.values as Record<string, unknown>;
    expect([values(stored), values({ ...stored, height: 'tall' }), values({ ...stored, nowhere: 1 })]).toEqual([
      true,
      false,
      false,
    ]);
    expect(stored).toEqual({ height: 3 });
    expect(holds('ContentType', (await ask('GET', '/types/hut')).body)).toEqual([true, null]);
    const template = await ask('POST', '/templates', {
      name: 'Hut page',
      purpose: 'record',
      serves: [{ on: 'type', typeId: 'hut' }],
      tree: blankTree(),
    });
    expect([template.status, ...holds('Template', template.body)]).toEqual([201, true, null]);
    expect(holds('Problem', (await ask('GET', '/records/999')).body)).toEqual([true, null]);
    expect(holds('Record', { id: 'x' })[0]).toBe(false);
  });
});

describe('reading and writing', () => {
  it('gives icons by their names, former ones too, and by a search, with all that is drawn', async () => {
    const named = await ask('GET', '/icons?names=waves,mountain,no-such');
    expect(named.body.items?.map(({ name }) => name)).toEqual(['waves-horizontal', 'mountain']);
    for (const { body } of named.body.items ?? []) expect(body).toMatch(/^(<\w+ [^<>]*\/>)+$/);
    const found = await ask('GET', '/icons?search=tree%20pi&per_page=1');
    expect([found.body.items?.[0]?.name, found.body.total]).toEqual(['tree-pine', expect.any(Number)]);
    expect((await ask('GET', `/icons?names=${'a'.repeat(8001)}`)).status).toBe(422);
  });

  it('goes round for types, with the state that is meant', async () => {
    const read = await ask('GET', '/types/hut');
    expect([read.status, read.body.name]).toEqual([200, 'Hut']);
    expect((await ask('GET', '/types/hut', undefined, { 'if-none-match': read.etag })).status).toBe(304);
    const next = { ...read.body, name: 'Lodge' };
    const bare = await ask('PUT', '/types/hut', next);
    expect([bare.status, bare.body.problems?.[0]?.at]).toEqual([428, 'If-Match']);
    const saved = await ask('PUT', '/types/hut', next, { 'if-match': read.etag });
    expect([saved.status, saved.body.name]).toEqual([200, 'Lodge']);
    const stale = await ask('PUT', '/types/hut', next, { 'if-match': read.etag });
    expect([stale.status, stale.body.title, stale.body.etag]).toEqual([
      412,
      'It has been changed since it was read. Nothing was overwritten.',
      saved.etag,
    ]);
    expect((await ask('PUT', '/types/hut', { ...next, id: 'other' }, { 'if-match': '*' })).status).toBe(422);
    expect((await ask('POST', '/types', next)).status).toBe(409);
  });

  it('goes round for records, in pages', async () => {
    for (let i = 0; i < 5; i++)
      await ask('POST', '/records', { typeId: 'hut', title: `Hut ${i}`, values: { height: i } });
    const list = await ask('GET', '/records?type=hut&per_page=2&page=2&sort=-@title');
    expect([list.body.total, list.body.page, list.body.pages, list.body.items?.map(({ title }) => title)]).toEqual([
      6,
      2,
      3,
      ['Hut 2', 'Hut 1'],
    ]);
    // RFC 8288: the pages before and after, as links.
    expect(list.headers.get('link')).toBe(
      '</api/v1/records?type=hut&per_page=2&page=1&sort=-%40title>; rel="prev", </api/v1/records?type=hut&per_page=2&page=3&sort=-%40title>; rel="next", </api/v1/records?type=hut&per_page=2&page=1&sort=-%40title>; rel="first", </api/v1/records?type=hut&per_page=2&page=3&sort=-%40title>; rel="last"',
    );
    const id = String(list.body.items?.[0]?.id);
    const one = await ask('GET', `/records/${id}`);
    const changed = await ask('PATCH', `/records/${id}`, { values: { note: 'Mended' } }, { 'if-match': one.etag });
    expect([changed.status, changed.body.values]).toEqual([200, { height: 2, note: 'Mended' }]);
    expect((await ask('PATCH', `/records/${id}`, { values: { note: 'Late' } }, { 'if-match': one.etag })).status).toBe(
      412,
    );
    const wrong = await ask('PATCH', `/records/${id}`, { values: { height: 'tall' } }, { 'if-match': '*' });
    expect([wrong.status, wrong.body.problems?.[0]?.at]).toEqual([422, 'values.height']);
    expect((await ask('DELETE', `/records/${id}`, undefined, { 'if-match': changed.etag })).status).toBe(200);
    expect((await ask('GET', `/records/${id}`)).status).toBe(404);
  });

  it('goes round for terms, media, templates and releases', async () => {
    const term = await ask('POST', '/terms', { id: 'north', taxonomyId: 'area', parentId: null, name: 'North' });
    expect([term.status, term.body.slug]).toEqual([201, 'north']);
    const renamed = await ask(
      'PUT',
      '/terms/north',
      { ...term.body, name: 'Far north' },
      { 'if-match': (await ask('GET', '/terms/north')).etag },
    );
    expect(renamed.body.name).toBe('Far north');
    expect((await ask('GET', '/terms?taxonomy=area')).body.total).toBe(1);
    const file = await ask('POST', '/media?name=note.txt&alt=A%20note', new TextEncoder().encode('Hello'));
    expect([file.status, file.body.mime]).toEqual([201, 'text/plain']);
    const media = `/media/${String(file.body.id)}`;
    const said = await ask('PATCH', media, { alt: 'Another' }, { 'if-match': (await ask('GET', media)).etag });
    expect(said.body.alt).toBe('Another');
    const [template] = (await ask('GET', '/templates')).body.items ?? [];
    const path = `/templates/${String(template?.id)}`;
    const kept = await ask(
      'PUT',
      path,
      { ...template, name: 'Page of a hut' },
      { 'if-match': (await ask('GET', path)).etag },
    );
    expect([kept.status, kept.body.name, kept.body.version]).toEqual([200, 'Page of a hut', 2]);
    const released = await ask('POST', '/releases', { note: 'By the API' });
    expect([released.status, released.body.shown]).toEqual([201, true]);
    expect((await ask('POST', '/releases', {})).status).toBe(409);
    expect((await ask('GET', '/releases/1')).body.note).toBe('By the API');
    const page = await ask('GET', '/pages?address=/huts/ash');
    expect([page.body.status, String(page.body.html).includes('Ash')]).toEqual([200, true]);
    expect((await ask('GET', '/pages?address=/huts')).body).toMatchObject({ status: 301, to: '/huts/' });
    for (const one of ['/terms/north', media, path])
      expect((await ask('DELETE', one, undefined, { 'if-match': '*' })).status).toBe(one === path ? 204 : 200);
  });

  it('says what is wrong as problem details (RFC 9457)', async () => {
    const cases: [string, string, unknown, number][] = [
      ['GET', '/nothing', undefined, 404],
      ['PATCH', '/types', {}, 405],
      ['GET', '/records', undefined, 422],
      ['GET', '/records?type=hut&page=0', undefined, 422],
      ['GET', '/pages?address=huts', undefined, 422],
      ['POST', '/records', { typeId: 'gone', title: 'X' }, 404],
      ['POST', '/records', { typeId: 'hut', colour: 'red' }, 422],
      ['POST', '/terms', { id: 'x', taxonomyId: 'gone', name: 'X' }, 404],
      ['GET', '/releases/7', undefined, 404],
      ['GET', '/records/x', undefined, 404],
    ];
    for (const [method, path, body, status] of cases) {
      const { body: said, headers, status: got } = await ask(method, path, body);
      expect([method, path, got]).toEqual([method, path, status]);
      expect(headers.get('content-type')).toBe('application/problem+json');
      expect(said).toMatchObject({
        type: 'about:blank',
        status,
        title: expect.any(String) as string,
        instance: expect.stringContaining('/api/v1') as string,
      });
    }
    const broken = await answerApi(
      new Request(`${origin}/api/v1/records`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: '{',
      }),
      new URL('/api/v1/records', origin),
      '/records',
      all,
      OWNER,
    );
    expect(broken.status).toBe(400);
    expect((await ask('PATCH', '/types')).headers.get('allow')).toBe('GET, POST, PUT');
  });
});

describe('two who write at once', () => {
  const png = new Uint8Array(
    Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    ),
  );

  /** Each thing that is written as a whole: how it comes about, and how a change of it is sent. */
  const THINGS: [
    string,
    () => Promise<string>,
    'PUT' | 'PATCH',
    (read: Record<string, unknown>, n: number) => unknown,
  ][] = [
    ['content type', () => Promise.resolve('/types/hut'), 'PUT', (read, n) => ({ ...read, name: `Hut ${n}` })],
    ['taxonomy', () => Promise.resolve('/taxonomies/area'), 'PUT', (read, n) => ({ ...read, name: `Area ${n}` })],
    [
      'term',
      async () => `/terms/${(await ask('POST', '/terms', { taxonomyId: 'area', name: 'Two' })).body.id as string}`,
      'PUT',
      (read, n) => ({ ...read, name: `Two ${n}` }),
    ],
    [
      'author',
      async () => `/authors/${(await ask('POST', '/authors', { name: 'Ada' })).body.id as number}`,
      'PUT',
      (read, n) => ({ name: `Ada ${n}`, slug: read.slug, about: '', pictureId: null }),
    ],
    [
      'picture',
      async () => `/media/${(await ask('POST', '/media?name=dot.png', png)).body.id as number}`,
      'PATCH',
      (_, n) => ({ alt: `A dot, ${n}` }),
    ],
    [
      'record',
      async () => `/records/${(await ask('POST', '/records', { typeId: 'hut', title: 'Two' })).body.id as number}`,
      'PATCH',
      (_, n) => ({ title: `Two ${n}` }),
    ],
    [
      'template',
      async () =>
        `/templates/${(await ask('POST', '/templates', { name: 'Two', purpose: 'frame' })).body.id as string}`,
      'PUT',
      (read, n) => ({ ...read, name: `Two ${n}` }),
    ],
    [
      'menu',
      async () => `/menus/${(await ask('POST', '/menus', { name: 'Two', entries: [] })).body.id as string}`,
      'PUT',
      (read, n) => ({ ...read, name: `Two ${n}` }),
    ],
    ['site', () => Promise.resolve('/site'), 'PUT', (read, n) => ({ ...read, name: `Site ${n}` })],
    ['theme', () => Promise.resolve('/theme'), 'PUT', (read) => read],
  ];

  it.each(THINGS)(
    'with one ETag: one of them writes the %s, the other is told',
    async (_name, make, method, change) => {
      const path = await make();
      const { body, etag } = await ask('GET', path);
      const answers = await Promise.all(
        [1, 2, 3, 4].map((n) => ask(method, path, change(body, n), { 'if-match': etag })),
      );
      const statuses = answers.map(({ status }) => status).sort();
      expect(statuses[0]).toBe(200);
      for (const status of statuses.slice(1)) expect([409, 412]).toContain(status);
      // What stands is what the one who was told so has written.
      const written = answers.find(({ status }) => status === 200);
      expect((await ask('GET', path)).body).toEqual(written?.body);
    },
  );

  it.each(THINGS)('the ETag of a %s that was written is that of what stands', async (_name, make, method, change) => {
    const path = await make();
    const { body, etag } = await ask('GET', path);
    // In whatever order its parts are sent.
    const sent = Object.fromEntries(Object.entries(change(body, 5) as object).reverse());
    const response = await ask(method, path, sent, { 'if-match': etag });
    expect([response.status, response.etag]).toEqual([200, (await ask('GET', path)).etag]);
  });
});

describe('a template at two workbenches', () => {
  const big = () => {
    const children = Array.from({ length: 500 }, (_, i) => ({
      kind: 'text',
      id: `e_${i}`,
      slots: { text: { fixed: `The words of element number ${i}, as they stand.` } },
    }));
    return treeFrom({ kind: 'box', children });
  };
  const made = async (tree = big()) =>
    (await ask('POST', '/templates', { name: 'Shared', purpose: 'frame', tree })).body as unknown as Template;
  const put = (tree: Tree, id: string, words: string): SentOperation => {
    const operation: TreeOperation = { do: 'put', id, at: ['slots', 'text'], value: { fixed: words } };
    return { operation, saw: sawOf(tree, operation) };
  };
  const send = (id: string, edits: TemplateEdits) => ask('POST', `/templates/${id}/edits`, edits);
  const words = async (id: string, element: string) =>
    ((await ask('GET', `/templates/${id}`)).body as unknown as Template).tree.elements[element]?.slots.text;

  it('keeps what both did to different elements, and tells the second what stands', async () => {
    const { id, tree, version } = await made();
    const [first, second] = await Promise.all([
      send(id, { version, operations: [put(tree, 'e_1', 'One')], labels: ['Wrote'] }),
      send(id, { version, operations: [put(tree, 'e_2', 'Two')], labels: ['Wrote'] }),
    ]);
    expect([first.status, second.status]).toEqual([200, 200]);
    expect([await words(id, 'e_1'), await words(id, 'e_2')]).toEqual([{ fixed: 'One' }, { fixed: 'Two' }]);
    const told = [first, second].map(({ body }) => body.tree as Tree | undefined);
    expect(told.filter(Boolean)).toHaveLength(1);
    expect(told.find(Boolean)?.elements.e_1?.slots.text).toEqual({ fixed: 'One' });
  });

  it('refuses what was done to the same place, and writes nothing of it', async () => {
    const { id, tree, version } = await made();
    await send(id, { version, operations: [put(tree, 'e_1', 'Mine')] });
    const late = await send(id, { version, operations: [put(tree, 'e_2', 'Also'), put(tree, 'e_1', 'Yours')] });
    expect([late.status, late.body.problems?.[0]?.at]).toEqual([409, 'tree.elements.e_1']);
    expect([await words(id, 'e_1'), await words(id, 'e_2')]).toEqual([
      { fixed: 'Mine' },
      tree.elements.e_2?.slots.text,
    ]);
  });

  it('keeps a name that nobody else has changed, and tells of one that somebody has', async () => {
    const { id, version } = await made();
    const named = await send(id, { version, operations: [], name: { from: 'Shared', to: 'Mine' } });
    expect([named.status, named.body.name]).toEqual([200, 'Mine']);
    const late = await send(id, { version, operations: [], name: { from: 'Shared', to: 'Yours' } });
    expect([late.status, late.body.problems?.[0]?.at]).toEqual([409, 'name']);
  });

  it('refuses what does not hold together, whoever sends it', async () => {
    const { id, tree, version } = await made();
    const wrong: [TreeOperation, number][] = [
      [{ do: 'put', id: 'e_1', at: ['slots', 'nowhere'], value: { fixed: 'x' } }, 422],
      [{ do: 'put', id: 'e_1', at: ['style'], value: { wide: { unheard: 'x' } } }, 422],
      [{ do: 'put', id: 'e_1', at: ['__proto__', 'x'], value: 1 }, 422],
      [{ do: 'remove', id: tree.root }, 422],
      [{ do: 'move', id: tree.root, parent: 'e_1', index: 0 }, 422],
    ];
    for (const [operation, status] of wrong) {
      const sent = { operation, saw: sawOf(tree, operation) };
      expect([operation, (await send(id, { version, operations: [sent] })).status]).toEqual([operation, status]);
    }
    expect(((await ask('GET', `/templates/${id}`)).body as unknown as Template).version).toBe(version);
  });

  it('sends little for a small edit of a large template', async () => {
    const { tree, ...rest } = await made();
    const whole = JSON.stringify({ template: { ...rest, tree }, edits: ['Wrote'] }).length;
    const edit = JSON.stringify({ version: 1, operations: [put(tree, 'e_1', 'One')], labels: ['Wrote'] }).length;
    expect(edit * 100).toBeLessThan(whole);
  });
});
