/** A piece of SQL with the values of its question marks. */
export interface Sql {
  sql: string;
  values: unknown[];
}

/** A piece that is written for a name: of the column that holds a record's id, or of the table it looks at. */
export interface SqlPiece {
  on(name: string): string;
  values: unknown[];
}

/** What is selected, and from where; several of one column are asked as one statement, see `union`. */
export interface Selected extends Sql {
  what: string;
}

/** A condition on a record, written for the column that holds its id. */
export interface Condition extends SqlPiece {
  /** It asks for more of the record than its id, so that `records r` has to be there. */
  ofRecord?: boolean;
  /** Where it holds for the rows of one field in the index, also those, so that they can be counted alone. */
  rows?: { step: string; test: IndexTest };
}

/** A test on a row of the index, written for the name of that table. */
export interface IndexTest extends SqlPiece {
  /** It asks for the number of the row. */
  byNumber?: boolean;
}

export const always: Condition = { on: () => 'TRUE', values: [] };
export const never: Condition = { on: () => 'FALSE', values: [] };

/** A condition on a column of the record other than its id. */
export const ofRecord = (sql: string, ...values: unknown[]): Condition => ({ on: () => sql, values, ofRecord: true });

export const and = (parts: readonly Condition[]): Condition => ({
  on: (id) => parts.map((part) => part.on(id)).join(' AND ') || 'TRUE',
  values: parts.flatMap((part) => part.values),
  ofRecord: parts.some((part) => part.ofRecord),
});

export const or = (parts: readonly Condition[]): Condition => ({
  on: (id) => `(${parts.map((part) => `(${part.on(id)})`).join(' OR ') || 'FALSE'})`,
  values: parts.flatMap((part) => part.values),
  ofRecord: parts.some((part) => part.ofRecord),
});

export const not = (part: Condition): Condition => ({
  on: (id) => `NOT (${part.on(id)})`,
  values: part.values,
  ofRecord: part.ofRecord,
});

/** A list for `IN (?)`, which may not be empty. */
export const listed = (ids: readonly string[]): readonly string[] => (ids.length ? ids : ['']);

/** `%`, `_` and the escape sign `!` itself stand for themselves. */
export const likePart = (text: string): string => text.replace(/[!%_]/g, '!$&');

/** Several selects of one column as one statement, each row with the number of its select. */
export const union = (parts: readonly Selected[], column: string): Sql => ({
  sql:
    parts.map(({ what, sql }, tag) => `(SELECT ${tag} AS tag, ${what} AS ${column} ${sql})`).join(' UNION ALL ') ||
    `SELECT 0 AS tag, 0 AS ${column}`,
  values: parts.flatMap((part) => part.values),
});

/** One select, its column under this name. */
export const selecting = ({ what, sql, values }: Selected, column: string): Sql => ({
  sql: `SELECT ${what} AS ${column} ${sql}`,
  values,
});

/** How many rows a count would count, as `n`, which stops looking after so many. */
export const countingUpTo = ({ sql, values }: Selected, most: number): Sql => ({
  sql: `SELECT COUNT(*) AS n FROM (SELECT 1 AS one ${sql} LIMIT ${most}) counted`,
  values,
});
