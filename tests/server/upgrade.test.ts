import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { run, select } from '../../src/lib/server/database/connect';
import { letItBeSeen } from '../../src/lib/server/database/version';
import { migrate, workLeft } from '../../src/lib/server/database/migrate';
import { migrations } from '../../src/lib/server/database/migrations';
import { table, TABLE_NAMES } from '../../src/lib/server/database/tables';
import { clearResults } from '../../src/lib/server/queries/read-cache';
import { readModel } from '../../src/lib/server/services/model';
import { reindex } from '../../src/lib/server/services/record-parts';
import { createRecord } from '../../src/lib/server/services/records';
import { prepareDatabase } from '../../src/lib/server/services/start';
import { createTemplate } from '../../src/lib/server/services/templates';
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

const titles = async (address: string, asked: Record<string, string[]> = {}, which: 'draft' | 'released' = 'draft') =>
  [
    ...(await answer(address, { base: '', which, origin: 'http://a.example' }, asked)).html.matchAll(
      /<h2[^>]*>(?:<a[^>]*>)?([^<]*)/g,
    ),
  ].map((match) => match[1]);

/** Tables that hold what people made; all others follow from them, or came later. */
const MADE = [
  'content_types',
  'fields',
  'taxonomies',
  'terms',
  'authors',
  'media',
  'records',
  'record_terms',
  'links',
  'templates',
  'unique_values',
  'named_rules',
  'menus',
];
/** Tables that follow from those, with what tells their rows apart. */
const FOLLOWS = {
  record_index: 'record_id, field_id, part',
  record_words: 'record_id, field_id',
  mentions: 'record_id, field_id, target, target_id',
};

type Rows = Record<string, Record<string, unknown>[]>;

const rowsOf = async (tables: Record<string, string>): Promise<Rows> =>
  Object.fromEntries(
    await Promise.all(
      Object.entries(tables).map(async ([name, order]) => [
        name,
        await select(`SELECT * FROM ${name} ORDER BY ${order}`),
      ]),
    ),
  );

/** Every column and key of every table, but for the table of migrations and the names of constraints. */
const shape = () =>
  Promise.all(
    [
      `SELECT table_name, column_name, ordinal_position, column_type, collation_name, is_nullable, column_default, extra FROM information_schema.columns
        WHERE table_schema = DATABASE() AND table_name <> 'migrations' ORDER BY 1, 2`,
      `SELECT table_name, index_name, seq_in_index, column_name, collation, sub_part, non_unique, index_type FROM information_schema.statistics
        WHERE table_schema = DATABASE() AND table_name <> 'migrations' ORDER BY 1, 2, 3`,
      `SELECT k.table_name, k.column_name, k.referenced_table_name, k.referenced_column_name, r.delete_rule FROM information_schema.key_column_usage k
        JOIN information_schema.referential_constraints r ON r.constraint_schema = k.constraint_schema AND r.constraint_name = k.constraint_name AND r.table_name = k.table_name
        WHERE k.table_schema = DATABASE() ORDER BY 1, 2, 3`,
    ].map((sql) => select(sql)),
  );

