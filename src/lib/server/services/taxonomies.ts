import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { newId } from '../../core/base/ids';
import { TaxonomySchema, TermSchema, type Taxonomy, type Term } from '../../core/schema/model';
import { problem, problemsOf } from '../../core/base/result';
import { RESERVED, taxonomyBase } from '../../core/base/reserved';
import { slugOf } from '../../core/base/text';
import { inTransaction } from '../database/connect';
import { putTaxonomy, putTerm } from '../queries/model';
import { notFound, Refusal, type Guard } from '../base/refusal';
import { clearTerm, fileAlsoUnder, recordsUnder } from '../queries/record-parts';
import { idsThere } from '../queries/records';
import { noteFormerSlug } from '../queries/redirects';
import { lockSite, modelMoved, releaseShown } from '../queries/site';
import { clearTerms, hangChildren, hangTerm, hasDeepTerms, taxonomyWithKey } from '../queries/taxonomies';
import { keepRemoved, setTaxonomies, putInOrder, taxonomiesOfTypes } from '../queries/types';
import { goingUnder } from './record-checks';
import { readModel } from './model';
import { summed, thereByType } from './there';
import { readRelease } from './designs';
import { beginRemoval, sweep } from './removal';

/** Creates a taxonomy, or brings one to this state. */
export async function saveTaxonomy(input: z.output<typeof TaxonomySchema>, guard?: Guard): Promise<Taxonomy> {
  const taxonomy = input;
  await inTransaction(async (transaction) => {
    await lockSite(transaction);
    guard?.((await readModel(transaction)).taxonomy(taxonomy.id));
    const clash = await taxonomyWithKey(taxonomy.key, taxonomy.id, transaction);
    if (clash)
      throw new Refusal(409, `${clash} has this key already.`, [
        problem('key', `${clash} has it already.`, 'Choose another one.'),
      ]);
    const model = await readModel(transaction);
    const base = taxonomyBase(taxonomy.key);
    if (model.taxonomy(taxonomy.id)?.key !== taxonomy.key) {
      const problems = RESERVED.has(base)
        ? [problem('key', 'This address belongs to the application.', 'Choose another one.')]
        : await goingUnder(base, model.types, transaction);
      if (problems.length)
        throw new Refusal(
          422,
          'The taxonomy is not complete.',
          problems.map((p) => ({ ...p, at: 'key' })),
        );
    }
    if (!taxonomy.tree && (await hasDeepTerms(taxonomy.id, transaction)))
      throw new Refusal(422, 'Some terms lie below others.', [
        problem('tree', 'A flat taxonomy has no terms below others.', 'Move them to the top first.'),
      ]);
    await putTaxonomy(taxonomy, transaction);
    await modelMoved(transaction);
  });
  return taxonomy;
}

export const NewTerm = TermSchema.extend({
  id: TermSchema.shape.id.optional(),
  parentId: TermSchema.shape.parentId.default(null),
  slug: z.string().default(''),
  position: z.number().int().optional(),
});

