import type { Connection } from 'mariadb';
import { Transaction } from 'sequelize';
import { database, run, select } from '../database/connect';

/** One row as the database writes it: each value in its own words, null where there is none. */
export type PlainRow = (string | null)[];

/** A connection as the driver has it, which streams rows and takes many at once. */
const connectionOf = (transaction: Transaction): Connection =>
  (transaction as unknown as { connection: Connection }).connection;

const quoted = (name: string): string => `\`${name.replaceAll('`', '``')}\``;

/** Everything in the database as it was at one moment. */
export class Snapshot {
  constructor(private readonly transaction: Transaction) {}

  /** The names of a table's columns, in their order, without those that it works out itself. */
  async columns(table: string): Promise<string[]> {
    return columnsOf(table, this.transaction);
  }

  async count(table: string): Promise<number> {
    const [row] = await select<{ n: number }>(`SELECT COUNT(*) AS n FROM ${quoted(table)}`, [], this.transaction);
    return Number(row?.n ?? 0);
  }

  /** The rows of a table in the order of its primary key, one after the other as they are asked for. */
  async *rows(table: string, columns: readonly string[]): AsyncGenerator<PlainRow> {
    const stream = connectionOf(this.transaction).queryStream({
      sql: `SELECT ${columns.map(quoted).join(', ')} FROM ${quoted(table)} ORDER BY ${(await keyOf(table, this.transaction)).map(quoted).join(', ')}`,
      rowsAsArray: true,
      // Moments, decimals and JSON come as they are written, and go back in as they came.
      typeCast: (column) => column.string(),
    });
    for await (const row of stream) yield row as PlainRow;
  }
}

/** Reads in one transaction that sees nothing of what is written after it began (MariaDB, REPEATABLE READ). */
export function inSnapshot<T>(work: (snapshot: Snapshot) => Promise<T>): Promise<T> {
  return database().transaction(
    { isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ },
    async (transaction) => {
      // What is seen is settled by the first table of InnoDB that is read.
      await select('SELECT id FROM sites LIMIT 1', [], transaction);
      return work(new Snapshot(transaction));
    },
  );
}

const namesFrom = async (from: string, table: string, transaction?: Transaction): Promise<string[]> =>
  (
    await select<{ name: string }>(
      `SELECT column_name AS name FROM information_schema.${from} ORDER BY ordinal_position`,
      [table],
      transaction,
    )
  ).map(({ name }) => name);

/** The names of a table's columns, in their order, without those that are worked out. */
export const columnsOf = (table: string, transaction?: Transaction): Promise<string[]> =>
  namesFrom(
    "columns WHERE table_schema = DATABASE() AND table_name = ? AND is_generated = 'NEVER'",
    table,
    transaction,
  );

const keyOf = (table: string, transaction: Transaction): Promise<string[]> =>
  namesFrom(
    "key_column_usage WHERE table_schema = DATABASE() AND table_name = ? AND constraint_name = 'PRIMARY'",
    table,
    transaction,
  );

/** Puts rows into a table, as many at once as the driver sends together. Keys that lead elsewhere are checked. */
export async function insertPlain(
  table: string,
  columns: readonly string[],
  rows: readonly PlainRow[],
  transaction: Transaction,
): Promise<void> {
  if (!rows.length) return;
  await connectionOf(transaction).batch(
    `INSERT INTO ${quoted(table)} (${columns.map(quoted).join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
    rows as unknown[][],
  );
}

/** Sets columns of the one row that a site has. */
export async function updateSite(columns: readonly string[], row: PlainRow, transaction: Transaction): Promise<void> {
  await run(
    `UPDATE sites SET ${columns.map((name) => `${quoted(name)} = ?`).join(', ')} WHERE id = 1`,
    row,
    transaction,
  );
}

export async function emptyTable(table: string, transaction: Transaction): Promise<void> {
  await run(`DELETE FROM ${quoted(table)}`, [], transaction);
}

export async function setParents(
  pairs: readonly (readonly [string, string])[],
  transaction: Transaction,
): Promise<void> {
  for (const [id, parent] of pairs) await run('UPDATE terms SET parent_id = ? WHERE id = ?', [parent, id], transaction);
}
