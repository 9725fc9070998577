import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { newId } from '../../core/base/ids';
import { TaxonomySchema, TermSchema, type Taxonomy, type Term } from '../../core/schema/model';
import { problem, problemsOf } from '../../core/base/result';
import { slugOf } from '../../core/base/text';
import { noteFormerSlug } from './former';
import { fromJson, inTransaction, run, select } from '../database/connect';
import { table } from '../database/tables';
import { notFound, Refusal, type Guard } from '../refusal';
import { modelMoved, readModel } from './model';
import { beginRemoval, sweep } from './removal';

/** Creates a taxonomy, or brings one to this state. */
export async function saveTaxonomy(input: unknown, guard?: Guard): Promise<Taxonomy> {
  const parsed = TaxonomySchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The taxonomy is not complete.', problemsOf(parsed.error));
  const taxonomy = parsed.data;
  await inTransaction(async (transaction) => {
    await lockModel(transaction);
    guard?.((await readModel(transaction)).taxonomy(taxonomy.id));
    const [clash] = await select<{ name: string }>(
      'SELECT name FROM taxonomies WHERE `key` = ? AND id <> ?',
      [taxonomy.key, taxonomy.id],
      transaction,
    );
    if (clash)
      throw new Refusal(409, `${clash.name} has this key already.`, [
        problem('key', `${clash.name} has it already.`, 'Choose another one.'),
      ]);
    if (!taxonomy.tree) {
      const [deep] = await select(
        'SELECT id FROM terms WHERE taxonomy_id = ? AND parent_id IS NOT NULL LIMIT 1',
        [taxonomy.id],
        transaction,
      );
      if (deep)
        throw new Refusal(422, 'Some terms lie below others.', [
          problem('tree', 'A flat taxonomy has no terms below others.', 'Move them to the top first.'),
        ]);
    }
    const existing = await table('taxonomies').findByPk(taxonomy.id, { transaction });
    const position = existing ? (existing.get('position') as number) : await table('taxonomies').count({ transaction });
    await table('taxonomies').upsert({ ...taxonomy, position }, { transaction });
    await modelMoved(transaction);
  });
  return taxonomy;
}

/** Writers of the model wait for each other here, so that what was checked still holds when it is written. */
const lockModel = (transaction: Transaction) => select('SELECT id FROM sites WHERE id = 1 FOR UPDATE', [], transaction);

export const NewTerm = TermSchema.extend({
  id: TermSchema.shape.id.optional(),
  parentId: TermSchema.shape.parentId.default(null),
  slug: z.string().default(''),
  position: z.number().int().optional(),
});

/** Creates a term, or brings one to this state. A term cannot lie below itself, whoever else moves terms meanwhile. */
export async function saveTerm(input: unknown, guard?: Guard): Promise<Term> {
  const given = NewTerm.safeParse(input);
  if (!given.success) throw new Refusal(422, 'The term is not complete.', problemsOf(given.error));
  return inTransaction(async (transaction) => {
    await lockModel(transaction);
    const model = await readModel(transaction);
    const id = given.data.id ?? newId('term');
    guard?.(model.term(id));
    const taxonomy = model.taxonomy(given.data.taxonomyId);
    if (!taxonomy) throw notFound('taxonomy with this id');
    const siblings = model.terms.filter((t) => t.taxonomyId === taxonomy.id);
    const slug = given.data.slug || freeSlug(slugOf(given.data.name) || 'term', siblings, id);
    const parsed = TermSchema.safeParse({ ...given.data, id, slug, position: given.data.position ?? siblings.length });
    if (!parsed.success) throw new Refusal(422, 'The term is not complete.', problemsOf(parsed.error));
    const term = parsed.data;
    const known = model.term(term.id);
    if (known && known.taxonomyId !== term.taxonomyId) throw new Refusal(422, 'A term stays in its taxonomy.');
    if (siblings.some((t) => t.slug === slug && t.id !== term.id))
      throw new Refusal(409, 'The address part is taken.', [
        problem('slug', `Another term of ${taxonomy.name} has “${slug}”.`, 'Choose another one.'),
      ]);
    if (term.pictureId && !(await select('SELECT id FROM media WHERE id = ?', [term.pictureId], transaction)).length)
      throw new Refusal(422, 'The term is not complete.', [
        problem('pictureId', 'There is no such picture in the library.', 'Choose another one.'),
      ]);
    if (term.parentId) {
      const parent = model.term(term.parentId);
      if (parent?.taxonomyId !== term.taxonomyId) throw new Refusal(422, 'The term above is not one of this taxonomy.');
      if (model.above(term.parentId).includes(term.id))
        throw new Refusal(422, 'A term cannot lie below itself.', [
          problem('parentId', `${parent.name} lies below ${term.name}.`, 'Move it out first.'),
        ]);
      if (!taxonomy.tree) throw new Refusal(422, 'This taxonomy is flat; its terms have none above them.');
    }
    if (known && known.slug !== term.slug) await noteFormerSlug('term', taxonomy.id, known.slug, term.id, transaction);
    await table('terms').upsert(term, { transaction });
    await modelMoved(transaction);
    return term;
  });
}