/** Creates a term, or brings one to this state. A term cannot lie below itself, whoever else moves terms meanwhile. */
export async function saveTerm(input: z.output<typeof NewTerm>, guard?: Guard): Promise<Term> {
  return inTransaction(async (transaction) => {
    await lockSite(transaction);
    const model = await readModel(transaction);
    const id = input.id ?? newId('term');
    guard?.(model.term(id));
    const taxonomy = model.taxonomy(input.taxonomyId);
    if (!taxonomy) throw notFound('taxonomy with this id');
    const siblings = model.terms.filter((t) => t.taxonomyId === taxonomy.id);
    const slug = input.slug || freeSlug(slugOf(input.name) || 'term', siblings, id);
    const parsed = TermSchema.safeParse({ ...input, id, slug, position: input.position ?? siblings.length });
    if (!parsed.success) throw new Refusal(422, 'The term is not complete.', problemsOf(parsed.error));
    const term = parsed.data;
    const known = model.term(term.id);
    if (known && known.taxonomyId !== term.taxonomyId) throw new Refusal(422, 'A term stays in its taxonomy.');
    if (siblings.some((t) => t.slug === slug && t.id !== term.id))
      throw new Refusal(409, 'The address part is taken.', [
        problem('slug', `Another term of ${taxonomy.name} has “${slug}”.`, 'Choose another one.'),
      ]);
    if (term.pictureId && !(await idsThere('media', [term.pictureId], transaction)).size)
      throw new Refusal(422, 'The term is not complete.', [
        problem('pictureId', 'There is no such picture in the library.', 'Choose another one.'),
      ]);
    if (term.parentId !== null) {
      const parent = model.term(term.parentId);
      if (parent?.taxonomyId !== term.taxonomyId) throw new Refusal(422, 'The term above is not one of this taxonomy.');
      if (model.above(term.parentId).includes(term.id))
        throw new Refusal(422, 'A term cannot lie below itself.', [
          problem('parentId', `${parent.name} lies below ${term.name}.`, 'Move it out first.'),
        ]);
      if (!taxonomy.tree) throw new Refusal(422, 'This taxonomy is flat; its terms have none above them.');
    }
    if (known && known.slug !== term.slug) await noteFormerSlug('term', taxonomy.id, known.slug, term.id, transaction);
    await putTerm(term, transaction);
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
export async function moveTerm(id: string, input: z.output<typeof TermMove>): Promise<void> {
  const { parentId, at } = input;
  const term = (await readModel()).term(id);
  if (!term) throw notFound('term with this id');
  await saveTerm({ ...term, parentId });
  await inTransaction(async (transaction) => {
    await lockSite(transaction);
    const model = await readModel(transaction);
    const there = model.terms.filter((t) => t.taxonomyId === term.taxonomyId && t.parentId === parentId && t.id !== id);
    there.splice(at ?? there.length, 0, term);
    await putInOrder(
      'terms',
      there.map((one) => one.id),
      transaction,
    );
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
    await lockSite(transaction);
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
    if (below.length) await sweep(removal, [{ table: 'terms', column: 'id', values: below, stay: true }], transaction);
    // Where the target lies below this term, it takes this term's place.
    const lower = childrenTo !== null && model.above(childrenTo).includes(id);
    if (lower) {
      await sweep(removal, [{ table: 'terms', column: 'id', values: [childrenTo], stay: true }], transaction);
      await hangTerm(childrenTo, term.parentId, transaction);
    }
    await hangChildren(id, childrenTo, transaction);
    const holders = await recordsUnder(id, transaction);
    if (holders.length) {
      await sweep(removal, [{ table: 'record_terms', column: 'record_id', values: holders, stay: true }], transaction);
      if (recordsTo) await fileAlsoUnder(id, recordsTo, transaction);
      await clearTerm(id, transaction);
    }
    await sweep(removal, [{ table: 'terms', column: 'id', values: [id] }], transaction);
    await modelMoved(transaction);
    return { removal };
  });
}

/** Whether visitors see a taxonomy. */
async function isTaxonomySeen(id: string, transaction: Transaction): Promise<boolean> {
  const design = await readRelease(await releaseShown(transaction), transaction);
  return design.taxonomies.some((one) => one.id === id);
}

/**
 * Deletes a taxonomy with its terms; records lose them, and types no longer file under it. What visitors see of it stays,
 * out of everybody else's sight, so that it goes for them with the next release.
 */
export async function deleteTaxonomy(id: string, guard?: Guard): Promise<{ removal: string }> {
  return inTransaction(async (transaction) => {
    await lockSite(transaction);
    const model = await readModel(transaction);
    const taxonomy = model.taxonomy(id);
    if (!taxonomy) throw notFound('taxonomy with this id');
    guard?.(taxonomy);
    const removal = await beginRemoval(`taxonomy “${taxonomy.name}”`, transaction);
    const shown = await isTaxonomySeen(id, transaction);
    const terms = model.terms.filter((term) => term.taxonomyId === id).map((term) => term.id);
    if (!shown) await sweep(removal, [{ table: 'record_terms', column: 'term_id', values: terms }], transaction);
    for (const type of await taxonomiesOfTypes(transaction)) {
      if (!type.taxonomyIds.includes(id)) continue;
      await sweep(removal, [{ table: 'content_types', column: 'id', values: [type.id], stay: true }], transaction);
      await setTaxonomies(
        type.id,
        type.taxonomyIds.filter((one) => one !== id),
        transaction,
      );
    }
    if (shown) {
      await sweep(removal, [{ table: 'taxonomies', column: 'id', values: [id], stay: true }], transaction);
      await keepRemoved('taxonomies', id, transaction);
    } else {
      await sweep(removal, [{ table: 'terms', column: 'taxonomy_id', values: [id], stay: true }], transaction);
      await clearTerms(id, transaction);
      await sweep(removal, [{ table: 'taxonomies', column: 'id', values: [id] }], transaction);
    }
    await modelMoved(transaction);
    return { removal };
  });
}

/** How many records are filed under each term, and how many of what. */
export async function termCounts(): Promise<Record<string, number>> {
  const there = await thereByType(await readModel(), { drafts: true });
  return Object.fromEntries(summed(there.values(), ({ terms }) => terms));
}
