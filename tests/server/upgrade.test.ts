import { afterAll, beforeAll, expect, it } from 'vitest';
import { run, select } from '../../src/lib/server/database/connect';
import { forgetAnswers } from '../../src/lib/server/queries/kept';
import { createRecord } from '../../src/lib/server/services/records';
import { prepareDatabase } from '../../src/lib/server/services/start';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await createRecord('house', {
    title: 'Grey crag',
    status: 'published',
    values: { name: 'Ash', height: 3, story: 'Fog on the fell' },
  });
  await createRecord('house', { title: 'Birch bank', status: 'published', values: { height: 1 } });
  await createRecord('house', { title: 'A draft', values: { height: 2 } });
});
afterAll(() => drop());

const titles = async (address: string, asked: Record<string, string[]> = {}) =>
  [
    ...(await answer(address, { base: '', which: 'draft', origin: 'http://a.example' }, asked)).html.matchAll(
      /<h2[^>]*>(?:<a[^>]*>)?([^<]*)/g,
    ),
  ].map((match) => match[1]);

it('a database from before archives and searches is brought up to date, with everything in it', async () => {
  const before = await select(
    'SELECT record_id, field_id, shown, part, is_empty, number, text, sort FROM record_index ORDER BY 1, 2, 4',
  );
  const words = await select('SELECT record_id, field_id, words FROM record_words ORDER BY 1, 2');
  // As the tables were: without what the fourth migration brought.
  for (const statement of [
    'DROP TABLE record_words',
    'DROP TABLE content_changes',
    'ALTER TABLE content_types DROP description',
    `ALTER TABLE record_index DROP KEY numbers, DROP KEY numbers_down, DROP KEY sorts, DROP KEY sorts_down, DROP shown,
      ADD KEY numbers (type_id, field_id, is_empty, number, record_id), ADD KEY numbers_down (type_id, field_id, is_empty, number DESC, record_id),
      ADD KEY sorts (type_id, field_id, is_empty, sort, record_id), ADD KEY sorts_down (type_id, field_id, is_empty, sort DESC, record_id)`,
    "DELETE FROM migrations WHERE name = '0004-search'",
  ])
    await run(statement, []);

  expect(await prepareDatabase()).toEqual(['0004-search']);
  forgetAnswers();
  expect(
    await select(
      'SELECT record_id, field_id, shown, part, is_empty, number, text, sort FROM record_index ORDER BY 1, 2, 4',
    ),
  ).toEqual(before);
  expect(await select('SELECT record_id, field_id, words FROM record_words ORDER BY 1, 2')).toEqual(words);
  expect(await titles('/houses/')).toEqual(['Birch bank', 'Grey crag']);
  expect(await titles('/search/', { q: ['fog fell'] })).toEqual(['Grey crag']);
  expect(await titles('/search/', { q: ['draft'] })).toEqual([]);
  // A second start finds nothing to do.
  expect(await prepareDatabase()).toEqual([]);
});

it('what is kept of lists is not used after a write, whoever wrote', async () => {
  expect(await titles('/houses/')).toHaveLength(2);
  const { id } = await createRecord('house', { title: 'Cedar court', status: 'published', values: {} });
  expect(await titles('/houses/')).toEqual(['Birch bank', 'Cedar court', 'Grey crag']);
  // Another process counts up in the same table.
  await run("UPDATE records SET status = 'draft' WHERE id = ?", [id]);
  await run('UPDATE record_index SET shown = FALSE WHERE record_id = ?', [id]);
  await run("UPDATE record_counts SET n = n - 1 WHERE type_id = 'house' AND status = 'published' LIMIT 1", []);
  await run('UPDATE content_changes SET n = n + 1 WHERE shard = 3', []);
  expect(await titles('/houses/')).toEqual(['Birch bank', 'Grey crag']);
});
