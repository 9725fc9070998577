import { filtered, rowsBy, matchingRows, rowsUnder, seenOf } from '../columns/conditions';
import { eachOf, orLacking, tableOf, type Reading, type Tables } from '../columns/reading';
import { noRows, type Rows, type Table } from '../columns/table';
import type { Env } from '../paths/env';
import { compileRule } from '../rules/compile';
import type { Target } from '../schema/target';
import { ABOVE_ALL_TERMS, inOrder, rankOf, type Level, type Serving } from './resolution';

type RuleTarget = Target & { on: 'rule' };

/** What answers the pages of all published records of a type. */
export interface Assignments<T extends Serving> {
  table: Table;
  /** All of them. */
  seen: Rows;
  /** The records that each template answers; those that answer none are left out. */
  answers: { template: T; rows: Rows }[];
  /** Records that none answers. */
  unserved: Rows;
  /** Records of which only the order of templates decides. */
  tied: Rows;
}

/** Rules that columns cannot answer, by the numbers of the records for which they hold; looked up in memory beforehand. */
export type Looked = ReadonlyMap<string, ReadonlySet<number>>;
/** What a rule is looked up by. */
export const ruleKey = ({ typeId, rule }: RuleTarget): string => JSON.stringify([typeId, rule]);

/**
 * The same contest as `contenders` holds for one page, for all records of a type at once: each target is a set of rows,
 * and the nearer ones take theirs first. Undefined where columns are lacking, which `tables` has noted then; the rules that
 * are to be looked up where there are some that columns cannot answer.
 */
export function assignmentsFrom<T extends Serving>(
  tables: Tables,
  templates: readonly T[],
  typeId: string,
  env: Env,
  looked: Looked = new Map(),
): Assignments<T> | RuleTarget[] | undefined {
  return orLacking(() => {
    const reading: Reading = { own: 'record', env, model: env.model, tables, drafts: false };
    const table = tableOf(reading, typeId);
    // As they are now: the table goes on changing.
    const seen = seenOf(reading, table).clone();
    const left: RuleTarget[] = [];
    const asked: Asked = { reading, table, looked, left };
    const near = eachOf(inOrder(templates, 'record'), ({ template, serves, except }) => {
      const out = eachOf(except, (target) => nearRows(target, asked)).flat();
      const without = out.reduce((all, { rows }) => all.new_union(rows), noRows());
      const own = eachOf(serves, (target) => nearRows(target, asked)).flat();
      return own.map(({ rank, rows }) => ({
        template,
        rank,
        rows: rows.new_intersection(seen).new_difference(without),
      }));
    }).flat();
    if (left.length) return left;
    const answers = new Map<T, Rows>();
    let unserved = seen.clone();
    let tied = noRows();
    for (const rank of [...new Set(near.map((one) => one.rank))].sort((a, b) => a - b)) {
      // All of one rank have the same records before them; the first in order takes what it can.
      const before = unserved;
      const taken = new Map<T, Rows>();
      for (const one of near)
        if (one.rank === rank) {
          const fits = one.rows.new_intersection(before);
          taken.set(one.template, (taken.get(one.template) ?? noRows()).new_union(fits));
        }
      for (const [template, fits] of taken) {
        tied = tied.new_union(fits.new_difference(unserved));
        answers.set(template, (answers.get(template) ?? noRows()).new_union(fits.new_intersection(unserved)));
        unserved = unserved.new_difference(fits);
      }
    }
    return {
      table,
      seen,
      unserved,
      tied,
      answers: [...answers].flatMap(([template, rows]) => (rows.isEmpty() ? [] : [{ template, rows }])),
    };
  });
}

/**
 * Of how many published records of its type a rule holds; without `holds` where columns cannot answer that. Undefined where
 * columns are lacking, which `tables` has noted then.
 */
export function matchesFrom(tables: Tables, target: RuleTarget, env: Env): { holds?: number; of: number } | undefined {
  return orLacking(() => {
    const reading: Reading = { own: 'record', env, model: env.model, tables, drafts: false };
    const table = tableOf(reading, target.typeId);
    const seen = seenOf(reading, table);
    const rows = ruleRows(target, { reading, table, looked: new Map(), left: [] });
    return { of: seen.size(), ...(rows && { holds: rows.intersection_size(seen) }) };
  });
}

interface Asked {
  reading: Reading;
  table: Table;
  looked: Looked;
  left: RuleTarget[];
}

/** The rows that a target fits, by how near it is to them. */
function nearRows(target: Target, asked: Asked): { rank: number; rows: Rows }[] {
  const { reading, table } = asked;
  const { model } = reading;
  const at = (level: Level, rows: Rows, steps = 0) => [{ rank: rankOf({ level, steps }), rows }];
  if ('typeId' in target && target.typeId && target.typeId !== table.typeId) return [];
  switch (target.on) {
    case 'records': {
      const rows = noRows();
      for (const id of target.ids) {
        const row = table.rowOf(id);
        if (row !== undefined) rows.add(row);
      }
      return at('records', rows);
    }
    case 'rule': {
      const rows = ruleRows(target, asked);
      return rows ? at('rule', rows) : [];
    }
    case 'term': {
      const steps = new Map<number, string[]>();
      for (const id of model.below(target.termId)) {
        const above = model.above(id).indexOf(target.termId);
        steps.set(above, [...(steps.get(above) ?? []), id]);
      }
      return eachOf([...steps], ([above, ids]) => at('term', rowsUnder(reading, table, ids), above)).flat();
    }
    case 'taxonomy': {
      const ids = model.termsOf(target.taxonomyId).map(({ id }) => id);
      return at('term', rowsUnder(reading, table, ids), ABOVE_ALL_TERMS);
    }
    case 'author':
      return at('author', rowsBy(table, target.authorId));
    case 'type':
      return at('type', table.here);
    case 'everything':
      return at('everything', table.here);
    default:
      return [];
  }
}

function ruleRows(target: RuleTarget, { reading, table, looked, left }: Asked): Rows | undefined {
  const known = looked.get(ruleKey(target));
  if (known) return filtered(table, (row) => known.has(table.ids[row] as number));
  const rule = compileRule(target.rule, { recordTypeIds: [target.typeId], loops: [] }, reading.model);
  const rows = matchingRows(rule, reading, table);
  if (!rows) left.push(target);
  return rows;
}
