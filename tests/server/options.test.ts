import { afterAll, beforeAll, expect, it } from 'vitest';
import { changeOption } from '../../src/lib/core/content/options';
import type { ContentType } from '../../src/lib/core/schema/model';
import { readModel } from '../../src/lib/server/services/model';
import { previewOptions } from '../../src/lib/server/services/option-changes';
import { inTransaction, select } from '../../src/lib/server/database/connect';
import { createRecord, readRecord, changeRecord, insertRecords } from '../../src/lib/server/services/records';
import { SlugBook } from '../../src/lib/server/services/slugs';
import { saveContentTypes } from '../../src/lib/server/services/types';
import { createTemplate } from '../../src/lib/server/services/templates';
import { listRecords } from '../../src/lib/server/services/lists';
import { freshDatabase } from '../support/database';
import { refused } from '../support/refused';
import { own } from '../support/world';

let drop: () => Promise<void>;
const option = (key: string, label = key) => ({ key, label });
const type = (states: { key: string; label: string }[], more = {}): ContentType =>
  ({
    id: 'shed',
    key: 'shed',
    name: 'Shed',
    plural: 'Sheds',
    base: 'sheds',
    taxonomyIds: [],
    fields: [
      {
        id: 'state',
        key: 'state',
        label: 'State',
        kind: 'choice',
        help: '',
        required: false,
        unique: false,
        tab: '',
        settings: { options: states, ...more },
      },
      {
        id: 'uses',
        key: 'uses',
        label: 'Uses',
        kind: 'choices',
        help: '',
        required: false,
        unique: false,
        tab: '',
        settings: { options: [option('walk'), option('ski'), option('rest')] },
      },
      {
        id: 'rooms',
        key: 'rooms',
        label: 'Rooms',
        kind: 'rows',
        help: '',
        required: false,
        unique: false,
        tab: '',
        settings: {
          fields: [
            {
              id: 'bed',
              key: 'bed',
              label: 'Bed',
              kind: 'choice',
              help: '',
              required: false,
              unique: false,
              tab: '',
              settings: { options: [option('bunk'), option('board')] },
            },
          ],
        },
      },
    ],
  }) as unknown as ContentType;
const THREE = [option('good', 'Good'), option('fair', 'Fair'), option('poor', 'Poor')];
const without = (all: ContentType, id: string, key: string): ContentType => ({
  ...all,
  fields: all.fields.map((field) => {
    const settings = field.settings as { options?: { key: string }[]; fields?: ContentType['fields'] };
    const drop = (list?: { key: string }[]) => list?.filter((one) => one.key !== key);
    if (field.id === id) return { ...field, settings: { ...settings, options: drop(settings.options) } };
    if (!settings.fields) return field;
    return {
      ...field,
      settings: {
        ...settings,
        fields: settings.fields.map((sub) =>
          sub.id === id
            ? { ...sub, settings: { ...sub.settings, options: drop(sub.settings.options as { key: string }[]) } }
            : sub,
        ),
      },
    };
  }),
});
const now = async () => (await readModel()).type('shed') as ContentType;
const rule = (operand: string) => ({
  group: 'all' as const,
  rules: [{ test: 'choice.is', path: own('state'), operand }],
});
const titles = async (operand: string) =>
  (
    await listRecords(
      {
        source: { from: 'query', typeIds: ['shed'] },
        filter: {
          group: 'all',
          rules: [{ test: 'choice.is', path: { from: 'loop:list', steps: ['state'] }, operand }],
        },
        order: [],
        skip: 0,
        leaveOut: { current: false, above: false },
      },
      { drafts: true },
    )
  ).records
    .map(({ title }) => title)
    .sort();

let ids: number[] = [];
beforeAll(async () => {
  drop = await freshDatabase();
  await saveContentTypes([type(THREE)]);
  ids = [];
  for (const [title, values] of [
    ['A', { state: 'good', uses: ['walk', 'ski'] }],
    ['B', { state: 'poor', uses: ['ski'], rooms: [{ bed: 'bunk' }, { bed: 'board' }] }],
    ['C', { state: 'poor' }],
    ['D', {}],
  ] as const)
    ids.push((await createRecord('shed', { title, status: 'published', values })).id);
  await createTemplate({
    name: 'Shed page',
    purpose: 'part',
    serves: [{ on: 'type', typeId: 'shed' }],
    tree: {
      root: 'e_1',
      elements: {
        e_1: { id: 'e_1', kind: 'box', props: {}, slots: {}, children: ['e_2'] },
        e_2: { id: 'e_2', kind: 'text', props: {}, slots: { text: { fixed: 'x' } }, children: [], rule: rule('poor') },
      },
    },
  } as Parameters<typeof createTemplate>[0]);
});
afterAll(() => drop());

const counted = async (key: string) =>
  (
    await select<{ n: number }>(
      "SELECT COUNT(*) AS n FROM records WHERE type_id = 'shed' AND JSON_VALUE(`values`, '$.state') = ?",
      [key],
    )
  )[0]!.n;
const versions = () => Promise.all(ids.map(async (id) => (await readRecord(id))!.version));
const valuesOf = async (id: number) => (await readRecord(id))!.values;

it('other words and another order change no record, and what lists find', async () => {
  const before = await versions();
  await saveContentTypes([type([option('poor', 'In need'), option('good', 'Good'), option('fair', 'Fair')])]);
  expect(await versions()).toEqual(before);
  expect((await valuesOf(ids[1]!)).state).toBe('poor');
  expect(await titles('poor')).toEqual(['B', 'C']);
  await saveContentTypes([type(THREE)]);
});

