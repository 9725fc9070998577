import { readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ThemeFileSchema, type ThemeFile } from '../../src/lib/core/releases/theme-file';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import { exportTheme, planTheme } from '../../src/lib/server/exchange/theme-file';
import { run } from '../../src/lib/server/database/connect';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { saveRule } from '../../src/lib/server/services/rules';
import { createTemplate, readTemplate, readTemplates } from '../../src/lib/server/services/templates';
import { readTheme } from '../../src/lib/server/services/theme';
import { saveContentType } from '../../src/lib/server/services/types';
import { readVersions } from '../../src/lib/server/services/versions';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { saveMenu, saveTheme, takeTheme } from '../support/services';

let drop: () => Promise<void>;
let file: ThemeFile;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  const rule = await saveRule({
    name: 'High',
    typeId: 'house',
    rule: { group: 'all', rules: [{ test: 'order.gt', path: { from: 'record', steps: ['height'] }, operand: 10 }] },
  });
  const record = await createRecord('house', { title: 'Ash', status: 'published', values: { height: 30, name: 'A' } });
  const menu = await saveMenu({
    name: 'Main',
    entries: [
      { id: 'a', leads: { to: 'type', typeId: 'house' }, below: [] },
      { id: 'b', leads: { to: 'record', recordId: record.id }, below: [] },
    ],
  });
  await createTemplate({
    id: 'card',
    name: 'Card',
    purpose: 'part',
    typeId: 'house',
    tree: treeFrom({ kind: 'text', slots: { text: boundTo('record', ['name'], { before: 'Name: ' }) } }),
  });
  await createTemplate({
    id: 'page',
    name: 'Page',
    purpose: 'record',
    serves: [
      { on: 'type', typeId: 'house' },
      { on: 'records', typeId: 'house', ids: [record.id] },
    ],
    tree: treeFrom({
      kind: 'box',
      children: [
        { kind: 'heading', slots: { text: { fixed: 'house' } }, rule: { group: 'all', rules: [{ named: rule.id }] } },
        {
          kind: 'text',
          slots: { text: boundTo('record', ['height']) },
          rule: {
            group: 'none',
            rules: [{ test: 'terms.any', path: { from: 'record', steps: ['@terms:area'] }, operand: ['north'] }],
          },
        },
        { kind: 'part', props: { part: 'card' } },
        { kind: 'table', props: { columns: [] }, slots: { rows: boundTo('record', ['seasons']) } },
      ],
    }),
  });
  await createTemplate({
    id: 'frame',
    name: 'Frame',
    purpose: 'frame',
    tree: treeFrom({ kind: 'box', children: [{ kind: 'menu', props: { menu: menu.id } }, { kind: 'slot' }] }),
  });
  await saveTheme({
    theme: {
      ...BUILT_IN,
      colour: BUILT_IN.colour.map((one) => (one.key === 'ink' ? { ...one, value: '#123456' } : one)),
    },
    version: 0,
  });
  file = await exportTheme();
});
afterAll(() => drop());

/** The same database without anything in it. */
async function empty(): Promise<void> {
  await run('UPDATE sites SET release_id = NULL, model_version = model_version + 1', []);
  await run('UPDATE terms SET parent_id = NULL', []);
  for (const table of [
    'releases',
    'templates',
    'menus',
    'named_rules',
    'themes',
    'records',
    'record_counts',
    'fields',
    'content_types',
    'taxonomies',
  ])
    await run(`DELETE FROM ${table}`, []);
}