/** Writes rows into a database of its time: columns and tables that came later are left out. */
async function writeRows(rows: Rows): Promise<void> {
  const there = await select<{ t: string; c: string }>(
    'SELECT table_name AS t, column_name AS c FROM information_schema.columns WHERE table_schema = DATABASE()',
  );
  for (const [name, list] of Object.entries(rows)) {
    const columns = there.filter(({ t }) => t === name).map(({ c }) => c);
    for (const row of columns.length ? list : [])
      await run(`INSERT INTO ${name} (${columns.map((c) => `\`${c}\``).join(', ')}) VALUES (?)`, [
        columns.map((c) =>
          row[c] !== null && typeof row[c] === 'object' && !(row[c] instanceof Date) ? JSON.stringify(row[c]) : row[c],
        ),
      ]);
  }
}

describe('a database of an earlier time', () => {
  let made: Rows;
  let follows: Rows;
  let now: unknown;
  let pages: unknown;
  let modelVersion = 1000;
  const seen = async (which: 'draft' | 'released') => {
    clearResults();
    return [
      await titles('/houses/', {}, which),
      await titles('/search/', { q: ['fog fell'] }, which),
      await titles('/search/', { q: ['draft'] }, which),
    ];
  };

  beforeAll(async () => {
    await createTemplate({ id: 'one', name: 'One', purpose: 'record', typeId: 'house' });
    made = await rowsOf(
      Object.fromEntries(MADE.map((name) => [name, name === 'terms' ? 'parent_id IS NOT NULL, id' : '1, 2'])),
    );
    follows = await rowsOf(FOLLOWS);
    now = await shape();
    pages = await seen('draft');
  });

  /** Begins with the first migrations, lets `meanwhile` happen, and starts the application of today. */
  async function upgraded(level: number, meanwhile: () => Promise<void> = async () => {}): Promise<void> {
    const dropThis = await freshDatabase(level);
    try {
      // The process keeps the model by this number, which another database would not share with it.
      if (level) await run('UPDATE sites SET model_version = ?', [(modelVersion += 1000)]);
      if (level) await writeRows(made);
      await meanwhile();
      await prepareDatabase();
      expect(await workLeft()).toEqual([]);
      expect(await shape()).toEqual(now);
      if (!level) return;
      expect(await rowsOf(FOLLOWS)).toEqual(follows);
      expect(await seen('draft')).toEqual(pages);
      // Releases came last; a site from before them goes on as it was.
      if (level < 6) expect(await seen('released')).toEqual(pages);
      // A second start finds nothing to do.
      expect(await prepareDatabase()).toEqual([]);
    } finally {
      await dropThis();
    }
  }

  it('is worth comparing', () => {
    expect(pages).toEqual([['Birch bank', 'Grey crag'], ['Grey crag'], []]);
    expect(Object.values(follows).every((rows) => rows.length > 0 || rows === follows.mentions)).toBe(true);
  });

  it.each(migrations.map(({ name }, i) => [name, i + 1] as const))(
    'of %s is brought up to date with everything in it',
    (_, level) => upgraded(level),
  );

  const cuts = migrations.flatMap(({ name, statements }, m) => statements.map((_, k) => [name, k + 1, m] as const));
  it.each(cuts)('is brought up to date when %s was killed after statement %i', (_, count, level) =>
    upgraded(level, async () => {
      for (const left of migrations[level]!.leaves) await run('INSERT IGNORE INTO work_left VALUES (?)', [left]);
      for (const statement of migrations[level]!.statements.slice(0, count)) await run(statement, []);
    }),
  );

  it('is brought up to date when the process was killed between the tables and what they left to do, or in the middle of that', () =>
    upgraded(3, async () => {
      await migrate();
      // Half of the index is written, and nobody noted that it is done.
      const [type] = (await readModel()).types;
      await reindex(type!);
      await run('DELETE FROM record_index WHERE record_id = 2', []);
    }));

  it('is brought up to date once when two processes start at the same time', () =>
    upgraded(2, async () => {
      await Promise.all([prepareDatabase(), prepareDatabase()]);
      expect(await select('SELECT COUNT(*) AS n FROM releases')).toEqual([{ n: 1 }]);
    }));
});

it('every table has its model, with the columns that the database has', async () => {
  const columns = await select<{ t: string; c: string }>(
    "SELECT table_name AS t, column_name AS c FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name <> 'migrations' ORDER BY 1, 2",
  );
  const modelled = TABLE_NAMES.flatMap((name) => {
    const model = table(name);
    return Object.values(model.getAttributes()).map(({ field }) => ({ t: model.getTableName(), c: field }));
  });
  const order = (a: { t: unknown; c: unknown }, b: { t: unknown; c: unknown }) =>
    `${a.t}.${a.c}` < `${b.t}.${b.c}` ? -1 : 1;
  expect(modelled.sort(order)).toEqual(columns.sort(order));
});

it('what is kept of lists is not used after a write, whoever wrote', async () => {
  expect(await titles('/houses/')).toHaveLength(2);
  const { id } = await createRecord('house', { title: 'Cedar court', status: 'published', values: {} });
  expect(await titles('/houses/')).toEqual(['Birch bank', 'Cedar court', 'Grey crag']);
  // Another process counts up in the same table.
  await run("UPDATE records SET status = 'draft' WHERE id = ?", [id]);
  await run("UPDATE record_counts SET n = n - 1 WHERE type_id = 'house' AND status = 'published' LIMIT 1", []);
  await run('UPDATE content_changes SET n = n + 1 WHERE shard = 3', []);
  await run('INSERT INTO record_changes SELECT shard, n, ?, NOW() FROM content_changes WHERE shard = 3', [id]);
  // As every writer does before saying so.
  await letItBeSeen();
  expect(await titles('/houses/')).toEqual(['Birch bank', 'Grey crag']);
});