it('one that records have does not go without a word: who has it, what names it, and what to do', async () => {
  const wanted = without(await now(), 'state', 'poor');
  const [going, ...more] = await previewOptions('shed', wanted);
  expect(more).toEqual([]);
  expect(going).toMatchObject({ field: 'state', option: 'poor', label: 'Poor', records: 2, titles: ['B', 'C'] });
  expect(going!.uses.map(({ what }) => what)).toEqual(['Template “Shed page”, in 1 place']);
  const refusal = await refused(saveContentTypes([wanted]));
  expect(refusal.status).toBe(409);
  expect(refusal.problems![0]).toMatchObject({
    at: 'fields.0.settings.options',
    what: '2 records have “Poor” as State: B, C.',
    fix: 'Say what becomes of it: another option, nothing, or that it stays.',
  });
  expect((await now()).fields[0]!.settings).toEqual({ options: THREE });
  // One that no record has goes at once.
  await saveContentTypes([without(await now(), 'state', 'fair')]);
  await saveContentTypes([type(THREE)]);
});

it('its values stay, and say so; or become another option; or nothing', async () => {
  const answer = (becomes: object, field = 'state', key = 'poor') =>
    [{ field, option: key, becomes }] as Parameters<typeof saveContentTypes>[2];
  await saveContentTypes([without(await now(), 'state', 'poor')], undefined, answer({ stay: true }));
  expect((await now()).fields[0]!.settings).toEqual({ options: THREE.slice(0, 2), gone: [option('poor', 'Poor')] });
  expect((await valuesOf(ids[1]!)).state).toBe('poor');
  expect(await titles('poor')).toEqual(['B', 'C']);
  // What a record has it keeps; others are offered what there is.
  await changeRecord(ids[1]!, { values: { state: 'poor' } });
  // It comes back with its words, whoever leaves out what is gone.
  await saveContentTypes([type(THREE)]);
  expect((await now()).fields[0]!.settings).toEqual({ options: THREE });

  const wrong = await refused(
    saveContentTypes([without(await now(), 'state', 'poor')], undefined, answer({ to: 'none' })),
  );
  expect(wrong.problems![0]!.what).toBe('“Poor” cannot become “none”: there is no such option.');
  await saveContentTypes([without(await now(), 'state', 'poor')], undefined, answer({ to: 'fair' }));
  expect([await titles('fair'), await titles('good')]).toEqual([['B', 'C'], ['A']]);
  await saveContentTypes([without(await now(), 'uses', 'ski')], undefined, answer({ empty: true }, 'uses', 'ski'));
  expect((await valuesOf(ids[0]!)).uses).toEqual(['walk']);
  expect(await valuesOf(ids[1]!)).not.toHaveProperty('uses');
  await saveContentTypes([without(await now(), 'bed', 'board')], undefined, answer({ to: 'bunk' }, 'bed', 'board'));
  expect((await valuesOf(ids[1]!)).rooms).toEqual([{ bed: 'bunk' }, { bed: 'bunk' }]);
});

it('thirty go at once from ten thousand records, each to what was said of it, and nothing before it was', async () => {
  const many = Array.from({ length: 40 }, (_, i) => option(`o${i}`, `Option ${i}`));
  await saveContentTypes([type([...THREE.slice(0, 2), ...many])]);
  const each = 250;
  const model = await readModel();
  for (let from = 0; from < 40 * each; from += 1000)
    await inTransaction((transaction) =>
      insertRecords(
        model,
        model.type('shed')!,
        Array.from({ length: 1000 }, (_, i) => ({
          title: `N ${from + i}`,
          status: 'published',
          values: { state: `o${(from + i) % 40}` },
        })),
        transaction,
        new SlugBook('shed'),
      ),
    );
  const going = type([...THREE.slice(0, 2), ...many.slice(30)]);
  const told = await previewOptions('shed', going);
  expect(told.map(({ option: key, records }) => [key, records])).toEqual(
    many.slice(0, 30).map(({ key }) => [key, each]),
  );
  expect(told[0]!.titles).toHaveLength(5);
  // Of two of them nothing is said: who has them is told, and nothing has changed.
  const answers = many.slice(0, 30).map(({ key }, i) => ({
    field: 'state',
    option: key,
    becomes: i % 3 === 0 ? { to: 'o35' } : i % 3 === 1 ? { empty: true as const } : { stay: true as const },
  }));
  const open = await refused(saveContentTypes([going], undefined, answers.slice(2)));
  expect([open.status, open.problems.map(({ what }) => /^250 records have “Option [01]” as State/.test(what))]).toEqual(
    [409, [true, true]],
  );
  expect(await counted('o0')).toBe(each);
  await saveContentTypes([going], undefined, answers);
  expect([await counted('o35'), await counted('o0'), await counted('o1'), await counted('o2')]).toEqual([
    11 * each,
    0,
    0,
    each,
  ]);
  expect(((await now()).fields[0]!.settings.gone as unknown[]).length).toBe(10);
});

it('values without the option are the same ones', () => {
  const [state] = type(THREE).fields;
  const values = { state: 'good' };
  expect(changeOption(values, { within: [], field: state! }, 'poor', 'fair')).toBe(values);
});