function freeSlug(base: string, terms: Term[], own: string): string {
  const taken = new Set(terms.filter((term) => term.id !== own).map((term) => term.slug));
  if (!taken.has(base)) return base;
  for (let n = 2; ; n++) if (!taken.has(`${base}-${n}`)) return `${base}-${n}`;
}

export const TermMove = z.strictObject({
  parentId: z.string().nullable(),
  /** Place among the terms there, from 0; the end where it is left out. */
  at: z.number().int().min(0).optional(),
});

/** Moves a term with all that lies below it. */
export async function moveTerm(id: string, input: unknown): Promise<void> {
  const parsed = TermMove.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The term cannot be moved so.', problemsOf(parsed.error));
  const { parentId, at } = parsed.data;
  const term = (await readModel()).term(id);
  if (!term) throw notFound('term with this id');
  await saveTerm({ ...term, parentId });
  await inTransaction(async (transaction) => {
    await lockModel(transaction);
    const model = await readModel(transaction);
    const there = model.terms.filter((t) => t.taxonomyId === term.taxonomyId && t.parentId === parentId && t.id !== id);
    there.splice(at ?? there.length, 0, term);
    for (const [i, one] of there.entries())
      await run('UPDATE terms SET position = ? WHERE id = ?', [i, one.id], transaction);
    await modelMoved(transaction);
  });
}

/** Makes one term of two: records and terms of the first go to the second, and the first goes. */
export async function mergeTerms(id: string, intoId: string): Promise<{ removal: string }> {
  return removeTerm(id, (into) => `term “${into.name}”, merged`, intoId, intoId);
}

export const TermDeletion = z.strictObject({
  /** Where its records go: a term, or null for nowhere. */
  records: z.string().nullable().default(null),
});

/** Deletes a term. Terms below move up to where it was; its records go where the asker says. */
export async function deleteTerm(id: string, input: unknown, guard?: Guard): Promise<{ removal: string }> {
  const parsed = TermDeletion.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The term cannot be deleted so.', problemsOf(parsed.error));
  const term = (await readModel()).term(id);
  return removeTerm(id, (t) => `term “${t.name}”`, parsed.data.records, term?.parentId ?? null, guard);
}