describe('a theme as a file', () => {
  it('has everything that is designed, and nothing of the site’s own records', () => {
    expect(file).toMatchObject({ format: 'plum-thread-theme', version: 1 });
    expect(file.templates.map(({ id }) => id)).toEqual(['card', 'page', 'frame']);
    expect(file.templates[1]?.serves).toEqual([{ on: 'type', typeId: 'house' }]);
    expect(file.menus[0]?.entries).toHaveLength(1);
    expect(JSON.stringify(file)).not.toContain('"Ash"');
    expect(ThemeFileSchema.parse(JSON.parse(JSON.stringify(file)))).toEqual(file);
  });

  it('is described by the JSON Schema in the documents (2020-12), read by ajv', () => {
    const schema = JSON.parse(readFileSync('docs/formats/theme.schema.json', 'utf8')) as object;
    // Made from the schema that reads the file, by this line; a change of one is a change of the other.
    const made = {
      $id: 'theme.schema.json',
      ...z.toJSONSchema(ThemeFileSchema, { io: 'input', unrepresentable: 'any' }),
    };
    expect(schema).toEqual(JSON.parse(JSON.stringify(made)));
    const ajv = new Ajv2020({ strict: false });
    addFormats.default(ajv);
    const valid = ajv.compile(schema);
    expect([valid(JSON.parse(JSON.stringify(file))), valid.errors]).toEqual([true, null]);
    expect(valid({ ...file, format: 'other' })).toBe(false);
    expect(valid({ ...file, templates: [{ id: 'x' }] })).toBe(false);
  });

  it('makes the same theme on an empty site', async () => {
    await empty();
    const plan = await planTheme(file);
    expect(plan.mapping.types).toEqual({ house: 'new', way: 'new', person: 'new' });
    const taken = await takeTheme({ file, mapping: { ...plan.mapping, theme: true } });
    expect(taken).toMatchObject({ types: 3, templates: 3, replaced: 0, rules: 1, menus: 1, theme: true, loose: [] });
    const again = await exportTheme();
    const plain = ({ templates, rules, menus, theme, model }: ThemeFile) => ({
      templates: templates.map(({ version: _, ...rest }) => rest),
      rules: rules.map(({ version: _, ...rest }) => rest),
      menus: menus.map(({ version: _, ...rest }) => rest),
      theme,
      types: model.types,
      terms: model.terms,
    });
    expect(plain(again)).toEqual(plain(file));
    await createRecord('house', { title: 'Elm', status: 'published', values: { height: 30, name: 'E' } });
    await release();
    const { html } = await answer('/houses/elm', { base: '', origin: 'https://a.example' });
    expect(html).toContain('Name: E');
    expect(html).toContain('>house</');
  });

  it('comes beside what stands, unless told to take its place, and puts nothing aside without a word', async () => {
    const plan = await planTheme(file);
    expect(plan.templates.every(({ there }) => there)).toBe(true);
    expect(plan.mapping.types).toEqual({ house: { as: 'house' }, way: { as: 'way' }, person: { as: 'person' } });
    expect(plan.theme).toBe(false);
    const before = (await readTemplate('page')).version;
    const taken = await takeTheme({ file, mapping: plan.mapping });
    expect(taken).toMatchObject({ types: 0, fields: 0, templates: 3, replaced: 0, rules: 1, menus: 1, theme: false });
    expect((await readTemplate('page')).version).toBe(before);
    const copies = (await readTemplates()).filter(({ name }) => name === 'Page');
    expect(copies).toHaveLength(2);
    // The copy shows the copied part, asks the copied rule, and says its own words as they are.
    const copy = copies.find(({ id }) => id !== 'page')!;
    const elements = Object.values(copy.tree.elements);
    const part = elements.find(({ kind }) => kind === 'part')?.props.part;
    expect(part).not.toBe('card');
    expect((await readTemplates()).some(({ id }) => id === part)).toBe(true);
    expect(elements.find(({ kind }) => kind === 'heading')?.slots.text).toEqual({ fixed: 'house' });
    const { rules } = await readModel();
    const named = (elements.find(({ kind }) => kind === 'heading')?.rule?.rules[0] as { named: string }).named;
    expect(rules.map(({ id }) => id)).toContain(named);
    const placed = await takeTheme({
      file,
      mapping: { ...plan.mapping, templates: { page: { as: 'page' }, card: 'leave', frame: 'leave' } },
    });
    expect(placed).toMatchObject({ replaced: 1, templates: 0 });
    expect((await readVersions('page'))[0]?.edits[0]).toContain('Took it from the theme');
  });

  it('is mapped where types and fields differ, and tells what reads nothing', async () => {
    await empty();
    const house = file.model.types.find(({ id }) => id === 'house')!;
    await saveContentType({
      ...house,
      id: 'lodge',
      key: 'house',
      name: 'Lodge',
      plural: 'Lodges',
      base: 'lodges',
      taxonomyIds: [],
      fields: [
        { ...house.fields.find(({ id }) => id === 'name')!, id: 'called', key: 'called', label: 'Called' },
        { ...house.fields.find(({ id }) => id === 'height')!, id: 'metres', key: 'height', label: 'Metres' },
      ],
    });
    const plan = await planTheme(file);
    expect(plan.mapping.types.house).toEqual({ as: 'lodge' });
    expect(plan.mapping.fields).toMatchObject({ height: { as: 'metres' }, name: 'new' });
    const wrong = await refused(
      takeTheme({ file, mapping: { ...plan.mapping, fields: { ...plan.mapping.fields, name: { as: 'metres' } } } }),
    );
    expect(wrong.problems[0]).toMatchObject({
      at: 'fields.name',
      what: expect.stringContaining('cannot stand for “Name”') as string,
    });
    const leave = Object.fromEntries(house.fields.map(({ id }) => [id, 'leave' as const]));
    const taken = await takeTheme({
      file,
      mapping: {
        ...plan.mapping,
        types: { house: { as: 'lodge' }, way: 'leave', person: 'leave' },
        fields: { ...leave, name: { as: 'called' }, height: { as: 'metres' } },
      },
    });
    expect(taken).toMatchObject({ types: 0, fields: 0, templates: 3 });
    // The table of seasons has lost its rows.
    expect(taken.loose).toEqual([{ name: 'Page', elements: 1 }]);
    await createRecord('lodge', { title: 'Fir', status: 'published', values: { called: 'F', metres: 44 } });
    await release();
    const { html } = await answer('/lodges/fir', { base: '', origin: 'https://a.example' });
    expect(html).toContain('Name: F');
    expect(html).toContain('44');
  });

  it('is refused from the future, damaged, or in a circle, and nothing changes', async () => {
    const before = JSON.stringify(await readTemplates());
    const no = async (input: unknown) => (await refused(planTheme(input))).problems.map(({ what }) => what);
    expect(await no({ ...file, version: 99 })).toEqual(['This theme has version 99; up to 1 is understood.']);
    expect(await no({ hello: 1 })).toEqual(['This is no theme of Plum Thread.']);
    expect(await no(null)).toEqual(['This is no theme of Plum Thread.']);
    expect((await no({ ...file, templates: 'x' }))[0]).toBeDefined();
    const circular = structuredClone(file);
    const card = circular.templates.find(({ id }) => id === 'card')!;
    card.tree = treeFrom({ kind: 'box', children: [{ kind: 'part', props: { part: 'card' } }] });
    expect((await no(circular))[0]).toBe('It stands in itself: Card → Card.');
    const asking = structuredClone(file);
    asking.rules[0]!.rule = { group: 'all', rules: [{ named: asking.rules[0]!.id }] };
    expect(await no(asking)).toContain('The rule asks itself.');
    const below = structuredClone(file);
    below.model.terms[0]!.parentId = below.model.terms[0]!.id;
    expect(await no(below)).toContain('The term lies below itself.');
    const unread = await refused(takeTheme({ file, mapping: { types: {} } }));
    expect([unread.status, unread.problems[0]?.at]).toEqual([422, 'mapping.fields']);
    expect(JSON.stringify(await readTemplates())).toBe(before);
    expect((await readTheme()).version).toBe(0);
  });
});
