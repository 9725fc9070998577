import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ArchivePlace } from '../../src/lib/core/addresses/archives';
import { localDay } from '../../src/lib/core/base/write';
import type { CompiledLoop } from '../../src/lib/core/loops/compiled';
import { tellList } from '../../src/lib/core/loops/evaluate';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { isAnsweredByServer, Tellings } from '../../src/lib/core/loops/loop-report';
import { enterIterations } from '../../src/lib/core/loops/iterations';
import type { ModelIndex } from '../../src/lib/core/model/model-index';
import { makeEnv, ITERATIONS_ON_CANVAS, type Env, type Pool } from '../../src/lib/core/paths/env';
import { compileTree, scopesOf } from '../../src/lib/core/render/compile';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import type { Template } from '../../src/lib/core/schema/template';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { loadRecords } from '../../src/lib/server/queries/load';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { createTemplate, partsAmong, readTemplates } from '../../src/lib/server/services/templates';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { listsOfCanvas } from '../support/services';

let drop: () => Promise<void>;
let model: ModelIndex;
let all: ContentRecord[] = [];
/** What the canvas has: the first few, and the page's own record. */
const FEW = 6;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  const ids: number[] = [];
  const make = async (typeId: string, given: object) => {
    const { id } = await createRecord(typeId, given);
    ids.push(id);
    return id;
  };
  const ways: number[] = [];
  for (let i = 0; i < 12; i++) ways.push(await make('way', { title: `Way ${i}`, status: 'published' }));
  for (let i = 0; i < 40; i++)
    await make('house', {
      title: `House ${(i * 7) % 40}`,
      status: i % 9 === 4 ? 'draft' : 'published',
      terms: i % 3 ? ['north'] : [],
      values: {
        height: (i * 13) % 17,
        open: i % 2 === 0,
        state: ['good', 'fair', 'poor'][i % 3],
        ways: [ways[i % 12], ways[(i + 5) % 12]],
      },
    });
  model = await readModel();
  all = (await loadRecords(model, ids, { drafts: true })).sort((a, b) => a.id - b.id);
});
afterAll(() => drop());

const line = (loop: string, ...steps: string[]): Nested => ({
  kind: 'text',
  slots: { text: boundTo(`loop:${loop}`, steps) },
});
const from = (typeId: string) => ({ source: { from: 'query', typeIds: [typeId] } });
const above = (loop: string, step: string, operand: number) => ({
  test: 'order.gt',
  path: { from: `loop:${loop}`, steps: [step] },
  operand,
});
const order = [
  { steps: ['height'], down: true },
  { steps: ['@title'], down: false },
];
const loop = (id: string, props: object, children: Nested[] = [line(id, '@title')]): Nested => ({
  kind: 'loop',
  id,
  props: props as Nested['props'],
  children,
});

