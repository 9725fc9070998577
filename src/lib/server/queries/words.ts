import { and, likePart, listed, never, type Condition, type SqlPiece, type Sql } from './sql';

/** Words and the fields they are searched in; every field without. */
export interface Search {
  words: readonly string[];
  fieldIds?: readonly string[];
  /** Fields in which nothing is found, being none of the model. */
  but?: readonly string[];
}
/** What a search found, by its words and fields; `many` for too many to name. */
export type Searcher = (search: Search) => readonly number[] | 'many';

/** Searches that find more records than this are asked of each record instead. */
export const MOST_FOUND = 20_000;

function ofFields({ fieldIds, but }: Search): SqlPiece {
  if (fieldIds) return { on: (words) => ` AND ${words}.field_id IN (?)`, values: [listed(fieldIds)] };
  return but?.length
    ? { on: (words) => ` AND ${words}.field_id NOT IN (?)`, values: [but] }
    : { on: () => '', values: [] };
}

/** Whether a record has a word that begins so. */
function hasWord(word: string, search: Search): Condition {
  const fields = ofFields(search);
  return {
    on: (id) =>
      `EXISTS (SELECT 1 FROM record_words v WHERE v.record_id = ${id}${fields.on('v')} AND CONCAT(' ', v.words) LIKE ? ESCAPE '!')`,
    values: [...fields.values, `% ${likePart(word)}%`],
  };
}

/**
 * What a search finds: ids of the records, of any type and status, that have each word at the beginning of a word in some
 * of these fields, or in any. The longest word is asked of the full text index, being the rarest as a rule; the others are
 * looked for in what that finds. Words are letters, digits and `_` alone.
 */
export function searchQuery(search: Search): Sql {
  const [longest, ...others] = [...search.words].sort((a, b) => b.length - a.length);
  const fields = ofFields(search);
  const rest = and(others.map((word) => hasWord(word, search)));
  return {
    sql: `SELECT DISTINCT w.record_id AS id FROM record_words w WHERE MATCH (w.words) AGAINST (? IN BOOLEAN MODE)${fields.on('w')} AND ${rest.on('w.record_id')} LIMIT ${MOST_FOUND + 1}`,
    values: [`+${longest}*`, ...fields.values, ...rest.values],
  };
}

/** Records that a search found; where these are too many to name, each is asked for its words. */
export function searchConditions(search: Search, found: Searcher): Condition[] {
  if (!search.words.length) return [never];
  const ids = found(search);
  if (ids === 'many') return search.words.map((word) => hasWord(word, search));
  return [ids.length ? { on: (id) => `${id} IN (?)`, values: [[...ids]] } : never];
}
