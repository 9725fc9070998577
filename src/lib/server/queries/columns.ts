import type { Head } from '../../core/columns/table';
import type { Cell } from '../../core/columns/cell';
import { ownCell } from '../../core/columns/cells';
import { collationKey } from '../../core/base/collation';
import { INDEXED } from '../../core/columns/reading';
import type { Status } from '../../core/schema/record';
import { select } from '../database/connect';

/** How many rows one statement brings, so that others have their turn between. */
const AT_ONCE = 5_000;

/** What is read of a value. */
type Part = 'number' | 'text' | 'sort';
export interface FoundCell extends Cell {
  id: number;
  step: string;
}

interface HeadRow {
  id: number;
  typeId: string;
  shown: number;
  authorId: number | null;
}
const headOf = ({ id, shown, authorId }: HeadRow): Head => ({ id, shown: Boolean(shown), authorId });
const HEAD = "SELECT id, type_id AS typeId, status = 'published' AS shown, author_id AS authorId FROM records";

/** The records of a type, drafts among them, by their numbers; so many at a time. */
export async function* headsOf(typeId: string): AsyncGenerator<Head[]> {
  for (let after = 0; ;) {
    const rows = await select<HeadRow>(`${HEAD} WHERE type_id = ? AND id > ? ORDER BY id LIMIT ?`, [
      typeId,
      after,
      AT_ONCE,
    ]);
    if (rows.length) yield rows.map(headOf);
    if (rows.length < AT_ONCE) return;
    after = rows.at(-1)!.id;
  }
}

/** These records as they are now, by number, with their type; what is gone is not among them. */
export async function headsByIds(ids: readonly number[]): Promise<Map<number, { typeId: string; head: Head }>> {
  const rows = ids.length ? await select<HeadRow>(`${HEAD} WHERE id IN (?)`, [ids]) : [];
  return new Map(rows.map((row) => [row.id, { typeId: row.typeId, head: headOf(row) }]));
}

const cellOf = (row: FoundCell): FoundCell => ({
  ...row,
  empty: Boolean(row.empty),
  sort: row.sort === null ? null : collationKey(row.sort),
});
const EMPTY_CELL = { part: 0, empty: 0, number: null, text: null, sort: null };

/** What every record has by itself, as cells. */
interface OwnRow {
  id: number;
  title: string;
  slug: string;
  status: Status;
  created: Date;
  changed: Date;
  published: Date | null;
}
const OWN_COLUMNS = 'SELECT id, title, slug, status, created, changed, published FROM records';

function ownCellOf(row: OwnRow, step: string): FoundCell {
  const { id, created, changed, published } = row;
  const instants = { created: created.getTime(), changed: changed.getTime(), published: published?.getTime() ?? null };
  const cell = ownCell({ ...row, ...instants }, step);
  return { ...cell, id, step, sort: cell.sort === null ? null : collationKey(cell.sort) };
}

async function* ownCells(typeId: string, step: string): AsyncGenerator<FoundCell[]> {
  for (let after = 0; ;) {
    const rows = await select<OwnRow>(`${OWN_COLUMNS} WHERE type_id = ? AND id > ? ORDER BY id LIMIT ?`, [
      typeId,
      after,
      AT_ONCE,
    ]);
    if (rows.length) yield rows.map((row) => ownCellOf(row, step));
    if (rows.length < AT_ONCE) return;
    after = rows.at(-1)!.id;
  }
}

/**
 * The values of a type's records at one step, by record, so many at a time. What is looked up of them is read and nothing
 * else; `first` leaves out all but the first of several.
 */
export async function* cellsOfStep(
  typeId: string,
  step: string,
  parts: readonly Part[],
  first: boolean,
): AsyncGenerator<FoundCell[]> {
  if (INDEXED.has(step)) return yield* ownCells(typeId, step);
  const columns = parts.map((part) => `, \`${part}\``).join('');
  for (let after = 0, place = -1; ;) {
    const rows = await select<FoundCell>(
      `SELECT record_id AS id, part, is_empty AS empty${columns} FROM record_index WHERE type_id = ? AND field_id = ? AND record_id >= ? AND (record_id > ? OR part > ?)${first ? ' AND part = 0' : ''} ORDER BY record_id, part LIMIT ?`,
      [typeId, step, after, after, place, AT_ONCE],
    );
    if (rows.length) yield rows.map((row) => cellOf({ ...EMPTY_CELL, ...row, step } as unknown as FoundCell));
    if (rows.length < AT_ONCE) return;
    after = rows.at(-1)!.id;
    place = rows.at(-1)!.part;
  }
}

/**
 * The text by which records of a type are put in order at one step, in the order of the database's collation, or nearly
 * so: it decides by less of a long title than is compared here.
 */
