import type { CompiledLoop } from '../../core/loops/compiled';
import { wanted } from '../../core/loops/visitors';
import type { Env } from '../../core/paths/env';
import { INDEXED, whereOf, type ListConditions, type ListReader } from './conditions';
import { and, listed, type Sql } from './sql';

/** One count of what visitors may choose; `option` is '' for the ends of a range. */
export interface FacetRow {
  facet: number;
  option: string;
  n: number;
  low: number | null;
  high: number | null;
}

/** Counts all that visitors may choose of a loop, as one statement; undefined where some of it is left for memory. */
export function facetQuery(loop: CompiledLoop, env: Env, reader: ListReader): Sql | undefined {
  const { drafts } = reader;
  const all: Sql[] = [];
  for (const [at, facet] of (loop.visitors?.facets ?? []).entries()) {
    // Its values are not where they could be counted.
    if (env.model.beside?.written.has(facet.step) && !env.model.beside.written.get(facet.step)) return undefined;
    if (facet.step.startsWith('@') && !facet.step.startsWith('@terms:') && !INDEXED.has(facet.step)) return undefined;
    const asked = whereOf(wanted(loop, env, facet.key).loop, env, reader);
    if (asked.left) return undefined;
    const select = (option: string, count: string, more: string) =>
      `SELECT ${at} AS facet, CONVERT(${option} USING utf8mb4) COLLATE utf8mb4_nopad_bin AS \`option\`, ${count} AS n, ${more}`;
    const { type } = facet.path;
    if (type.kind.family.facet?.by !== 'answers' || type.kind.family.facet.counted !== 'terms') {
      const { sql, values } = ofIndex(facet.step, loop, asked, drafts);
      if (facet.range)
        all.push({ sql: `${select("''", 'COUNT(*)', 'MIN(f.number) AS low, MAX(f.number) AS high')} ${sql}`, values });
      else {
        // All but content types have a number by which the index alone tells them apart.
        const option = facet.step === '@type' ? 'f.text' : 'f.number';
        all.push({
          sql: `${select(option, 'COUNT(*)', 'NULL AS low, NULL AS high')} ${sql} GROUP BY ${option}`,
          values,
        });
      }
      continue;
    }
    const { taxonomyId } = type.settings as { taxonomyId: string };
    // Each term with every term above it, so that a record counts once for each.
    const pairs = env.model.termsOf(taxonomyId).flatMap(({ id }) => env.model.above(id).map((above) => [above, id]));
    if (!pairs.length) continue;
    const spread = pairs.map(() => 'SELECT ? AS above, ? AS term').join(' UNION ALL ');
    all.push({
      sql: `${select('c.above', 'COUNT(DISTINCT t.record_id)', 'NULL AS low, NULL AS high')} FROM record_terms t STRAIGHT_JOIN records r ON r.id = t.record_id STRAIGHT_JOIN (${spread}) c ON c.term = t.term_id WHERE t.term_id IN (?) AND ${asked.where.on('r.id')} GROUP BY c.above`,
      values: [...pairs.flat(), [...new Set(pairs.map(([, term]) => term))], ...asked.where.values],
    });
  }
  if (!all.length) return undefined;
  return { sql: all.map(({ sql }) => `(${sql})`).join(' UNION ALL '), values: all.flatMap((one) => one.values) };
}

/** The index rows of one field of what is asked for, as `f`; records are looked at only where a condition needs them. */
function ofIndex(step: string, loop: CompiledLoop, asked: ListConditions, drafts: boolean): Sql {
  const { typeIds } = loop.scope;
  const where = and(asked.parts);
  const shown = drafts ? 'f.shown IN (TRUE, FALSE)' : 'f.shown = TRUE';
  return {
    sql: `FROM record_index f ${step === '@type' ? '' : 'FORCE INDEX (numbers)'} ${where.ofRecord ? 'JOIN records r ON r.id = f.record_id' : ''} WHERE f.type_id IN (?) AND f.field_id = ? AND ${shown} AND f.is_empty = FALSE AND ${where.on('f.record_id')}`,
    values: [listed(typeIds), step, ...where.values],
  };
}
