import type { Transaction } from 'sequelize';

/** Transactions that touch more records than these say that they touched everything. */
const MOST = 5000;

const touched = new WeakMap<Transaction, Set<number> | 'everything'>();

/**
 * Says which records a transaction changes anything of by which they are listed: themselves, their values, terms or links.
 * Whoever holds records in memory, in any process, reads these anew. Outside of a transaction nothing is said, and the
 * caller says at the end that everything was touched.
 */
export function touchRecords(ids: Iterable<number>, transaction: Transaction | undefined): void {
  if (!transaction) return;
  const known = touched.get(transaction);
  if (known === 'everything') return;
  const all = known ?? new Set<number>();
  for (const id of ids) all.add(id);
  touched.set(transaction, all.size > MOST ? 'everything' : all);
}

/** Says that a transaction may have changed any record. */
export const touchEverything = (transaction: Transaction): void => void touched.set(transaction, 'everything');

/** What a transaction touched so far. */
export const touchedIn = (transaction: Transaction): ReadonlySet<number> | 'everything' | undefined =>
  touched.get(transaction);
