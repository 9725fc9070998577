import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { treeFrom } from '../../src/lib/core/templates/build';
import { answerApi } from '../../src/lib/server/api/answer';
import { operations } from '../../src/lib/server/api/operations';
import { select } from '../../src/lib/server/database/connect';
import { addBytes } from '../../src/lib/server/services/media';
import { createRecord } from '../../src/lib/server/services/records';
import { deleteOldRemovals, readRemoved } from '../../src/lib/server/services/removed';
import { createTemplate } from '../../src/lib/server/services/templates';
import { freshDatabase } from '../support/database';
import { OWNER } from '../support/people';
import { dump, saveModel } from '../support/fill';
import { saveMenu } from '../support/services';

let drop: () => Promise<void>;
const origin = 'http://127.0.0.1:4000';
const all = operations('');
const ask = async (method: string, path: string, body?: unknown) => {
  const url = new URL(`${origin}/api/v1${path}`);
  const headers = { 'if-match': '*', ...(body === undefined ? {} : { 'content-type': 'application/json' }) };
  const response = await answerApi(
    new Request(url, { method, headers, body: body === undefined ? undefined : JSON.stringify(body) }),
    url,
    path.split('?')[0]!,
    all,
    OWNER,
  );
  const text = await response.text();
  return { status: response.status, body: (text ? JSON.parse(text) : undefined) as Record<string, unknown> };
};

/** Everything that can be deleted: how it is, and what the list of removed things says of it. */
const DELETED: [string, () => Promise<[string, string, unknown?]>, RegExp][] = [
  [
    'a record',
    async () => ['DELETE', `/records/${(await createRecord('house', { title: 'Ash', terms: ['south'] })).id}`],
    /“Ash”/,
  ],
  [
    'several records',
    async () => {
      const ids = [await createRecord('person', { title: 'P' }), await createRecord('person', { title: 'Q' })].map(
        ({ id }) => id,
      );
      await createRecord('house', { title: 'Kept by P', values: { keeper: [ids[0]] } });
      return ['DELETE', '/records/bulk', { ids }];
    },
    /2 records/,
  ],
  [
    'the former state of records that were changed alike',
    async () => {
      const { id } = await createRecord('house', { title: 'Birch', terms: ['peak'] });
      return ['PATCH', '/records/bulk', { ids: [id], addTerms: ['south'], takeTerms: ['peak'] }];
    },
    /change of 1 record/,
  ],
  [
    'a picture',
    async () => {
      const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"><rect width="4" height="4"/></svg>';
      const { id } = await addBytes('a.svg', Buffer.from(svg));
      await createRecord('house', { title: 'With it', values: { photo: id } });
      return ['DELETE', `/media/${id}`];
    },
    /“a.svg”/,
  ],
  ['a term', () => Promise.resolve(['DELETE', '/terms/peak', {}]), /term “/],
  ['a taxonomy', () => Promise.resolve(['DELETE', '/taxonomies/area']), /taxonomy “/],
  [
    'an author',
    async () => {
      const { body } = await ask('POST', '/authors', { name: 'Ada' });
      await createRecord('house', { title: 'By Ada', authorId: body.id as number });
      return ['DELETE', `/authors/${body.id as number}`];
    },
    /author “Ada”/,
  ],
  ['a content type', () => Promise.resolve(['DELETE', '/types/person']), /content type “/],
  [
    'a template with what it was before',
    async () => {
      const tree = (words: string) =>
        treeFrom({ kind: 'box', children: [{ kind: 'text', slots: { text: { fixed: words } } }] });
      const { id } = await createTemplate({
        id: 'gone',
        name: 'Gone',
        purpose: 'record',
        typeId: 'house',
        tree: tree('a'),
      });
      const put = await ask('PUT', `/templates/${id}`, {
        ...(await ask('GET', `/templates/${id}`)).body,
        tree: tree('b'),
        sitting: 's',
        edits: ['Words'],
      });
      expect(put.status).toBeLessThan(500);
      return ['DELETE', `/templates/${id}`];
    },
    /template “Gone”/,
  ],
  [
    'a menu',
    async () => {
      const { id } = await saveMenu({ name: 'Foot', entries: [{ id: 'a', leads: { to: 'front' }, below: [] }] });
      return ['DELETE', `/menus/${id}`];
    },
    /menu “Foot”/,
  ],
  [
    'a rule',
    async () => {
      const { body, status } = await ask('POST', '/rules', {
        name: 'High up',
        typeId: 'house',
        rule: { group: 'all', rules: [{ test: 'filled', path: { from: 'record', steps: ['height'] } }] },
      });
      expect([status, body]).toEqual([201, body]);
      return ['DELETE', `/rules/${body.id as string}`];
    },
    /rule “High up”/,
  ],
];

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await createRecord('house', { title: 'Oak', status: 'published', terms: ['peak'], values: { height: 3 } });
});
afterAll(() => drop());

describe('what was removed', () => {
  it.each(DELETED)('%s is listed with what it holds, and comes back as it was', async (_, make, words) => {
    const [method, path, body] = await make();
    const before = await dump(['named_rules', 'menus', 'template_versions']);
    const gone = await ask(method, path, body);
    expect([gone.status, gone.body]).toEqual([gone.status < 300 ? gone.status : 200, gone.body]);
    expect(await dump(['named_rules', 'menus', 'template_versions'])).not.toEqual(before);
    const { items, days } = await readRemoved();
    expect(items[0]).toMatchObject({ what: expect.stringMatching(words), holds: expect.stringMatching(/\d [a-z]+/) });
    expect(Date.parse(items[0]!.until) - Date.parse(items[0]!.created)).toBe(days * 86_400_000);
    expect(
      (await ask('GET', `/removals?search=${encodeURIComponent(items[0]!.what.slice(0, 12))}`)).body.items,
    ).toContainEqual(items[0]);
    expect((await ask('POST', `/removals/${items[0]!.id}/undo`)).status).toBe(200);
    const after = await dump(['named_rules', 'menus', 'template_versions']);
    for (const [name, rows] of Object.entries(before))
      expect([name, after[name as keyof typeof after]]).toEqual([name, rows]);
    expect((await ask('POST', `/removals/${items[0]!.id}/undo`)).status).toBe(404);
  });

  it('is kept until a day that can be set, and then forgotten for good', async () => {
    for (const days of [0, -1, 1.5, 4000, '7']) expect((await ask('PUT', '/removals/days', { days })).status).toBe(422);
    expect((await ask('PUT', '/removals/days', { days: 2 })).body).toEqual({ days: 2 });
    const { id } = await createRecord('house', { title: 'Long gone' });
    await ask('DELETE', `/records/${id}`);
    await deleteOldRemovals();
    expect((await readRemoved('Long gone')).total).toBe(1);
    await select("UPDATE removals SET created = created - INTERVAL 49 HOUR WHERE what LIKE '%Long gone%'").catch(
      () => undefined,
    );
    await deleteOldRemovals();
    expect((await readRemoved('Long gone')).total).toBe(0);
    expect(await select("SELECT 1 FROM removed_rows WHERE data LIKE '%Long gone%'")).toEqual([]);
  });
});