/** Lists of a record's page, and of an archive's. */
const RECORD: Record<string, Nested[]> = {
  'every house': [loop('a', from('house'))],
  'some of them': [loop('a', { ...from('house'), order, skip: 3, limit: 7 }, [line('a', '@title'), line('a', 'ways')])],
  'higher than the page’s': [
    loop('a', {
      ...from('house'),
      order,
      limit: 9,
      leaveOut: { current: true, above: false },
      filter: { group: 'all', rules: [above('a', 'height', 4), above('a', 'height', 9)] },
    }),
  ],
  'any of two': [
    loop('a', {
      ...from('house'),
      filter: { group: 'any', rules: [above('a', 'height', 14), above('a', 'height', 3)] },
    }),
  ],
  'those that do not stand above': [
    loop('a', { ...from('house'), order, limit: 5 }),
    loop('b', { ...from('house'), order, limit: 5, leaveOut: { current: true, above: true } }),
  ],
  'a list in each turn': [
    loop('a', { ...from('way'), limit: 4 }, [
      line('a', '@title'),
      loop('b', { ...from('house'), order, limit: 2, leaveOut: { current: false, above: true } }),
      loop('c', { source: { from: 'relation', path: { from: 'loop:a', steps: ['houses'] } }, order }),
    ]),
  ],
  'in groups, with turns of their own': [
    loop('a', { ...from('house'), order, limit: 20, group: { steps: ['state'], by: 'value', down: false } }, [
      { kind: 'turn', props: { as: 'group' }, children: [line('a', '@group')] },
      line('a', '@title'),
    ]),
  ],
  'what records of the page lead to': [
    loop('a', { source: { from: 'relation', path: { from: 'record', steps: ['ways'] } } }, [
      loop('b', { ...from('house'), limit: 3, order }, [line('b', 'ways')]),
    ]),
  ],
};
const visitors = { search: [], facets: [{ step: 'state' }, { step: 'height' }], sorts: [] };
const ARCHIVE: Record<string, Nested[]> = {
  'all of an archive': [loop('a', { source: { from: 'archive' }, order })],
  'by pages, with choices': [
    { kind: 'filters', props: { loop: 'a' } },
    loop('a', { source: { from: 'archive' }, order, perPage: 5, visitors }),
  ],
  'another list beside it': [
    loop('a', { source: { from: 'archive' }, perPage: 3 }),
    loop('b', { ...from('house'), order, limit: 4, leaveOut: { current: false, above: true } }),
  ],
};

const templateOf = (purpose: 'record' | 'archive', children: Nested[], own: Partial<Template> = {}): Template => ({
  id: 'canvas',
  name: 'On the canvas',
  purpose,
  order: 0,
  version: 1,
  serves: [{ on: 'type', typeId: 'house' }],
  tree: treeFrom({ kind: 'box', id: 'root', children }),
  ...own,
});

interface Looked {
  record?: ContentRecord;
  archive?: ArchivePlace;
}

/** The canvas over a pool, with the story of one loop. */
async function canvas(template: Template, looked: Looked, pool: (asks: (loop: CompiledLoop) => boolean) => Pool) {
  const others = (await readTemplates()).filter(({ id }) => id !== template.id);
  const compiled = compileTree(template.tree, scopesOf(template, model), model, {
    studio: true,
    parts: partsAmong(others),
    id: template.id,
  });
  const env = (): Env =>
    makeEnv({
      model,
      pool: pool(isAnsweredByServer),
      today: localDay(new Date(), model.site.timeZone),
      turnsLeft: ITERATIONS_ON_CANVAS,
      ...looked,
    });
  const drawn = env();
  const html = compiled.draw(drawn);
  const story = (id: string, told?: Tellings) => {
    const made = compiled.elements.get(id);
    if (!made?.loop) throw new Error(`There is no loop ${id}.`);
    const at = env();
    enterIterations(at, made.scopes, (one) => compiled.elements.get(one)?.loop, {});
    const one = told?.story(made.loop, at);
    if (one) return { ...one, key: '' };
    const { tests, ...counts } = tellList(made.loop, at);
    return { key: '', ...counts, removed: tests.map(({ removed }) => removed) };
  };
  const loops = [...compiled.elements].filter(([, { loop }]) => loop).map(([id]) => id);
  return { html, paging: drawn.paging, story, loops };
}

/** What the canvas shows with a few records at hand, once it was told; and with all of them. */
async function both(template: Template, looked: Looked) {
  const whole = await canvas(template, looked, () => memoryPool(all, [], false));
  const some = all.filter((one, i) => i < FEW || one === looked.record);
  let tellings = new Tellings();
  const here = () => canvas(template, looked, (asks) => tellings.over(memoryPool(some, [], false), asks));
  const before = await here();
  for (const id of whole.loops) {
    const told = await listsOfCanvas({
      template,
      record: looked.record?.id,
      archive: looked.archive,
      story: { loop: id },
    });
    tellings = tellings.with(told);
  }
  const after = await here();
  return { whole, before, after, tellings };
}

