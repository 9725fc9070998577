import type { Transaction } from 'sequelize';
import { run, select } from '../database/connect';
import { touchRecords } from '../database/touched';

/** Tables whose rows can be removed and put back, those that others hang on first. */
export const REMOVABLE = [
  'taxonomies',
  'terms',
  'media',
  'authors',
  'content_types',
  'fields',
  'records',
  'record_terms',
  'links',
  'templates',
  'template_versions',
  'named_rules',
  'menus',
] as const;
export type Removable = (typeof REMOVABLE)[number];

/** Rows of a table by one of its columns. */
export interface RowsOf {
  table: Removable;
  column:
    | 'id'
    | 'type_id'
    | 'author_id'
    | 'picture_id'
    | 'taxonomy_id'
    | 'record_id'
    | 'term_id'
    | 'a_id'
    | 'b_id'
    | 'template_id';
  values: readonly (string | number)[];
}

/** Says which records a row of a table belongs to. */
function touchRow(table: Removable, row: Readonly<Record<string, unknown>>, transaction: Transaction): void {
  const ids =
    table === 'records'
      ? [row.id]
      : table === 'record_terms'
        ? [row.record_id]
        : table === 'links'
          ? [row.a_id, row.b_id]
          : [];
  touchRecords(ids as number[], transaction);
}

/** Rows as they are, before they change. */
export async function rowsBefore({ table, column, values }: RowsOf, transaction: Transaction): Promise<object[]> {
  const rows = await select<Record<string, unknown>>(
    `SELECT * FROM ${table} WHERE ${column} IN (?)`,
    [values],
    transaction,
  );
  for (const row of rows) touchRow(table, row, transaction);
  return rows;
}

export const deleteRows = ({ table, column, values }: RowsOf, transaction: Transaction): Promise<void> =>
  run(`DELETE FROM ${table} WHERE ${column} IN (?)`, [values], transaction);

export const insertRemoval = (id: string, what: string, transaction: Transaction): Promise<void> =>
  run('INSERT INTO removals (id, what, created) VALUES (?, ?, ?)', [id, what, new Date()], transaction);

/** Keeps rows, each as text, under a removal. */
export async function keepRows(
  removalId: string,
  table: Removable,
  rows: string[],
  transaction: Transaction,
): Promise<void> {
  for (let i = 0; i < rows.length; i += 500)
    await run(
      'INSERT INTO removed_rows (removal_id, table_name, data) VALUES ?',
      [rows.slice(i, i + 500).map((row) => [removalId, table, row])],
      transaction,
    );
}

/** What a removal is called and the rows it keeps, the last first; held to the end of the transaction. */
export async function lockRemoval(
  id: string,
  transaction: Transaction,
): Promise<{ what: string; rows: { table: Removable; data: string }[] } | undefined> {
  const [removal] = await select<{ what: string }>(
    'SELECT what FROM removals WHERE id = ? FOR UPDATE',
    [id],
    transaction,
  );
  if (!removal) return undefined;
  const rows = await select<{ table: Removable; data: string }>(
    'SELECT table_name AS `table`, data FROM removed_rows WHERE removal_id = ? ORDER BY id DESC',
    [id],
    transaction,
  );
  return { ...removal, rows };
}

export const deleteRemoval = (id: string, transaction: Transaction): Promise<void> =>
  run('DELETE FROM removals WHERE id = ?', [id], transaction);

/** Puts a row back. Links may have been made again meanwhile; what stayed in place is put back into its state. */
export async function putBack(
  table: Removable,
  row: Readonly<Record<string, unknown>>,
  transaction: Transaction,
): Promise<void> {
  touchRow(table, row, transaction);
  const columns = Object.keys(row);
  const values = columns.map((column) => {
    const value = row[column];
    return value && typeof value === 'object' && !(value instanceof Date) ? JSON.stringify(value) : value;
  });
  const into = `${table} (${columns.map((column) => `\`${column}\``).join(', ')}) VALUES (?)`;
  if (table === 'links' || table === 'record_terms') await run(`INSERT IGNORE INTO ${into}`, [values], transaction);
  else {
    // A row under another number has taken the place: an impossible value makes the statement fail.
    const set = columns.map((column) => `\`${column}\` = IF(id = ?, VALUES(\`${column}\`), NULL)`);
    await run(
      `INSERT INTO ${into} ON DUPLICATE KEY UPDATE ${set.join(', ')}`,
      [values, ...columns.map(() => row.id)],
      transaction,
    );
  }
}

export interface RemovalRow {
  id: string;
  what: string;
  created: Date;
}

/** Removals with the newest first, by a `LIKE` pattern (with `!` before `%` and `_`) of what they are called. */
export async function removalRows(
  part: string,
  limit: number,
  offset: number,
): Promise<{ rows: RemovalRow[]; total: number }> {
  const where = "what LIKE ? ESCAPE '!'";
  const [rows, [count]] = await Promise.all([
    select<RemovalRow>(
      `SELECT id, what, created FROM removals WHERE ${where} ORDER BY created DESC, id LIMIT ? OFFSET ?`,
      [part, limit, offset],
    ),
    select<{ n: number }>(`SELECT COUNT(*) AS n FROM removals WHERE ${where}`, [part]),
  ]);
  return { rows, total: Number(count?.n ?? 0) };
}

/** How many rows of each table these removals keep. */
export const removedRowCounts = async (
  ids: readonly string[],
): Promise<{ id: string; table: Removable; n: number }[]> =>
  ids.length
    ? (
        await select<{ id: string; table: Removable; n: number }>(
          'SELECT removal_id AS id, table_name AS `table`, COUNT(*) AS n FROM removed_rows WHERE removal_id IN (?) GROUP BY removal_id, table_name',
          [ids],
        )
      ).map((row) => ({ ...row, n: Number(row.n) }))
    : [];

/** Forgets removals from before a time for good. */
export const deleteRemovals = (before: Date): Promise<void> =>
  run('DELETE FROM removals WHERE created < ? LIMIT 1000', [before]);
