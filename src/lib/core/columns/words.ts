import { fitOfWord, isSearched } from '../content/search';
import { columnAt, wordsStep, type Reading, type Search } from './reading';
import { noRows, type Rows, type Table } from './table';
import type { WordColumn } from './word-column';

/** The fields of a type that a search looks into; `@title` is the title. */
function stepsOf({ model }: Reading, { typeId }: Table, { fieldIds, but }: Search): string[] {
  const own =
    model
      .type(typeId)
      ?.fields.filter(isSearched)
      .map(({ id }) => id) ?? [];
  return ['@title', ...own].filter((id) => (!fieldIds || fieldIds.includes(id)) && !but?.includes(id));
}

/** Rows that have, for each of the words, a word that begins so in some of the fields. */
export function rowsWithWords(reading: Reading, table: Table, search: Search): Rows {
  const columns = stepsOf(reading, table, search).map((step) =>
    columnAt<WordColumn>(reading, table, 'words', wordsStep(step)),
  );
  let all: Rows | undefined;
  for (const word of search.words) {
    const rows = noRows();
    rows.resize(table.size);
    for (const column of columns) column.beginning(word, (row) => rows.add(row));
    all = all ? all.intersection(rows) : rows;
  }
  return all ?? noRows();
}

/** How well each row fits a search, see `fitOfWord`; rows that do not have all of the words have numbers too. */
export function fits(reading: Reading, table: Table, search: Search, into: Float64Array): void {
  const columns = stepsOf(reading, table, search).map((step) => ({
    step,
    column: columnAt<WordColumn>(reading, table, 'words', wordsStep(step)),
  }));
  const best = new Float64Array(into.length);
  into.fill(0);
  for (const word of search.words) {
    best.fill(0);
    for (const { step, column } of columns)
      column.beginning(word, (row, whole) => {
        const fit = fitOfWord(step, whole, column.countAt(row));
        if (fit > (best[row] as number)) best[row] = fit;
      });
    for (let row = 0; row < into.length; row++) into[row]! += best[row] as number;
  }
}
