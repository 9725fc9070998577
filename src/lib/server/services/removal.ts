import type { Transaction } from 'sequelize';
import { newId } from '../../core/base/ids';
import { inTransaction, isTransient } from '../database/connect';
import {
  deleteRemoval,
  deleteRows,
  insertRemoval,
  keepRows,
  lockRemoval,
  putBack,
  REMOVABLE,
  rowsBefore,
  type Removable,
  type RowsOf,
} from '../queries/removals';
import { clearRecords } from '../queries/record-parts';
import { notFound, Refusal } from '../base/refusal';

/** Rows to be taken out of a table, and kept so that they can be put back. */
export interface Sweep extends RowsOf {
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
  await insertRemoval(id, what.slice(0, 300), transaction);
  return id;
}

/** Takes rows out, children before what they hang on, and keeps them under the removal. */
export async function sweep(removalId: string, sweeps: Sweep[], transaction: Transaction): Promise<void> {
  for (const { stay, ...rows } of sweeps) {
    if (!rows.values.length) continue;
    await keepRows(removalId, rows.table, (await rowsBefore(rows, transaction)).map(pack), transaction);
    // What was added to rows that stay goes again when they are put back.
    if (stay && rows.table === 'record_terms')
      await keepRows(removalId, rows.table, [pack({ $clear: rows.values })], transaction);
    if (!stay) await deleteRows(rows, transaction);
  }
}

interface Restored {
  what: string;
  /** Ids that were put back, by table. */
  ids: Partial<Record<Removable, (string | number)[]>>;
}

/** Puts back what a removal took out. Refused, with nothing changed, where something else has taken its place. */
export async function restore(
  removalId: string,
  after: (restored: Restored, transaction: Transaction) => Promise<void>,
): Promise<string> {
  return inTransaction(async (transaction) => {
    const removal = await lockRemoval(removalId, transaction);
    if (!removal) throw notFound('removal to undo; it may have been undone already');
    const restored: Restored = { what: removal.what, ids: {} };
    for (const table of REMOVABLE) {
      let own = removal.rows.filter((row) => row.table === table).map((row) => unpack(row.data));
      // Terms hang on each other: those above go in first.
      if (table === 'terms') own = aboveFirst(own);
      for (const row of own) if (row.$clear) await clearRecords('record_terms', row.$clear as number[], transaction);
      own = own.filter((row) => !row.$clear);
      for (const row of own) {
        try {
          await putBack(table, row, transaction);
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
    await deleteRemoval(removalId, transaction);
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
