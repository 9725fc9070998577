import { select } from '../../src/lib/server/database/connect';
import { release } from '../../src/lib/server/services/releases';
import { saveContentType } from '../../src/lib/server/services/types';
import { model } from './world';
import { saveTaxonomy, saveTerm } from './services';

/** Puts the small model of `world.ts` into the database, and before visitors. */
export async function saveModel({ released = true } = {}): Promise<void> {
  for (const taxonomy of model.taxonomies) await saveTaxonomy(taxonomy);
  for (const term of model.terms) await saveTerm(term);
  for (const type of model.types) await saveContentType(type);
  if (released) await release({ note: 'The model' });
}

const ORDERS: Record<string, string> = {
  record_index: 'record_id, field_id, part',
  record_terms: 'record_id, term_id',
  links: 'relation_id, a_id, b_id',
  mentions: 'record_id, field_id, target, target_id',
  unique_values: 'field_id, value_key',
};
const TABLES = ['sites', 'content_types', 'fields', 'taxonomies', 'terms', 'authors', 'media', 'records', 'templates'];

/** Every table that holds what people made, and what follows from it, row by row; `more` of them beside. */
export async function dump(more: readonly string[] = []): Promise<Record<string, unknown[]>> {
  const out: Record<string, unknown[]> = {};
  for (const table of [...TABLES, ...more, ...Object.keys(ORDERS)]) {
    const rows = await select<Record<string, unknown>>(`SELECT * FROM ${table} ORDER BY ${ORDERS[table] ?? 'id'}`);
    out[table] = rows.map(({ model_version: _, release_id: __, ...row }) => row);
  }
  const counts = await select<{ t: string; s: string; n: number }>(
    'SELECT type_id AS t, status AS s, SUM(n) AS n FROM record_counts GROUP BY type_id, status HAVING SUM(n) <> 0 ORDER BY t, s',
  );
  out.counts = counts.map((row) => ({ ...row, n: Number(row.n) }));
  return out;
}