async function removeTerm(
  id: string,
  words: (term: Term) => string,
  recordsTo: string | null,
  childrenTo: string | null,
  guard?: Guard,
): Promise<{ removal: string }> {
  return inTransaction(async (transaction) => {
    await lockModel(transaction);
    const model = await readModel(transaction);
    const term = model.term(id);
    if (!term) throw notFound('term with this id');
    guard?.(term);
    for (const to of [recordsTo, childrenTo]) {
      if (to === null) continue;
      if (to === id) throw new Refusal(422, 'A term cannot take its own place.');
      if (model.term(to)?.taxonomyId !== term.taxonomyId)
        throw new Refusal(422, 'The other term is not one of this taxonomy.');
    }
    const removal = await beginRemoval(words(term), transaction);
    const below = model.terms.filter((t) => t.parentId === id).map((t) => t.id);
    if (below.length)
      await sweep(removal, [{ table: 'terms', where: 'id IN (?)', values: [below], stay: true }], transaction);
    // Where the target lies below this term, it takes this term's place.
    const lower = childrenTo !== null && model.above(childrenTo).includes(id);
    if (lower) {
      await sweep(removal, [{ table: 'terms', where: 'id = ?', values: [childrenTo], stay: true }], transaction);
      await run('UPDATE terms SET parent_id = ? WHERE id = ?', [term.parentId, childrenTo], transaction);
    }
    await run(
      'UPDATE terms SET parent_id = ? WHERE parent_id = ? AND id <> ?',
      [childrenTo, id, childrenTo ?? ''],
      transaction,
    );
    const holders = (
      await select<{ id: number }>('SELECT record_id AS id FROM record_terms WHERE term_id = ?', [id], transaction)
    ).map((r) => r.id);
    if (holders.length) {
      await sweep(
        removal,
        [{ table: 'record_terms', where: 'record_id IN (?)', values: [holders], stay: true }],
        transaction,
      );
      if (recordsTo)
        await run(
          'INSERT IGNORE INTO record_terms (record_id, term_id, position) SELECT record_id, ?, position FROM record_terms WHERE term_id = ?',
          [recordsTo, id],
          transaction,
        );
      await run('DELETE FROM record_terms WHERE term_id = ?', [id], transaction);
    }
    await sweep(removal, [{ table: 'terms', where: 'id = ?', values: [id] }], transaction);
    await modelMoved(transaction);
    return { removal };
  });
}

/** Deletes a taxonomy with its terms; records lose them, and types no longer file under it. */
export async function deleteTaxonomy(id: string, guard?: Guard): Promise<{ removal: string }> {
  return inTransaction(async (transaction) => {
    await lockModel(transaction);
    const model = await readModel(transaction);
    const taxonomy = model.taxonomy(id);
    if (!taxonomy) throw notFound('taxonomy with this id');
    guard?.(taxonomy);
    const removal = await beginRemoval(`taxonomy “${taxonomy.name}”`, transaction);
    await sweep(
      removal,
      [{ table: 'record_terms', where: 'term_id IN (SELECT id FROM terms WHERE taxonomy_id = ?)', values: [id] }],
      transaction,
    );
    const filed = await select<{ id: string; taxonomyIds: unknown }>(
      'SELECT id, taxonomy_ids AS taxonomyIds FROM content_types',
      [],
      transaction,
    );
    for (const type of filed) {
      const ids = fromJson<string[]>(type.taxonomyIds);
      if (!ids.includes(id)) continue;
      await sweep(removal, [{ table: 'content_types', where: 'id = ?', values: [type.id], stay: true }], transaction);
      await run(
        'UPDATE content_types SET taxonomy_ids = ? WHERE id = ?',
        [JSON.stringify(ids.filter((t) => t !== id)), type.id],
        transaction,
      );
    }
    await sweep(removal, [{ table: 'terms', where: 'taxonomy_id = ?', values: [id], stay: true }], transaction);
    await run('UPDATE terms SET parent_id = NULL WHERE taxonomy_id = ?', [id], transaction);
    await run('DELETE FROM terms WHERE taxonomy_id = ?', [id], transaction);
    await sweep(removal, [{ table: 'taxonomies', where: 'id = ?', values: [id] }], transaction);
    await modelMoved(transaction);
    return { removal };
  });
}

/** How many records are filed under each term, and how many of what. */
export async function termCounts(): Promise<Record<string, number>> {
  const rows = await select<{ id: string; n: number }>(
    'SELECT term_id AS id, COUNT(*) AS n FROM record_terms GROUP BY term_id',
  );
  return Object.fromEntries(rows.map((row) => [row.id, Number(row.n)]));
}
