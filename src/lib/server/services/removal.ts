import type { Transaction } from 'sequelize';
import { newId } from '../../core/base/ids';
import { inTransaction, isTransient, run, select } from '../database/connect';
import { notFound, Refusal } from '../refusal';

/** Rows to be taken out of a table, and kept so that they can be put back. */
export interface Sweep {
  table:
    'content_types' | 'fields' | 'taxonomies' | 'terms' | 'authors' | 'media' | 'records' | 'record_terms' | 'links';
  where: string;
  values: unknown[];
  /** Rows are kept as they are, to be put back in this state, but not taken out. */
  stay?: boolean;
}

/** Text of a row that brings its dates back as dates. */
const pack = (row: object): string =>
  JSON.stringify(row, function (this: Record<string, unknown>, key, value: unknown) {
    return this[key] instanceof Date ? { $date: value } : value;
  });
const unpack = (text: string): Record<string, unknown> =>
  JSON.parse(text, (_key, value: unknown) =>
    value && typeof value === 'object' && '$date' in value ? new Date(value.$date as string) : value,
  ) as Record<string, unknown>;

export async function beginRemoval(what: string, transaction: Transaction): Promise<string> {
  const id = newId('rm');
  await run(
    'INSERT INTO removals (id, what, created) VALUES (?, ?, ?)',
    [id, what.slice(0, 300), new Date()],
    transaction,
  );
  return id;
}

/** Takes rows out, children before what they hang on, and keeps them under the removal. */
export async function sweep(removalId: string, sweeps: Sweep[], transaction: Transaction): Promise<void> {
  for (const { table, where, values, stay } of sweeps) {
    const rows = await select<object>(`SELECT * FROM ${table} WHERE ${where}`, values, transaction);
    for (let i = 0; i < rows.length; i += 500)
      await run(
        'INSERT INTO removed_rows (removal_id, table_name, data) VALUES ?',
        [rows.slice(i, i + 500).map((row) => [removalId, table, pack(row)])],
        transaction,
      );
    // What was added to rows that stay goes again when they are put back.
    if (stay && table === 'record_terms')
      await run(
        'INSERT INTO removed_rows (removal_id, table_name, data) VALUES (?, ?, ?)',
        [removalId, table, pack({ $clear: values[0] })],
        transaction,
      );
    if (!stay) await run(`DELETE FROM ${table} WHERE ${where}`, values, transaction);
  }
}

const ORDER: Sweep['table'][] = [
  'taxonomies',
  'terms',
  'media',
  'authors',
  'content_types',
  'fields',
  'records',
  'record_terms',
  'links',
];

interface Restored {
  what: string;
  /** Ids that were put back, by table. */
  ids: Partial<Record<Sweep['table'], (string | number)[]>>;
}

/** Puts back what a removal took out. Refused, with nothing changed, where something else has taken its place. */
export async function restore(
  removalId: string,
  after: (restored: Restored, transaction: Transaction) => Promise<void>,
): Promise<string> {
  return inTransaction(async (transaction) => {
    const [removal] = await select<{ what: string }>(
      'SELECT what FROM removals WHERE id = ? FOR UPDATE',
      [removalId],
      transaction,
    );
    if (!removal) throw notFound('removal to undo; it may have been undone already');
    const rows = await select<{ table: Sweep['table']; data: string }>(
      'SELECT table_name AS `table`, data FROM removed_rows WHERE removal_id = ? ORDER BY id DESC',
      [removalId],
      transaction,
    );
    const restored: Restored = { what: removal.what, ids: {} };
    for (const table of ORDER) {
      let own = rows.filter((row) => row.table === table).map((row) => unpack(row.data));
      // Terms hang on each other: those above go in first.
      if (table === 'terms') own = aboveFirst(own);
      for (const row of own)
        if (row.$clear) await run('DELETE FROM record_terms WHERE record_id IN (?)', [row.$clear], transaction);
      own = own.filter((row) => !row.$clear);
      for (const row of own) {
        const columns = Object.keys(row);
        const values = columns.map((column) => {
          const value = row[column];
          return value && typeof value === 'object' && !(value instanceof Date) ? JSON.stringify(value) : value;
        });
        const sql = `${table} (${columns.map((c) => `\`${c}\``).join(', ')}) VALUES (?)`;
        try {
          // Links may have been made again meanwhile; what stayed in place is put back into its state.
          if (table === 'links' || table === 'record_terms')
            await run(`INSERT IGNORE INTO ${sql}`, [values], transaction);
          else
            await run(
              `INSERT INTO ${sql} ON DUPLICATE KEY UPDATE ${columns.map((c) => `\`${c}\` = IF(id = ?, VALUES(\`${c}\`), NULL)`).join(', ')}`,
              [values, ...columns.map(() => row.id)],
              transaction,
            );
        } catch (error) {
          if (isTransient(error)) throw error;
          throw new Refusal(
            409,
            `This cannot be undone any more: something else has taken the place of what was removed (${removal.what}).`,
          );
        }
      }
      restored.ids[table] = own.map((row) => row.id as string | number);
    }
    await run('DELETE FROM removals WHERE id = ?', [removalId], transaction);
    await after(restored, transaction);
    return removal.what;
  });
}

function aboveFirst(rows: Record<string, unknown>[]): Record<string, unknown>[] {
  const out: Record<string, unknown>[] = [];
  const left = new Map(rows.map((row) => [row.id, row]));
  while (left.size) {
    const ready = [...left.values()].filter((row) => !left.has(row.parent_id) || row.parent_id === row.id);
    for (const row of ready.length ? ready : [...left.values()]) {
      out.push(row);
      left.delete(row.id);
    }
  }
  return out;
}
