import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { blankTree, boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { select } from '../../src/lib/server/database/connect';
import { createRecord } from '../../src/lib/server/services/records';
import { createTemplate } from '../../src/lib/server/services/templates';
import { siteAssignments } from '../../src/lib/server/site/assignments';
import { siteDesign } from '../../src/lib/server/site/design';
import { readDesk } from '../../src/lib/server/site/desk';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';

describe('the desk', () => {
  let drop: () => Promise<void>;
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
    for (const status of ['published', 'published', 'draft'] as const)
      await createRecord('house', { title: `A ${status}`, status, values: {} });
    await createTemplate({ id: 'card', name: 'Card', purpose: 'part', typeId: 'house', tree: blankTree() });
    await createTemplate({
      id: 'house',
      name: 'House page',
      purpose: 'record',
      serves: [{ on: 'type', typeId: 'house' }],
      tree: treeFrom({
        kind: 'section',
        children: [
          { kind: 'part', id: 'placed', props: { part: 'card' } },
          {
            kind: 'heading',
            id: 'lost',
            props: { level: 1 },
            slots: { text: boundTo('record', ['no-field-of-this-name']) },
          },
        ],
      }),
    });
    await createTemplate({
      id: 'north',
      name: 'North',
      purpose: 'record',
      serves: [{ on: 'term', termId: 'north' }],
      tree: blankTree(),
    });
    await createTemplate({
      id: 'front',
      name: 'Front page',
      purpose: 'archive',
      serves: [{ on: 'front' }],
      tree: blankTree(),
    });
    await createTemplate({ id: 'frame', name: 'Frame', purpose: 'frame', serves: [], tree: blankTree() });
  });
  afterAll(() => drop());

  it('counts records as the database does', async () => {
    const rows = await select<{ typeId: string; status: string; n: number }>(
      'SELECT type_id AS typeId, status, COUNT(*) AS n FROM records GROUP BY type_id, status',
    );
    const of = (typeId: string, status: string) =>
      Number(rows.find((row) => row.typeId === typeId && row.status === status)?.n ?? 0);
    for (const { id, published, drafts } of (await readDesk()).types)
      expect([id, published, drafts]).toEqual([id, of(id, 'published'), of(id, 'draft')]);
  });

  it('shows each template where it answers, with words where it answers only some', async () => {
    const { types, parts, frames, others } = await readDesk();
    const house = types.find(({ id }) => id === 'house');
    expect(house?.record.map(({ id, words }) => [id, words !== undefined])).toEqual([
      ['house', false],
      ['north', true],
    ]);
    expect(parts).toEqual([{ id: 'card', name: 'Card', shows: 'House', usedIn: ['House page'] }]);
    expect(frames).toEqual([{ id: 'frame', name: 'Frame', words: 'every page' }]);
    expect(others.map(({ id }) => id)).toEqual(['front']);
  });

  it('leads to the element of a loose end', async () => {
    const [end, ...more] = (await readDesk()).looseEnds.filter(({ templateId }) => templateId === 'house');
    expect([end?.templateName, more]).toEqual(['House page', []]);
    expect(end?.at?.href).toMatch(/^\/studio\/workbench\/house\?element=lost&open=\w+$/);
  });

  it('says how many pages each template answers, as they are assigned', async () => {
    const { answers } = await (await readDesk()).pageReport.of;
    const site = await siteAssignments(await siteDesign('draft'));
    const house = site.types.find(({ typeId }) => typeId === 'house')?.assignments;
    const rows = house?.answers.find(({ template }) => template.id === 'house')?.rows.size();
    expect(rows).toBe(2);
    expect(answers.house).toContain('2');
    expect(answers.north).toBe('never answers');
  });
});