describe('lists on a canvas that has a few of the records', () => {
  it.each(Object.keys(RECORD))('are those of the site: %s', async (name) => {
    const template = templateOf('record', RECORD[name]!);
    let different = 0;
    for (const record of all.filter(({ typeId }) => typeId === 'house').slice(0, 9)) {
      const { whole, before, after, tellings } = await both(template, { record });
      expect([record.title, after.html]).toEqual([record.title, whole.html]);
      if (before.html !== whole.html) different++;
      // Lists that go over what is at hand are not asked about.
      for (const id of whole.loops.filter((one) => one !== 'c' && !(one === 'a' && name.startsWith('what'))))
        expect([id, after.story(id, tellings)]).toEqual([id, whole.story(id)]);
    }
    // Without being told it would be another page.
    expect(different).toBeGreaterThan(5);
  });

  it.each(Object.keys(ARCHIVE))('are those of the site: %s', async (name) => {
    const template = templateOf('archive', ARCHIVE[name]!);
    const places: ArchivePlace[] = [
      ...[1, 2, 7, 99].map((page): ArchivePlace => ({ of: 'type', typeId: 'house', page })),
      { of: 'term', termId: 'north', page: 1 },
    ];
    for (const archive of places) {
      const { whole, after } = await both(template, { archive });
      expect([archive, after.html, after.paging]).toEqual([archive, whole.html, whole.paging]);
    }
  });

  it('are those of a part too, wherever it stands', async () => {
    await createTemplate({
      id: 'beside',
      name: 'Beside',
      purpose: 'part',
      typeId: 'house',
      tree: treeFrom({
        kind: 'box',
        id: 'root',
        children: [loop('p', { ...from('house'), order, limit: 4, leaveOut: { current: true, above: true } })],
      }),
    });
    const place: Nested = { kind: 'part', props: { part: 'beside' } };
    const template = templateOf('record', [place, loop('a', { ...from('house'), limit: 3, order }, [place]), place]);
    for (const record of all.filter(({ typeId }) => typeId === 'house').slice(0, 4)) {
      const { whole, before, after } = await both(template, { record });
      expect(after.html).toBe(whole.html);
      expect(before.html).not.toBe(whole.html);
    }
  });

  it('are counted to the end, and told of as far as a canvas draws them', async () => {
    const template = templateOf('record', RECORD['every house']!);
    const record = all.find(({ typeId }) => typeId === 'house')!;
    const told = await listsOfCanvas({ template, record: record.id });
    const published = all.filter(({ typeId, status }) => typeId === 'house' && status === 'published');
    expect(told.lists.map(({ ids, total, page, pages }) => [ids.length, total, page, pages])).toEqual([
      [published.length, published.length, 1, 1],
    ]);
    expect(told.stories).toEqual([]);
  });

  it('are let go together with their records, so that none is short of some', async () => {
    const template = templateOf('record', RECORD['some of them']!);
    const record = all.find(({ typeId }) => typeId === 'house')!;
    const whole = await canvas(template, { record }, () => memoryPool(all, [], false));
    const told = await listsOfCanvas({ template, record: record.id });
    const others = (from: number) => ({
      lists: [],
      facets: [],
      stories: [],
      records: Array.from({ length: 6000 }, (_, n) => ({ ...record, id: from + n })),
    });
    const drawn = async (tellings: Tellings) =>
      (await canvas(template, { record }, (asks) => tellings.over(memoryPool([record], [], false), asks))).html;
    const much = new Tellings().with(told).with(others(100_000));
    expect(await drawn(much)).toBe(whole.html);
    // Nothing is known of it any more, until it is told again.
    const more = much.with(others(200_000));
    expect(await drawn(more)).toBe(await drawn(new Tellings()));
    expect(await drawn(more.with(told))).toBe(whole.html);
  });

  it('are refused where what is sent is no page', async () => {
    const template = templateOf('record', []);
    for (const wrong of [{}, { template: 1 }, { template, record: -1 }, { template, archive: { of: 'x', page: 1 } }])
      expect((await refused(listsOfCanvas(wrong))).status).toBe(422);
    // A record or a loop that is gone is none.
    expect((await listsOfCanvas({ template, record: 999_999, story: { loop: 'gone' } })).lists).toEqual([]);
  });
});
