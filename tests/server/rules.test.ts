import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { treeFrom } from '../../src/lib/core/templates/build';
import type { Rule } from '../../src/lib/core/schema/rule';
import { listRecords, moreRecords } from '../../src/lib/server/services/lists';
import { plainModel, readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { deleteRule, ruleUses, saveRule } from '../../src/lib/server/services/rules';
import { createTemplate, deleteTemplate, saveTemplate } from '../../src/lib/server/services/templates';
import { usesOfField } from '../../src/lib/server/services/type-uses';
import { answer, inspect } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { own } from '../support/world';
import { saveSite } from '../support/services';

let drop: () => Promise<void>;
const all = (...rules: Rule[]) => ({ group: 'all' as const, rules });
const high: Rule = { test: 'order.ge', path: own('height'), operand: 100 };
const surroundings = { base: '', which: 'draft' as const, origin: 'https://a.example' };
const at = (path: string) => answer(path, surroundings);

beforeAll(async () => {
  drop = await freshDatabase();
  await saveSite({ name: 'A', tagline: '', locale: 'en-GB', timeZone: 'UTC' });
  await saveModel();
  const way = await createRecord('way', { title: 'Shore way', status: 'published', values: { km: 3 } });
  const draft = await createRecord('way', { title: 'Secret way', status: 'draft', values: { km: 3 } });
  const house = (title: string, values: Record<string, unknown>) =>
    createRecord('house', { title, status: 'published', values });
  await house('Tall', { height: 300, open: true, ways: [way.id] });
  await house('Low', { height: 3, open: false, ways: [draft.id] });
  await house('Bare', {});
});
afterAll(() => drop());

describe('rules that are kept', () => {
  it('are made, changed, and told where they are used; a change elsewhere is not overwritten', async () => {
    const rule = await saveRule({ name: 'High up', typeId: 'house', rule: all(high) });
    expect((await plainModel()).rules.map(({ name }) => name)).toEqual(['High up']);
    const tree = treeFrom({
      kind: 'box',
      children: [
        { kind: 'text', slots: { text: { fixed: 'Bring a coat.' } }, rule: all({ named: rule.id }) },
        {
          kind: 'loop',
          id: 'others',
          props: { source: { from: 'query', typeIds: ['house'] }, filter: all({ named: rule.id }) },
          children: [{ kind: 'text', slots: { text: { fixed: 'One like it' } } }],
        },
      ],
    });
    const template = await createTemplate({ name: 'House page', purpose: 'record', typeId: 'house', tree });
    expect((await ruleUses())[rule.id]).toEqual([
      { what: '“House page”, 2 elements', href: `/studio/workbench/${template.id}` },
    ]);
    expect((await at('/houses/tall')).html).toContain('Bring a coat.');
    const low = (await at('/houses/low')).html;
    expect(low).not.toContain('Bring a coat.');
    // In the list it is asked of each of its records, and there is one.
    expect(low.match(/One like it/g)).toHaveLength(1);

    const changed = await saveRule({ ...rule, rule: all({ ...high, operand: 2 } as Rule) });
    expect((await at('/houses/low')).html).toContain('Bring a coat.');
    expect((await refused(saveRule(rule))).status).toBe(409);
    expect((await refused(deleteRule(rule.id))).title).toContain('House page');
    await deleteTemplate(template.id);
    expect(changed.version).toBe(2);
    await deleteRule(rule.id);
    expect((await readModel()).rule(rule.id)).toBeUndefined();
    expect((await refused(deleteRule(rule.id))).status).toBe(404);
  });

  it('are refused where they come back to themselves, read what is not there everywhere, or are about nothing', async () => {
    const a = await saveRule({ name: 'A', typeId: 'house', rule: all(high) });
    const b = await saveRule({ name: 'B', typeId: 'house', rule: all({ named: a.id }) });
    const said = async (rule: object) => (await refused(saveRule(rule))).problems.map((p) => p.what).join();
    expect(await said({ ...a, rule: all({ named: b.id }) })).toContain('A → B → A');
    expect(await said({ name: 'a', typeId: 'house', rule: all() })).toContain('named “a” already');
    expect(await said({ name: 'C', typeId: 'gone', rule: all() })).toContain('no content type');
    const inLoop = { test: 'filled', path: { from: 'loop:x', steps: ['height'] } };
    expect(await said({ name: 'C', typeId: 'house', rule: all(inLoop) })).toContain('only there in one place');
    expect(await said({ name: 'C', typeId: 'house', rule: { group: 'all', rules: [{}] } })).toContain('no test');
    expect(await said({})).not.toBe('');
    expect((await refused(deleteRule(a.id))).title).toContain('the rule “B”');
    expect((await usesOfField('house', 'height')).uses.map((use) => use.what)).toContain('Rule “A”');
    await deleteRule(b.id);
    await deleteRule(a.id);
  });
});

describe('rules of rows', () => {
  it('filter lists of the database as in memory, and see no drafts for visitors', async () => {
    const some: Rule = {
      rows: 'some',
      path: { from: 'loop:list', steps: ['ways'] },
      as: 'way',
      where: all({ test: 'order.eq', path: { from: 'loop:way', steps: ['km'] }, operand: 3 }),
    };
    const titles = async (rule: Rule, drafts: boolean) =>
      (await listRecords({ source: { from: 'query', typeIds: ['house'] }, filter: all(rule) }, { drafts })).records.map(
        ({ title }) => title,
      );
    expect(await titles(some, false)).toEqual(['Tall']);
    expect(await titles(some, true)).toEqual(['Tall', 'Low']);
    expect(await titles({ ...some, rows: 'none' }, false)).toEqual(['Low', 'Bare']);
    expect(
      await titles(
        { group: 'any', rules: [some, { test: 'empty', path: { from: 'loop:list', steps: ['height'] } }] },
        false,
      ),
    ).toEqual(['Tall', 'Bare']);
  });
});

describe('a page that is looked into', () => {
  const secret = 'Not for everybody';
  const tree = treeFrom({
    kind: 'box',
    children: [
      { kind: 'text', id: 'hidden', slots: { text: { fixed: secret } }, rule: all(high) },
      {
        kind: 'alternatives',
        id: 'either',
        children: [
          {
            kind: 'text',
            id: 'yes',
            slots: { text: { fixed: 'Open' } },
            rule: all({ test: 'yesno.yes', path: own('open') }),
          },
          { kind: 'text', id: 'otherwise', slots: { text: { fixed: 'Shut' } } },
        ],
      },
      {
        kind: 'text',
        id: 'broken',
        slots: { text: { fixed: 'Broken' } },
        rule: all({ test: 'filled', path: own('deleted') }),
      },
      {
        kind: 'text',
        id: 'blank',
        slots: { text: { bound: { path: own('name'), fallbacks: [], formats: [], before: '', after: '' } } },
      },
    ],
  });

  it('says why each element is there or not; visitors get nothing of that, and nothing of what is hidden', async () => {
    const template = await createTemplate({ name: 'Looked into', purpose: 'record', typeId: 'house', tree });
    const { inspection, html } = await inspect('/houses/low', surroundings);
    const why = (id: string) => inspection.elements.find((element) => element.id === id)?.why;
    expect(inspection.template).toEqual({ id: template.id, name: 'Looked into' });
    expect(why('hidden')).toMatchObject({
      shown: false,
      because: 'rule',
      turn: [{ to: true, saw: '3\u00a0m', path: own('height') }],
    });
    expect(why('yes')).toMatchObject({ shown: false, because: 'rule' });
    expect(why('otherwise')).toMatchObject({ shown: true });
    expect(why('broken')).toMatchObject({ shown: false, because: 'broken' });
    expect(why('blank')).toMatchObject({ shown: false, because: 'empty' });
    expect(html).toContain('data-element="otherwise"');

    const tall = (await inspect('/houses/tall', surroundings)).inspection;
    expect(tall.elements.find(({ id }) => id === 'otherwise')?.why).toMatchObject({
      shown: false,
      because: 'branch',
      at: 'yes',
    });
    for (const path of ['/houses/low', '/houses/bare']) {
      const page = await at(path);
      expect(page.status).toBe(200);
      for (const word of [secret, 'Broken', 'data-element', 'Looked into', 'hidden'])
        expect(page.html).not.toContain(word);
    }
    expect((await at('/houses/tall')).html).toContain(secret);
    await deleteTemplate(template.id);
  });

  it('without a template, or where there is no page, has nothing to tell', async () => {
    expect((await inspect('/houses/nowhere', surroundings)).inspection.elements).toEqual([]);
    expect((await inspect('/houses/low', surroundings)).inspection.template).toBeUndefined();
  });
});

it('rules beyond every limit are refused with a reason, and what was kept stays', async () => {
  const tree = treeFrom({ kind: 'box', children: [{ kind: 'text', id: 't', slots: { text: { fixed: 'x' } } }] });
  const template = await createTemplate({ name: 'Limits', purpose: 'record', typeId: 'house', tree });
  const withRule = (rule: unknown) => ({
    ...template,
    tree: { ...tree, elements: { ...tree.elements, t: { ...tree.elements.t, rule } } },
  });
  let deep: Rule = all();
  for (let i = 0; i < 25; i++) deep = all(deep);
  const said = async (rule: unknown) =>
    (await refused(saveTemplate(template.id, withRule(rule)))).problems.map((p) => p.what).join();
  expect(await said(deep)).toContain('20 groups deep at most');
  expect(await said(all(...Array.from({ length: 1001 }, () => high)))).toContain('1000 tests at most');
  expect(
    (await saveTemplate(template.id, withRule(all(...Array.from({ length: 1000 }, () => high))))).looseEnds,
  ).toEqual([]);
  await deleteTemplate(template.id);
});

it('records beyond those that the workbench begins with are fetched a part at a time', async () => {
  const houses = await moreRecords('house', 0);
  expect(houses.map(({ title }) => title)).toEqual(['Tall', 'Low', 'Bare']);
  expect((await moreRecords('house', houses[1]!.id)).map(({ title }) => title)).toEqual(['Bare']);
  expect(await moreRecords('nothing', 0)).toEqual([]);
});