export async function sortedTexts(typeId: string, step: string): Promise<{ id: number; text: string }[]> {
  const own = { '@title': 'title', '@slug': 'slug' }[step];
  const rows = await select<{ id: number; text: string }>(
    own
      ? `SELECT id, ${own} AS text FROM records WHERE type_id = ? ORDER BY ${own} COLLATE utf8mb4_uca1400_nopad_as_cs`
      : 'SELECT record_id AS id, sort AS text FROM record_index WHERE type_id = ? AND field_id = ? AND part = 0 AND is_empty = FALSE AND sort IS NOT NULL ORDER BY sort',
    own ? [typeId] : [typeId, step],
  );
  return rows.map(({ id, text }) => ({ id, text: collationKey(text) }));
}

/** Values of these records at these steps, whatever they are looked up by. */
export async function cellsOfRecords(ids: readonly number[], steps: readonly string[]): Promise<FoundCell[]> {
  const [own, others] = [steps.filter((step) => INDEXED.has(step)), steps.filter((step) => !INDEXED.has(step))];
  const [rows, cells] = await Promise.all([
    ids.length && own.length ? select<OwnRow>(`${OWN_COLUMNS} WHERE id IN (?)`, [ids]) : [],
    ids.length && others.length
      ? select<FoundCell>(
          'SELECT record_id AS id, field_id AS step, part, is_empty AS empty, number, text, sort FROM record_index WHERE record_id IN (?) AND field_id IN (?) ORDER BY record_id, part',
          [ids, others],
        )
      : [],
  ]);
  return [...rows.flatMap((row) => own.map((step) => ownCellOf(row, step))), ...cells.map(cellOf)];
}

/** The words of records of a type in one field. */
export async function* wordsOfStep(typeId: string, step: string): AsyncGenerator<{ id: number; text: string }[]> {
  for (let after = 0; ;) {
    const rows = await select<{ id: number; text: string }>(
      'SELECT record_id AS id, words AS text FROM record_words WHERE type_id = ? AND field_id = ? AND record_id > ? ORDER BY record_id LIMIT ?',
      [typeId, step, after, AT_ONCE],
    );
    if (rows.length) yield rows;
    if (rows.length < AT_ONCE) return;
    after = rows.at(-1)!.id;
  }
}

export const wordsOfRecords = async (
  ids: readonly number[],
  steps: readonly string[],
): Promise<{ id: number; step: string; text: string }[]> =>
  ids.length && steps.length
    ? select<{ id: number; step: string; text: string }>(
        'SELECT record_id AS id, field_id AS step, words AS text FROM record_words WHERE record_id IN (?) AND field_id IN (?)',
        [ids, steps],
      )
    : [];

/** The terms of the records of a type, record by record in their order. */
export async function* termsOfType(typeId: string): AsyncGenerator<{ id: number; text: string }[]> {
  for (let after = 0; ;) {
    const ids = await select<{ id: number }>(
      'SELECT id FROM records WHERE type_id = ? AND id > ? ORDER BY id LIMIT ?',
      [typeId, after, AT_ONCE],
    );
    const last = ids.at(-1)?.id;
    if (last === undefined) return;
    yield await select<{ id: number; text: string }>(
      'SELECT t.record_id AS id, t.term_id AS text FROM record_terms t JOIN records r ON r.id = t.record_id WHERE r.type_id = ? AND t.record_id > ? AND t.record_id <= ? ORDER BY t.record_id, t.position',
      [typeId, after, last],
    );
    if (ids.length < AT_ONCE) return;
    after = last;
  }
}

/** Links of a relation from the records of a type on one side, in the order that each has them. */
export const linksOfType = (
  typeId: string,
  relationId: string,
  side: 'a' | 'b',
): Promise<{ id: number; number: number }[]> =>
  select<{ id: number; number: number }>(
    `SELECT l.${side}_id AS id, l.${side === 'a' ? 'b' : 'a'}_id AS number FROM links l JOIN records r ON r.id = l.${side}_id AND r.type_id = ? WHERE l.relation_id = ? ORDER BY l.${side}_id, l.${side}_position, l.${side === 'a' ? 'b' : 'a'}_id`,
    [typeId, relationId],
  );

export const linksOfRecords = async (
  ids: readonly number[],
  relationId: string,
  side: 'a' | 'b',
): Promise<{ id: number; number: number }[]> =>
  ids.length
    ? select<{ id: number; number: number }>(
        `SELECT ${side}_id AS id, ${side === 'a' ? 'b' : 'a'}_id AS number FROM links WHERE relation_id = ? AND ${side}_id IN (?) ORDER BY ${side}_id, ${side}_position, ${side === 'a' ? 'b' : 'a'}_id`,
        [relationId, ids],
      )
    : [];
