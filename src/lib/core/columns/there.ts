import type { ListColumn, NumberColumn } from './column';
import { columnAt, TERMS, type Reading } from './reading';
import { seenOf } from './conditions';
import type { Table } from './table';

/** What of a type the reader sees anything under. */
export interface There {
  /** How many records. */
  records: number;
  /** How many are under each term themselves. */
  terms: ReadonlyMap<string, number>;
  authors: ReadonlyMap<number, number>;
  /** The hours in which they were published, as milliseconds of their beginnings. */
  hours: ReadonlySet<number>;
}

const HOUR = 3_600_000;

/** What there is to list of the records of a table: which terms, authors and dates. */
export function thereOf(reading: Reading, table: Table): There {
  const { lists } = columnAt<ListColumn<string>>(reading, table, 'texts', TERMS);
  const { keys } = columnAt<NumberColumn>(reading, table, 'number', '@published');
  return table.keep(`there ${reading.drafts}`, () => {
    const [terms, authors, hours] = [new Map<string, number>(), new Map<number, number>(), new Set<number>()];
    const rows = seenOf(reading, table);
    rows.forEach((row) => {
      lists[row]?.forEach((term) => terms.set(term, (terms.get(term) ?? 0) + 1));
      const author = table.authors[row] as number;
      if (author) authors.set(author, (authors.get(author) ?? 0) + 1);
      const published = keys[row] as number;
      if (!Number.isNaN(published)) hours.add(Math.floor(published / HOUR) * HOUR);
    });
    return { records: rows.size(), terms, authors, hours };
  });
}
