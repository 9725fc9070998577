import type { FilledColumn, ListColumn, NumberColumn } from './column';
import { relationOf } from '../model/field';
import type { Field } from '../schema/field';
import { columnAt, eachOf, linksStep, TERMS, type Reading } from './reading';
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

/** Of how many records each field has a value, or anything related. */
export function filledOf(reading: Reading, table: Table, fields: readonly Field[]): Map<string, number> {
  const rows = seenOf(reading, table);
  return new Map(
    eachOf(fields, (field) => {
      const relation = relationOf(field);
      const count = (has: (row: number) => boolean) =>
        table.keep(`filled ${field.id} ${reading.drafts}`, () => {
          let n = 0;
          rows.forEach((row) => void (has(row) && n++));
          return n;
        });
      if (relation) {
        const step = linksStep(relation.relationId, relation.side);
        const { lists } = columnAt<ListColumn<number>>(reading, table, 'numbers', step);
        return [field.id, count((row) => Boolean(lists[row]?.length))] as const;
      }
      const { here } = columnAt<FilledColumn>(reading, table, 'filled', field.id);
      return [field.id, count((row) => here[row] === 1)] as const;
    }),
  );
}
