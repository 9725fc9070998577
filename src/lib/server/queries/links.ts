import type { Transaction } from 'sequelize';
import type { RelationSide } from '../../core/model/field';
import { run, select } from '../database/connect';
import { touchRecords } from '../database/touched';

/** How many rows one statement takes. */
const AT_ONCE = 2000;

type Side = RelationSide['side'];
const across = (side: Side): Side => (side === 'a' ? 'b' : 'a');

/** Links of a relation that these records have as its `side`, with the place of each in the other record's list. */
export const linksFrom = (
  { relationId, side }: { relationId: string; side: Side },
  ids: readonly number[],
  transaction: Transaction,
): Promise<{ near: number; far: number; position: number }[]> =>
  select<{ near: number; far: number; position: number }>(
    `SELECT ${side}_id AS near, ${across(side)}_id AS far, ${across(side)}_position AS position FROM links WHERE relation_id = ? AND ${side}_id IN (?) ORDER BY ${side}_id, ${side}_position, ${across(side)}_id`,
    [relationId, ids],
    transaction,
  );

/** Takes away the links that these records have as one side of a relation. */
export const clearLinks = async (
  relationId: string,
  side: Side,
  ids: readonly number[],
  transaction: Transaction,
): Promise<void> => {
  const gone = await select<{ a: number; b: number }>(
    `DELETE FROM links WHERE relation_id = ? AND ${side}_id IN (?) RETURNING a_id AS a, b_id AS b`,
    [relationId, ids],
    transaction,
  );
  touchRecords(
    gone.flatMap(({ a, b }) => [a, b]),
    transaction,
  );
};

/** The last place in the list of each of these records on one side of a relation. */
export const lastPlaces = (
  relationId: string,
  side: Side,
  ids: readonly number[],
  transaction: Transaction,
): Promise<{ id: number; end: number }[]> =>
  select<{ id: number; end: number }>(
    `SELECT ${side}_id AS id, MAX(${side}_position) AS end FROM links WHERE relation_id = ? AND ${side}_id IN (?) GROUP BY ${side}_id`,
    [relationId, ids],
    transaction,
  );

/** Rows of record on side a, record on side b, and the places of each in the other's list. */
export async function insertLinks(relationId: string, rows: number[][], transaction: Transaction): Promise<void> {
  touchRecords(
    rows.flatMap(([a = 0, b = 0]) => [a, b]),
    transaction,
  );
  for (let i = 0; i < rows.length; i += AT_ONCE)
    await run(
      'INSERT INTO links (relation_id, a_id, b_id, a_position, b_position) VALUES ?',
      [rows.slice(i, i + AT_ONCE).map((row) => [relationId, ...row])],
      transaction,
    );
}

/** Which of these records are linked on one side of a relation. */
export const linkedAmong = async (
  { relationId, side }: { relationId: string; side: Side },
  ids: readonly number[],
  transaction?: Transaction,
): Promise<Set<number>> =>
  new Set(
    (
      await select<{ id: number }>(
        `SELECT DISTINCT ${side}_id AS id FROM links WHERE relation_id = ? AND ${side}_id IN (?)`,
        [relationId, ids],
        transaction,
      )
    ).map(({ id }) => id),
  );
